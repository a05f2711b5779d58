"""Smooth curves through points."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]

#: Straight pieces between one point and the next: an arc of a quarter turn is then right to a few millionths.
_PIECES = 96


def apart(points: Points) -> Points:
    """Points (n, 2) without those that lie where the one before lies."""
    return points[np.concatenate(([True], np.hypot(*np.diff(points, axis=0).T) > 1e-9))]


def through(points: Points, closed: bool) -> Points:
    """Points (m, 2) of a curve through points (n, 2) that lie apart: centripetal Catmull-Rom, which makes no loops of its own.

    A closed one has its first point again as its last.
    """
    if len(points) < 3:
        return points
    before, after = (points[-2], points[1]) if closed else (2 * points[0] - points[1], 2 * points[-1] - points[-2])
    held = np.vstack((before, points, after))
    knots = np.concatenate(([0.0], np.cumsum(np.sqrt(np.hypot(*np.diff(held, axis=0).T)))))
    pieces = [_between(held[at : at + 4], knots[at : at + 4]) for at in range(len(points) - 1)]
    return np.vstack((*pieces, points[-1:]))


def _between(held: Points, knots: Points) -> Points:
    """The curve from the second to the third of four points, its end left out (Barry and Goldman's pyramid)."""
    t = np.linspace(knots[1], knots[2], _PIECES, endpoint=False)[:, None]

    def mixed(one: Points, other: Points, a: float, b: float) -> Points:
        return np.asarray((b - t) / (b - a) * one + (t - a) / (b - a) * other)

    a = [mixed(held[n], held[n + 1], knots[n], knots[n + 1]) for n in range(3)]
    b = [mixed(a[n], a[n + 1], knots[n], knots[n + 2]) for n in range(2)]
    return mixed(b[0], b[1], knots[1], knots[2])
