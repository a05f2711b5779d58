"""Arrays along a line of one's own: straight from point to point, or bent through them."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from shapely.geometry import LineString

from ...geometry.contours import direction_deg
from ...geometry.curves import apart, through
from ...project import Curve, Param
from .drawing import along_what_is_drawn
from .kind import Handle, Kind, LightPaths, Size, Spot, Values
from .spacing import SPACED, distances


def course_of(array: Curve) -> LineString:
    """The line through its points."""
    points = apart(np.array(array.points, float))
    if array.closed and len(points) > 1:
        points = np.vstack((points, points[:1]))
    if len(points) < 2:
        return LineString()
    return LineString(through(points, array.closed) if array.bent else points)


def _course(array: Curve, paths: LightPaths | None) -> tuple[float, bool]:
    return course_of(array).length, array.closed


def curve_spots(array: Curve, paths: LightPaths | None = None) -> list[Spot]:
    """Equal arc lengths from the first point."""
    line = course_of(array)
    at = distances(array, line.length, array.closed) if line.length else None
    out = []
    for distance in () if at is None else at:
        here = line.interpolate(float(distance))
        out.append((here.x, here.y, direction_deg(line, float(distance))))
    return out


def _handles(array: Curve, paths: LightPaths) -> list[Handle]:
    def drag_point(number: int) -> Callable[[float, float], Values]:
        def drag(x: float, y: float) -> Values:
            points = list(array.points)
            points[number] = (round(x, 3), round(y, 3))
            return {"points": tuple(points)}

        return drag

    return [
        Handle(f"point {number + 1}", "drag a point of the line", x, y, drag_point(number))
        for number, (x, y) in enumerate(array.points)
    ]


def _begins(size: Size) -> Values:
    wide, high = size
    return {
        "points": tuple((round(wide * x, 1), round(high * y, 1)) for x, y in ((0.2, 0.4), (0.4, 0.65), (0.6, 0.35), (0.8, 0.6)))
    }


CURVE = Kind(
    Curve,
    "curve",
    "A line of my own",
    "Line “{array}”",
    "LEDs at equal steps along a line through points.",
    {
        **SPACED,
        "points": Param("points", axis="xy"),
        "bent": Param("flag", title="Bent"),
        "closed": Param("flag", title="Closed"),
    },
    ("points",),
    curve_spots,
    _handles,
    _begins,
    course=_course,
    drawn=along_what_is_drawn,
)
