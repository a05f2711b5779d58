"""A letter that is painted pixel by pixel."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ..theme import theme

_TALL, _MOST_PX = 150, 20.0
_STEPS = {
    Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1),
}  # fmt: skip


class GlyphField(QWidget):
    """A press lights a pixel or puts it out, a drag goes on so; the arrows move the pixel in hand, Space turns it."""

    painted = pyqtSignal(str)  # the rows, as the key takes them

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(_TALL)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Pixels of the letter")
        self.setToolTip("Press or drag over pixels; with the keys: arrows, and Space to turn one")
        self._lit: list[list[bool]] = [[False] * 5 for _ in range(7)]
        self._hand = (0, 0)
        self._brush: bool | None = None

    def show_rows(self, rows: Sequence[str]) -> None:
        """Show a letter, unless somebody is painting."""
        if self._brush is None:
            self._lit = [[sign == "#" for sign in row] for row in rows] or [[False]]
            self._hand = (min(self._hand[0], self.wide - 1), min(self._hand[1], self.high - 1))
            self.update()

    @property
    def wide(self) -> int:
        """How many columns it has."""
        return len(self._lit[0])

    @property
    def high(self) -> int:
        """How many rows it has."""
        return len(self._lit)

    @property
    def rows(self) -> str:
        """The letter, as the key takes it."""
        return " ".join("".join("#" if lit else "." for lit in row) for row in self._lit)

    def spot_of(self, column: int, row: int) -> QPointF:
        """Where the middle of a pixel lies on the screen."""
        side, left, top = self._frame()
        return QPointF(left + (column + 0.5) * side, top + (row + 0.5) * side)

    def _frame(self) -> tuple[float, float, float]:
        """The side of a pixel, and where the first one begins."""
        side = min(self.width() / self.wide, self.height() / self.high, _MOST_PX)
        return side, (self.width() - side * self.wide) / 2, (self.height() - side * self.high) / 2

    def _at(self, spot: QPointF) -> tuple[int, int] | None:
        side, left, top = self._frame()
        column, row = int((spot.x() - left) // side), int((spot.y() - top) // side)
        return (column, row) if 0 <= column < self.wide and 0 <= row < self.high else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        at = self._at(event.position()) if event is not None and event.button() == Qt.MouseButton.LeftButton else None
        if at is not None:
            self._brush = not self._lit[at[1]][at[0]]
            self._paint(at)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        at = self._at(event.position()) if event is not None and self._brush is not None else None
        if at is not None:
            self._paint(at)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._brush is not None:
            self._brush = None
            self.painted.emit(self.rows)

    def _paint(self, at: tuple[int, int]) -> None:
        self._hand = at
        self._lit[at[1]][at[0]] = bool(self._brush)
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = _STEPS.get(Qt.Key(event.key()))
        if step is not None:
            x, y = self._hand
            self._hand = min(max(x + step[0], 0), self.wide - 1), min(max(y + step[1], 0), self.high - 1)
            self.update()
        elif event.key() == Qt.Key.Key_Space:
            x, y = self._hand
            self._lit[y][x] = not self._lit[y][x]
            self.update()
            self.painted.emit(self.rows)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t, painter = theme(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        side, _, _ = self._frame()
        radius = 0.42 * side
        for row, line in enumerate(self._lit):
            for column, lit in enumerate(line):
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(t.colour("lamp") if lit else t.colour("sunken"))
                painter.drawEllipse(self.spot_of(column, row), radius, radius)
        if self.hasFocus():
            middle = self.spot_of(*self._hand)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(t.colour("sea"))
            painter.drawRect(QRectF(middle.x() - side / 2, middle.y() - side / 2, side, side))
