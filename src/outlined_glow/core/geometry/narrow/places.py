"""Thin places and narrow gaps: the pieces that are too thin or too near, measured."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..near import Framed
from ..overlay import overlay
from ..regions import polygons
from .gaps import gap_pieces
from .morphology import DEAD_END, SLACK, length_of
from .narrowest import narrowest
from .thin import parts_with, thin_in, thin_pieces

#: How finely a width is found: to the smallest one halved so often.
_HALVINGS = 7
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


def least_widths(pieces: list[Polygon], region: BaseGeometry, smallest: float) -> NDArray[np.float64]:
    """The least width (mm) of each piece of `region` that is thinner than `smallest`; 0 beyond the most that are measured."""
    widths = np.zeros(len(pieces))
    around = _Surroundings(region, smallest)
    near = pieces[:_MEASURED]
    widths[: len(near)] = [one.width for one in narrowest(near, [around.of(piece) for piece in near], smallest, DEAD_END)]
    return widths


@lru_cache(maxsize=24)
def narrow_gaps(region: BaseGeometry, smallest: float, most: int = 2000) -> tuple[ThinPlace, ...]:
    """Gaps of `region` narrower than `smallest`: what a closing by that disc adds."""
    return _places(gap_pieces(region, smallest, corners=False), _Surroundings(region, smallest, between=True), smallest, most)


class _Surroundings:
    """What lies round a piece of a region: of the region itself or, for gaps, of what is `between`."""

    def __init__(self, region: BaseGeometry, smallest: float, between: bool = False) -> None:
        self._framed = Framed(np.array(polygons(region), dtype=object))
        self._reach, self._between = 2 * smallest, between

    def of(self, piece: Polygon) -> BaseGeometry:
        left, bottom, right, top = piece.bounds
        frame = (left - self._reach, bottom - self._reach, right + self._reach, top + self._reach)
        return self._framed.beside(frame) if self._between else self._framed.within(frame)

    def to_its_banks(self, piece: Polygon, whole: BaseGeometry) -> Polygon:
        """A gap was found a little narrower than it is: the piece as far as its banks."""
        if not self._between:
            return piece
        reaching = polygons(overlay(shapely.intersection, piece.buffer(1.5 * SLACK), whole))
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
    found = narrowest([around.to_its_banks(*row) for row in zip(near, wholes, strict=True)], wholes, smallest, DEAD_END)
    places = [
        ThinPlace(one.x, one.y, min(one.width, smallest), length_of(piece), one.across_deg)
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
    return [ThinPlace(x, y, wide, length_of(piece), angle) for (x, y), wide, piece, angle in rows]


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
        thinner = parts_with(asked, least - (0.02 if asked is vast else 0.0))
        while thinner:
            # The slimmest comes first: few others then are thinner still.
            thinner.sort(key=lambda part: part.area / part.length)
            low, high = 0.0, least
            while high - low > 0.01:
                middle = (low + high) / 2
                low, high = (low, middle) if thin_in(thinner[:1], middle) else (middle, high)
            least = (low + high) / 2
            thinner = parts_with(thinner[1:], least)
    return round(least, 2)
