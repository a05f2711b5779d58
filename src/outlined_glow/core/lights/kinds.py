"""The kinds of arrays: one table gives their places, their handles, their keys, and how a new one begins.

To add one: its section in `project/arrays.py`, and a `Kind` here. Edits, drawer, menu and handles are made from it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
from shapely.geometry import Point
from shapely.geometry.base import BaseGeometry

from ..geometry.contours import Contours, direction_deg
from ..geometry.regions import filled
from ..project import Along, Array, Grid, Param, Ring, Single

Spot = tuple[float, float, float]  # x, y, angle_deg
Values = dict[str, Any]
Size = tuple[float, float]


@dataclass(frozen=True)
class Handle:
    """A place (picture frame) by which an array is taken hold of, and the values that dragging it to (x, y) gives."""

    name: str
    tip: str
    x: float
    y: float
    drag: Callable[[float, float], Values | None]


class Silhouette:
    """What arrays may run along: the silhouette of the pictures (or the board's own), and the width of the picture."""

    def __init__(self, region: BaseGeometry, width: float) -> None:
        self.region, self.width = region, width
        #: The lines along its edge, from its top on the picture's middle; remembered by how far in they run.
        self.contours = Contours(region, width / 2)


@dataclass(frozen=True)
class Kind:
    """A kind of array. `begins` gives the values of a new one on a board of that size; those `needed` have no default."""

    array: type[Array]
    title: str
    menu: str
    sentence: str
    about: str
    keys: Mapping[str, Param]
    needed: tuple[str, ...]
    spots: Callable[[Any, Contours], list[Spot]]
    handles: Callable[[Any, Silhouette], list[Handle]]
    begins: Callable[[Size], Values]

    @property
    def tag(self) -> str:
        """Its name in files and on the command line."""
        return str(self.array.__struct_config__.tag)


_COUNT = partial(Param, "count", "", 1, 1024)
_PITCH = partial(Param, "quantity", "mm", 0.2, 500, step=0.5)
_TURN = partial(Param, "quantity", "deg", -3600, 3600, step=5)
_SHARE = partial(Param, "quantity", "", 0, 1, shown="%")
LEDS = {"count": _COUNT(title="LEDs")}
TURNED = {"angle_deg": _TURN(title="turned")}
MIDDLE = {
    "x_mm": Param("quantity", "mm", -1000, 1000, axis="x", title="middle, x", step=0.5),
    "y_mm": Param("quantity", "mm", -1000, 1000, axis="y", title="middle, y", step=0.5),
}
_PLACED = ("x_mm", "y_mm")


def _in_the_middle(size: Size) -> Values:
    return {"x_mm": round(size[0] / 2, 2), "y_mm": round(size[1] / 2, 2)}


def _whole(x: float, y: float) -> Values:
    return {"x_mm": round(x, 3), "y_mm": round(y, 3)}


def _middle(array: Any, ground: Silhouette) -> list[Handle]:
    return [Handle("centre", "drag the whole array", array.x_mm, array.y_mm, _whole)]


# -- ring ---------------------------------------------------------------------------------------------------------


def ring_spots(array: Ring, contours: Contours | None = None) -> list[Spot]:
    """Equal angles from `start_deg`, each LED along the circle."""
    turn = -1 if array.direction == "clockwise" else 1
    out = []
    for place in range(array.count):
        angle = array.start_deg + turn * 360 * place / array.count
        a = math.radians(angle)
        radius = array.diameter_mm / 2
        out.append((array.x_mm + radius * math.cos(a), array.y_mm + radius * math.sin(a), angle + turn * 90))
    return out


def _ring_handles(array: Ring, ground: Silhouette) -> list[Handle]:
    a, radius = math.radians(array.start_deg), array.diameter_mm / 2

    def drag(x: float, y: float) -> Values:
        reach = math.hypot(x - array.x_mm, y - array.y_mm)
        turn = math.degrees(math.atan2(y - array.y_mm, x - array.x_mm))
        return {"diameter_mm": round(max(0.5, 2 * reach), 2), "start_deg": round(turn, 1)}

    x, y = array.x_mm + radius * math.cos(a), array.y_mm + radius * math.sin(a)
    return [*_middle(array, ground), Handle("radius", "drag the diameter and where it starts", x, y, drag)]


RING = Kind(
    Ring,
    "ring",
    "A ring",
    "Ring “{array}”",
    "LEDs on a circle.",
    {
        **LEDS,
        "diameter_mm": Param("quantity", "mm", 0.5, 1000, title="diameter"),
        "start_deg": _TURN(title="starts at"),
        "direction": Param("choice", choices=("clockwise", "counter-clockwise"), title="direction"),
        **MIDDLE,
    },
    _PLACED,
    ring_spots,
    _ring_handles,
    lambda size: {**_in_the_middle(size), "diameter_mm": round(min(size) * 0.6, 1), "count": 12},
)

# -- grid ---------------------------------------------------------------------------------------------------------


def grid_spots(array: Grid, contours: Contours | None = None) -> list[Spot]:
    """Rows from the top, each from left to right, turned about the middle."""
    a = math.radians(array.angle_deg)
    out = []
    for row in range(array.rows):
        for column in range(array.columns):
            dx = (column - (array.columns - 1) / 2) * array.pitch_x_mm
            dy = ((array.rows - 1) / 2 - row) * array.pitch_y_mm
            x = array.x_mm + dx * math.cos(a) - dy * math.sin(a)
            y = array.y_mm + dx * math.sin(a) + dy * math.cos(a)
            out.append((x, y, array.angle_deg))
    return out


GRID = Kind(
    Grid,
    "grid",
    "A grid",
    "Grid “{array}”",
    "LEDs in rows and columns.",
    {
        "rows": _COUNT(title="rows"),
        "columns": _COUNT(title="columns"),
        "pitch_x_mm": _PITCH(title="spacing in a row"),
        "pitch_y_mm": _PITCH(title="spacing of rows"),
        **TURNED,
        **MIDDLE,
    },
    _PLACED,
    grid_spots,
    _middle,
    _in_the_middle,
)

# -- along the silhouette -------------------------------------------------------------------------------------------


def along_spots(array: Along, contours: Contours) -> list[Spot]:
    """Equal arc lengths from start to end."""
    line = contours.line(array.inset_mm)
    if line is None:
        return []
    shares = np.linspace(array.start, array.end, array.count) if array.count > 1 else np.array([array.start])
    out = []
    for share in shares:
        at = float(share) * line.length
        here = line.interpolate(at)
        out.append((here.x, here.y, direction_deg(line, at)))
    return out


def share_at(ground: Silhouette, inset: float, x: float, y: float) -> float | None:
    """Where along the contour (0..1) a place of the picture frame is nearest to; None without a contour."""
    line = ground.contours.line(inset)
    return None if line is None else float(line.project(Point(x, y)) / line.length)


def inset_at(silhouette: BaseGeometry, x: float, y: float) -> float:
    """How far in from the silhouette's edge a place of the picture frame is, mm; 0 outside."""
    body = filled(silhouette)
    point = Point(x, y)
    return float(body.boundary.distance(point)) if body.contains(point) else 0.0


def _along_handles(array: Along, ground: Silhouette) -> list[Handle]:
    line = ground.contours.line(array.inset_mm)
    if line is None:
        return []

    def to_share(key: str) -> Callable[[float, float], Values | None]:
        def drag(x: float, y: float) -> Values | None:
            at = share_at(ground, array.inset_mm, x, y)
            return None if at is None else {key: round(at, 5)}

        return drag

    def inset(x: float, y: float) -> Values:
        return {"inset_mm": round(max(0.3, inset_at(ground.region, x, y)), 2)}

    rows = (
        ("start", "where the array begins", array.start, to_share("start")),
        ("end", "where the array ends", array.end, to_share("end")),
        ("inset", "how far in from the edge", (array.start + array.end) / 2, inset),
    )
    spots = [line.interpolate(share * line.length) for _, _, share, _ in rows]
    return [Handle(name, tip, spot.x, spot.y, drag) for (name, tip, _, drag), spot in zip(rows, spots, strict=True)]


ALONG = Kind(
    Along,
    "along the silhouette",
    "Along the silhouette",
    "Along the edge “{array}”",
    "LEDs at equal steps along the silhouette, set in from it.",
    {
        **LEDS,
        "inset_mm": Param("quantity", "mm", 0.1, 200, title="from the silhouette", step=0.1),
        "start": _SHARE(title="start, % of the way round"),
        "end": _SHARE(title="end, % of the way round"),
    },
    (),
    along_spots,
    _along_handles,
    lambda size: {},
)

# -- single ---------------------------------------------------------------------------------------------------------


def single_spots(array: Single, contours: Contours | None = None) -> list[Spot]:
    """The one place."""
    return [(array.x_mm, array.y_mm, array.angle_deg)]


SINGLE = Kind(
    Single,
    "single",
    "A single LED",
    "LED “{array}”",
    "One LED.",
    {**TURNED, **MIDDLE},
    _PLACED,
    single_spots,
    _middle,
    _in_the_middle,
)

#: Every kind by its tag, in the order in which they are offered.
KINDS: Mapping[str, Kind] = {kind.tag: kind for kind in (RING, GRID, ALONG, SINGLE)}


def kind_of(array: Array) -> Kind:
    """The kind of an array."""
    return KINDS[str(array.__struct_config__.tag)]
