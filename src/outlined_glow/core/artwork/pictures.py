"""Pictures come to the board, and are exchanged."""

from __future__ import annotations

import itertools
import re
from collections.abc import Mapping
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from .. import artwork
from ..errors import Trouble
from ..project import Brought, Design, Param, Picture, Tones, file_edit
from ..project.bounds import MOST_PICTURES
from ..project.param import PictureFile
from ..text_safety import printable
from .edits import SIDES, WHICH, picture_at, with_artwork, with_picture

if TYPE_CHECKING:
    from .painting import Source

#: How wide a picture becomes that states no real units, and what one may measure at all.
DEFAULT_WIDTH_MM = 60.0
WIDTH_MM = (1.0, 1000.0)


def true_width_mm(source: Source, name: str, tones: Tones | None = None) -> float:
    """The width a picture begins with: what it paints in its own real units, or the usual one where it states none.

    `Trouble` where its own units make it larger or smaller than any board.
    """
    width = artwork.natural_width_mm(source, name, tones)
    if width is None:
        return DEFAULT_WIDTH_MM
    low, high = WIDTH_MM
    if not low <= width <= high:
        raise Trouble(f"“{name}” is {width:,.4g} mm wide in its own units. Give a width from {low:g} to {high:,g} mm.")
    return width


def member_for(name: str, members: Mapping[str, bytes]) -> str:
    """A name in the project file for a picture, none of those that are taken."""
    stem = re.sub(r"[^A-Za-z0-9._-]+", "-", Path(name).stem).strip("-.")[:60] or "picture"
    suffix = Path(name).suffix.lower()[:8]
    others = (f"pictures/{stem}-{number}{suffix}" for number in itertools.count(2))
    return next(one for one in itertools.chain([f"pictures/{stem}{suffix}"], others) if one not in members)


def _kept(file: PictureFile, files: Mapping[str, bytes]) -> str:
    """The name in the project's file for a picture's bytes: that under which they are there already, or a new one."""
    same = (name for name, known in files.items() if name.startswith("pictures/") and known == file.data)
    return next(same, None) or member_for(file.name, files)


@file_edit(
    "add-picture",
    "Picture {file} added",
    file=Param("picture", optional=False),
    side=Param("choice", choices=SIDES),
    width_mm=Param("quantity", "mm", 1, 1000),
    x_mm=Param("quantity", "mm", -1000, 1000, axis="x"),
    y_mm=Param("quantity", "mm", -1000, 1000, axis="y"),
)
def add_picture(
    design: Design,
    *,
    files: Mapping[str, bytes],
    file: PictureFile,
    side: str | None = None,
    width_mm: float | None = None,
    x_mm: float | None = None,
    y_mm: float | None = None,
) -> Brought:
    """One more picture: in the middle of the first one unless told, and then not wider than most of it."""
    pictures = design.artwork.pictures
    if len(pictures) >= MOST_PICTURES:
        raise Trouble(f"A board takes {MOST_PICTURES} pictures; join some of them in a drawing first.")
    source = artwork.read_picture(file.data, file.name)
    width = width_mm or true_width_mm(source, file.name)
    if pictures and width_mm is None:
        width = min(width, 0.6 * pictures[0].width_mm)
    middle = _middle(pictures[0], files) if pictures else (None, None)
    member = _kept(file, files)
    one = Picture(
        member=member,
        name=printable(file.name),
        width_mm=round(width, 3),
        side=side or "front",  # type: ignore[arg-type]
        x_mm=x_mm if x_mm is not None else middle[0],
        y_mm=y_mm if y_mm is not None else middle[1],
    )
    return Brought(with_artwork(design, pictures=(*pictures, one)), {member: file.data})


@file_edit(
    "replace-picture",
    "Picture replaced by {file}",
    picture=WHICH,
    file=Param("picture", optional=False),
)
def replace_picture(design: Design, *, files: Mapping[str, bytes], file: PictureFile, picture: int | None = None) -> Brought:
    """Another picture in the place of one: as wide, where it is, with its tones; choices of colours stay."""
    number, one = picture_at(design, picture)
    artwork.read_picture(file.data, file.name)
    member = _kept(file, files)
    instead = msgspec.structs.replace(one, member=member, name=printable(file.name))
    return Brought(with_picture(design, number, instead), {member: file.data})


def _middle(first: Picture, files: Mapping[str, bytes]) -> tuple[float, float]:
    """The middle of the first picture in the picture frame."""
    source = artwork.read_picture(files[first.member], first.name)
    placed = artwork.place(artwork.resolve(source, artwork.fine_width(first.width_mm), first.name, first.tones), first)
    whole = placed.silhouette if not placed.silhouette.is_empty else placed.behind
    left, bottom, right, top = whole.bounds
    return round((left + right) / 2, 3), round((bottom + top) / 2, 3)
