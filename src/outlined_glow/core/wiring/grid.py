"""The grid that tracks run on: places of cells in mm, and which of them lie in a region."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..parts import PlacedPad

Flags = NDArray[np.bool_]
Cells = NDArray[np.int32]
#: A board has no more cells a layer than this: a coarser grid takes its place.
_MOST_CELLS = 1_500_000
#: Places this near to an edge lie on it, mm or cells.
_SAME = 1e-9


@dataclass(frozen=True)
class Grid:
    """Cells `pitch` mm apart, the first at (x, y); it lies on multiples of the pitch, so that a wider board moves none."""

    x: float
    y: float
    pitch: float
    width: int
    height: int

    @property
    def cells(self) -> int:
        """The cells of one layer."""
        return self.width * self.height

    @property
    def sizes(self) -> NDArray[np.int64]:
        """Width and height, as compiled code takes them."""
        return np.array([self.width, self.height], np.int64)

    @property
    def origin(self) -> NDArray[np.float64]:
        """Where its first cell lies, as compiled code takes it."""
        return np.array([self.x, self.y])

    def places(self, cells: Cells) -> NDArray[np.float64]:
        """Where cells lie (n, 2), mm."""
        flat = cells % self.cells
        return np.column_stack([self.x + flat % self.width * self.pitch, self.y + flat // self.width * self.pitch])

    def nearest(self, x_mm: float, y_mm: float) -> int:
        """The cell of the first layer that is nearest to a place."""
        column = min(max(round((x_mm - self.x) / self.pitch), 0), self.width - 1)
        row = min(max(round((y_mm - self.y) / self.pitch), 0), self.height - 1)
        return row * self.width + column

    def within(self, region: BaseGeometry) -> Flags:
        """Which cells of a layer lie in a region, exactly: an edge is crossed an odd number of times on the way to them."""
        crossed = np.zeros((self.height, self.width + 1), np.int32)
        for start, end in _edges(region):
            self._cross(start, end, crossed)
        inside: Flags = (np.cumsum(crossed, axis=1)[:, :-1] & 1).astype(bool)
        return inside.ravel()

    def _cross(self, start: NDArray[np.float64], end: NDArray[np.float64], crossed: NDArray[np.int32]) -> None:
        """Count where edges (n, 2) cross the rows of cells, at the first cell beyond."""
        low = np.where((start[:, 1] <= end[:, 1])[:, None], start, end)
        high = np.where((start[:, 1] <= end[:, 1])[:, None], end, start)
        first = np.clip(np.ceil((low[:, 1] - self.y) / self.pitch), 0, self.height).astype(np.int64)
        last = np.clip(np.ceil((high[:, 1] - self.y) / self.pitch), 0, self.height).astype(np.int64)
        many = np.maximum(last - first, 0)
        which = np.repeat(np.arange(len(many)), many)
        if not len(which):
            return
        rows = np.arange(len(which)) - np.repeat(np.cumsum(many) - many, many) + first[which]
        share = (self.y + rows * self.pitch - low[which, 1]) / (high[which, 1] - low[which, 1])
        x = low[which, 0] + share * (high[which, 0] - low[which, 0])
        columns = np.clip(np.floor((x - self.x) / self.pitch) + 1, 0, self.width).astype(np.int64)
        np.add.at(crossed, (rows, columns), 1)


def grid_over(bounds: tuple[float, float, float, float], pitch_mm: float) -> Grid:
    """The grid over a box, of that pitch, or of a whole multiple of it where the box is vast."""
    left, bottom, right, top = bounds
    pitch = pitch_mm
    while (right - left) * (top - bottom) / pitch**2 > _MOST_CELLS:
        pitch += pitch_mm
    x0, y0 = math.floor(left / pitch), math.floor(bottom / pitch)
    width, height = math.ceil(right / pitch) - x0 + 1, math.ceil(top / pitch) - y0 + 1
    return Grid(x0 * pitch, y0 * pitch, pitch, width, height)


def offsets_within(reach_cells: float) -> NDArray[np.int64]:
    """The moves (n, 2) to the cells that a track keeps off, which has to be so many cells from one that runs through 0.

    Two tracks may come nearest between their cells: where one runs aslant past the end of the other.
    """
    most = math.ceil(reach_cells) + 1
    y, x = np.mgrid[-most : most + 1, -most : most + 1]
    near = np.hypot(x, y) < reach_cells - 1e-9
    low = np.minimum(abs(x), abs(y))
    between = (np.maximum(abs(x), abs(y)) == low + 1) & ((low + 0.5) * math.sqrt(2) < reach_cells - 1e-9)
    return np.column_stack([x[near | between], y[near | between]]).astype(np.int64)


def knots_in(pad: PlacedPad, pitch: float, inset_mm: float = 0.0) -> NDArray[np.float64]:
    """The places (n, 2) in a pad, so far from its edge, that cells of that pitch lie on, wherever the grid begins: whole
    multiples of it."""
    left, bottom, right, top = pad.polygon.bounds
    columns = np.arange(math.ceil(left / pitch - _SAME), math.floor(right / pitch + _SAME) + 1) * pitch
    rows = np.arange(math.ceil(bottom / pitch - _SAME), math.floor(top / pitch + _SAME) + 1) * pitch
    x, y = (axis.ravel() for axis in np.meshgrid(columns, rows))
    a = math.radians(pad.angle_deg)
    dx, dy = x - pad.x, y - pad.y
    along, across = abs(dx * math.cos(a) + dy * math.sin(a)), abs(dy * math.cos(a) - dx * math.sin(a))
    within = (along <= pad.width / 2 - inset_mm + _SAME) & (across <= pad.height / 2 - inset_mm + _SAME)
    if pad.round:
        within &= np.hypot(along, across) <= pad.width / 2 - inset_mm + _SAME
    knots: NDArray[np.float64] = np.column_stack([x, y])[within]
    return knots


def _edges(region: BaseGeometry) -> Iterable[tuple[NDArray[np.float64], NDArray[np.float64]]]:
    for ring in shapely.get_rings(shapely.get_parts(region)):
        points = shapely.get_coordinates(ring)
        yield points[:-1], points[1:]
