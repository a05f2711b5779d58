"""Digits built of LEDs: seven or fourteen segments each, of so many LEDs."""

from __future__ import annotations

import math

from ...project import Digits, Param
from .drawing import as_high_as_drawn
from .kind import (
    COUNT,
    MIDDLE,
    PLACED,
    TURNED,
    Handle,
    Kind,
    LightPaths,
    Spot,
    about_middle,
    height_handle,
    in_the_middle,
    middle_handle,
)

#: Segments from end to end, in halves of the width and height about the middle of a digit: a on top, clockwise, g across.
_RING = {
    "a": (-1, 1, 1, 1), "b": (1, 1, 1, 0), "c": (1, 0, 1, -1), "d": (1, -1, -1, -1), "e": (-1, -1, -1, 0), "f": (-1, 0, -1, 1),
}  # fmt: skip
_SEGMENTS: dict[int, tuple[tuple[float, float, float, float], ...]] = {
    7: (*_RING.values(), (-1, 0, 1, 0)),
    14: (
        *_RING.values(), (-1, 0, 0, 0), (0, 0, 1, 0), (-1, 1, 0, 0), (0, 1, 0, 0), (1, 1, 0, 0), (0, 0, 1, -1), (0, 0, 0, -1),
        (0, 0, -1, -1),
    ),
}  # fmt: skip
#: The width of a digit as a share of its height, and where its diagonals end short of the corners.
_WIDE, _DIAGONAL = 0.55, 0.12


def digits_spots(array: Digits, paths: LightPaths | None = None) -> list[Spot]:
    """Digit by digit from the left, in each segment by segment (a to g), in each equal steps."""
    high, wide = array.height_mm / 2, array.height_mm * _WIDE / 2
    lean = math.tan(math.radians(array.slant_deg))
    out = []
    for digit in range(array.digits):
        left = (digit - (array.digits - 1) / 2) * (2 * wide + array.gap_mm)
        for x0, y0, x1, y1 in _SEGMENTS[int(array.segments)]:
            short = _DIAGONAL if x0 != x1 and y0 != y1 else 0.0
            for step in range(array.per_segment):
                share = short + (1 - 2 * short) * (step + 0.5) / array.per_segment
                y = high * (y0 + (y1 - y0) * share)
                x = left + wide * (x0 + (x1 - x0) * share) + lean * y
                turn = math.degrees(math.atan2(high * (y1 - y0), wide * (x1 - x0) + lean * high * (y1 - y0)))
                out.append((*about_middle(array, x, y), array.angle_deg + turn))
    return out


def _handles(array: Digits, paths: LightPaths) -> list[Handle]:
    lean = math.tan(math.radians(array.slant_deg)) * array.height_mm / 2
    return [*middle_handle(array, paths), height_handle(array, "drag how high the digits are", lean)]


DIGITS = Kind(
    Digits,
    "digits",
    "Digits",
    "Digits “{array}”",
    "Seven or fourteen segments a digit, each of so many LEDs.",
    {
        "digits": Param("count", "", 1, 24, title="digits"),
        "segments": Param("choice", choices=("7", "14"), title="segments"),
        "per_segment": COUNT(title="LEDs in a segment"),
        "height_mm": Param("quantity", "mm", 2, 500, title="height"),
        "gap_mm": Param("quantity", "mm", 0.5, 200, title="space between digits", step=0.5),
        "slant_deg": Param("quantity", "deg", -20, 20, title="slant"),
        **TURNED,
        **MIDDLE,
    },
    PLACED,
    digits_spots,
    _handles,
    lambda size: {**in_the_middle(size), "height_mm": round(min(size[1] * 0.5, size[0] * 0.25), 1)},
    drawn=as_high_as_drawn,
)
