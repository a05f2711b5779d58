"""Booleans of a vast region with something small: of its many holes only those near the small thing take part.

The result is the same region as that of the whole boolean; its holes may come in another order.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .regions import clean, overlay, parted, polygons, region_of, union

#: Up to so many holes of a polygon are simply taken along.
_FEW = 12


def cut_near(region: BaseGeometry, cutter: BaseGeometry) -> BaseGeometry:
    """The region without a small one."""
    if cutter.is_empty or region.is_empty:
        return region
    touched, out = parted(region, cutter)
    for part in touched:
        slim, far = _without_far_holes(part, cutter)
        rest = overlay(shapely.difference, slim, cutter)
        kept = polygons(clean(rest))
        out += _with_holes(kept, far, whole=len(kept) == shapely.get_num_geometries(rest))
    return region_of(out)


def added_near(region: BaseGeometry, extra: BaseGeometry) -> BaseGeometry:
    """The region with a small one joined to it."""
    if extra.is_empty or region.is_empty:
        return extra if region.is_empty else region
    touched, untouched = parted(region, extra)
    slim, holes = [], []
    for part in touched:
        one, far = _without_far_holes(part, extra)
        slim.append(one)
        holes += far
    return region_of([*untouched, *_with_holes(polygons(union([*slim, extra])), holes)])


def _without_far_holes(part: Polygon, other: BaseGeometry) -> tuple[Polygon, list[Any]]:
    """A polygon with those of its many holes alone that are near another region, and the other holes."""
    outer, *holes = shapely.get_rings(part).tolist()
    if len(holes) < _FEW:
        return part, []
    boxes: Any = shapely.box(*shapely.bounds(holes).T)
    others: Any = shapely.box(*shapely.bounds(polygons(other)).T)
    near = set(shapely.STRtree(boxes).query(others)[1].tolist())
    slim: Any = shapely.polygons(outer, [holes[at] for at in sorted(near)] or None)
    return slim, [hole for at, hole in enumerate(holes) if at not in near]


def _with_holes(parts: list[Polygon], holes: list[Any], whole: bool = True) -> list[Polygon]:
    """Holes put back into the polygons that they lie in, which are the `whole` of what there was unless crumbs went."""
    if not holes or not parts:
        return parts
    out = list(parts)
    for at, some in ({0: holes} if whole and len(parts) == 1 else _inside(parts, holes, whole)).items():
        outer, *own = shapely.get_rings(parts[at]).tolist()
        refilled: Any = shapely.polygons(outer, [*own, *some])
        out[at] = refilled
    return out


def _inside(parts: list[Polygon], holes: list[Any], whole: bool) -> dict[int, list[Any]]:
    """Which holes lie in which of some polygons: in the only one whose box it may be, if those are the `whole`."""
    found, where = shapely.STRtree(parts).query(shapely.get_point(holes, 0))
    asked = np.full(len(found), not whole) | (np.bincount(found, minlength=len(holes))[found] > 1)
    every = np.array(parts, dtype=object)
    shapely.prepare(every[np.unique(where[asked])])  # asked of once prepared, a vast one answers at once
    middles: Any = shapely.point_on_surface(shapely.polygons(np.array(holes)[found[asked]]))
    held = ~asked
    held[asked] = shapely.contains(every[where[asked]], middles)
    inside: dict[int, list[Any]] = {}
    for hole, at in zip(found[held].tolist(), where[held].tolist(), strict=True):
        inside.setdefault(at, []).append(holes[hole])
    return inside
