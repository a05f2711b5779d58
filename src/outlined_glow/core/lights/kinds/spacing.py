"""LEDs at equal steps along a course: of number, pitch and length any two give the third."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...errors import Trouble
from ...project import Param, Spaced
from .kind import COUNT, PITCH

#: A pitch that ends this much (a share of it) before the end of the course still has its last LED.
_NEARLY = 1e-6
SPACED: Mapping[str, Param] = {
    "count": COUNT(title="LEDs"),
    "pitch_mm": PITCH(title="spacing"),
    "length_mm": Param("quantity", "mm", 0.1, 2000, title="length"),
}


def respaced(array: Spaced, given: Mapping[str, Any]) -> dict[str, Any]:
    """What number, pitch and length are after some were given: two of them, or one and the whole course.

    The length stays unless it is given, or both others are.
    """
    count, pitch, length = (given.get(key) for key in SPACED)
    if count is not None and pitch is not None and length is not None:
        raise Trouble("Give two of count, pitch_mm and length_mm; they make the third.")
    by_both = array.count is not None and array.pitch_mm is not None
    if length is not None:
        if count is None and pitch is None:
            count, pitch = (array.count, None) if array.count is not None else (None, array.pitch_mm)
    elif count is not None and pitch is None:
        pitch, length = (array.pitch_mm, None) if by_both else (None, array.length_mm)
    elif pitch is not None and count is None:
        count, length = (array.count, None) if by_both else (None, array.length_mm)
    elif count is None and pitch is None:
        count, pitch, length = array.count, array.pitch_mm, array.length_mm
    return {"count": count, "pitch_mm": pitch, "length_mm": length}


def steps_of(array: Spaced, whole_mm: float, closed: bool) -> tuple[int, float, float]:
    """How many LEDs, how far apart, and how long the part of the course is that they take (mm).

    `whole_mm` is the length of the course. On a closed one the last LED is a step before the first.
    """
    closed = closed and array.length_mm is None and (array.count is None or array.pitch_mm is None)
    if array.count is not None and array.pitch_mm is not None:
        return array.count, array.pitch_mm, array.pitch_mm * (array.count - 1)
    length = whole_mm if array.length_mm is None else array.length_mm
    if array.count is not None:
        steps = array.count if closed else array.count - 1
        return array.count, length / steps if steps else 0.0, length
    pitch = array.pitch_mm or length
    if closed:
        count = max(1, round(length / pitch))
        return count, length / count, length
    count = math.floor(length / pitch + _NEARLY) + 1
    return count, pitch, pitch * (count - 1)


def distances(array: Spaced, whole_mm: float, closed: bool = False) -> NDArray[np.float64] | None:
    """How far along the course each LED stands, mm; None where they need more than there is."""
    count, step, length = steps_of(array, whole_mm, closed)
    return np.asarray(np.arange(count) * step, float) if length <= whole_mm * (1 + _NEARLY) else None
