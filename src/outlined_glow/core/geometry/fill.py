"""Fill rules: what closed outlines enclose."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import MultiLineString
from shapely.geometry.base import BaseGeometry

from .flatten import Points
from .regions import EMPTY, clean, clean_each

_CHUNK = 2_000_000


def fill(outlines: Sequence[Points], rule: str) -> BaseGeometry:
    """The region that closed outlines (each (n, 2)) enclose under `rule`: nonzero or evenodd.

    Outlines may cross themselves and one another. All edges are noded, the faces between them found,
    and each face is kept by the winding number of a point inside it.
    """
    return fill_each([outlines], [rule])[0]


def fill_each(drawn: Sequence[Sequence[Points]], rules: Sequence[str]) -> list[BaseGeometry]:
    """The same for the outlines of many shapes: those of one that does not cross itself are made at once."""
    closed = [[points for points in outlines if len(points) >= 3] for outlines in drawn]
    alone = np.flatnonzero([len(some) == 1 for some in closed])
    areas = np.full(len(closed), None, dtype=object)
    if len(alone):
        points = [closed[at][0] for at in alone.tolist()]
        which = np.repeat(np.arange(len(points)), [len(some) for some in points])
        rings: Any = shapely.linearrings(np.concatenate(points), indices=which)
        simple = np.atleast_1d(shapely.is_simple(rings))
        areas[alone[simple]] = clean_each(np.asarray(shapely.polygons(rings[simple])))
    return [
        _faces(some, rule) if area is None else area for area, some, rule in zip(areas.tolist(), closed, rules, strict=True)
    ]


def _faces(closed: Sequence[Points], rule: str) -> BaseGeometry:
    if not closed:
        return EMPTY
    lines = shapely.unary_union(MultiLineString([np.vstack([points, points[:1]]) for points in closed]))
    faces = list(shapely.get_parts(shapely.polygonize(shapely.get_parts(lines))))
    if not faces:
        return EMPTY
    inside = shapely.get_coordinates(shapely.point_on_surface(faces))
    turns = winding(inside, closed)
    keep = turns % 2 != 0 if rule == "evenodd" else turns != 0
    kept = [face for face, wanted in zip(faces, keep, strict=True) if wanted]
    return clean(shapely.coverage_union_all(kept)) if kept else EMPTY


def winding(points: Points, outlines: Sequence[Points]) -> NDArray[np.int64]:
    """How often the outlines go counter-clockwise round each point: (n,) from (n, 2)."""
    out = np.zeros(len(points), np.int64)
    boxes = shapely.box(*np.array([(*outline.min(axis=0), *outline.max(axis=0)) for outline in outlines]).T)
    # No outline goes round a point outside its box, so most pairs of the two need no look.
    which, at = shapely.STRtree(boxes).query(shapely.points(points))[::-1]
    order = np.argsort(which, kind="stable")
    which, at = which[order], at[order]
    for group in np.split(np.arange(len(which)), np.flatnonzero(np.diff(which)) + 1):
        if group.size:
            out[at[group]] += _turns(points[at[group]], outlines[which[group[0]]])
    return out


def _turns(points: Points, outline: Points) -> NDArray[np.int64]:
    """How often one outline goes counter-clockwise round each point: (n,) from (n, 2)."""
    end = np.roll(outline, -1, axis=0)
    x0, y0, x1, y1 = outline[:, 0], outline[:, 1], end[:, 0], end[:, 1]
    out = np.zeros(len(points), np.int64)
    step = max(1, _CHUNK // max(1, len(outline)))
    for first in range(0, len(points), step):
        px, py = points[first : first + step, :1], points[first : first + step, 1:]
        side = (x1 - x0) * (py - y0) - (px - x0) * (y1 - y0)
        up = (y0 <= py) & (y1 > py) & (side > 0)
        down = (y0 > py) & (y1 <= py) & (side < 0)
        out[first : first + step] = up.sum(axis=1) - down.sum(axis=1)
    return out
