"""Thin places and narrow gaps.

A thin place is what an opening by a disc of the smallest width removes; it counts if it is longer than
that width or joins two kept parts. A narrow gap is what a closing adds (DOMAIN 1).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .clusters import clusters
from .narrowest import narrowest
from .near import near_pairs
from .offset import offset_each
from .regions import CRUMB, POLYGON, clipped, overlay, overlay_each, polygons, region_of

#: Noise of offsets, mm: what is nearer to the rule than this is not told from it.
_SLACK = 0.004
#: A dead end counts from this many widths: a corner of 30 degrees leaves a piece 2.25 widths long.
_DEAD_END = 2.3
#: Pieces smaller than this are crumbs of the arithmetic, mm².
_CRUMB = 4e-4
#: How finely the arcs of the offsets follow a circle, mm; a width is found to the smallest one halved so often.
_FINE, _HALVINGS = 0.005, 7
#: Corners from which asking for the thinnest width of a polygon takes long.
_VAST = 12_000


@dataclass(frozen=True)
class ThinPlace:
    """Where a region is thinner than asked: its narrowest point, the width there, and how long the thin piece is, mm.

    `across_deg` is the way from bank to bank, from 0 to 180.
    """

    x: float
    y: float
    width: float
    length: float
    across_deg: float


@lru_cache(maxsize=24)
def thin_places(region: BaseGeometry, smallest: float, most: int = 2000) -> tuple[ThinPlace, ...]:
    """Places of `region` thinner than `smallest` (mm), the narrowest first, at most `most`.

    Remembered, as the gaps are: most edits leave most layers as they were.
    """
    return _places(thin_pieces(region, smallest), _Surroundings(region, smallest), smallest, most)


def thin_pieces(region: BaseGeometry, smallest: float) -> list[Polygon]:
    """The pieces of `region` that are thinner than `smallest`."""
    return _thin_in(polygons(region), smallest)


def least_widths(pieces: list[Polygon], region: BaseGeometry, smallest: float) -> NDArray[np.float64]:
    """The least width (mm) of each piece of `region` that is thinner than `smallest`; 0 beyond the most that are measured."""
    widths = np.zeros(len(pieces))
    around = _Surroundings(region, smallest)
    near = pieces[:_MEASURED]
    widths[: len(near)] = [one.width for one in narrowest(near, [around.of(piece) for piece in near], smallest, _DEAD_END)]
    return widths


@lru_cache(maxsize=24)
def narrow_gaps(region: BaseGeometry, smallest: float, most: int = 2000) -> tuple[ThinPlace, ...]:
    """Gaps of `region` narrower than `smallest`: what a closing by that disc adds."""
    return _places(gap_pieces(region, smallest), _Surroundings(region, smallest, between=True), smallest, most)


#: A region drawn in by a radius and grown by so much of it again covers the region unless a hair, a thin bridge or
#: a sharp corner sticks out: where a piece of `_DEAD_END` widths is missing, at least 1.9 radii are needed.
_THIN_REACH = 1.5
#: The same for gaps, where a piece of one width counts: in its middle at least 1.41 radii are needed. Only between
#: three rounds that touch may less be found: a hollow shorter than the width, whatever its curved sides add up to.
_GAP_REACH = 1.4
#: What has more corners mostly has a place somewhere that is worth a look: to ask first would only cost.
_PLAIN = 300


def gap_pieces(region: BaseGeometry, smallest: float) -> list[Polygon]:
    """The gaps of `region` that are narrower than `smallest`."""
    radius = smallest / 2 - _SLACK
    if radius <= 0 or region.is_empty:
        return []
    filled = _filled(_clusters(polygons(region), smallest), radius)
    kept = [piece for piece in filled if _length(piece) > smallest]
    return kept + _tips(polygons(region), kept, smallest)


def _tips(parts: list[Polygon], gaps: list[Polygon], smallest: float) -> list[Polygon]:
    """Where two parts come near in one point only, which a closing hardly fills: a strip from one to the other."""
    every = np.array(parts, dtype=object)
    one, other = near_pairs(every, every, smallest - 2 * _SLACK)
    if not len(one):
        return []
    ways = shapely.shortest_line(every[one], every[other])
    if gaps:
        told = shapely.STRtree(gaps).query(ways, predicate="dwithin", distance=4 * _SLACK)[0]
        ways = np.delete(ways, np.unique(told))
    # What is nearer than the noise touches.
    return [way.buffer(smallest / 4, cap_style="flat") for way in ways.tolist() if way.length > _SLACK]


def _filled(regions: NDArray[np.object_], radius: float) -> list[Polygon]:
    """What a closing adds to those of some regions that are not seen to be free of gaps."""
    wide = _grown(regions, radius)
    plain = np.flatnonzero(shapely.get_num_coordinates(regions) <= _PLAIN)
    suspect = np.ones(len(regions), dtype=bool)
    suspect[plain] = ~shapely.covers(regions[plain], _grown(wide[plain], -_GAP_REACH * radius))
    added = overlay(shapely.difference, _grown(wide[suspect], -radius), _grown(regions[suspect], _SLACK))
    pieces = shapely.get_parts(added)
    return list(pieces[shapely.area(pieces) > _CRUMB])


def _clusters(parts: list[Polygon], reach: float) -> NDArray[np.object_]:
    """Parts that are near to one another, directly or by way of others, put together: gaps are within such a cluster."""
    every = np.array(parts, dtype=object)
    cluster = clusters(len(every), *near_pairs(every, every, reach))
    order = np.argsort(cluster, kind="stable")
    return np.asarray(shapely.multipolygons(every[order], indices=cluster[order]))


def _grown(regions: NDArray[np.object_], by: float) -> NDArray[np.object_]:
    return offset_each(regions, by, _FINE)


def _thin_in(parts: list[Polygon], smallest: float) -> list[Polygon]:
    radius = smallest / 2 - _SLACK
    if radius <= 0:
        return []
    return [piece for _, mine in _of_each(parts, radius, smallest) for piece in mine]


def _of_each(parts: list[Polygon], radius: float, smallest: float) -> Iterator[tuple[Polygon, list[Polygon]]]:
    """The parts worth a look, each with its thin pieces: all of it where it is thin all over."""
    every, cores = _asked(parts, radius)
    bare = shapely.is_empty(cores)
    found = iter(_thin_of(every[~bare], cores[~bare], radius, smallest))
    return ((part, [part] if thin else next(found)) for part, thin in zip(every.tolist(), bare.tolist(), strict=True))


def _asked(parts: list[Polygon], radius: float) -> tuple[NDArray[np.object_], NDArray[np.object_]]:
    """The parts worth a look, drawn in by the radius beside them: all but those that are seen to be nowhere thinner than
    twice the radius."""
    every = np.array([part for part in parts if part.area >= _CRUMB], dtype=object)
    cores = _grown(every, -radius)
    plain = np.flatnonzero((shapely.get_num_coordinates(every) <= _PLAIN) & (shapely.get_num_geometries(cores) == 1))
    wide = plain[shapely.covers(_grown(cores[plain], _THIN_REACH * radius), every[plain])]
    asked = np.ones(len(every), dtype=bool)
    asked[wide] = False
    return every[asked], cores[asked]


def _thin_of(parts: NDArray[np.object_], cores: NDArray[np.object_], radius: float, smallest: float) -> list[list[Polygon]]:
    """Of each part, of which a core is left, the pieces that its opening removes and that count."""
    # The opening and its slack in one step.
    opened = _grown(cores, radius + _SLACK)
    removed, whose = _areas(overlay_each(shapely.difference, parts, opened), _CRUMB)
    kept, of = _areas(opened, CRUMB)
    one, other = near_pairs(removed, kept, 2 * _SLACK)
    ends = np.bincount(one[whose[one] == of[other]], minlength=len(removed))
    lengths = _lengths(removed)
    counts = (lengths > _DEAD_END * smallest) | ((ends > 1) & (lengths > 0.2 * smallest))
    necks: dict[int, list[Polygon]] = {}
    for place in np.flatnonzero(shapely.get_num_geometries(cores) > 1).tolist():
        mine = np.flatnonzero(whose == place)
        necks[place] = _necks(parts[place], cores[place], removed[mine], radius)
        if necks[place] and len(mine):
            # What belongs to a neck is told as that.
            told = shapely.STRtree(removed[mine]).query(necks[place], predicate="intersects")[1]
            counts[mine[told]] = False
    rows = np.split(removed[counts], np.searchsorted(whose[counts], np.arange(1, len(parts))))
    return [[*mine.tolist(), *necks.get(place, ())] for place, mine in enumerate(rows)] if len(parts) else []


def _areas(regions: NDArray[np.object_], smallest: float) -> tuple[NDArray[np.object_], NDArray[np.int64]]:
    """The polygons of many regions that are larger than a crumb, mm², and which region each is of."""
    parts, whose = shapely.get_parts(regions, return_index=True)
    real = (shapely.get_type_id(parts) == POLYGON) & (shapely.area(parts) > smallest)
    return parts[real], whose[real]


def _necks(part: Polygon, core: BaseGeometry, removed: NDArray[np.object_], radius: float) -> list[Polygon]:
    """Where two pieces of the core lie so near that the opening joins them again: a neck that is thin in one point only."""
    cores = np.array(polygons(core), dtype=object)
    ones, others = near_pairs(cores, cores, 2 * (radius + _SLACK))
    if not len(ones):
        return []
    # Those alone that are near another one are grown.
    near, places = np.unique(np.concatenate([ones, others]), return_inverse=True)
    grown = _grown(cores[near], radius + _SLACK)
    one, other = grown[places[: len(ones)]], grown[places[len(ones) :]]
    waists = shapely.get_parts(overlay(shapely.intersection, one, other))
    waists = waists[shapely.area(waists) > 0]
    if not len(waists):
        return []
    # With the slivers beside it a waist reaches from bank to bank.
    slivers = list(removed[np.unique(shapely.STRtree(removed).query(waists, "dwithin", 2 * _SLACK)[1])]) if len(removed) else []
    reach = [
        *overlay(shapely.intersection, shapely.buffer(waists, 3 * _SLACK), part),
        *(one.buffer(_SLACK / 2) for one in slivers),
    ]
    joined = [overlay(shapely.intersection, piece, part) for piece in polygons(shapely.union_all(reach))]
    return [piece for one in joined for piece in polygons(one) if shapely.intersects(waists, piece).any()]


class _Surroundings:
    """What lies round a piece of a region: of the region itself or, for gaps, of what is `between`."""

    def __init__(self, region: BaseGeometry, smallest: float, between: bool = False) -> None:
        self._parts = np.array(polygons(region), dtype=object)
        self._tree = shapely.STRtree(self._parts)
        self._reach, self._between = 2 * smallest, between

    def of(self, piece: Polygon) -> BaseGeometry:
        left, bottom, right, top = piece.bounds
        frame = (left - self._reach, bottom - self._reach, right + self._reach, top + self._reach)
        near = self._parts[self._tree.query(shapely.box(*frame))]
        there = region_of(part for one in near for part in polygons(clipped(one, *frame)))
        return overlay(shapely.difference, shapely.box(*frame), there) if self._between else there

    def to_its_banks(self, piece: Polygon, whole: BaseGeometry) -> Polygon:
        """A gap was found a little narrower than it is: the piece as far as its banks."""
        if not self._between:
            return piece
        reaching = polygons(overlay(shapely.intersection, piece.buffer(1.5 * _SLACK), whole))
        return max(reaching, key=lambda part: float(part.area), default=piece)


#: So many of the pieces, those that are narrowest where they are widest, are measured exactly.
_MEASURED = 400


def _places(pieces: list[Polygon], around: _Surroundings, smallest: float, most: int) -> tuple[ThinPlace, ...]:
    """Where each piece is narrowest; of an even stripe any place stands for all of it."""
    if not pieces:
        return ()
    every = np.array(pieces, dtype=object)
    # What is narrow all over has little area for its edge: those are the ones to look at.
    first = np.argsort(shapely.area(every) / shapely.length(every), kind="stable")[: min(most, _MEASURED)]
    near = [pieces[place] for place in first]
    wholes = [around.of(piece) for piece in near]
    found = narrowest([around.to_its_banks(*row) for row in zip(near, wholes, strict=True)], wholes, smallest, _DEAD_END)
    places = [
        ThinPlace(one.x, one.y, min(one.width, smallest), _length(piece), one.across_deg)
        for one, piece in zip(found, near, strict=True)
    ]
    rest = np.setdiff1d(np.arange(len(every)), first)
    places += _roughly(every[rest], smallest)
    return tuple(sorted(places, key=lambda place: (place.width, place.x, place.y))[:most])


def _roughly(every: NDArray[np.object_], smallest: float) -> list[ThinPlace]:
    """Each piece where it is widest, and its width there: for the many that are not measured exactly."""
    if not len(every):
        return []
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
    return [ThinPlace(x, y, wide, _length(piece), angle) for (x, y), wide, piece, angle in rows]


def _length(piece: Polygon) -> float:
    """The long side of the rectangle of a piece's area and perimeter."""
    return float(_lengths(np.array([piece], dtype=object))[0])


def _lengths(pieces: NDArray[np.object_]) -> NDArray[np.float64]:
    half = shapely.length(pieces) / 2
    return np.asarray(half / 2 + np.sqrt(np.maximum(0.0, half * half / 4 - shapely.area(pieces))))


@lru_cache(maxsize=64)
def thinnest(region: BaseGeometry, upto: float = 2.0) -> float:
    """The largest width (mm, at most `upto`) with no thin place: by halving to 0.01 mm. Remembered, as the places are."""
    if region.is_empty:
        return 0.0
    parts = polygons(region)
    vast = [part for part in parts if shapely.get_num_coordinates(part) > _VAST]
    least = upto
    # Vast parts take long: they are asked last, and whether they are plainly thinner.
    for asked in ([part for part in parts if shapely.get_num_coordinates(part) <= _VAST], vast):
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
    return [part for part, pieces in _of_each(parts, radius, smallest) if pieces]
