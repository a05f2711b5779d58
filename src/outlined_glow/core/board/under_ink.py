"""Raised copper under ink: where it goes on, so that no ink ends on a copper step."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..geometry.offset import grow
from ..geometry.overlay import overlay_each
from ..geometry.regions import EMPTY, added, disc, minus, polygons, region_of, union
from ..project import Mend

#: More marks of ink than that are the dots of a tone, which stand where they fall.
_MOST_MARKS = 1_000


def raised_under_ink(art: Mapping[str, BaseGeometry], mends: Sequence[Mend] = (), side: str = "front") -> BaseGeometry:
    """Raised copper goes on under ink that mostly stands on it, so that no ink ends on a copper step; and where a mend
    lays it under all of the ink, or takes it from under it."""
    raised, ink = _under_standing(art), art.get("ink", EMPTY)
    for one in mends:
        if one.side == side and one.how in ("raise", "lower") and not ink.is_empty:
            here = one.x_mm is not None and one.y_mm is not None
            place = disc(one.x_mm or 0.0, one.y_mm or 0.0, one.reach_mm)
            marks = region_of(mark for mark in polygons(ink) if not here or mark.intersects(place))
            ground = grow(marks, 0.01)
            raised = union([raised, ground]) if one.how == "raise" else minus(raised, ground)
    return raised


def _under_standing(art: Mapping[str, BaseGeometry]) -> BaseGeometry:
    raised, ink = art.get("raised", EMPTY), art.get("ink", EMPTY)
    if raised.is_empty or ink.is_empty:
        return raised
    marks = np.array(polygons(ink), dtype=object)
    if len(marks) > _MOST_MARKS:
        return raised
    edges = shapely.boundary(marks)
    grown = shapely.buffer(np.array(polygons(raised), dtype=object), 0.01, quad_segs=1)
    mark, part = shapely.STRtree(grown).query(edges, predicate="intersects")
    shared = shapely.length(overlay_each(shapely.intersection, edges[mark], grown[part]))
    beside = np.bincount(mark, shared, len(marks))
    standing = shapely.buffer(marks[beside > 0.5 * shapely.length(edges)], 0.01, quad_segs=1).tolist()
    return added(raised, union(standing)) if standing else raised
