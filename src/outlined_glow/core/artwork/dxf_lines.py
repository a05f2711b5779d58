"""Loose lines of a drawing: those drawn twice taken once, those that meet joined to chains."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry import Polygon

from ..geometry.flatten import flatten_cubics
from .drawing import Subpath

#: Two outlines are the same one drawn twice if they differ by less than this share of their area.
_SAME_AREA = 1e-3


def each_line_once(rows: list[Subpath], near: float) -> list[Subpath]:
    """Open lines, each once: drawn a second time, there or back, a line would join with itself."""
    seen: set[bytes] = set()
    out = []
    for row in rows:
        points = np.round(row.controls / near + 0.137).astype(np.int64)
        there, back = points.tobytes(), points[::-1].tobytes()
        if there not in seen and back not in seen:
            seen.add(there)
            out.append(row)
    return out


def each_outline_once(rows: list[Subpath]) -> list[Subpath]:
    """Closed outlines, each once, wherever it begins and which way it runs: drawn twice it would be no hole."""
    if len(rows) < 2:
        return rows
    flat = [flatten_cubics(row.start, row.curves, 1e-4 * max(1e-9, float(np.ptp(row.controls, axis=0).max()))) for row in rows]
    shapes = [Polygon(points).buffer(0) if len(points) > 2 else Polygon() for points in flat]
    sizes = np.array([max(1e-9, float(np.ptp(points, axis=0).max())) for points in flat])
    middles = shapely.points([(points.min(axis=0) + points.max(axis=0)) / 2 for points in flat])
    pairs = shapely.STRtree(middles).query(middles, predicate="dwithin", distance=0.01 * sizes).T
    one, other = pairs[pairs[:, 0] < pairs[:, 1]].T
    areas = shapely.area(shapes)
    most = np.maximum(areas[one], areas[other])
    near = (most > 0) & (np.abs(areas[one] - areas[other]) <= _SAME_AREA * most)
    every = np.array(shapes, dtype=object)
    off = shapely.area(shapely.symmetric_difference(every[one[near]], every[other[near]]))
    twice = set(other[near][off <= _SAME_AREA * most[near]].tolist())
    return [row for place, row in enumerate(rows) if place not in twice]


def chains(rows: list[Subpath], near: float) -> Iterator[Subpath]:
    """Subpaths joined end to end where exactly two ends meet within `near`."""
    ends = np.array([[row.start, row.curves[-1, 2]] for row in rows]).reshape(-1, 2)
    cells: dict[tuple[int, int], list[int]] = {}
    for place, (x, y) in enumerate(np.floor(ends / near).astype(np.int64).tolist()):
        cells.setdefault((x, y), []).append(place)
    used = [False] * len(rows)

    def partner(end: int) -> int | None:
        x, y = (math.floor(value / near) for value in ends[end])
        close = [
            other
            for dx in (-1, 0, 1)
            for dy in (-1, 0, 1)
            for other in cells.get((x + dx, y + dy), ())
            if other != end and float(np.hypot(*(ends[other] - ends[end]))) <= near and not used[other // 2]
        ]
        return close[0] if close else None

    for first in range(len(rows)):
        if used[first]:
            continue
        used[first] = True
        chain = [(first, False)]
        if float(np.hypot(*(ends[2 * first + 1] - ends[2 * first]))) > near:
            for at_front in (False, True):
                while True:
                    row, turned = chain[0] if at_front else chain[-1]
                    out_end = 2 * row + (1 if turned == at_front else 0)
                    following = partner(out_end)
                    if following is None:
                        break
                    used[following // 2] = True
                    flipped = (following % 2 == 1) != at_front
                    chain.insert(0, (following // 2, flipped)) if at_front else chain.append((following // 2, flipped))
        pieces = [_turned(rows[row]) if turned else rows[row] for row, turned in chain]
        curves = np.concatenate([piece.curves for piece in pieces])
        gap = float(np.hypot(*(curves[-1, 2] - pieces[0].start)))
        yield Subpath(pieces[0].start, curves, len(curves) > 1 and gap <= near)


def _turned(row: Subpath) -> Subpath:
    """The same way back."""
    points = np.vstack([row.start[None], row.curves.reshape(-1, 2)])[::-1]
    return Subpath(points[0], points[1:].reshape(-1, 3, 2), row.closed)
