"""Rings: LEDs at equal angles on a circle."""

from __future__ import annotations

import math

from ...project import Param, Ring
from .kind import LEDS, MIDDLE, PLACED, TURN, Handle, Kind, LightPaths, Spot, Values, in_the_middle, middle_handle


def ring_spots(array: Ring, paths: LightPaths | None = None) -> list[Spot]:
    """Equal angles from `start_deg`, each LED along the circle."""
    turn = -1 if array.direction == "clockwise" else 1
    out = []
    for place in range(array.count):
        angle = array.start_deg + turn * 360 * place / array.count
        a = math.radians(angle)
        radius = array.diameter_mm / 2
        out.append((array.x_mm + radius * math.cos(a), array.y_mm + radius * math.sin(a), angle + turn * 90))
    return out


def _ring_handles(array: Ring, paths: LightPaths) -> list[Handle]:
    a, radius = math.radians(array.start_deg), array.diameter_mm / 2

    def drag(x: float, y: float) -> Values:
        reach = math.hypot(x - array.x_mm, y - array.y_mm)
        turn = math.degrees(math.atan2(y - array.y_mm, x - array.x_mm))
        return {"diameter_mm": round(max(0.5, 2 * reach), 2), "start_deg": round(turn, 1)}

    x, y = array.x_mm + radius * math.cos(a), array.y_mm + radius * math.sin(a)
    return [*middle_handle(array, paths), Handle("radius", "drag the diameter and where it starts", x, y, drag)]


RING = Kind(
    Ring,
    "ring",
    "A ring",
    "Ring “{array}”",
    "LEDs on a circle.",
    {
        **LEDS,
        "diameter_mm": Param("quantity", "mm", 0.5, 1000, title="diameter"),
        "start_deg": TURN(title="starts at"),
        "direction": Param("choice", choices=("clockwise", "counter-clockwise"), title="direction"),
        **MIDDLE,
    },
    PLACED,
    ring_spots,
    _ring_handles,
    lambda size: {**in_the_middle(size), "diameter_mm": round(min(size) * 0.6, 1), "count": 12},
    lambda array: 90.0 if array.direction == "clockwise" else -90.0,
)
