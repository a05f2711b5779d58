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


def outline_file(file: PictureFile, width_mm: float | None = None) -> PictureFile:
    """The outline in a project, a drawing or a file of rings, about the middle of its box, as a file of rings."""
    if file.name.lower().endswith(_RINGS):
        try:
            unpack(file.data)
        except ValueError as error:
            raise Trouble(f"“{file.name}” holds no outline that can be read ({error}).") from error
        return file
    region = _board(file) if file.name.lower().endswith(SUFFIX) else _drawing(file, width_mm)
    if region.is_empty:
        raise Trouble(f"“{file.name}” has no outline to take.")
    left, bottom, right, top = region.bounds
    return PictureFile(f"{Path(file.name).stem}{_RINGS}", pack(shifted(region, -(left + right) / 2, -(bottom + top) / 2)))


def _board(file: PictureFile) -> BaseGeometry:
    """The outline of the board in a project file, its holes that are routed included; drilled ones are features."""
    project = load_bytes(file.data, file.name)
    values = Memory().run(leading_to(PASSES, ["outline"]), given_of(project, project.board()))
    region: BaseGeometry = values["outline"].region
    return region


def _drawing(file: PictureFile, width_mm: float | None) -> BaseGeometry:
    source = read_picture(file.data, file.name)
    width = width_mm or true_width_mm(source, file.name)
    picture = Picture(member="", name=file.name, width_mm=width)
    placed = place(resolve(source, fine_width(width), file.name, picture.tones), picture)
    return placed.silhouette if placed.outline.is_empty else placed.outline
