"""Thin places and narrow gaps.

A thin place is what an opening by a disc of the smallest width removes; it counts if it is longer than
that width or joins two kept parts. A narrow gap is what a closing adds (DOMAIN 1).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .flatten import quarter_segments
from .regions import LARGE, clean, grow, in_tiles, polygons, region_of

#: Noise of offsets, mm: what is nearer to the rule than this is not told from it.
_SLACK = 0.004
#: A dead end counts from this many widths: a corner of 30 degrees leaves a piece 2.25 widths long.
_DEAD_END = 2.3
#: Pieces smaller than this are crumbs of the arithmetic, mm².
_CRUMB = 4e-4
#: How finely the arcs of the offsets follow a circle, mm; a width is found to the smallest one halved so often.
_FINE, _HALVINGS = 0.005, 7


@dataclass(frozen=True)
class ThinPlace:
    """Where a region is thinner than asked: a point inside it, the width there and how far it goes on, mm.

    `across_deg` is the way from bank to bank, from 0 to 180.
    """

    x: float
    y: float
    width: float
    length: float
    across_deg: float


@lru_cache(maxsize=24)
def thin_places(region: BaseGeometry, smallest: float, most: int = 2000) -> tuple[ThinPlace, ...]:
    """Places of `region` thinner than `smallest` (mm), widest trouble first, at most `most`.

    Remembered, as the gaps are: most edits leave most layers as they were.
    """
    return _places(thin_pieces(region, smallest), smallest, most)


def thin_pieces(region: BaseGeometry, smallest: float) -> list[Polygon]:
    """The pieces of `region` that are thinner than `smallest`."""
    return _thin_in(polygons(region), smallest)


@lru_cache(maxsize=24)
def narrow_gaps(region: BaseGeometry, smallest: float, most: int = 2000) -> tuple[ThinPlace, ...]:
    """Gaps of `region` narrower than `smallest`: what a closing by that disc adds."""
    return _places(gap_pieces(region, smallest), smallest, most)


#: A region drawn in by a radius and grown by so much of it again covers the region unless a hair, a thin bridge or
#: a sharp corner sticks out: where a piece of `_DEAD_END` widths is missing, at least 1.9 radii are needed.
_THIN_REACH = 1.5
#: The same for gaps, where a piece of one width counts: in its middle at least 1.41 radii are needed. Only between
#: three rounds that touch may less be found: a hollow shorter than the width, whatever its curved sides add up to.
_GAP_REACH = 1.4


def gap_pieces(region: BaseGeometry, smallest: float) -> list[Polygon]:
    """The gaps of `region` that are narrower than `smallest`."""
    radius = smallest / 2 - _SLACK
    if radius <= 0 or region.is_empty:
        return []
    heaps = _heaps(polygons(region), smallest)
    vast = shapely.get_num_coordinates(heaps) > LARGE
    found = _filled(heaps[~vast], radius)
    for heap in heaps[vast]:
        found += polygons(in_tiles(heap, smallest, lambda there: region_of(_filled(np.array([there]), radius))))
    return [piece for piece in found if _length(piece) > smallest]


def _filled(heaps: NDArray[np.object_], radius: float) -> list[Polygon]:
    """What a closing adds to those of the heaps that are not seen to be free of gaps."""
    wide = _grown(heaps, radius)
    suspect = ~shapely.covers(heaps, _grown(wide, -_GAP_REACH * radius))
    added = shapely.difference(_grown(wide[suspect], -radius), _grown(heaps[suspect], _SLACK))
    pieces = shapely.get_parts(added)
    return list(pieces[shapely.area(pieces) > _CRUMB])


def _heaps(parts: list[Polygon], reach: float) -> NDArray[np.object_]:
    """Parts that are near to one another, directly or by way of others, put together: gaps are within a heap."""
    every = np.array(parts, dtype=object)
    heap = np.arange(len(parts))
    one, other = _near(every, every, reach)
    while True:
        least = np.minimum(heap[one], heap[other])
        before = heap.copy()
        np.minimum.at(heap, one, least)
        np.minimum.at(heap, other, least)
        heap = heap[heap]
        if np.array_equal(heap, before):
            break
    order = np.argsort(heap, kind="stable")
    return np.asarray(shapely.multipolygons(every[order], indices=np.unique(heap[order], return_inverse=True)[1]))


def _near(these: NDArray[np.object_], those: NDArray[np.object_], reach: float) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Which of these lie within reach of which of those: pairs of places; of a list with itself each pair once."""
    boxes = shapely.box(*(shapely.bounds(these) + np.array([-reach, -reach, reach, reach])).T)
    one, other = shapely.STRtree(those).query(boxes)
    if these is those:
        one, other = one[one < other], other[one < other]
    # The one with more corners is asked: what was prepared answers at once, however large it is.
    swapped = shapely.get_num_coordinates(these)[one] < shapely.get_num_coordinates(those)[other]
    shapely.prepare(these)
    shapely.prepare(those)
    asked, told = np.where(swapped, those[other], these[one]), np.where(swapped, these[one], those[other])
    near = shapely.dwithin(asked, told, reach)
    return one[near], other[near]


