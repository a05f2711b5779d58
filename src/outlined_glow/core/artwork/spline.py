"""B-splines as cubic segments: clamped or not, closed, rational, of any degree."""

from __future__ import annotations

import numpy as np

from .drawing import Points

#: Cubic segments that stand for one span of a curve that is no plain cubic: twice as many until their middles lie so near to
#: it, as a share of its size, or there are the most.
_PIECES, _MOST_PIECES, _NEAR = 16, 256, 1e-5
_HIGHEST_DEGREE = 12


def cubics(controls: Points, knots: Points, degree: int, weights: Points | None = None) -> tuple[Points, Points]:
    """The start (2,) and the cubic segments (n, 3, 2) of a B-spline over its domain, knot `degree` to knot `count`.

    A plain cubic comes out exact; any other one as Hermite pieces. `ValueError` where controls (m, 2), knots (m + degree + 1)
    and weights (m) do not belong together. Source: de Boor's recurrence.
    """
    count = len(controls)
    given = np.ones(count) if weights is None or not len(weights) else np.asarray(weights, float)
    if not 1 <= degree <= _HIGHEST_DEGREE or count <= degree or len(knots) != count + degree + 1 or len(given) != count:
        raise ValueError("controls, knots and degree of a spline do not belong together")
    if np.any(np.diff(knots) < 0) or not np.isfinite(knots).all() or np.any(given <= 0):
        raise ValueError("knots of a spline fall, or a weight is none")
    plain = degree == 3 and bool(np.allclose(given, given[0]))
    raised = np.column_stack([controls * given[:, None], given])
    slopes = degree * np.diff(raised, axis=0) / np.maximum(knots[degree + 1 : -1] - knots[1:count], 1e-300)[:, None]
    near = _NEAR * float(np.ptp(controls, axis=0).max())
    start: Points | None = None
    rows = []
    for span in range(degree, count):
        low, high = float(knots[span]), float(knots[span + 1])
        if high - low <= 1e-12 * max(1.0, abs(high)):
            continue
        pieces = 1 if plain else _PIECES
        first, row, off = _hermite(raised, slopes, knots, degree, span, pieces)
        while not plain and off > near and pieces < _MOST_PIECES:
            pieces *= 2
            first, row, off = _hermite(raised, slopes, knots, degree, span, pieces)
        start = first if start is None else start
        rows.append(row)
    if start is None:
        raise ValueError("a spline without a span")
    return start, np.concatenate(rows)


def _hermite(
    raised: Points, slopes: Points, knots: Points, degree: int, span: int, pieces: int
) -> tuple[Points, Points, float]:
    """Where one span begins, its cubic segments, and how far the middles of those lie from the curve."""
    at = np.linspace(knots[span], knots[span + 1], 2 * pieces + 1)
    every, ways = _along(raised, slopes, knots, degree, span, at)
    places, ways, third = every[::2], ways[::2], np.diff(at[::2])[:, None] / 3
    row = np.stack([places[:-1] + ways[:-1] * third, places[1:] - ways[1:] * third, places[1:]], axis=1)
    middles = (places[:-1] + 3 * row[:, 0] + 3 * row[:, 1] + places[1:]) / 8
    return places[0], row, float(np.hypot(*(middles - every[1::2]).T).max())


def _along(raised: Points, slopes: Points, knots: Points, degree: int, span: int, at: Points) -> tuple[Points, Points]:
    """Places and derivatives (n, 2) at parameters of one span."""
    value = _de_boor(raised, knots, degree, span, at)
    change = _de_boor(slopes, knots[1:-1], degree - 1, span - 1, at)
    places = value[:, :2] / value[:, 2:]
    return places, (change[:, :2] - places * change[:, 2:]) / value[:, 2:]


def _de_boor(controls: Points, knots: Points, degree: int, span: int, at: Points) -> Points:
    """The values (n, 3) of one span of a curve at its parameters (n,)."""
    row = np.repeat(controls[span - degree : span + 1, None], len(at), axis=1)
    for level in range(1, degree + 1):
        for place in range(degree, level - 1, -1):
            low, high = knots[place + span - degree], knots[place + 1 + span - level]
            share = (at - low)[:, None] / (high - low) if high > low else 0.0
            row[place] = (1 - share) * row[place - 1] + share * row[place]
    return np.asarray(row[degree])
