"""What a kind of array is: its places, its handles, its keys, and how a new one begins."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from shapely.geometry.base import BaseGeometry

from ...geometry.contours import Contours
from ...geometry.regions import EMPTY
from ...project import Array, Param

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


class LightPaths:
    """What arrays may run along or fill, by name: the silhouette of the pictures (or of a board without any), the board
    before its border, and each colour as RRGGBB; and the width of the picture, mm."""

    def __init__(self, silhouette: BaseGeometry, width: float, regions: Mapping[str, BaseGeometry] | None = None) -> None:
        self.width = width
        self._regions = {**(regions or {}), "silhouette": silhouette}
        self._contours: dict[str, Contours] = {}

    @property
    def middle(self) -> tuple[float, float]:
        """The middle of the picture, mm."""
        whole = self._regions["silhouette"]
        if whole.is_empty:
            return self.width / 2, 0.0
        left, bottom, right, top = whole.bounds
        return (left + right) / 2, (bottom + top) / 2

    def has(self, path: str) -> bool:
        """Whether there is a region of that name."""
        return path in self._regions

    def region(self, path: str) -> BaseGeometry:
        """The region of that name; empty if there is none."""
        return self._regions.get(path, EMPTY)

    def contours(self, path: str) -> Contours:
        """The lines along its edge, from its top on the picture's middle; remembered by how far in they run."""
        if path not in self._contours:
            self._contours[path] = Contours(self.region(path), self.width / 2)
        return self._contours[path]


@dataclass(frozen=True)
class Kind:
    """A kind of array. `begins` gives the values of a new one on a board of that size; those `needed` have no default.

    The angle of a place is the way the array runs there; `outward` is the turn from it that faces away from the middle.
    What has LEDs at equal steps has a `course`: its length, mm, and whether it is closed. `drawn` gives the values by which
    it comes to lie where a drag went (points, picture frame); what follows a contour is not drawn. `no_room` is what is said
    where it does not fit.
    """

    array: type[Array]
    title: str
    menu: str
    sentence: str
    about: str
    keys: Mapping[str, Param]
    needed: tuple[str, ...]
    spots: Callable[[Any, LightPaths], list[Spot]]
    handles: Callable[[Any, LightPaths], list[Handle]]
    begins: Callable[[Size], Values]
    outward: Callable[[Any], float] = lambda array: 90.0
    course: Callable[[Any, LightPaths], tuple[float, bool]] | None = None
    drawn: Callable[[Any, Sequence[tuple[float, float]]], Values] | None = None
    no_room: str = "on its course; give it fewer LEDs or less spacing"

    @property
    def tag(self) -> str:
        """Its name in files and on the command line."""
        return str(self.array.__struct_config__.tag)


COUNT = partial(Param, "count", "", 1, 1024)
PITCH = partial(Param, "quantity", "mm", 0.2, 500, step=0.5)
TURN = partial(Param, "quantity", "deg", -3600, 3600, step=5)
SHARE = partial(Param, "quantity", "", 0, 1, shown="%")
LEDS = {"count": COUNT(title="LEDs")}
TURNED = {"angle_deg": TURN(title="turned")}
MIDDLE = {
    "x_mm": Param("quantity", "mm", -1000, 1000, axis="x", title="middle, x", step=0.5),
    "y_mm": Param("quantity", "mm", -1000, 1000, axis="y", title="middle, y", step=0.5),
}
INSET = Param("quantity", "mm", 0.1, 200, title="from the edge", step=0.1)
PLACED = ("x_mm", "y_mm")


def in_the_middle(size: Size) -> Values:
    """Where a new array stands."""
    return {"x_mm": round(size[0] / 2, 2), "y_mm": round(size[1] / 2, 2)}


def about_middle(array: Any, dx: float, dy: float, angle_deg: float | None = None) -> tuple[float, float]:
    """Where something lies that is (dx, dy) from the middle of an array before that is turned by its angle, or another."""
    a = math.radians(array.angle_deg if angle_deg is None else angle_deg)
    return array.x_mm + dx * math.cos(a) - dy * math.sin(a), array.y_mm + dx * math.sin(a) + dy * math.cos(a)


def height_handle(array: Any, tip: str, lean_mm: float = 0.0) -> Handle:
    """The one over the middle that drags `height_mm`; what leans has its top so far to the right."""
    a = math.radians(array.angle_deg)

    def drag(x: float, y: float) -> Values:
        up = -(x - array.x_mm) * math.sin(a) + (y - array.y_mm) * math.cos(a)
        return {"height_mm": round(max(2.0, 2 * up), 2)}

    return Handle("height", tip, *about_middle(array, lean_mm, array.height_mm / 2), drag)


def count_handle(array: Any, spots: list[Spot], whole: float, closed: bool) -> list[Handle]:
    """The one at the second LED: dragged nearer to the first, more of them share the course (`whole`, mm or degrees)."""
    if len(spots) < 2:
        return []
    (x0, y0, _), (x1, y1, _) = spots[:2]
    now, least = math.hypot(x1 - x0, y1 - y0), whole / (1023 if closed else 1022)

    def drag(x: float, y: float) -> Values:
        step = whole / (len(spots) if closed else len(spots) - 1) * math.hypot(x - x0, y - y0) / now
        return {"count": max(2, round(whole / max(step, least)) + (not closed))}

    return [Handle("count", "drag for more or fewer LEDs", x1, y1, drag)] if now > 0 else []


def middle_handle(array: Any, paths: LightPaths) -> list[Handle]:
    """The one that drags the whole array."""

    def drag(x: float, y: float) -> Values:
        return {"x_mm": round(x, 3), "y_mm": round(y, 3)}

    return [Handle("centre", "drag the whole array", array.x_mm, array.y_mm, drag)]
