"""The outline of another board, or of a drawing, taken over at its true size."""

from __future__ import annotations

import itertools
import re
from collections.abc import Mapping
from pathlib import Path

import msgspec

from ..project import Brought, Design, Param, file_edit
from ..project.param import PictureFile

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
    from .outline_file import outline_file  # what reads drawings and makes boards is loaded when it is needed

    rings = outline_file(file, width_mm)
    member = _member_for(file.name, files)
    shape = msgspec.structs.replace(design.shape, base="drawn", drawn=member, border_mm=0.0, smooth_mm=0.0, x_mm=None,
                                    y_mm=None, angle_deg=0.0, with_picture=False, keep_holes=True)  # fmt: skip
    return Brought(msgspec.structs.replace(design, shape=shape), {member: rings.data})


def _member_for(name: str, files: Mapping[str, bytes]) -> str:
    stem = re.sub(r"[^A-Za-z0-9._-]+", "-", Path(name).stem).strip("-.")[:60] or "outline"
    names = itertools.chain([f"outlines/{stem}.rings"], (f"outlines/{stem}-{number}.rings" for number in itertools.count(2)))
    return next(one for one in names if one not in files)
