"""Arcs: LEDs at equal steps on a part of a circle."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ...project import Arc, Param
from .drawing import from_the_middle
from .kind import MIDDLE, PLACED, TURN, Handle, Kind, LightPaths, Spot, Values, count_handle, in_the_middle, middle_handle
from .spacing import SPACED, distances, steps_of


def _sign(array: Arc) -> int:
    return -1 if array.direction == "clockwise" else 1


def _course(array: Arc, paths: LightPaths | None) -> tuple[float, bool]:
    return math.radians(array.sweep_deg) * array.diameter_mm / 2, array.sweep_deg >= 360


def arc_spots(array: Arc, paths: LightPaths | None = None) -> list[Spot]:
    """Equal lengths of the circle from `start_deg`, each LED along it."""
    radius, sign = array.diameter_mm / 2, _sign(array)
    at = distances(array, *_course(array, paths))
    out = []
    for turn in () if at is None else at / radius:
        a = math.radians(array.start_deg) + sign * float(turn)
        out.append((array.x_mm + radius * math.cos(a), array.y_mm + radius * math.sin(a), math.degrees(a) + sign * 90))
    return out


def _handles(array: Arc, paths: LightPaths) -> list[Handle]:
    radius, sign = array.diameter_mm / 2, _sign(array)
    _, _, length = steps_of(array, *_course(array, paths))
    closed = array.sweep_deg >= 360
    end_deg = array.start_deg + sign * array.sweep_deg

    def polar(x: float, y: float) -> tuple[float, float]:
        return math.hypot(x - array.x_mm, y - array.y_mm), math.degrees(math.atan2(y - array.y_mm, x - array.x_mm))

    def start(x: float, y: float) -> Values:
        reach, turn = polar(x, y)
        sweep = (sign * (end_deg - turn)) % 360
        return {
            "diameter_mm": round(max(0.5, 2 * reach), 2),
            "start_deg": round(turn, 1),
            "sweep_deg": round(max(1.0, sweep), 1),
        }

    def end(x: float, y: float) -> Values:
        reach, turn = polar(x, y)
        sweep = (sign * (turn - array.start_deg)) % 360
        return {"diameter_mm": round(max(0.5, 2 * reach), 2), "sweep_deg": round(max(1.0, sweep), 1)}

    def there(turn: float) -> tuple[float, float]:
        a = math.radians(turn)
        return array.x_mm + radius * math.cos(a), array.y_mm + radius * math.sin(a)

    return [
        *middle_handle(array, paths),
        Handle("start", "drag where the arc begins", *there(array.start_deg), start),
        Handle("end", "drag where the arc ends", *there(end_deg), end),
        *(count_handle(array, arc_spots(array), length, closed) if array.count is not None else ()),
    ]


def _drawn(array: Arc, drawn: Sequence[tuple[float, float]]) -> Values:
    """From the middle out to the middle of the arc."""
    values = from_the_middle(array, drawn)
    if "start_deg" in values:
        values["start_deg"] = round(values["start_deg"] - _sign(array) * array.sweep_deg / 2, 1)
    return values


ARC = Kind(
    Arc,
    "arc",
    "An arc",
    "Arc “{array}”",
    "LEDs at equal steps on a part of a circle.",
    {
        **SPACED,
        "diameter_mm": Param("quantity", "mm", 0.5, 1000, title="diameter"),
        "start_deg": TURN(title="starts at"),
        "sweep_deg": Param("quantity", "deg", 1, 360, title="goes round", step=5),
        "direction": Param("choice", choices=("clockwise", "counter-clockwise"), title="direction"),
        **MIDDLE,
    },
    PLACED,
    arc_spots,
    _handles,
    lambda size: {**in_the_middle(size), "diameter_mm": round(min(size) * 0.6, 1)},
    lambda array: -90.0 * _sign(array),
    _course,
    drawn=_drawn,
)
