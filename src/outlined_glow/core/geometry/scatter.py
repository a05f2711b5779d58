"""Points scattered over a region, none nearer to another than a pitch and no place left for one more (Poisson disc)."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from .prepared import prepared

Points = NDArray[np.float64]

#: So many places are tried for each that could fit, before what is left is filled.
_TRIES = 6
#: What rounding may take from a distance of exactly the pitch, as a share.
_ROUNDING = 1e-9


def scattered(region: BaseGeometry, pitch: float, seed: int) -> Points:
    """Points (n, 2) of a region, in no order; the same for the same seed.

    First places by chance; then, as long as a place of the region is a pitch or more from all of them, the farthest such.
    """
    if region.is_empty:
        return np.zeros((0, 2))
    kept = _Kept(pitch)
    for x, y in _by_chance(region, pitch, np.random.default_rng(seed)):
        kept.take(float(x), float(y))
    if not kept.points:
        inside = region.representative_point()
        kept.take(inside.x, inside.y)
    while kept.fill(_farthest(region, np.array(kept.points))):
        pass
    return np.array(kept.points)


def _by_chance(region: BaseGeometry, pitch: float, dice: np.random.Generator) -> Points:
    x0, y0, x1, y1 = region.bounds
    tried = dice.random((int(_TRIES * (1 + (x1 - x0) / pitch) * (1 + (y1 - y0) / pitch)), 2)) * (x1 - x0, y1 - y0) + (x0, y0)
    return tried[shapely.contains_xy(prepared(region), tried[:, 0], tried[:, 1])]


def _farthest(region: BaseGeometry, points: Points) -> Points:
    """Where the distance to the nearest point can be greatest in a region: the corners that the points' cells have in it,
    where the sides of cells cross its edge, and its own corners."""
    corners = shapely.get_coordinates(region)
    if len(points) < 2:
        return corners
    sides = shapely.voronoi_polygons(shapely.multipoints(points), extend_to=region, only_edges=True)
    meetings = shapely.get_coordinates(sides)
    inside = meetings[shapely.intersects_xy(prepared(region), meetings[:, 0], meetings[:, 1])]
    crossings = shapely.get_coordinates(shapely.intersection(sides, shapely.boundary(region)))
    return np.vstack((inside, crossings, corners))


class _Kept:
    """Points no nearer to each other than a pitch, found again by the squares they lie in."""

    def __init__(self, pitch: float) -> None:
        self._pitch = pitch
        self.points: list[tuple[float, float]] = []
        self._squares: dict[tuple[int, int], list[tuple[float, float]]] = {}

    def _nearest(self, x: float, y: float) -> float:
        """How far the nearest point is, if it is within the pitch; else the pitch or more."""
        column, row = int(x // self._pitch), int(y // self._pitch)
        near = [one for dx in (-1, 0, 1) for dy in (-1, 0, 1) for one in self._squares.get((column + dx, row + dy), ())]
        return min((((x - a) ** 2 + (y - b) ** 2) ** 0.5 for a, b in near), default=float("inf"))

    def take(self, x: float, y: float) -> bool:
        """Keep a point, if it is far enough from all others."""
        if self._nearest(x, y) < self._pitch * (1 - _ROUNDING):
            return False
        self.points.append((x, y))
        self._squares.setdefault((int(x // self._pitch), int(y // self._pitch)), []).append((x, y))
        return True

    def fill(self, places: Points) -> int:
        """Keep what can be kept of some places, the loneliest first; how many those were."""
        from scipy.spatial import cKDTree  # only who scatters loads it

        far, _ = cKDTree(np.array(self.points)).query(places)
        order = np.argsort(-far, kind="stable")
        lonely = order[far[order] >= self._pitch * (1 - _ROUNDING)]
        return sum(self.take(float(x), float(y)) for x, y in places[lonely])
