"""What a drag over the board makes of an array: the values by which it comes to lie where it was drawn."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import shapely

Point = tuple[float, float]
Values = dict[str, Any]

#: What is drawn smaller than this is a click, mm.
_LEAST_MM = 1.0
#: How near a line of one's own keeps to what was drawn, mm, and how many points it may have.
_TOLERANCE_MM, _MOST_POINTS = 0.4, 60


def from_the_middle(array: Any, drawn: Sequence[Point]) -> Values:
    """Drawn from the middle out: where it begins and how wide it is."""
    (x, y), (end_x, end_y) = drawn[0], drawn[-1]
    reach = math.hypot(end_x - x, end_y - y)
    values: Values = {"x_mm": round(x, 3), "y_mm": round(y, 3)}
    if reach >= _LEAST_MM:
        values["diameter_mm"] = round(2 * reach, 2)
        values["start_deg"] = round(math.degrees(math.atan2(end_y - y, end_x - x)), 1)
    return values


def from_end_to_end(array: Any, drawn: Sequence[Point]) -> Values:
    """Drawn from one end to the other."""
    (x, y), (end_x, end_y) = drawn[0], drawn[-1]
    values: Values = {"x_mm": round((x + end_x) / 2, 3), "y_mm": round((y + end_y) / 2, 3)}
    length = math.hypot(end_x - x, end_y - y)
    if length >= _LEAST_MM:
        values["length_mm"] = round(length, 2)
        values["angle_deg"] = round(math.degrees(math.atan2(end_y - y, end_x - x)), 2)
    return values


def where_it_ends(array: Any, drawn: Sequence[Point]) -> Values:
    """Put where the drag ends."""
    x, y = drawn[-1]
    return {"x_mm": round(x, 3), "y_mm": round(y, 3)}


def corner_to_corner(array: Any, drawn: Sequence[Point]) -> tuple[Values, Point | None]:
    """Drawn from one corner to the opposite one: the values of the middle, and width and height; None for a click."""
    (x, y), (end_x, end_y) = drawn[0], drawn[-1]
    values: Values = {"x_mm": round((x + end_x) / 2, 3), "y_mm": round((y + end_y) / 2, 3)}
    wide, high = abs(end_x - x), abs(end_y - y)
    return values, (wide, high) if max(wide, high) >= _LEAST_MM else None


def as_high_as_drawn(array: Any, drawn: Sequence[Point]) -> Values:
    """Drawn from corner to corner, as high as that."""
    values, size = corner_to_corner(array, drawn)
    return values if size is None else {**values, "height_mm": round(max(2.0, size[1]), 2)}


def along_what_is_drawn(array: Any, drawn: Sequence[Point]) -> Values:
    """The line that was drawn, by as few points as keep near to it."""
    line = shapely.LineString(drawn) if len(drawn) > 1 else shapely.LineString()
    if line.length < _LEAST_MM:
        return {}
    tolerance = _TOLERANCE_MM
    while len((kept := line.simplify(tolerance)).coords) > _MOST_POINTS:
        tolerance *= 1.5
    return {"points": tuple((round(x, 3), round(y, 3)) for x, y in kept.coords)}
