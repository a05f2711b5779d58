"""Thin places and narrow gaps.

A thin place is what an opening by a disc of the smallest width removes; it counts if it is longer than
that width or joins two kept parts. A narrow gap is what a closing adds (DOMAIN 1).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .regions import clean, grow, opened, polygons

_SLACK = 0.004


@dataclass(frozen=True)
class ThinPlace:
    """Where a region is thinner than asked: a point inside it and the width there, mm."""

    x: float
    y: float
    width: float
    length: float


def thin_places(region: BaseGeometry, smallest: float, most: int = 400) -> list[ThinPlace]:
    """Places of `region` thinner than `smallest` (mm), widest trouble first, at most `most`."""
    found: list[ThinPlace] = []
    for part in polygons(region):
        found.extend(_thin_in(part, smallest))
    found.sort(key=lambda place: (place.width, place.x, place.y))
    return found[:most]


def narrow_gaps(region: BaseGeometry, smallest: float, most: int = 400) -> list[ThinPlace]:
    """Gaps of `region` narrower than `smallest`: what a closing by that disc adds."""
    radius = smallest / 2 - _SLACK
    if radius <= 0 or region.is_empty:
        return []
    bridged = grow(grow(region, radius), -radius)
    found = []
    for piece in polygons(clean(bridged.difference(grow(region, _SLACK)))):
        width, length = _size(piece)
        if length > smallest:
            spot = piece.representative_point()
            found.append(ThinPlace(spot.x, spot.y, min(smallest, width + 2 * _SLACK), length))
    found.sort(key=lambda place: (place.width, place.x, place.y))
    return found[:most]


def _thin_in(part: Polygon, smallest: float) -> list[ThinPlace]:
    radius = smallest / 2 - _SLACK
    if radius <= 0:
        return []
    kept = opened(part, radius)
    removed = polygons(clean(part.difference(grow(kept, _SLACK)))) if not kept.is_empty else [part]
    out = []
    islands = polygons(kept)
    tree = shapely.STRtree(islands) if len(islands) > 1 else None
    for piece in removed:
        width, length = _size(piece)
        joins = tree is not None and len(tree.query(piece, predicate="dwithin", distance=3 * _SLACK)) > 1
        if length > smallest or joins:
            spot = piece.representative_point()
            out.append(ThinPlace(spot.x, spot.y, min(smallest, width), length))
    return out


def _size(piece: Polygon) -> tuple[float, float]:
    """Typical width and length of a sliver, from its area and perimeter."""
    half = piece.length / 2
    root = np.sqrt(max(0.0, half * half / 4 - piece.area))
    length = half / 2 + root
    return float(piece.area / length) if length > 0 else 0.0, float(length)


def thinnest(region: BaseGeometry, upto: float = 2.0) -> float:
    """The largest width (mm, at most `upto`) with no thin place: by halving to 0.01 mm."""
    if region.is_empty:
        return 0.0
    low, high = 0.0, upto
    if not thin_places(region, upto, 1):
        return upto
    while high - low > 0.01:
        middle = (low + high) / 2
        if thin_places(region, middle, 1):
            high = middle
        else:
            low = middle
    return round((low + high) / 2, 2)
