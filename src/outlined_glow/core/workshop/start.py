"""A new project from a picture."""

from __future__ import annotations

import re
from pathlib import Path

from ..artwork import natural_width_mm, read_picture
from ..errors import Trouble
from ..project import Artwork, Brief, Design, Picture, Project, Stack
from ..project.storage import now
from ..words import printable

_DEFAULT_WIDTH_MM = 60.0
_MOST_BYTES = 200_000_000


def read_bytes(path: Path) -> bytes:
    """A file's bytes, or `Trouble` if there are none to be had, or more than a picture has."""
    try:
        if path.exists() and not path.is_file():
            raise Trouble(f"“{path}” is not a file; give a picture.")
        if path.stat().st_size > _MOST_BYTES:
            raise Trouble(f"“{path}” is larger than {_MOST_BYTES // 1_000_000} MB; simplify or shrink the picture.")
        return path.read_bytes()
    except OSError as error:
        raise Trouble(f"“{path}” cannot be read: {error.strerror}.") from error


def new_project(
    data: bytes,
    name: str,
    *,
    width_mm: float | None = None,
    stack: Stack | None = None,
    chosen: dict[str, str] | None = None,
) -> Project:
    """A project that shows the picture; without a width the drawing's own is taken, or 60 mm."""
    drawing = read_picture(data, name)
    width = width_mm or natural_width_mm(drawing) or _DEFAULT_WIDTH_MM
    stem = Path(name).stem
    safe = re.sub(r"[^A-Za-z0-9._-]+", "-", stem).strip("-.") or "picture"
    member = f"pictures/{safe[:60]}{Path(name).suffix.lower()[:8]}"
    title = re.sub(r"[\s_]+", " ", printable(stem, " ")).strip()[:80] or "untitled"
    art = Artwork(Picture(member, printable(name)), round(width, 3), dict(sorted((chosen or {}).items())))  # type: ignore[arg-type]
    return Project(title, now(), Brief(stack=stack or Stack()), (Design(artwork=art),), members={member: data})


def picture_project(path: Path, width_mm: float | None = None) -> Project:
    """A project from a picture file."""
    return new_project(read_bytes(path), path.name, width_mm=width_mm)
