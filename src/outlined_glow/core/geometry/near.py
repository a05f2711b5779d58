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
        out += _with_holes(polygons(clean(overlay(shapely.difference, slim, cutter))), far)
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


def _with_holes(parts: list[Polygon], holes: list[Any]) -> list[Polygon]:
    """Holes put back into the polygons that they lie in."""
    if not holes or not parts:
        return parts
    middles: Any = shapely.point_on_surface(shapely.polygons(holes))
    found, where = shapely.STRtree(parts).query(middles)
    every = np.array(parts, dtype=object)
    shapely.prepare(every[np.unique(where)])  # asked of once prepared, a vast one answers at once
    held = shapely.contains(every[where], middles[found])
    inside: dict[int, list[Any]] = {}
    for hole, at in zip(found[held].tolist(), where[held].tolist(), strict=True):
        inside.setdefault(at, []).append(holes[hole])
    out = list(parts)
    for at, some in inside.items():
        outer, *own = shapely.get_rings(parts[at]).tolist()
        whole: Any = shapely.polygons(outer, [*own, *some])
        out[at] = whole
    return out
