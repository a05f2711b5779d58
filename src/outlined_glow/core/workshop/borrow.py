"""The outline of another board, or of a drawing, taken over at its true size."""

from __future__ import annotations

import itertools
import re
from collections.abc import Mapping
from pathlib import Path

import msgspec
from shapely.geometry.base import BaseGeometry

from ..artwork import place, read_picture, resolve
from ..artwork.painting import fine_width
from ..artwork.pictures import true_width_mm
from ..errors import Trouble
from ..geometry.regions import shifted
from ..geometry.ringfile import pack, unpack
from ..project import Brought, Design, Param, Picture, file_edit
from ..project.param import PictureFile
from ..project.storage import SUFFIX, load_bytes
from .compile import Compiler

_RINGS = ".rings"


@file_edit(
    "take-outline",
    "Outline taken from {file}",
    "shape",
    file=Param("picture", optional=False),
    width_mm=Param("quantity", "mm", 1, 1000),
)
def take_outline(design: Design, *, files: Mapping[str, bytes], file: PictureFile, width_mm: float | None = None) -> Brought:
    """Cut the board like another one (the first of a project file), or like the outline or silhouette of a drawing, border
    and all.

    A drawing keeps its own size unless a width is given. What is taken is a copy: it does not follow its file.
    """
    rings = outline_file(file, width_mm)
    member = _member_for(file.name, files)
    shape = msgspec.structs.replace(design.shape, base="drawn", drawn=member, border_mm=0.0, smooth_mm=0.0, x_mm=None,
                                    y_mm=None, angle_deg=0.0, with_picture=False, keep_holes=True)  # fmt: skip
    return Brought(msgspec.structs.replace(design, shape=shape), {member: rings.data})


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


def _member_for(name: str, files: Mapping[str, bytes]) -> str:
    stem = re.sub(r"[^A-Za-z0-9._-]+", "-", Path(name).stem).strip("-.")[:60] or "outline"
    names = itertools.chain([f"outlines/{stem}.rings"], (f"outlines/{stem}-{number}.rings" for number in itertools.count(2)))
    return next(one for one in names if one not in files)


def _board(file: PictureFile) -> BaseGeometry:
    """The outline of the board in a project file, its holes that are routed included; drilled ones are features."""
    return Compiler().compile(load_bytes(file.data, file.name)).outline.region


def _drawing(file: PictureFile, width_mm: float | None) -> BaseGeometry:
    source = read_picture(file.data, file.name)
    width = width_mm or true_width_mm(source, file.name)
    picture = Picture(member="", name=file.name, width_mm=width)
    placed = place(resolve(source, fine_width(width), file.name, picture.tones), picture)
    return placed.silhouette if placed.outline.is_empty else placed.outline
