"""A letter that is painted on the LEDs themselves."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from ..core_door import core
from ..theme import DUSK
from .camera import Camera

#: A press so far from the middle of an LED still means it; the smallest and the largest dot of a pixel, and its share of the
#: way to the next one.
_NEAR_PX, _DOT_PX, _SHARE = 12.0, (2.5, 14.0), 0.42


class GlyphPaint:
    """The letter in hand, where its pixels lie, and whether a drag lights them or puts them out."""

    def __init__(self) -> None:
        self.rows: tuple[str, ...] = ()
        self.cells: Any = None
        self.brush: bool | None = None

    def show(self, rows: tuple[str, ...], cells: Any) -> None:
        """Another letter, or other LEDs; None for no painting. What is being painted stays."""
        self.cells = cells
        if self.brush is None or cells is None:
            self.rows, self.brush = rows, None

    def at(self, spot: QPointF, camera: Camera, origin: tuple[float, float]) -> tuple[int, int] | None:
        """The column and the row under a place on the screen, None for none."""
        if self.cells is None:
            return None
        x, y = camera.to_mm(spot)
        found: tuple[int, int] | None = self.cells.nearest(x - origin[0], y - origin[1], _NEAR_PX / camera.zoom)
        return found

    def begin(self, spot: QPointF, camera: Camera, origin: tuple[float, float]) -> bool:
        """Begin to paint; whether there is a pixel under the pointer."""
        cell = self.at(spot, camera, origin)
        if cell is not None:
            self.brush = not core("glyph_cells").is_lit(self.rows, *cell)
            self.go_on(spot, camera, origin)
        return cell is not None

    def go_on(self, spot: QPointF, camera: Camera, origin: tuple[float, float]) -> None:
        """Paint what is under the pointer."""
        cell = self.at(spot, camera, origin)
        if cell is not None and self.brush is not None:
            self.rows = core("glyph_cells").with_pixel(self.rows, *cell, self.brush)

    def end(self) -> str:
        """What was painted, as the key takes it."""
        self.brush = None
        return " ".join(self.rows)

    def paint(self, painter: QPainter, camera: Camera, origin: tuple[float, float], seen: QRectF) -> None:
        """The pixels of the letter on the LEDs, bright or dark in either theme; small rings round it."""
        if self.cells is None:
            return
        t, is_lit = DUSK, core("glyph_cells").is_lit
        wide, high = max(map(len, self.rows), default=0), len(self.rows)
        radius = min(max(_DOT_PX[0], _SHARE * self.cells.apart_mm * camera.zoom), _DOT_PX[1])
        for (x, y), column, row in zip(
            self.cells.places.tolist(), self.cells.columns.tolist(), self.cells.rows.tolist(), strict=True
        ):
            spot = camera.to_screen(x + origin[0], y + origin[1])
            if not seen.contains(spot):
                continue
            inside = column < wide and row < high
            painter.setPen(QPen(t.colour("ring", 1.0 if inside else 0.45), 1.2))
            lit = is_lit(self.rows, column, row)
            painter.setBrush(t.colour("lamp") if lit else t.colour("bench", 0.85) if inside else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(spot, *(2 * (radius if inside else 0.6 * radius,)))
