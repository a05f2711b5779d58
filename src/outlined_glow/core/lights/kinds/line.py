"""Straight lines of LEDs about a middle."""

from __future__ import annotations

import math
from collections.abc import Callable

from ...project import Line
from .drawing import from_end_to_end
from .kind import MIDDLE, PLACED, TURNED, Handle, Kind, LightPaths, Spot, Values, count_handle, in_the_middle, middle_handle
from .spacing import SPACED, steps_of


def _course(array: Line, paths: LightPaths | None) -> tuple[float, bool]:
    return math.inf, False


def line_spots(array: Line, paths: LightPaths | None = None) -> list[Spot]:
    """Equal steps from one end to the other."""
    count, step, length = steps_of(array, *_course(array, paths))
    a = math.radians(array.angle_deg)
    along = [place * step - length / 2 for place in range(count)]
    return [(array.x_mm + at * math.cos(a), array.y_mm + at * math.sin(a), array.angle_deg) for at in along]


def _handles(array: Line, paths: LightPaths) -> list[Handle]:
    _, _, length = steps_of(array, *_course(array, paths))
    a = math.radians(array.angle_deg)

    def end_at(sign: int) -> tuple[float, float]:
        return array.x_mm + sign * length / 2 * math.cos(a), array.y_mm + sign * length / 2 * math.sin(a)

    def drag_end(sign: int) -> Callable[[float, float], Values]:
        fixed_x, fixed_y = end_at(-sign)

        def drag(x: float, y: float) -> Values:
            reach = max(0.5, math.hypot(x - fixed_x, y - fixed_y))
            turn = math.atan2(sign * (y - fixed_y), sign * (x - fixed_x))
            half = sign * reach / 2
            return {
                "x_mm": round(fixed_x + half * math.cos(turn), 3),
                "y_mm": round(fixed_y + half * math.sin(turn), 3),
                "angle_deg": round(math.degrees(turn), 2),
                "length_mm": round(reach, 2),
            }

        return drag

    ends = ((-1, "start", "drag where the line begins"), (1, "end", "drag where the line ends"))
    held = [Handle(name, tip, *end_at(sign), drag_end(sign)) for sign, name, tip in ends]
    more = count_handle(array, line_spots(array), length, False) if array.count is not None else []
    return [*middle_handle(array, paths), *held, *more]


LINE = Kind(
    Line,
    "line",
    "A line",
    "Line “{array}”",
    "LEDs at equal steps on a straight line.",
    {**SPACED, **TURNED, **MIDDLE},
    PLACED,
    line_spots,
    _handles,
    lambda size: {**in_the_middle(size), "length_mm": round(size[0] * 0.6, 1)},
    course=_course,
    drawn=from_end_to_end,
)
