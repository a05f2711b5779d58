"""A slider for a share from 0 to 1: it tells while it moves, and once more when it is let go."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractSlider

from .theme import theme

_STEPS, _MARGIN, _HIGH = 1000, 9, 26


class ShareSlider(QAbstractSlider):
    """`moved` carries every share it passes, `settled` the one where it stays."""

    moved = pyqtSignal(float)
    settled = pyqtSignal(float)

    def __init__(self, name: str, share: float = 0.0) -> None:
        super().__init__()
        self.setOrientation(Qt.Orientation.Horizontal)
        self.setRange(0, _STEPS)
        self.setSingleStep(_STEPS // 50)
        self.setPageStep(_STEPS // 5)
        self.setFixedHeight(_HIGH)
        self.setMinimumWidth(120)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(name)
        #: Places where it stops; 0: anywhere.
        self.stops = 0
        self._held = False
        self.show_share(share)
        self.valueChanged.connect(self._changed)

    @property
    def share(self) -> float:
        """Where it stands."""
        return self.value() / _STEPS

    def show_share(self, share: float) -> None:
        """Stand there, without a word; what is in the hand stays."""
        if not self._held:
            with QSignalBlocker(self):
                self.setValue(round(share * _STEPS))
            self.update()

    def _changed(self, _value: int) -> None:
        self.moved.emit(self.share)
        if not self._held:
            self.settled.emit(self.share)
        self.update()

    def _take(self, event: QMouseEvent) -> None:
        share = min(max((event.position().x() - _MARGIN) / max(1, self.width() - 2 * _MARGIN), 0.0), 1.0)
        if self.stops > 1:
            share = round(share * (self.stops - 1)) / (self.stops - 1)
        self.setValue(round(share * _STEPS))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._held = True
            self._take(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._held:
            self._take(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._held:
            self._held = False
            self.settled.emit(self.share)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), theme()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        left, right, y = float(_MARGIN), float(self.width() - _MARGIN), self.height() / 2
        x = left + self.share * (right - left)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.colour("sunken"))
        painter.drawRoundedRect(QRectF(left, y - 3, right - left, 6), 3, 3)
        painter.setBrush(t.colour("lamp" if self.isEnabled() else "quiet"))
        painter.drawRoundedRect(QRectF(left, y - 3, x - left, 6), 3, 3)
        if 1 < self.stops <= 40:
            painter.setPen(QPen(t.colour("quiet"), 1))
            for at in range(self.stops):
                spot = left + (right - left) * at / (self.stops - 1)
                painter.drawLine(QPointF(spot, y + 6), QPointF(spot, y + 9))
        painter.setPen(QPen(t.colour("ring"), 2.4) if self.hasFocus() else QPen(t.colour("text"), 1.6))
        painter.setBrush(t.colour("window"))
        painter.drawEllipse(QPointF(x, y), 7, 7)
