"""A part that looks for its place again: of all places only those are asked that reach what is taken otherwise than before."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.regions import boxes_at
from .before import Frame
from .board_places import batches
from .free_ground import Place

#: At which of some places (n, 3) the pads of a part lie well.
Fit = Callable[[NDArray[np.float64]], NDArray[np.bool_]]


@dataclass(frozen=True)
class InTheWay:
    """What the box of a part keeps to and off: the outline that it lies in, what is taken, and what lets light through."""

    outline: BaseGeometry
    taken: Sequence[Polygon]
    windows: BaseGeometry

    def leaves(self, boxes: NDArray[np.object_]) -> NDArray[np.bool_]:
        """Which of some boxes have room: what only touches is not in the way, unless a corner of the box does, as where all
        places are looked over."""
        for region in (self.outline, self.windows):
            shapely.prepare(region)
        free = np.asarray(shapely.contains(self.outline, boxes), bool)
        taken = np.asarray(self.taken, object)
        at = np.flatnonzero(free)
        one, other = shapely.STRtree(taken).query(boxes[at], predicate="intersects")
        free[at[one[_overlap(boxes[at[one]], taken[other])]]] = False
        at = np.flatnonzero(free)
        at = at[shapely.intersects(self.windows, boxes[at])]
        free[at[_overlap(boxes[at], self.windows)]] = False
        at = np.flatnonzero(free)
        free[at[~shapely.contains(self.outline, _corners(boxes[at])).all(axis=1)]] = False
        return free


def _overlap(boxes: NDArray[np.object_], what: NDArray[np.object_] | BaseGeometry) -> NDArray[np.bool_]:
    """Which of boxes that meet something lie over it, or have a corner on its edge."""
    over: NDArray[np.bool_] = ~shapely.touches(what, boxes)
    each = what[:, None] if isinstance(what, np.ndarray) else what
    over |= shapely.intersects(each, _corners(boxes)).any(axis=1)
    return over


def _corners(boxes: NDArray[np.object_]) -> NDArray[np.object_]:
    """The corners (n, 4) of boxes."""
    return np.asarray(shapely.points(shapely.get_coordinates(boxes).reshape(-1, 5, 2)[:, :4]), object)


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
            free = some[self.way.leaves(boxes_at(some, *self.size))]
            free = free[fit(free)]
            if len(free):
                x, y, angle = free[0].tolist()
                return x, y, angle
        return None

    def holds(self, spot: Place, frames: Sequence[Frame]) -> bool:
        """Whether a place that had room has it still, where other things lay in some frames."""
        own = np.array([spot])
        return not _meet(own, self.size, frames)[0] or bool(self.way.leaves(boxes_at(own, *self.size))[0])


def _meet(places: NDArray[np.float64], size: tuple[float, float], frames: Sequence[Frame]) -> NDArray[np.bool_]:
    """At which of some places the upright frame of a box reaches into one of some frames."""
    x, y, a = places[:, 0], places[:, 1], np.radians(places[:, 2])
    cosine, sine = np.abs(np.cos(a)) / 2, np.abs(np.sin(a)) / 2
    wide, high = cosine * size[0] + sine * size[1], sine * size[0] + cosine * size[1]
    met = np.zeros(len(places), bool)
    for x0, y0, x1, y1 in frames:
        met |= (x + wide > x0) & (x - wide < x1) & (y + high > y0) & (y - high < y1)
    return met
