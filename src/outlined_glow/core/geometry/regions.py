"""Regions, and booleans on them."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from typing import Any, cast

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from ..watch import give_way
from .flatten import Points, circle_points
from .overlay import CRUMB, HAIR, POLYGON, as_one, both, overlay, overlay_each, sizeable
from .prepared import prepared_some

EMPTY: BaseGeometry = MultiPolygon()
#: From so many parts on those that are far from all others are set apart; fewer than a handful are looked at one by one.
_MANY, _HANDFUL = 24, 6
#: What is asked so often, or has so many corners, is prepared first.
_OFTEN, _VAST = 4, 100


def polygons(region: BaseGeometry) -> list[Polygon]:
    """The polygons of a region; lines and points that a boolean left over are dropped."""
    if isinstance(region, Polygon):
        return [] if region.is_empty else [region]
    give_way()
    parts = shapely.get_parts(region)
    if len(parts) < _HANDFUL:
        return [part for part in parts if isinstance(part, Polygon) and part.area > 0]
    real = (shapely.get_type_id(parts) == POLYGON) & (shapely.area(parts) > 0)
    found: list[Polygon] = (parts if real.all() else parts[real]).tolist()
    return found


def region_of(parts: Iterable[Polygon]) -> BaseGeometry:
    """Disjoint polygons as one region, without a boolean."""
    every = list(parts)
    if len(every) == 1 and not every[0].is_empty:
        return every[0]
    some = np.empty(len(every), dtype=object)
    some[:] = every
    some = some[~shapely.is_empty(some)]
    if len(some) == 1:
        return some[0]  # type: ignore[no-any-return]  # the array holds polygons
    return shapely.multipolygons(some)  # type: ignore[return-value]  # one of them, for they are one row


def clean(region: BaseGeometry, smallest: float = CRUMB) -> BaseGeometry:
    """The areal part of a result without crumbs: parts and holes under `smallest` mm², and slivers and cracks, which are left
    where two edges do not meet exactly.
    """
    if isinstance(region, Polygon) and not shapely.get_num_interior_rings(region):
        area, length = region.area, region.length
        return region if area > smallest and (2 * area > HAIR * length or length == math.inf) else EMPTY
    parts = polygons(region)
    if not parts:
        return EMPTY
    every = np.array(parts, dtype=object)
    return region_of(_whole(part, smallest) for part in every[sizeable(every, smallest)].tolist())


def clean_each(results: NDArray[np.object_]) -> NDArray[np.object_]:
    """Each of many results without its crumbs; most have none."""
    fine = (shapely.get_type_id(results) == POLYGON) & (shapely.get_num_interior_rings(results) == 0)
    out = results.copy()
    for at in np.flatnonzero(~(fine & sizeable(results, CRUMB))).tolist():
        out[at] = clean(results[at])
    return out


def _whole(part: Polygon, smallest: float) -> Polygon:
    """A polygon without holes that are crumbs."""
    if not shapely.get_num_interior_rings(part):
        return part
    rings = np.asarray(shapely.get_rings(part))
    real = sizeable(np.asarray(shapely.polygons(rings[1:])), smallest)
    return part if real.all() else cast(Polygon, shapely.polygons(rings[0], rings[1:][real]))


def union(regions: Sequence[BaseGeometry]) -> BaseGeometry:
    """All of them together."""
    kept = [region for region in regions if not region.is_empty]
    if not kept:
        return EMPTY
    if len(kept) == 1:
        return kept[0]
    return clean(both(*kept) if len(kept) == 2 else as_one(np.array(kept, dtype=object)))


def union_of_many(regions: Sequence[BaseGeometry]) -> BaseGeometry:
    """All of many small regions together, such as pads: most are far from all others, and need no boolean. It is the region
    that `union` makes, its parts in another order."""
    parts = np.array([part for region in regions for part in polygons(region)], dtype=object)
    if len(parts) < _MANY:
        return union(regions)
    boxes: Any = shapely.box(*shapely.bounds(parts).T)
    one, other = shapely.STRtree(boxes).query(boxes)
    beside = np.bincount(one[one != other], minlength=len(parts)) > 0
    alone = [part for part in parts[~beside].tolist() if part.area > CRUMB]
    if not beside.any():
        return region_of(alone)
    return region_of([*alone, *polygons(clean(as_one(parts[beside])))])


def minus(region: BaseGeometry, *others: BaseGeometry) -> BaseGeometry:
    """The region without any of the others; polygons that none of them touches are left as they are."""
    cutter = union(others)
    if cutter.is_empty or region.is_empty:
        return region
    touched, untouched = parted(region, cutter)
    if not touched:
        return region
    return region_of([*untouched, *polygons(clean(overlay(shapely.difference, region_of(touched), cutter)))])


def added(region: BaseGeometry, extra: BaseGeometry) -> BaseGeometry:
    """A large region with something small joined to it; what the small one does not touch is left as it is."""
    if extra.is_empty or region.is_empty:
        return extra if region.is_empty else region
    touched, untouched = parted(region, extra)
    return region_of([*untouched, *polygons(union([*touched, extra]))])


def parted(region: BaseGeometry, other: BaseGeometry) -> tuple[list[Polygon], list[Polygon]]:
    """The polygons of a region that meet the other one, and those that do not."""
    parts = polygons(region)
    if len(parts) == 1:
        return (parts, []) if parts[0].intersects(other) else ([], parts)
    small, every = np.array(polygons(other), dtype=object), np.array(parts, dtype=object)
    hit = set(meeting(every, small)[0].tolist())
    touched = [part for place, part in enumerate(parts) if place in hit]
    return touched, [part for place, part in enumerate(parts) if place not in hit]


def meeting(parts: NDArray[np.object_], others: NDArray[np.object_]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Which of some polygons meets which of other things: pairs of places."""
    one, which = shapely.STRtree(parts).query(others)
    many = np.bincount(which, minlength=len(parts))
    asked = prepared_some(parts, (many >= _OFTEN) | ((many > 0) & (shapely.get_num_coordinates(parts) >= _VAST)))
    met = shapely.intersects(asked[which], others[one])
    return which[met], one[met]


