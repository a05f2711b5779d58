"""What openings and closings by a disc have in common: how exact they are, and what their pieces are asked."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from ..offset import offset_each
from ..overlay import POLYGON

#: Noise of offsets, mm: what is nearer to a rule than this is not told from it.
SLACK = 0.004
#: A dead end counts from this many widths: a corner of 30 degrees leaves a piece 2.25 widths long.
DEAD_END = 2.3
#: Pieces smaller than this are crumbs of the arithmetic, mm².
LEAST = 4e-4
#: What has more corners mostly has a place somewhere that is worth a look: to ask first would only cost.
PLAIN = 300
#: How finely the arcs of the offsets follow a circle, mm.
_FINE = 0.005


def grown(regions: NDArray[np.object_], by: float) -> NDArray[np.object_]:
    """Each of some regions grown by `by` mm, or drawn in if that is negative."""
    return offset_each(regions, by, _FINE)


def areas(regions: NDArray[np.object_], smallest: float) -> tuple[NDArray[np.object_], NDArray[np.int64]]:
    """The polygons of many regions that are larger than a crumb, mm², and which region each is of."""
    parts, whose = shapely.get_parts(regions, return_index=True)
    real = (shapely.get_type_id(parts) == POLYGON) & (shapely.area(parts) > smallest)
    return parts[real], whose[real]


def length_of(piece: Polygon) -> float:
    """The long side of the rectangle of a piece's area and perimeter, mm."""
    return float(lengths(np.array([piece], dtype=object))[0])


def lengths(pieces: NDArray[np.object_]) -> NDArray[np.float64]:
    """The same of many pieces, mm."""
    half = shapely.length(pieces) / 2
    return np.asarray(half / 2 + np.sqrt(np.maximum(0.0, half * half / 4 - shapely.area(pieces))))


def euler(regions: NDArray[np.object_]) -> NDArray[np.int64]:
    """The number of parts of each region less that of its holes."""
    parts, of = shapely.get_parts(regions, return_index=True)
    holes = np.bincount(of, shapely.get_num_interior_rings(parts), len(regions)).astype(np.int64)
    return np.bincount(of, ~shapely.is_empty(parts), len(regions)).astype(np.int64) - holes
