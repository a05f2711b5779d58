"""Curves to points, by tolerance."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]

#: Chords in a curve or a quarter circle, at most.
_MOST = 2000


def flatten_cubics(start: Points, curves: Points, tolerance: float) -> Points:
    """Points (n, 2) along cubic Beziers that follow one another, nowhere farther from them than `tolerance`.

    `start` (2,) is the first point, `curves` (m, 3, 2) control, control and end of each. The count of chords
    follows from the bound |B''| / (8 n^2) on their error; a curve with its controls on its ends is one chord.
    """
    return flatten_each([(start, curves)], np.array([tolerance]))[0]


def flatten_each(paths: Sequence[tuple[Points, Points]], tolerances: Points) -> list[Points]:
    """The same for many paths (start, curves), each with a tolerance of its own: at once, for most of them are short."""
    many = np.array([len(curves) for _, curves in paths])
    curves = np.concatenate([curves for _, curves in paths])
    if len(curves) == 0:
        return [start[None] for start, _ in paths]
    begins = np.cumsum(many) - many
    p1, p2, p3 = curves[:, 0], curves[:, 1], curves[:, 2]
    p0 = np.concatenate([p3[:1], p3[:-1]])
    p0[begins[many > 0]] = [start for start, some in paths if len(some)]
    straight = np.all((p1 == p0) & (p2 == p3), axis=1)
    bend = 6.0 * np.maximum(_norm(p0 - 2 * p1 + p2), _norm(p1 - 2 * p2 + p3))
    chords = np.clip(np.ceil(np.sqrt(bend / (8.0 * np.repeat(tolerances, many)))), 1, _MOST)
    count = np.where(straight, 1, chords).astype(int)
    before = np.cumsum(count) - count
    # One place more before each path is for its start.
    ends = np.cumsum(np.add.reduceat(np.append(count, 0), begins) * (many > 0) + 1)
    starts = ends - np.diff(ends, prepend=0)
    points = np.empty((ends[-1], 2))
    points[starts] = [start for start, _ in paths]
    there = np.ones(len(points), dtype=bool)
    there[starts] = False
    points[there] = _along(p0, p1, p2, p3, count, before)
    return np.split(points, ends[:-1])


def _along(p0: Points, p1: Points, p2: Points, p3: Points, count: NDArray[np.int64], before: NDArray[np.int64]) -> Points:
    """The ends of so many chords of each curve; so many chords come before those of each."""
    which = np.repeat(np.arange(len(count)), count)
    t = ((np.arange(len(which)) - before[which] + 1) / count[which])[:, None]
    s = 1.0 - t
    points: Points = s**3 * p0[which] + 3 * s**2 * t * p1[which] + 3 * s * t**2 * p2[which] + t**3 * p3[which]
    return points


def _norm(vectors: Points) -> Points:
    return np.hypot(vectors[:, 0], vectors[:, 1])


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


#: Of an arc that no number of chords fits, one can be so many times as long as usual: their number is rounded.
LONGEST_CHORD = 1.5


def clear_offset(distance: float, least: float = 0.0, chord: float = 1.0) -> float:
    """By how much to grow something so that what is left beside it is at least so far off, for all that chords lie inside the
    circle they stand for. It is grown by `least` beyond that distance anyhow. `chord` is `LONGEST_CHORD` where corners may have
    any angle; those of tracks and pads are eighths and quarters of a turn.

    >>> round(clear_offset(0.15, 0.003), 4), round(clear_offset(0.4, 0.003), 4)
    (0.153, 0.405)
    """
    return max(distance + least, distance / math.cos(chord * math.pi / 4 / quarter_segments(distance)))
