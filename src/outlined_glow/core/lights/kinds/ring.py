"""Rings: LEDs at equal angles on a circle, or on several round one another."""

from __future__ import annotations

import math

from ...project import Param, Ring
from .drawing import from_the_middle
from .kind import (
    COUNT,
    LEDS,
    MIDDLE,
    PLACED,
    TURN,
    Handle,
    Kind,
    LightPaths,
    Spot,
    Values,
    count_handle,
    in_the_middle,
    middle_handle,
)


def ring_spots(array: Ring, paths: LightPaths | None = None) -> list[Spot]:
    """Equal angles from `start_deg`, each LED along its circle, the innermost circle first."""
    turn = -1 if array.direction == "clockwise" else 1
    out = []
    for ring in range(array.rings):
        radius = array.diameter_mm / 2 + ring * array.step_mm
        for place in range(array.count):
            angle = array.start_deg + turn * 360 * place / array.count
            a = math.radians(angle)
            out.append((array.x_mm + radius * math.cos(a), array.y_mm + radius * math.sin(a), angle + turn * 90))
    return out


def _ring_handles(array: Ring, paths: LightPaths) -> list[Handle]:
    a, radius = math.radians(array.start_deg), array.diameter_mm / 2

    def polar(x: float, y: float) -> tuple[float, float]:
        return math.hypot(x - array.x_mm, y - array.y_mm), math.degrees(math.atan2(y - array.y_mm, x - array.x_mm))

    def drag(x: float, y: float) -> Values:
        reach, turn = polar(x, y)
        return {"diameter_mm": round(max(0.5, 2 * reach), 2), "start_deg": round(turn, 1)}

    def at(reach: float) -> tuple[float, float]:
        return array.x_mm + reach * math.cos(a), array.y_mm + reach * math.sin(a)

    def widen(x: float, y: float) -> Values:
        return {"step_mm": round(max(0.2, (polar(x, y)[0] - radius) / (array.rings - 1)), 2)}

    out = [*middle_handle(array, paths), Handle("radius", "drag the diameter and where it starts", *at(radius), drag)]
    if array.rings > 1:
        out.append(Handle("rings", "drag the rings apart", *at(radius + (array.rings - 1) * array.step_mm), widen))
    first = ring_spots(array)[: array.count]
    return [*out, *count_handle(array, first, 360.0, True)]


RING = Kind(
    Ring,
    "ring",
    "A ring",
    "Ring “{array}”",
    "LEDs on a circle, or on several round one another.",
    {
        **LEDS,
        "diameter_mm": Param("quantity", "mm", 0.5, 1000, title="diameter"),
        "rings": COUNT(title="rings"),
        "step_mm": Param("quantity", "mm", 0.2, 500, title="ring to ring", step=0.5),
        "start_deg": TURN(title="starts at"),
        "direction": Param("choice", choices=("clockwise", "counter-clockwise"), title="direction"),
        **MIDDLE,
    },
    PLACED,
    ring_spots,
    _ring_handles,
    lambda size: {**in_the_middle(size), "diameter_mm": round(min(size) * 0.6, 1), "count": 12},
    lambda array: 90.0 if array.direction == "clockwise" else -90.0,
    drawn=from_the_middle,
)
