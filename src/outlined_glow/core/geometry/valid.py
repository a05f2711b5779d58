"""Regions whose corners were moved or rounded: rings that almost touched may cross, and are mended."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .near import pierced, united
from .regions import EMPTY, clean, polygons, region_of, union

#: Decimals of a millimetre to which seams are the same on both sides.
_SEAM = 6
#: Polygons of more holes than this are mended ring by ring.
_FEW = 12


def valid(region: BaseGeometry) -> BaseGeometry:
    """A region as it is, or mended where moving it made rings cross that almost touched.

    Mended by structure: shells are joined and holes taken away, so a crossing costs a sliver, never a face.
    """
    if shapely.is_valid(region):
        return region
    parts = region_of(part for whole in polygons(region) for part in _ring_by_ring(whole))
    return clean(parts if shapely.is_valid(parts) else _mended(parts))


def _ring_by_ring(part: Polygon) -> list[Polygon]:
    """A polygon of many holes mended: mostly one of thousands crosses itself, and to mend that alone costs little."""
    if shapely.get_num_interior_rings(part) < _FEW or shapely.is_valid(part):
        return [part]
    outer, *holes = np.asarray(shapely.polygons(shapely.get_rings(part)))
    inside = np.array([piece for hole in holes for piece in polygons(_mended(hole))], dtype=object)
    return pierced(np.array(polygons(_mended(outer)), dtype=object), united(inside))


def _mended(region: BaseGeometry) -> BaseGeometry:
    return region if shapely.is_valid(region) else shapely.make_valid(region, method="structure", keep_collapsed=False)


def shifted(region: BaseGeometry, dx: float, dy: float) -> BaseGeometry:
    """The region moved by (dx, dy)."""
    return valid(shapely.transform(region, lambda points: points + np.array([dx, dy])))


def joined(pieces: Sequence[BaseGeometry]) -> BaseGeometry:
    """Pieces that a region was cut into put together again. Their seams mostly meet corner by corner, so that only the seams
    need to go; where they do not, by a little of the arithmetic, the pieces are united the long way."""
    parts = np.array([part for piece in pieces for part in polygons(piece)], dtype=object)
    if not len(parts):
        return EMPTY
    parts = np.asarray(shapely.transform(parts, lambda points: np.round(points, _SEAM)))
    try:
        whole = shapely.coverage_union_all(parts[shapely.is_valid(parts)])
    except shapely.GEOSException:
        return _united(parts)
    area = float(shapely.area(parts).sum())
    return clean(whole) if shapely.is_valid(whole) and abs(whole.area - area) < 1e-6 * max(area, 1.0) else _united(parts)


def _united(parts: NDArray[np.object_]) -> BaseGeometry:
    """Parts put together the long way."""
    return union([valid(part) for part in parts.tolist()])
