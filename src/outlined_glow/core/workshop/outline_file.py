"""The outline of another board, or of a drawing, as a file of rings."""

from __future__ import annotations

from pathlib import Path

from shapely.geometry.base import BaseGeometry

from ..artwork import place, read_picture, resolve
from ..artwork.painting import fine_width
from ..artwork.pictures import true_width_mm
from ..errors import Trouble
from ..geometry.ringfile import pack, unpack
from ..geometry.valid import shifted
from ..passes import Memory, leading_to
from ..project import Picture
from ..project.param import PictureFile
from ..project.storage import SUFFIX, load_bytes
from .board_passes import PASSES, given_of

_RINGS = ".rings"
#: Notes on a drawing that say nothing of where it is painted.
_COLOURS_ALONE = {
    "paint-flattened", "opacity-solid", "blend-ignored", "moving-part-still", "layer-at-its-word", "plain-ground",
    "colour-profile-ignored", "pixels-not-square",
}  # fmt: skip


def outline_file(file: PictureFile, width_mm: float | None = None) -> PictureFile:
    """The outline in a project, a drawing or a file of rings, about the middle of its box, as a file of rings."""
    if file.name.lower().endswith(_RINGS):
        try:
            unpack(file.data)
        except ValueError as error:
            raise Trouble(f"“{file.name}” holds no outline that can be read ({error}).") from error
        return file
    of_board = file.name.lower().endswith(SUFFIX)
    region, told = (_board(file), ()) if of_board else _drawing(file, width_mm)
    if region.is_empty:
        raise Trouble(f"“{file.name}” has no outline to take.")
    left, bottom, right, top = region.bounds
    middled = shifted(region, -(left + right) / 2, -(bottom + top) / 2)
    return PictureFile(f"{Path(file.name).stem}{_RINGS}", pack(middled, told))


def _board(file: PictureFile) -> BaseGeometry:
    """The outline of the board in a project file, its holes that are routed included; drilled ones are features."""
    project = load_bytes(file.data, file.name)
    values = Memory().run(leading_to(PASSES, ["outline"]), given_of(project, project.board()))
    region: BaseGeometry = values["outline"].region
    return region


def _drawing(file: PictureFile, width_mm: float | None) -> tuple[BaseGeometry, tuple[str, ...]]:
    """The outline or silhouette of a drawing, and what is told of it that concerns its form and size."""
    source = read_picture(file.data, file.name)
    width = width_mm or true_width_mm(source, file.name)
    picture = Picture(member="", name=file.name, width_mm=width)
    placed = place(resolve(source, fine_width(width), file.name, picture.tones), picture)
    apart = _COLOURS_ALONE if width_mm is None else _COLOURS_ALONE | {"unit-not-stated"}
    told = tuple(note.text for note in placed.notes if note.code not in apart)
    return placed.silhouette if placed.outline.is_empty else placed.outline, told