def common(one: BaseGeometry, other: BaseGeometry) -> BaseGeometry:
    """What both have."""
    return clean(overlay(shapely.intersection, one, other))


def common_of_many(one: BaseGeometry, other: BaseGeometry) -> BaseGeometry:
    """The same for regions of many small parts, such as pads: near ones alone are laid over one another."""
    these, those = (np.array(polygons(region), dtype=object) for region in (one, other))
    if min(len(these), len(those)) < _MANY:
        return common(one, other)
    at, which = shapely.STRtree(those).query(these, predicate="intersects")
    return clean(
        region_of(part for some in overlay_each(shapely.intersection, these[at], those[which]) for part in polygons(some))
    )


def clipped(region: BaseGeometry, left: float, bottom: float, right: float, top: float) -> BaseGeometry:
    """What lies in an upright box; the quick way fails on a few regions, the sure one on none."""
    try:
        return shapely.clip_by_rect(region, left, bottom, right, top)
    except shapely.GEOSException:
        part: BaseGeometry = overlay(shapely.intersection, region, shapely.box(left, bottom, right, top))
        return part


def filled(region: BaseGeometry) -> BaseGeometry:
    """The region with its holes filled."""
    return union([Polygon(part.exterior) for part in polygons(region)])


def disc(x: float, y: float, radius: float, tolerance: float = 0.005) -> Polygon:
    """A round region."""
    return Polygon(circle_points(x, y, radius, tolerance))


def box_at(x: float, y: float, length: float, width: float, angle_deg: float = 0.0) -> Polygon:
    """A rectangle about (x, y), its length turned counter-clockwise from +x."""
    a = math.radians(angle_deg)
    ax, ay = math.cos(a) * length / 2, math.sin(a) * length / 2
    bx, by = -math.sin(a) * width / 2, math.cos(a) * width / 2
    corners = ((x - ax - bx, y - ay - by), (x + ax - bx, y + ay - by), (x + ax + bx, y + ay + by), (x - ax + bx, y - ay + by))
    return cast(Polygon, shapely.polygons(np.array(corners)))  # in half the time that its class takes


def boxes_at(
    places: Sequence[tuple[float, float, float]] | NDArray[np.float64], length: float, width: float
) -> NDArray[np.object_]:
    """Equal rectangles at many places (x, y, angle_deg), as an array of polygons."""
    rows = np.asarray(places, float)
    a = np.radians(rows[:, 2])
    along = np.stack([np.cos(a), np.sin(a)], axis=-1) * length / 2
    across = np.stack([-np.sin(a), np.cos(a)], axis=-1) * width / 2
    middle = rows[:, :2]
    corners = np.stack([middle - along - across, middle + along - across, middle + along + across, middle - along + across])
    return np.asarray(shapely.polygons(np.moveaxis(corners, 0, 1)))


def rings(region: BaseGeometry) -> Iterator[Points]:
    """Every ring (n, 2) of a region, outer ones and holes alike, without the repeated last point."""
    for part in polygons(region):
        yield shapely.get_coordinates(part.exterior)[:-1]
        for hole in part.interiors:
            yield shapely.get_coordinates(hole)[:-1]
