"""A picture as it was drawn: paths in painter's order, before anything is measured in millimetres."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Matrix = NDArray[np.float64]  # (2, 3), user units to the picture's root units
Points = NDArray[np.float64]


@dataclass(frozen=True)
class Subpath:
    """Line and cubic segments from `start`, (2,); `curves`, (n, 3, 2), holds control, control and end of each.

    A straight segment has both controls on its ends.
    """

    start: Points
    curves: Points
    closed: bool

    @property
    def controls(self) -> Points:
        """The start and every control and end point, (1 + 3 n, 2)."""
        return np.vstack([self.start[None], self.curves.reshape(-1, 2)])


@dataclass(frozen=True)
class Stroke:
    """How a line is drawn, in user units of its path."""

    width: float
    cap: str = "butt"
    join: str = "miter"
    miter_limit: float = 4.0
    dashes: tuple[float, ...] = ()
    dash_offset: float = 0.0


@dataclass(frozen=True)
class Drawn:
    """One painted thing: an area in `fill` and then a line in `stroke_colour` (hex, or None)."""

    subpaths: tuple[Subpath, ...]
    matrix: Matrix
    fill: str | None
    rule: str
    stroke_colour: str | None
    stroke: Stroke | None
    stroke_first: bool = False


@dataclass(frozen=True)
class Note:
    """Something of the picture that was not taken as drawn, with the element that says so."""

    code: str
    text: str


@dataclass(frozen=True)
class Drawing:
    """A whole picture: what is painted on a page of `page` root units, seen only inside it."""

    paths: tuple[Drawn, ...]
    page: tuple[float, float]
    mm_per_unit: float
    notes: tuple[Note, ...] = field(default=())
