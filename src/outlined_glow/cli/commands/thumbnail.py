"""`thumbnail`: the picture a project file carries of itself."""

from __future__ import annotations

from pathlib import Path

from ...core.errors import Trouble
from ...core.project.atomic import atomic_write
from ...core.project.param import Param
from ...core.project.small_picture import fitted_png
from ...core.project.storage import read_thumbnail
from ...core.units import parse_number
from ..exits import DONE
from . import Arguments


def thumbnail_(given: Arguments) -> int:
    """From what the file carries, without making the board: file managers ask for many."""
    size = int(Param("count", "", 16, 1024).check("--size", parse_number(given.size)))
    data = read_thumbnail(Path(given.project))
    if data is None:
        raise Trouble(f"“{given.project}” carries no picture of itself; open and save it.")
    atomic_write(Path(given.output), fitted_png(data, size))
    return DONE
