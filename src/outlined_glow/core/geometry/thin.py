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

from .regions import clean, grow, polygons

#: Noise of offsets, mm: what is nearer to the rule than this is not told from it.
_SLACK = 0.004
#: A dead end counts from this many widths: a corner of 30 degrees leaves a piece 2.25 widths long.
_DEAD_END = 2.3
#: Pieces smaller than this are crumbs of the arithmetic, mm².
_CRUMB = 4e-4


@dataclass(frozen=True)
class ThinPlace:
    """Where a region is thinner than asked: a point inside it and the width there, mm."""

    x: float
    y: float
    width: float
    length: float


def thin_places(region: BaseGeometry, smallest: float, most: int = 2000) -> list[ThinPlace]:
    """Places of `region` thinner than `smallest` (mm), widest trouble first, at most `most`."""
    return _in_order([_place(piece, smallest) for piece in thin_pieces(region, smallest)], most)


def thin_pieces(region: BaseGeometry, smallest: float) -> list[Polygon]:
    """The pieces of `region` that are thinner than `smallest`."""
    return [piece for part in polygons(region) for piece in _thin_in(part, smallest)]


def narrow_gaps(region: BaseGeometry, smallest: float, most: int = 2000) -> list[ThinPlace]:
    """Gaps of `region` narrower than `smallest`: what a closing by that disc adds."""
    return _in_order([_place(piece, smallest) for piece in gap_pieces(region, smallest)], most)


def gap_pieces(region: BaseGeometry, smallest: float) -> list[Polygon]:
    """The gaps of `region` that are narrower than `smallest`."""
    radius = smallest / 2 - _SLACK
    if radius <= 0 or region.is_empty:
        return []
    bridged = grow(grow(region, radius), -radius)
    added = polygons(clean(bridged.difference(grow(region, _SLACK)), _CRUMB))
    return [piece for piece in added if _length(piece) > smallest]


def _in_order(found: list[ThinPlace], most: int) -> list[ThinPlace]:
    return sorted(found, key=lambda place: (place.width, place.x, place.y))[:most]


def _thin_in(part: Polygon, smallest: float) -> list[Polygon]:
    radius = smallest / 2 - _SLACK
    if radius <= 0 or part.area < _CRUMB:
        return []
    core = grow(part, -radius)
    if core.is_empty:
        return [part]
    # The opening and its slack in one step; the opening itself is asked for only where something is removed.
    removed = polygons(clean(part.difference(grow(core, radius + _SLACK)), _CRUMB))
    if not removed:
        return []
    islands = polygons(grow(core, radius))
    tree = shapely.STRtree(islands)
    out = []
    for piece in removed:
        length = _length(piece)
        ends = len(tree.query(piece, predicate="dwithin", distance=3 * _SLACK))
        if length > _DEAD_END * smallest or (ends > 1 and length > 0.2 * smallest):
            out.append(piece)
    return out


def _place(piece: Polygon, smallest: float) -> ThinPlace:
    """Where a sliver is widest, and its width there."""
    circle = shapely.get_coordinates(shapely.maximum_inscribed_circle(piece, 0.002))
    width = 2 * float(np.hypot(*(circle[1] - circle[0])))
    return ThinPlace(float(circle[0, 0]), float(circle[0, 1]), min(smallest, width), _length(piece))


def _length(piece: Polygon) -> float:
    """The long side of the rectangle of a piece's area and perimeter."""
    half = piece.length / 2
    return float(half / 2 + np.sqrt(max(0.0, half * half / 4 - piece.area)))


def thinnest(region: BaseGeometry, upto: float = 2.0) -> float:
    """The largest width (mm, at most `upto`) with no thin place: by halving to 0.01 mm."""
    parts = sorted(polygons(region), key=lambda part: part.area / part.length)
    if not parts:
        return 0.0
    least = upto
    # The slimmest come first: most others then need one look, whether they are any thinner.
    for part in parts:
        if _thin_in(part, least):
            low, high = 0.0, least
            while high - low > 0.01:
                middle = (low + high) / 2
                low, high = (low, middle) if _thin_in(part, middle) else (middle, high)
            least = (low + high) / 2
    return round(least, 2)
