"""A new project from a picture."""

from __future__ import annotations

import re
from pathlib import Path

from ..artwork import has_outline, paint, read_picture
from ..artwork.pictures import member_for, true_width_mm
from ..project import Artwork, Brief, Design, Picture, Project, Shape, Stack, Tones
from ..project.param import read_bytes
from ..project.storage import now
from ..text_safety import printable


def new_project(
    data: bytes,
    name: str,
    *,
    width_mm: float | None = None,
    stack: Stack | None = None,
    chosen: dict[str, str] | None = None,
    tones: Tones | None = None,
) -> Project:
    """A project that shows the picture; without a width the picture's own is taken, or 60 mm.

    A picture that says what the edge of the board is has the board cut there, without a border.
    """
    source = read_picture(data, name)
    width = width_mm or true_width_mm(source, name, tones)
    title = re.sub(r"[\s_]+", " ", printable(Path(name).stem, " ")).strip()[:80] or "untitled"
    member = member_for(name, {})
    picture = Picture(member=member, name=printable(name), width_mm=round(width, 3), tones=tones or Tones())
    art = Artwork(pictures=(picture,), chosen=dict(sorted((chosen or {}).items())))  # type: ignore[arg-type]
    edged = has_outline(source) and not paint(source, width, name).outline.is_empty
    shape = Shape(base="outline", border_mm=0.0) if edged else Shape()
    design = Design(artwork=art, shape=shape)
    return Project(name=title, edited=now(), brief=Brief(stack=stack or Stack()), designs=(design,), members={member: data})


def picture_project(path: Path, width_mm: float | None = None) -> Project:
    """A project from a picture file."""
    return new_project(read_bytes(path), path.name, width_mm=width_mm)
