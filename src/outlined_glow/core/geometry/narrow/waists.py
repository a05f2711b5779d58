"""Waists: where two places of an edge face one another, each the nearest of its bank to the other, and little lies between.

What an opening removes does not tell of all of them: where two points come near, discs on either hand cover what lies between.
"""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..overlay import overlay
from ..prepared import prepared, prepared_some
from ..regions import meeting

Points = NDArray[np.float64]
#: What is no distance, mm; and the share of a way that is left away at either end to ask where it runs.
_NOTHING, _END = 1e-6, 0.02
#: So far beyond the arc of a disc that does not pass a waist it is asked what lies there, mm.
_ASIDE = 0.012


def waists(parts: NDArray[np.object_], narrower: float, between: bool = False) -> tuple[NDArray[np.object_], NDArray[np.int64]]:
    """The shortest ways across what is narrower than that (mm) within some polygons, or `between` them and in their notches,
    as lines; and which polygon each begins at."""
    if not len(parts):
        return np.empty(0, dtype=object), np.empty(0, dtype=np.int64)
    at, own, last, part = _corners(parts, between)
    # A bank has its nearest place at a corner that points at the other one, or along an edge.
    pointed = last[:, 0] * own[:, 1] - last[:, 1] * own[:, 0] < 0
    places = np.flatnonzero(pointed)
    ends = at + own
    length = np.hypot(*own.T)
    own, last = own / length[:, None], last / np.hypot(*last.T)[:, None]
    edges = shapely.STRtree(np.asarray(shapely.linestrings(np.stack([at, ends], axis=1))))
    one, edge = edges.query(shapely.points(at[places]), predicate="dwithin", distance=narrower)
    corner = places[one]
    apart = corner != edge if between else (corner != edge) & (part[corner] == part[edge])
    corner, edge = corner[apart], edge[apart]
    off = at[corner] - at[edge]
    along = _dot(off, own[edge])
    way = at[edge] + own[edge] * np.clip(along, 0.0, length[edge])[:, None] - at[corner]
    within = (along > _NOTHING) & (along < length[edge] - _NOTHING) & (_cross(own[edge], off) > 0)
    met = (along <= _NOTHING) & pointed[edge] & _faces(-way, own[edge], last[edge])
    found = (within | met) & (np.hypot(*way.T) > _NOTHING) & _faces(way, own[corner], last[corner])
    begin, across = at[corner[found]], way[found]
    lines = np.asarray(shapely.linestrings(np.stack([begin, begin + across], axis=1)))
    free = _run_free(begin, across, parts, part[corner[found]], between)
    return lines[free], part[corner[found]][free]


def rays(ways: NDArray[np.object_], radius: float) -> NDArray[np.object_]:
    """Of each way the two lines (n, 2) that lead away from its middle on either hand: from just beyond a disc of that radius
    (mm) that does not pass between its ends, as far as the disc is wide."""
    ends = shapely.get_coordinates(ways).reshape(-1, 2, 2)
    middle, half = ends.mean(axis=1), (ends[:, 1] - ends[:, 0]) / 2
    wide = np.hypot(*half.T)
    begin = radius - np.sqrt(np.maximum(0.0, radius * radius - wide * wide)) + _ASIDE
    off = np.column_stack([-half[:, 1], half[:, 0]]) / wide[:, None]
    near, far = off * begin[:, None], off * (begin[:, None] + 2 * radius)
    both = [np.stack([middle + sign * near, middle + sign * far], axis=1) for sign in (-1, 1)]
    return np.asarray(shapely.linestrings(np.stack(both, axis=1)))


def reached(lines: NDArray[np.object_], ground: BaseGeometry, goal: BaseGeometry) -> NDArray[np.bool_]:
    """Which lines come, from where they begin, to a goal without leaving the ground."""
    ground, goal = prepared(ground), prepared(goal)
    out = np.asarray(shapely.intersects(goal, lines))
    for place in np.flatnonzero(out & ~shapely.covers(ground, lines)).tolist():
        begin = shapely.get_point(lines[place], 0)
        pieces = shapely.get_parts(overlay(shapely.intersection, lines[place], ground))
        mine = pieces[shapely.distance(pieces, begin) < _NOTHING]
        out[place] = shapely.intersects(goal, mine).any()
    return out


def _corners(parts: NDArray[np.object_], between: bool) -> tuple[Points, Points, Points, NDArray[np.int64]]:
    """Every corner, the way to the next one and that from the last one, with what is asked of on the left, and the part it is
    of."""
    rings, part = shapely.get_rings(parts, return_index=True)
    inner = np.diff(part, prepend=-1) == 0
    rings = np.where((shapely.is_ccw(rings) == inner) != between, shapely.reverse(rings), rings)
    places, ring = shapely.get_coordinates(rings, return_index=True)
    begins = np.flatnonzero(ring[1:] == ring[:-1])
    own = places[begins + 1] - places[begins]
    real = (own != 0).any(axis=1)
    at, own, ring = places[begins[real]], own[real], ring[begins[real]]
    first = np.flatnonzero(np.diff(ring, prepend=-1))
    before = np.arange(len(at)) - 1
    before[first] = np.append(first[1:], len(at)) - 1
    return at, own, own[before], part[ring]


def _faces(way: Points, own: Points, last: Points) -> NDArray[np.bool_]:
    """Whether, of all that lies beside it on its bank, a corner is the nearest to the other end of a way from it."""
    ahead = (_dot(way, own) <= 0) & (_dot(way, last) >= 0)
    return np.asarray(ahead & ((_cross(own, way) > 0) | (_cross(last, way) > 0)))


def _run_free(
    begin: Points, across: Points, parts: NDArray[np.object_], part: NDArray[np.int64], between: bool
) -> NDArray[np.bool_]:
    """Which ways touch nothing but at their ends."""
    inside = np.stack([begin + _END * across, begin + (1 - _END) * across], axis=1)
    lines = np.asarray(shapely.linestrings(inside))
    if not between:
        return np.asarray(shapely.contains_properly(prepared_some(parts, np.unique(part))[part], lines))
    free = np.ones(len(lines), dtype=bool)
    free[meeting(parts, lines)[1]] = False
    return free


def _dot(one: Points, other: Points) -> NDArray[np.float64]:
    return one[:, 0] * other[:, 0] + one[:, 1] * other[:, 1]


def _cross(one: Points, other: Points) -> NDArray[np.float64]:
    return one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0]
