"""A part that looks for its place again: of all places only those are asked that reach what is taken otherwise than before."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.prepared import prepared
from ..geometry.regions import boxes_at, region_of
from .before import Frame
from .board_places import batches
from .free_ground import Place, by_corners

#: So far into one another is not in each other's way, mm.
_SURE_MM = 1e-9
#: At which of some places (n, 3) the pads of a part lie well.
Fit = Callable[[NDArray[np.float64]], NDArray[np.bool_]]


@dataclass(frozen=True)
class InTheWay:
    """What the box of a part keeps to and off: the outline that it lies in, what is taken, and what lets light through."""

    outline: BaseGeometry
    taken: Sequence[Polygon]
    windows: BaseGeometry

    @cached_property
    def _tree(self) -> shapely.STRtree:
        return shapely.STRtree(self.taken)

    @cached_property
    def _covered(self) -> BaseGeometry:
        """What is taken, without a union: what lies in an odd number of it, or on an edge, is found to be taken."""
        return prepared(region_of(self.taken))

    @cached_property
    def _around(self) -> tuple[BaseGeometry, BaseGeometry]:
        return prepared(self.outline), prepared(self.windows)

    def leaves(self, places: NDArray[np.float64], size: tuple[float, float]) -> NDArray[np.float64]:
        """Those of some places (n, 3) where a box of some size has room: what only touches is not in the way, unless a corner
        of the box does."""
        outline, windows = self._around
        places = by_corners(places, *size, self._is_open)
        if not len(places):
            return places
        boxes = boxes_at(places, *size)
        closed = ~shapely.contains(outline, boxes)
        # A box a little smaller meets no longer what it only touched, and what is prepared answers at once.
        closed |= shapely.intersects(windows, boxes_at(places, size[0] - 2 * _SURE_MM, size[1] - 2 * _SURE_MM))
        one, other = self._tree.query(boxes, predicate="intersects")
        taken, corners = self._tree.geometries[other], shapely.get_coordinates(boxes).reshape(-1, 5, 2)[one, :4]
        over = ~shapely.touches(boxes[one], taken)
        over |= shapely.intersects_xy(taken[:, None], corners[..., 0], corners[..., 1]).any(axis=1)
        closed[one[over]] = True
        return places[~closed]

    def _is_open(self, x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.bool_]:
        outline, windows = self._around
        there: NDArray[np.bool_] = shapely.contains_xy(outline, x, y)
        for region in (self._covered, windows):
            there[there] = ~shapely.intersects_xy(region, x[there], y[there])
        return there


@dataclass(frozen=True)
class Asked:
    """Places (n, 3) in their order, how large a box a part needs there, and what that keeps off."""

    places: NDArray[np.float64]
    size: tuple[float, float]
    way: InTheWay

    def first(self, fit: Fit, frames: Sequence[Frame] = ()) -> Place | None:
        """The first place whose box has room, and at which the pads lie well; where frames are given, only places are asked
        whose box reaches into one of them."""
        places = self.places[_meet(self.places, self.size, frames)] if frames else self.places
        for some in batches(places):
            free = self.way.leaves(some, self.size)
            free = free[fit(free)]
            if len(free):
                x, y, angle = free[0].tolist()
                return x, y, angle
        return None

    def holds(self, spot: Place, frames: Sequence[Frame]) -> bool:
        """Whether a place that had room has it still, where other things lay in some frames."""
        own = np.array([spot])
        return not _meet(own, self.size, frames)[0] or len(self.way.leaves(own, self.size)) > 0


def _meet(places: NDArray[np.float64], size: tuple[float, float], frames: Sequence[Frame]) -> NDArray[np.bool_]:
    """At which of some places the upright frame of a box reaches into one of some frames."""
    x, y, a = places[:, 0], places[:, 1], np.radians(places[:, 2])
    cosine, sine = np.abs(np.cos(a)) / 2, np.abs(np.sin(a)) / 2
    wide, high = cosine * size[0] + sine * size[1], sine * size[0] + cosine * size[1]
    met = np.zeros(len(places), bool)
    for x0, y0, x1, y1 in frames:
        met |= (x + wide > x0) & (x - wide < x1) & (y + high > y0) & (y - high < y1)
    return met
