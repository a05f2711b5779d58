"""A picture taken apart: disjoint regions in its own units, each under its colour, or under the appearance it was named."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import NamedTuple

from shapely.geometry.base import BaseGeometry

from ..geometry.regions import EMPTY
from .drawing import Note, Written

#: The name of a layer that is no colour but the edge of the board.
OUTLINE = "outline"


class Key(NamedTuple):
    """What a region is known by: its colour (hex), and the appearance that its layer's name or its tone decides."""

    colour: str
    word: str = ""


@dataclass(frozen=True, eq=False)
class Resolved:
    """Disjoint regions in root units (y down), everything painted, the outline if a layer says it, and the texts."""

    regions: Mapping[Key, BaseGeometry]
    silhouette: BaseGeometry
    notes: tuple[Note, ...]
    outline: BaseGeometry = EMPTY
    words: tuple[Written, ...] = ()
