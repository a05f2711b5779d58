"""What every section of a project is made from: frozen values, and the kinds of their fields."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from msgspec import Meta, Struct

Positive = Annotated[float, Meta(gt=0, le=1000)]
#: Finite, and no farther than any board reaches.
Place = Annotated[float, Meta(ge=-1e5, le=1e5)]
Angle = Annotated[float, Meta(ge=-1e6, le=1e6)]
Count = Annotated[int, Meta(ge=1, le=1024)]
Colour = Annotated[str, Meta(pattern="^[0-9A-F]{6}$")]
Side = Literal["front", "back"]
BoardName = Annotated[str, Meta(min_length=1, max_length=40)]
Appearance = Literal["mask", "raised", "metal", "ink", "window", "veiled", "cut"]


#: Where the files lie that boards are made from, in the project's file.
BOARD_FILES = ("pictures/", "outlines/")


class Section(Struct, frozen=True, kw_only=True, gc=False):
    """What every section has: the keys a file brought that this version does not know, kept for those that do.

    A tree of values holds no cycle. Kept out of the garbage collector's sight, a long history does not make it slow.
    """

    unknown: dict[str, Any] = {}
