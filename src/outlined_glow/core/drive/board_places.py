"""Places over a board in the order in which they are tried, and the first of them where a part fits."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.prepared import prepared
from ..parts import Part, PlacedPart
from .near_nets import steps_over

#: What is placed by its nets, or at the edge, is tried in such steps, mm.
BY_NETS_MM = 1.0
#: How much the way to the middle counts beside that to the edge, for what leads go to.
_TO_THE_MIDDLE = 0.3


def batches(places: NDArray[np.float64]) -> Iterator[NDArray[np.float64]]:
    """Places a few at a time, then more and more: one of the first is mostly taken."""
    first, many = 0, 50
    while first < len(places):
        yield places[first : first + many]
        first, many = first + many, min(2 * many, 2000)


def pads_fit(part: Part, side: str, places: NDArray[np.float64], board: BaseGeometry, clear: BaseGeometry) -> NDArray[np.bool_]:
    """At which of some places (n, 3: x, y, angle) the pads of a part lie on the board and off what has to be clear."""
    fit = np.ones(len(places), bool)
    board, clear = prepared(board), prepared(clear)
    for turn in np.unique(places[:, 2]):
        at = np.flatnonzero(places[:, 2] == turn)
        for pad in PlacedPart("", part, "", 0.0, 0.0, float(turn), side).pads():
            at = at[fit[at]]
            lands = _moved_to(pad.polygon, places[at, :2])
            fit[at] = shapely.contains(board, lands) & ~shapely.intersects(clear, lands)
    return fit


def _moved_to(shape: Polygon, places: NDArray[np.float64]) -> NDArray[np.object_]:
    """A shape about the middle, moved to each of some places (n, 2)."""
    rings = shapely.get_coordinates(shape.exterior)[None] + places[:, None]
    return np.asarray(shapely.polygons(rings), object) if len(places) else np.zeros(0, object)


@lru_cache(maxsize=8)
def from_the_middle(board: BaseGeometry) -> NDArray[np.float64]:
    """Places (n, 3: x, y, angle) over the board, those nearest its middle first."""
    middle = board.centroid
    left, bottom, right, top = board.bounds
    xs = np.unique(np.append(np.arange(left, right, 1.0), middle.x))
    ys = np.unique(np.append(np.arange(bottom, top, 0.5), middle.y))
    x, y, angle = (grid.ravel() for grid in np.meshgrid(xs, ys, [0.0, 90.0], indexing="ij"))
    order = np.lexsort((angle, y, x, np.round(np.hypot(x - middle.x, y - middle.y), 6)))
    return np.column_stack([x, y, angle])[order]


@lru_cache(maxsize=8)
def at_the_edge(board: BaseGeometry) -> NDArray[np.float64]:
    """Places (n, 3: x, y, angle) over the board, those at its edge first, of these the ones nearest its middle."""
    middle, (left, bottom, right, top) = board.centroid, board.bounds
    axes = steps_over(left, right, BY_NETS_MM), steps_over(bottom, top, BY_NETS_MM), [0.0, 90.0]
    x, y, angle = (grid.ravel() for grid in np.meshgrid(*axes, indexing="ij"))
    far = shapely.distance(board.boundary, shapely.points(x, y)) + _TO_THE_MIDDLE * np.hypot(x - middle.x, y - middle.y)
    order = np.lexsort((angle, y, x, np.round(far, 6)))
    return np.column_stack([x, y, angle])[order]
