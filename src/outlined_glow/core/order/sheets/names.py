"""Names beside the things of a drawing: each where it hides nothing and no other name."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from shapely.geometry.base import BaseGeometry

from .page import text, width_of

#: How high capitals and figures are, of the size of the font.
_HIGH = 0.68
#: The directions in which a name is looked for (across, up), the usual first.
DIRECTIONS = ((1, 1), (1, -1), (-1, 1), (-1, -1), (0, 1), (0, -1), (1, 0), (-1, 0))


class Names:
    """The names of one drawing, mm; what they must not hide is told at the start. They are drawn together, at the end."""

    def __init__(self, keep_off: Sequence[BaseGeometry], high_mm: float) -> None:
        self._high = high_mm
        self._there: Any = shapely.STRtree(list(keep_off))
        self._named: list[tuple[str, bool]] = []
        self._boxes = np.zeros((64, 4))

    def put(self, words: str, x: float, y: float, spots: Sequence[tuple[float, float]], plate: bool = False) -> None:
        """A name about the first of some places (from x, y) where there is room, else where it hides least; on a white `plate`
        where lines may run under it."""
        half = np.array([width_of(words, self._high), _HIGH * self._high]) / 2
        middles = np.array(spots) + np.array([x, y])
        best = self._best(np.hstack([middles - half, middles + half]))
        many = len(self._named)
        if many == len(self._boxes):
            self._boxes = np.vstack([self._boxes, np.zeros_like(self._boxes)])
        self._boxes[many] = best
        self._named.append((words, plate))

    def _best(self, boxes: NDArray[np.float64]) -> NDArray[np.float64]:
        """The first of some boxes (n, 4) that hides nothing, or the one that hides least."""
        named = self._boxes[: len(self._named)]
        over = np.minimum(boxes[:, None, 2:], named[None, :, 2:]) - np.maximum(boxes[:, None, :2], named[None, :, :2])
        hidden = np.prod(np.clip(over, 0.0, None), axis=2).sum(axis=1)
        shapes: Any = shapely.box(*boxes.T)
        which, there = self._there.query(shapes, predicate="intersects")
        free = (hidden == 0) & (np.bincount(which, minlength=len(boxes)) == 0)
        at = int(np.argmax(free))
        if not free[at]:
            areas = shapely.area(shapely.intersection(shapes[which], self._there.geometries[there]))
            at = int(np.argmin(hidden + np.bincount(which, areas, len(boxes))))
        best: NDArray[np.float64] = boxes[at]
        return best

    def draw(self, canvas: Canvas) -> None:
        """Every name in its place."""
        for (words, plate), (left, bottom, right, top) in zip(self._named, self._boxes.tolist(), strict=False):
            if plate:
                canvas.setFillGray(1)
                edge = 0.1 * self._high
                corner = (left - edge) * mm, (bottom - edge) * mm
                canvas.rect(*corner, (right - left + 2 * edge) * mm, (top - bottom + 2 * edge) * mm, stroke=0, fill=1)
            text(canvas, left, bottom, words, self._high)

    def beside(self, words: str, half_wide: float, half_high: float | None = None) -> list[tuple[float, float]]:
        """Places of a name from the middle of something round, or of a box, in all directions."""
        wide, high, gap = width_of(words, self._high) / 2, _HIGH * self._high / 2, 0.2 * self._high
        out = []
        for across, up in DIRECTIONS:
            share = math.sqrt(0.5) if half_high is None and across and up else 1.0  # how far a circle reaches slantwise
            tall = half_wide if half_high is None else half_high
            out.append((across * (share * half_wide + wide + gap), up * (share * tall + high + gap)))
        return out
