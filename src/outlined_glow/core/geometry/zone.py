"""Where something changed and is looked at again: much of a region need not be looked at a second time."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .prepared import prepared
from .regions import common, union_of_many

#: A piece whose box is longer than so many reaches gets small boxes along its edge.
_LONG = 6


class Zone:
    """What lies within a reach (mm) of some pieces, and a little more; without pieces everywhere.

    What is found at the border of the zone is cut off there, and none of ours.
    """

    def __init__(self, pieces: Sequence[Polygon] | None = None, reach: float = 0.0) -> None:
        self.region: BaseGeometry | None = None if pieces is None else _around(np.array(pieces, dtype=object), reach)
        self._edge = None if self.region is None else prepared(self.region.boundary)

    @property
    def empty(self) -> bool:
        """Whether there is nothing left to look at."""
        return self.region is not None and self.region.is_empty

    def of(self, region: BaseGeometry) -> BaseGeometry:
        """What of a region lies in the zone."""
        return region if self.region is None else common(region, self.region)

    def within(self, pieces: list[Polygon]) -> list[Polygon]:
        """The pieces that the border does not cut."""
        if self._edge is None or not pieces:
            return pieces
        return [piece for piece, cut in zip(pieces, shapely.intersects(self._edge, pieces).tolist(), strict=True) if not cut]


def _around(pieces: NDArray[np.object_], reach: float) -> BaseGeometry:
    frames = shapely.bounds(pieces).reshape(-1, 4)
    long = (frames[:, 2:] - frames[:, :2]).max(axis=1) > _LONG * reach
    places = shapely.get_coordinates(shapely.segmentize(pieces[long], max(reach, 1e-3)))
    cells = np.unique(np.floor(places / max(reach, 1e-3)), axis=0) * reach
    frames = np.vstack([frames[~long], np.hstack([cells, cells + reach])]) + np.array([-reach, -reach, reach, reach])
    return union_of_many([*shapely.box(*frames.T).tolist(), *pieces[long].tolist()])


def beside(region: BaseGeometry, pieces: Sequence[Polygon], reach: float) -> BaseGeometry:
    """What of a region lies round some pieces of it."""
    return Zone(pieces, reach).of(region)
