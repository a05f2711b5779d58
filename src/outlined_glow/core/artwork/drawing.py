"""A picture as it was drawn: items in painter's order, before anything is measured in millimetres."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property

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

    @cached_property
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


@dataclass(frozen=True, eq=False)
class Shade:
    """A gradient: `at` (n) rising from 0 to 1 with colours `rgba` (n, 4: 0..255 and 0..1); `matrix` to root units.

    In its own units a linear one runs from x = 0 to 1; a radial one from a circle about `focus` to the unit circle.
    `name` is the element that says so.
    """

    radial: bool
    at: tuple[float, ...]
    rgba: Points
    matrix: Matrix
    focus: tuple[float, float] = (0.0, 0.0)
    focus_radius: float = 0.0
    spread: str = "pad"
    name: str = ""

    @property
    def mean(self) -> Points:
        """The mean colour of its stops, (4,)."""
        return np.asarray(self.rgba.mean(axis=0))


@dataclass(frozen=True, eq=False)
class Paint:
    """A flat colour (hex) or a shade, and how solid it is (0..1)."""

    colour: str | Shade
    alpha: float = 1.0


@dataclass(frozen=True, eq=False)
class Drawn:
    """One painted thing: an area in `fill` and a line in `line`, the line under it if `stroke_first`."""

    subpaths: tuple[Subpath, ...]
    matrix: Matrix
    fill: Paint | None
    rule: str = "nonzero"
    line: Paint | None = None
    stroke: Stroke | None = None
    stroke_first: bool = False


@dataclass(frozen=True, eq=False)
class Pasted:
    """A raster picture inside a drawing; `matrix` takes its pixels to root units."""

    raster: object
    matrix: Matrix


@dataclass(frozen=True, eq=False)
class Mask:
    """What lets things be seen where its items are light or, `by_alpha`, solid."""

    items: tuple[Item, ...]
    by_alpha: bool = False


@dataclass(frozen=True, eq=False)
class Layer:
    """Items seen together: within every one of `clips` and `masks`, `alpha` solid, and known by a `word` if one is given.

    A clip is the area of its items. Where the layer `fills` a shape, as the tiles of a pattern do, that is its first clip.
    """

    items: tuple[Item, ...]
    clips: tuple[tuple[Item, ...], ...] = ()
    masks: tuple[Mask, ...] = ()
    alpha: float = 1.0
    word: str = ""
    fills: bool = False


Item = Drawn | Pasted | Layer


@dataclass(frozen=True)
class Note:
    """Something of the picture that was not taken as drawn, with the element that says so."""

    code: str
    text: str


@dataclass(frozen=True)
class Written:
    """A text of a drawing as it is read: its place, the height of its capitals, its flat colour (or "") and its side.

    In root units (y down) in the drawing, in mm of the picture frame once it is placed.
    """

    text: str
    x: float
    y: float
    caps: float
    colour: str = ""
    side: str = "front"


@dataclass(frozen=True, eq=False)
class Drawing:
    """All items with the page (root units) and the millimetres that a root unit claims to be.

    `sized`: whether the file says so itself, and not only its pixels do, whose size means nothing.
    """

    paths: tuple[Item, ...]
    page: tuple[float, float]
    mm_per_unit: float
    notes: tuple[Note, ...] = field(default=())
    words: tuple[Written, ...] = ()
    sized: bool = True

    @property
    def shaded(self) -> bool:
        """Whether anything in it has tones: a gradient or a raster picture."""
        return any(map(_has_tones, self.paths))


def _has_tones(item: Item) -> bool:
    if isinstance(item, Layer):
        return any(map(_has_tones, item.items))
    if isinstance(item, Pasted):
        return True
    return any(paint is not None and isinstance(paint.colour, Shade) for paint in (item.fill, item.line))
