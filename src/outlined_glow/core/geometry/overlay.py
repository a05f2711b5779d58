"""Booleans of the geometry library, looked over. Long work gives way between two of them.

On some nearly parallel edges it gives up. Where edges of two areas nearly lie on one another, as where one was cut along the
other before, it may leave an area out, or in, without a word: once in some thousands. So it is asked of a point in every
area that goes in or comes out where it lies, and whether there is too much or too little of it. What is wrong is made anew on
a grid of a nanometre, where nothing is nearly so.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..watch import give_way
from .prepared import prepared_some

#: What is no area, mm²; what is no wider than this is a sliver or a crack: places are rounded to half of it, mm.
CRUMB, HAIR = 1e-6, 2e-5
#: What shapely calls a polygon.
POLYGON = 3
#: By this share areas may be off.
_NOTHING = 1e-9
#: Points so near to an edge tell nothing, mm; of so many in one geometry on it is prepared for them.
_ON_EDGE, _MANY = 1e-7, 8
_GRID_MM = 1e-6
_Inside = NDArray[np.bool_]
_Areas = NDArray[np.float64]
#: Whether a point is to lie in what comes out, by whether it lies in the one and in the other.
_TRUTH: dict[Any, Callable[[_Inside, _Inside], _Inside]] = {
    shapely.union: lambda one, other: one | other,
    shapely.intersection: lambda one, other: one & other,
    shapely.difference: lambda one, other: one & ~other,
}
#: The least and the largest area that can come out, by those of the one and of the other.
_BETWEEN: dict[Any, Callable[[_Areas, _Areas], tuple[_Areas, _Areas]]] = {
    shapely.union: lambda one, other: (np.maximum(one, other), one + other),
    shapely.intersection: lambda one, other: (0 * one, np.minimum(one, other)),
    shapely.difference: lambda one, other: (one - other, one),
}


def overlay(run: Callable[..., Any], one: Any, other: Any) -> Any:
    """A boolean of shapely (`run`) on two regions, or on a line and a region."""
    pair = np.empty(2, dtype=object)
    pair[:] = one, other
    return overlay_each(run, pair[:1], pair[1:])[0]


def overlay_each(run: Callable[..., Any], these: NDArray[np.object_], those: NDArray[np.object_]) -> NDArray[np.object_]:
    """The same for each of many pairs: one that gives up, or goes wrong, costs the others nothing of their exactness."""
    give_way()
    try:
        made = np.asarray(run(these, those))
        anew = _wrong(run, these, those, made)
    except shapely.GEOSException:
        if len(these) > 1:
            pairs = zip(these, those, strict=True)
            return np.array([overlay(run, *pair) for pair in pairs], dtype=object)
        made, anew = np.empty(1, dtype=object), np.zeros(1, np.int64)
    for at in anew.tolist():
        made[at] = _without_lines(run(*map(_made_valid, (these[at], those[at])), grid_size=_GRID_MM))
    return made


def both(one: BaseGeometry, other: BaseGeometry) -> BaseGeometry:
    """The union of two, which are laid over one another at once, as a boolean leaves it."""
    return overlay(shapely.union, one, other)  # type: ignore[no-any-return]


def as_one(areas: NDArray[np.object_]) -> BaseGeometry:
    """The union of some areas, as a boolean leaves it."""
    return each_as_one(areas[None])[0]  # type: ignore[no-any-return]


def each_as_one(rows: NDArray[np.object_]) -> NDArray[np.object_]:
    """The union of each row (n, m) of areas. Groups that hang together are joined each for itself, which is twice as quick."""
    give_way()
    try:
        made = np.asarray(shapely.disjoint_subset_union_all(rows, axis=1))
        points, row = _points_in(rows.ravel())
        row //= rows.shape[1]
        anew = np.unique(np.concatenate([row[~_there(made, row, points)], _invalid(made)]))
    except shapely.GEOSException:
        if len(rows) > 1:
            return np.array([as_one(row) for row in rows], dtype=object)
        made, anew = np.empty(1, dtype=object), np.zeros(1, np.int64)
    for at in anew.tolist():
        made[at] = _without_lines(shapely.union_all([_made_valid(one) for one in rows[at]], grid_size=_GRID_MM))
    return made


def sizeable(areas: NDArray[np.object_], smallest: float = CRUMB) -> _Inside:
    """Which of some polygons are no crumbs, slivers or cracks."""
    size = shapely.area(areas)
    with np.errstate(over="ignore"):  # drawings of any size come here
        length = shapely.length(areas)
    return np.asarray((size > smallest) & ((2 * size > HAIR * length) | np.isinf(length)))


def _wrong(
    run: Callable[..., Any], these: NDArray[np.object_], those: NDArray[np.object_], made: NDArray[np.object_]
) -> NDArray[np.int64]:
    """Which pairs have come out wrong: their places. Lines are not looked at."""
    found = [_points_in(some) for some in (these, those, made)]
    points, pair = (np.concatenate(some) for some in zip(*found, strict=True))
    one, other, out = (_there(some, pair, points) for some in (these, those, made))
    odd = np.flatnonzero(_TRUTH[run](one, other) != out)
    if len(odd):
        far = [shapely.distance(shapely.boundary(some[pair[odd]]), points[odd]) for some in (these, those, made)]
        odd = odd[~(np.array(far) <= _ON_EDGE).any(axis=0)]  # (there is no distance to what has no edge)
    sizes = [shapely.area(some) for some in (these, those, made)]
    with np.errstate(invalid="ignore"):  # an area may be infinite
        least, most = _BETWEEN[run](*sizes[:2])
        slack = CRUMB + _NOTHING * np.max(sizes, axis=0)
        beyond = (sizes[2] < least - slack) | (sizes[2] > most + slack)
    return np.unique(np.concatenate([pair[odd], np.flatnonzero(beyond), _invalid(made)]))


def _invalid(made: NDArray[np.object_]) -> NDArray[np.int64]:
    """Which of what has come out is no region: where areas or holes lie over one another."""
    several = np.flatnonzero((shapely.get_type_id(made) != POLYGON) | (shapely.get_num_interior_rings(made) > 0))
    return several[~shapely.is_valid(made[several])]


def _points_in(areas: NDArray[np.object_]) -> tuple[NDArray[np.object_], NDArray[np.int64]]:
    """A point in each polygon of some regions, and in which of those it is."""
    parts, whose = shapely.get_parts(areas, return_index=True)
    real = (shapely.get_type_id(parts) == POLYGON) & sizeable(parts)
    return shapely.point_on_surface(parts[real]), whose[real]


def _there(areas: NDArray[np.object_], which: NDArray[np.int64], points: NDArray[np.object_]) -> _Inside:
    """Whether each point lies in its area."""
    areas = prepared_some(areas, np.bincount(which, minlength=len(areas)) > _MANY)
    return np.asarray(shapely.intersects(areas[which], points))


def _made_valid(region: BaseGeometry) -> BaseGeometry:
    return _without_lines(shapely.make_valid(region, method="structure", keep_collapsed=False))


def _without_lines(region: BaseGeometry) -> BaseGeometry:
    """The areas of what is areas and lines, which no boolean takes: a grid makes lines of what is narrower than it."""
    parts = shapely.get_parts(region)
    areas = parts[shapely.get_type_id(parts) == POLYGON]
    return region if len(areas) in (0, len(parts)) else shapely.multipolygons(areas)
