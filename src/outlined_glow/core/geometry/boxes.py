"""Many small things on a large board, found by where they are: a grid of square cells."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

#: Side of a cell, mm: about that of a small part with its air.
CELL_MM = 4.0

Frame = tuple[float, float, float, float]
Cells = dict[tuple[int, int], NDArray[np.intp]]


def cells_of(points: NDArray[np.float64]) -> Cells:
    """The indices of points (n, 2) by the cell that each lies in."""
    out: Cells = {}
    if not len(points):
        return out
    keys = np.floor(points / CELL_MM).astype(np.int64)
    order = np.lexsort((keys[:, 1], keys[:, 0]))
    sorted_keys = keys[order]
    starts = np.flatnonzero(np.any(np.diff(sorted_keys, axis=0, prepend=sorted_keys[:1] - 1), axis=1))
    for group in np.split(order, starts[1:]):
        column, row = keys[group[0]].tolist()
        out[column, row] = group
    return out


def cells_in(frame: Frame) -> Iterable[tuple[int, int]]:
    """The cells that a frame meets."""
    x0, y0, x1, y1 = (math.floor(value / CELL_MM) for value in frame)
    return ((column, row) for column in range(x0, x1 + 1) for row in range(y0, y1 + 1))


class Boxes:
    """Boxes that were laid down one after another, asked whether others meet them; `beside` them others may lie."""

    def __init__(self, beside: bool = False) -> None:
        self.boxes: list[Polygon] = []
        self._frames: list[Frame] = []
        self._beside = beside
        self._cells: defaultdict[tuple[int, int], list[int]] = defaultdict(list)

    def add(self, box: Polygon) -> None:
        """One more."""
        frame = box.bounds
        for key in cells_in(frame):
            self._cells[key].append(len(self.boxes))
        self.boxes.append(box)
        self._frames.append(frame)

    def hit(self, others: NDArray[np.object_]) -> NDArray[np.bool_]:
        """Which of other boxes (n,) meet one of these."""
        out = np.zeros(len(others), bool)
        one, other = self._pairs(shapely.bounds(others))
        if not len(one):
            return out
        these, those = others[one], np.array([self.boxes[at] for at in other], object)
        met = shapely.intersects(these, those)
        if self._beside:
            met &= ~shapely.touches(these, those)
        out[one[met]] = True
        return out

    def near(self, frames: NDArray[np.float64]) -> NDArray[np.bool_]:
        """Which of some frames (n, 4) meet that of one of these."""
        out = np.zeros(len(frames), bool)
        out[self._pairs(frames)[0]] = True
        return out

    def _pairs(self, frames: NDArray[np.float64]) -> tuple[NDArray[np.intp], list[int]]:
        """Which of some frames (n, 4) meet which of these."""
        none = np.zeros(0, np.intp)
        if not len(frames) or not self.boxes:
            return none, []
        whole = (*frames[:, :2].min(axis=0).tolist(), *frames[:, 2:].max(axis=0).tolist())
        near = sorted({at for key in cells_in(whole) for at in self._cells.get(key, ())})
        if not near:
            return none, []
        a, b = frames[:, None], np.array([self._frames[at] for at in near])[None]
        meet = (a[..., 0] < b[..., 2]) & (a[..., 2] > b[..., 0]) & (a[..., 1] < b[..., 3]) & (a[..., 3] > b[..., 1])
        one, other = np.nonzero(meet)
        return one, [near[at] for at in other.tolist()]
