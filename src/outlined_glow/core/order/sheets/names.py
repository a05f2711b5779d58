"""Names beside the things of a drawing: each where it hides nothing and no other name."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import shapely
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from .page import text, width_of

#: Capitals and figures are so high, and begin so far over the line, of the size of the font.
_HIGH = 0.68
#: The directions in which a name is looked for (across, up), the usual first.
DIRECTIONS = ((1, 1), (1, -1), (-1, 1), (-1, -1), (0, 1), (0, -1), (1, 0), (-1, 0))


class Names:
    """The names of one drawing, mm; what they must not hide is told at the start."""

    def __init__(self, canvas: Canvas, keep_off: Sequence[BaseGeometry], high_mm: float) -> None:
        self._canvas, self._high = canvas, high_mm
        self._there: Any = shapely.STRtree(list(keep_off))
        self._shapes: Any = self._there.geometries
        self._named: list[Polygon] = []

    def put(self, words: str, x: float, y: float, spots: Sequence[tuple[float, float]], plate: bool = False) -> None:
        """A name about the first of some places (from x, y) where there is room, else where it hides least; on a white `plate`
        where lines may run under it."""
        wide, high = width_of(words, self._high), _HIGH * self._high
        boxes = [box(x + dx - wide / 2, y + dy - high / 2, x + dx + wide / 2, y + dy + high / 2) for dx, dy in spots]
        best = next((one for one in boxes if not self._hidden(one)), None) or min(boxes, key=self._hidden)
        self._named.append(best)
        left, bottom, right, top = best.bounds
        if plate:
            self._canvas.setFillGray(1)
            edge = 0.1 * self._high
            self._canvas.rect((left - edge) * mm, (bottom - edge) * mm, (right - left + 2 * edge) * mm,
                              (top - bottom + 2 * edge) * mm, stroke=0, fill=1)  # fmt: skip
        text(self._canvas, left, bottom, words, self._high)

    def beside(self, words: str, half_wide: float, half_high: float | None = None) -> list[tuple[float, float]]:
        """Places of a name from the middle of something round, or of a box, in all directions."""
        wide, high, gap = width_of(words, self._high) / 2, _HIGH * self._high / 2, 0.2 * self._high
        out = []
        for across, up in DIRECTIONS:
            share = math.sqrt(0.5) if half_high is None and across and up else 1.0  # how far a circle reaches slantwise
            tall = half_wide if half_high is None else half_high
            out.append((across * (share * half_wide + wide + gap), up * (share * tall + high + gap)))
        return out

    def _hidden(self, place: Polygon) -> float:
        """How much a name there would hide, mm²."""
        near = self._shapes[self._there.query(place, "intersects")]
        taken = [one for one in self._named if one.intersects(place)]
        return float(shapely.area(shapely.intersection([*near, *taken], place)).sum()) if len(near) or taken else 0.0
