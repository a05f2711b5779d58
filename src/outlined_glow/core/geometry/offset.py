"""Offsets of regions: a round brush drawn along their edges.

A region of many holes and parts is taken ring by ring. A disc that lies beside a region lies in one hole of it or outside
it, so that each ring has an offset of its own, and only offsets that meet need a boolean: one offset of a thousand rings
together costs many times as much. It is the same region; its rings may come in another order.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .flatten import quarter_segments
from .near import pierced, united, with_holes
from .regions import clean

#: Regions of fewer rings than this are offset at once.
_MANY_RINGS = 12


def grow(region: BaseGeometry, by: float, tolerance: float = 0.005) -> BaseGeometry:
    """The region with a round brush of radius `by` (mm) drawn along its edge; negative shrinks."""
    if by == 0 or region.is_empty:
        return region
    alone = np.empty(1, dtype=object)
    alone[0] = region
    return clean(offset_each(alone, by, tolerance)[0])


def closed(region: BaseGeometry, radius: float, tolerance: float = 0.005) -> BaseGeometry:
    """The region with every inside corner rounded to `radius` (mathematical closing)."""
    return grow(grow(region, radius, tolerance), -radius, tolerance)


def grow_each(pieces: Sequence[Polygon], by: float | NDArray[np.float64], tolerance: float = 0.005) -> list[BaseGeometry]:
    """Each of many small pieces grown by itself, by as much as all or by its own measure, mm."""
    every, widths = np.array(pieces, dtype=object), np.broadcast_to(np.asarray(by, float), len(pieces))
    segments = np.array([quarter_segments(abs(width), tolerance) for width in widths.tolist()])
    out = every.copy()
    for count in np.unique(segments).tolist():
        alike = segments == count
        out[alike] = shapely.buffer(every[alike], widths[alike], quad_segs=count)
    return out.tolist()  # type: ignore[no-any-return]  # the array holds regions


def offset_each(regions: NDArray[np.object_], by: float, tolerance: float) -> NDArray[np.object_]:
    """Each of many regions grown by `by` mm, or drawn in if that is negative; arcs leave a circle by `tolerance`, at corners
    of odd angles by up to twice that.
    """
    segments = quarter_segments(abs(by), tolerance)
    parts, whose = shapely.get_parts(regions, return_index=True)
    rings = np.bincount(whose, shapely.get_num_interior_rings(parts) + 1, len(regions))
    many = np.flatnonzero(rings >= _MANY_RINGS)
    usual: NDArray[np.object_] = regions.copy()
    usual[many] = None
    out = np.asarray(shapely.buffer(usual, by, quad_segs=segments))
    for place in many:
        mine = parts[whose == place]
        out[place] = _grown(mine, by, segments) if by > 0 else _drawn_in(mine, by, segments)
    return out


def _grown(parts: NDArray[np.object_], by: float, segments: int) -> Any:
    """A region of those parts grown: outer rings outwards, holes drawn in."""
    outer, part, holes, within = _rings_offset(parts, by, segments)
    out = outer[~np.isin(part, within)].tolist()
    for at in np.unique(within):
        pieces, mine = outer[part == at], holes[within == at]
        # One piece, that is, from which arithmetic may part a crumb.
        out += pierced(pieces, mine) if len(pieces) > 1 else [with_holes(pieces[0], shapely.get_exterior_ring(mine))]
    return _region_of(united(np.array(out, dtype=object)))


def _drawn_in(parts: NDArray[np.object_], by: float, segments: int) -> Any:
    """A region of those parts drawn in: outer rings inwards, what the holes have grown to taken away."""
    outer, part, holes, within = _rings_offset(parts, by, segments)
    out = outer[~np.isin(part, within)].tolist()
    for at in np.unique(within):
        pieces = outer[part == at]
        out += pierced(pieces, united(holes[within == at])) if len(pieces) else []
    return _region_of(np.array(out, dtype=object))


def _rings_offset(
    parts: NDArray[np.object_], by: float, segments: int
) -> tuple[NDArray[np.object_], NDArray[np.int64], NDArray[np.object_], NDArray[np.int64]]:
    """Of some polygons what their outer rings become as areas, and the part each is of; what their holes become, as areas that
    are no part of it, and the part each is of."""
    rings, whose = shapely.get_rings(parts, return_index=True)
    areas, inner = np.asarray(shapely.polygons(rings)), np.diff(whose, prepend=-1) == 0
    outer, part = _parts(shapely.buffer(areas[~inner], by, quad_segs=segments))
    holes, hole = _parts(shapely.buffer(areas[inner], -by, quad_segs=segments))
    return outer, part, holes, whose[inner][hole]


def _parts(regions: NDArray[np.object_]) -> tuple[NDArray[np.object_], NDArray[np.int64]]:
    """The polygons of some regions, and which region each is of. An offset that left nothing has none: a hole without corners
    would crash the next offset."""
    parts, whose = shapely.get_parts(regions, return_index=True)
    real = ~shapely.is_empty(parts)
    return parts[real], whose[real]


def _region_of(parts: NDArray[np.object_]) -> Any:
    return parts[0] if len(parts) == 1 else shapely.multipolygons(parts)
