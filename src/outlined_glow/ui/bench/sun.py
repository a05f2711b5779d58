"""The sun slider: noon on the left, midnight on the right, the hour in words under it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QLinearGradient, QMouseEvent, QPainter, QPen, QPixmap, QWheelEvent
from PyQt6.QtWidgets import QAbstractSlider

from ..icons import pixmap
from ..theme import font, on_bench
from .kept import Carried, Kept
from .plate import paint_plate

_HOURS = (
    (0.97, "a clear day, noon"),
    (0.86, "afternoon light"),
    (0.74, "late afternoon"),
    (0.62, "the sun low"),
    (0.52, "sunset"),
    (0.42, "dusk"),
    (0.30, "an hour after sunset"),
    (0.18, "nightfall"),
    (0.06, "night"),
    (-1.0, "midnight"),
)
_MARGIN = 34
_STEPS = 1000


class SunSlider(Carried, QAbstractSlider):
    """`changed` carries 1 at noon to 0 at midnight."""

    changed = pyqtSignal(float)

    def __init__(self, sun: float = 1.0) -> None:
        super().__init__()
        self._sun = sun
        self._kept = Kept()
        self.setOrientation(Qt.Orientation.Horizontal)
        self.setRange(0, _STEPS)
        self.setSingleStep(_STEPS // 20)
        self.setPageStep(_STEPS // 5)
        self.setValue(round((1 - sun) * _STEPS))
        self.valueChanged.connect(self._moved)
        self.setFixedSize(420, 48)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName("Sun, from noon to midnight")
        self._describe()

    @property
    def sun(self) -> float:
        """Where the slider stands."""
        return self._sun

    def words(self) -> str:
        """The hour in words."""
        return next(words for least, words in _HOURS if self._sun > least)

    def set_sun(self, sun: float) -> None:
        """Move the slider and tell."""
        sun = min(1.0, max(0.0, sun))
        if sun != self._sun:
            self._sun = sun
            self.setValue(round((1 - sun) * _STEPS))
            self._describe()
            self.update()
            self.changed.emit(sun)

    def _moved(self, value: int) -> None:
        """By a key, or by what reads the screen aloud."""
        if value != round((1 - self._sun) * _STEPS):
            self.set_sun(1 - value / _STEPS)

    def _describe(self) -> None:
        self.setAccessibleDescription(self.words())
        self.setToolTip(f"{self.words()} (N turns noon to night)")

    def _x(self) -> float:
        return _MARGIN + (1 - self._sun) * (self.width() - 2 * _MARGIN)

    def _take(self, event: QMouseEvent) -> None:
        self.set_sun(1 - (event.position().x() - _MARGIN) / (self.width() - 2 * _MARGIN))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._take(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._take(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            self.set_sun(self._sun + (0.04 if event.angleDelta().y() > 0 else -0.04))
            event.accept()

    def picture(self) -> QPixmap:
        return self._kept.of(self, (self._sun, self.hasFocus()), self._draw)

    def _draw(self, painter: QPainter) -> None:
        t = on_bench()
        paint_plate(painter, QRectF(self.rect()))
        left, right, y = _MARGIN, self.width() - _MARGIN, 17
        shade = QLinearGradient(QPointF(left, 0), QPointF(right, 0))
        for place, colour in ((0, "F0DC96"), (0.3, "F2B08A"), (0.52, "C9748A"), (0.75, "4A3560"), (1, "1F1B2E")):
            shade.setColorAt(place, QColor("#" + colour))
        painter.setPen(QPen(t.colour("line"), 0.6))
        painter.setBrush(shade)
        painter.drawRoundedRect(QRectF(left, y - 3, right - left, 6), 3, 3)
        painter.drawPixmap(QPointF(2, y - 10), pixmap("sun", "lamp", 20, bench=True))
        painter.drawPixmap(QPointF(right + 14, y - 8), pixmap("moon", "note", 16, bench=True))
        x = self._x()
        painter.setPen(QPen(t.colour("ring"), 2.4) if self.hasFocus() else QPen(t.colour("text"), 2))
        painter.setBrush(t.colour("window"))
        painter.drawEllipse(QPointF(x, y), 10, 10)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.colour("text"))
        # The knob is a sun that sinks below its horizon.
        sunk = (1 - self._sun) * 12
        painter.setClipRect(QRectF(x - 7, y - 7, 14, 7))
        painter.drawEllipse(QPointF(x, y - 0.5 + sunk - 6 + 6), 6, 6)
        painter.setClipping(False)
        painter.setFont(font(13))
        painter.setPen(t.colour("quiet"))
        wide = 200
        at = min(max(x - wide / 2, 0), self.width() - wide)
        painter.drawText(QRectF(at, 30, wide, 18), int(Qt.AlignmentFlag.AlignHCenter), self.words())