def _grown(regions: NDArray[np.object_], by: float) -> NDArray[np.object_]:
    """Each of many regions grown: at once, but those with very many corners one by one, in tiles."""
    vast = shapely.get_num_coordinates(regions) > LARGE
    usual: NDArray[np.object_] = regions.copy()
    usual[vast] = None
    out = np.asarray(shapely.buffer(usual, by, quad_segs=quarter_segments(abs(by), _FINE)))
    for place in np.flatnonzero(vast):
        out[place] = grow(regions[place], by, _FINE)
    return out


def _thin_in(parts: list[Polygon], smallest: float) -> list[Polygon]:
    radius = smallest / 2 - _SLACK
    if radius <= 0:
        return []
    every = _asked(parts, radius)
    out: list[Polygon] = []
    for part, kept in zip(every.tolist(), _grown(every, -radius).tolist(), strict=True):
        out += [part] if kept.is_empty else _thin_of(part, kept, radius, smallest)
    return out


def _asked(parts: list[Polygon], radius: float) -> NDArray[np.object_]:
    """The parts worth a look: all but those that are seen to be nowhere thinner than twice the radius."""
    every = np.array([part for part in parts if part.area >= _CRUMB], dtype=object)
    # Of a vast part something is thin somewhere: to ask first would only cost.
    usual = shapely.get_num_coordinates(every) <= LARGE
    # Corners left sharp are drawn in further than rounds: the answer is as safe and comes sooner.
    core = shapely.buffer(every[usual], -radius, join_style="mitre")
    reached = shapely.covers(_grown(core, _THIN_REACH * radius), every[usual])
    asked = ~usual
    asked[usual] = ~(reached & (shapely.get_num_geometries(core) == 1))
    return np.asarray(every[asked])


def _thin_of(part: Polygon, core: BaseGeometry, radius: float, smallest: float) -> list[Polygon]:
    """The pieces that the opening of a part removes and that count."""
    # The opening and its slack in one step.
    opened = grow(core, radius + _SLACK)
    removed = np.array(polygons(clean(part.difference(opened), _CRUMB)), dtype=object)
    if not len(removed):
        return []
    lengths = np.array([_length(piece) for piece in removed])
    kept = np.array(polygons(opened), dtype=object)
    ends = np.bincount(_near(removed, kept, 2 * _SLACK)[0], minlength=len(removed))
    counts = (lengths > _DEAD_END * smallest) | ((ends > 1) & (lengths > 0.2 * smallest))
    return list(removed[counts])


def _places(pieces: list[Polygon], smallest: float, most: int) -> tuple[ThinPlace, ...]:
    """Where each sliver is widest, and its width there; of an even stripe the middle stands for all of it."""
    if not pieces:
        return ()
    every = np.array(pieces, dtype=object)
    heart, low, high = every.copy(), np.zeros(len(every)), np.full(len(every), smallest / 2)
    # What is left last of a piece that is drawn in further and further lies where it is widest.
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        drawn_in = shapely.buffer(every, -middle, quad_segs=2)
        left = ~shapely.is_empty(drawn_in)
        heart[left] = drawn_in[left]
        low, high = np.where(left, middle, low), np.where(left, high, middle)
    lines = shapely.get_coordinates(shapely.shortest_line(shapely.point_on_surface(heart), shapely.boundary(every)))
    at, bank = lines[0::2], lines[1::2]
    across = np.degrees(np.arctan2(*(bank - at).T[::-1])) % 180
    rows = zip(at.tolist(), (low + high).tolist(), every.tolist(), across.tolist(), strict=True)
    places = [ThinPlace(x, y, wide, _length(piece), angle) for (x, y), wide, piece, angle in rows]
    return tuple(sorted(places, key=lambda place: (place.width, place.x, place.y))[:most])


def _length(piece: Polygon) -> float:
    """The long side of the rectangle of a piece's area and perimeter."""
    half = piece.length / 2
    return float(half / 2 + np.sqrt(max(0.0, half * half / 4 - piece.area)))


def thinnest(region: BaseGeometry, upto: float = 2.0) -> float:
    """The largest width (mm, at most `upto`) with no thin place: by halving to 0.01 mm."""
    if region.is_empty:
        return 0.0
    parts = polygons(region)
    vast = [part for part in parts if shapely.get_num_coordinates(part) > LARGE]
    least = upto
    # Vast parts take long: they are asked last, and whether they are plainly thinner.
    for asked in ([part for part in parts if shapely.get_num_coordinates(part) <= LARGE], vast):
        thinner = _parts_with(asked, least - (0.02 if asked is vast else 0.0))
        while thinner:
            # The slimmest comes first: few others then are thinner still.
            thinner.sort(key=lambda part: part.area / part.length)
            low, high = 0.0, least
            while high - low > 0.01:
                middle = (low + high) / 2
                low, high = (low, middle) if _thin_in(thinner[:1], middle) else (middle, high)
            least = (low + high) / 2
            thinner = _parts_with(thinner[1:], least)
    return round(least, 2)


def _parts_with(parts: list[Polygon], smallest: float) -> list[Polygon]:
    """The parts that are thinner than that somewhere."""
    radius = smallest / 2 - _SLACK
    if radius <= 0:
        return []
    every = _asked(parts, radius)
    rows = zip(every.tolist(), _grown(every, -radius).tolist(), strict=True)
    return [part for part, kept in rows if kept.is_empty or _thin_of(part, kept, radius, smallest)]
