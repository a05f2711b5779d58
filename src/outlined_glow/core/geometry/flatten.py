"""Curves to points, by tolerance."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]

#: Chords in a curve or a quarter circle, at most.
_MOST = 2000


def flatten_cubic(p0: Points, p1: Points, p2: Points, p3: Points, tolerance: float) -> Points:
    """Points (n, 2) after `p0` along a cubic Bezier, nowhere farther from it than `tolerance`.

    The count follows from the bound |B''| / (8 n^2) on the chord error.
    """
    bend = 6.0 * max(float(np.hypot(*(p0 - 2 * p1 + p2))), float(np.hypot(*(p1 - 2 * p2 + p3))))
    count = max(1, min(_MOST, math.ceil(math.sqrt(bend / (8.0 * tolerance)))))
    t = np.linspace(0.0, 1.0, count + 1)[1:, None]
    s = 1.0 - t
    return s**3 * p0 + 3 * s**2 * t * p1 + 3 * s * t**2 * p2 + t**3 * p3


def circle_points(x: float, y: float, radius: float, tolerance: float = 0.005) -> Points:
    """A closed circle (n, 2), counter-clockwise, its chords within `tolerance`."""
    count = 4 * quarter_segments(radius, tolerance)
    angle = np.linspace(0.0, 2 * math.pi, count, endpoint=False)
    return np.column_stack([x + radius * np.cos(angle), y + radius * np.sin(angle)])


def quarter_segments(radius: float, tolerance: float = 0.005) -> int:
    """Chords in a quarter circle so that none leaves it by more than `tolerance`."""
    if radius <= tolerance:
        return 1
    turn = math.acos(1.0 - tolerance / radius)
    return min(_MOST, max(2, math.ceil(math.pi / (4.0 * turn)))) if turn > 0 else _MOST
