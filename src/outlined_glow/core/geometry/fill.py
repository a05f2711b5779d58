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
#: Lines that run back along one another, almost, are cut exactly first; where that loses an area, on grids of these shares of
#: their size. An area is lost from this share of the square of the size on.
_GRIDS, _LOST = (0.0, 1e-10, 1e-8), 1e-9
#: A point so near to the edge of its face, as a share of that, may lie in a spike.
_SPIKE = 1e-5


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
    points = np.concatenate(closed)
    size = float(np.max(np.ptp(points, axis=0)))
    lines = MultiLineString([np.vstack([one, one[:1]]) for one in closed])
    # What faces are worth, each as often as it is gone round, is what the outlines are worth.
    worth = float(sum(_signed_area(one) for one in closed))
    tried: list[tuple[float, NDArray[np.object_], NDArray[np.int64]]] = []
    for grid in _GRIDS:
        faces, turns = _noded(lines, closed, grid * size)
        tried.append((abs(float(turns @ shapely.area(faces)) - worth), faces, turns))
        if tried[-1][0] <= _LOST * size**2:
            break
    _, faces, turns = min(tried, key=lambda one: one[0])
    kept = faces[turns % 2 != 0 if rule == "evenodd" else turns != 0]
    return clean(_together(kept, size)) if len(kept) else EMPTY


def _together(faces: NDArray[np.object_], size: float) -> BaseGeometry:
    """Faces that lie side by side as one. Where their corners do not meet by a little of the arithmetic, the quick ways refuse
    them, or lose one without a word: so that their areas are added up."""
    worth = float(shapely.area(faces).sum())
    for run in (shapely.coverage_union_all, shapely.union_all):
        try:
            whole = run(faces)
        except shapely.GEOSException:
            continue
        if abs(whole.area - worth) <= _LOST * size**2 and whole.is_valid:
            return whole
    return shapely.union_all(faces, grid_size=_GRIDS[-1] * size)


def _noded(lines: BaseGeometry, closed: Sequence[Points], grid: float) -> tuple[NDArray[np.object_], NDArray[np.int64]]:
    """The faces between lines that are cut where they meet, and how often the outlines go round each."""
    cut = shapely.unary_union(lines, grid_size=grid or None)
    faces = np.asarray(shapely.get_parts(shapely.polygonize(shapely.get_parts(cut))))
    return faces, winding(_well_inside(faces), closed)


def _well_inside(faces: NDArray[np.object_]) -> Points:
    """A point in each face (n, 2). The usual one may lie in a spike that has no width, where it is on either side of it."""
    points = shapely.point_on_surface(faces)
    box = shapely.bounds(faces)
    near = shapely.distance(shapely.boundary(faces), points) < _SPIKE * np.max(box[:, 2:] - box[:, :2], axis=1)
    if near.any():
        wide: Any = shapely.maximum_inscribed_circle(faces[near])
        points[near] = shapely.get_point(wide, 0)
    return shapely.get_coordinates(points)


def _signed_area(points: Points) -> float:
    """The area that a closed outline (n, 2) goes round, counter-clockwise counted as more than 0."""
    x, y = (points - points[0]).T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


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
