"""Flashes of every second as bars under the line of what is allowed; a press goes to that second."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen

from ..theme import theme
from ..widgets import Pressable


class FlashBars(Pressable):
    """A bar for every second of one round; Enter goes to the worst one."""

    chosen = pyqtSignal(float)  # a moment of the score, s

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(56)
        self._seconds: tuple[float, ...] = ()
        self._round_s, self._worst_s, self._allowed = 1.0, 0.0, 3
        self.clicked.connect(lambda _=False: self._press())
        self._x: float | None = None
        self.hide()

    def show_flashes(self, one: Any, round_s: float) -> None:
        """Change the bars to those of the flashes of a round."""
        self._seconds = one.once_round(round_s)
        self._round_s, self._worst_s = round_s, one.worst_s % round_s
        self.setVisible(bool(self._seconds))
        self.setAccessibleName(f"Flashes a second, at most {one.most:g}; go to the worst second")
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self._x = None if event is None else event.position().x()
        super().mousePressEvent(event)

    def _press(self) -> None:
        x, self._x = self._x, None
        if x is None or not self._seconds:
            self.chosen.emit(max(0.0, self._worst_s - 1.0))
            return
        at = min(len(self._seconds) - 1, int(x / max(1, self.width()) * len(self._seconds)))
        self.chosen.emit(min(float(at), 0.999 * self._round_s))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if not self._seconds:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        high = self.height() - 8.0
        most = max(4.5, *self._seconds)
        wide = self.width() / len(self._seconds)
        painter.setPen(Qt.PenStyle.NoPen)
        for at, value in enumerate(self._seconds):
            painter.setBrush(t.colour("warn" if value > self._allowed else "sea"))
            tall = max(2.0, value / most * high)
            painter.drawRoundedRect(QRectF(at * wide + 1, self.height() - 3 - tall, max(1.0, wide - 2), tall), 1.5, 1.5)
        line = self.height() - 3 - self._allowed / most * high
        painter.setPen(QPen(t.colour("warn"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(0, line), QPointF(self.width(), line))
        if self.hasFocus():
            painter.setPen(QPen(t.colour("ring"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 4, 4)
