"""The score: LEDs down, time across, brightness as it will be; the current under it, a playhead through both."""

from __future__ import annotations

import itertools
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractSlider

from ...core.units import show, show_si
from ..core_door import core
from ..theme import SEMIBOLD, font, theme

_LEFT, _RIGHT, _TOP, _CURRENT = 124, 20, 34, 54
#: A group of a few LEDs among hundreds still has room for its name.
_LEAST = 14.0
#: What strips are drawn on: the bench at dusk.
_GROUND = (0x17, 0x14, 0x1B)
_COLUMNS = 240


class Score(QAbstractSlider):
    """Rises over the ledger on Motion; a drag scrubs."""

    scrubbed = pyqtSignal(float)

    def __init__(self) -> None:
        super().__init__()
        self.setOrientation(Qt.Orientation.Horizontal)
        self.setRange(0, _COLUMNS)
        self.setSingleStep(_COLUMNS // 60)
        self.setPageStep(_COLUMNS // 6)
        self.setFixedHeight(214)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Score: one period of the pattern")
        self.setProperty("plays", True)
        self._groups: list[tuple[str, int]] = []
        self._strip: QImage | None = None
        self._curve: list[float] = []
        self._average_a = 0.0
        self._period = 1.0
        self._time = 0.0
        self._wish = False

    def show_work(self, work: Any) -> None:
        """Draw the strips of a board's pattern."""
        motion = work.project.motion
        self._period, self._wish = motion.seconds, not core("facts").shown_truly(work)
        _, self._average_a, _ = core("facts").currents(work)
        if not work.leds:
            self._strip, self._curve, self._groups = None, [], []
            self.update()
            return
        made = core("strips").strips(motion, work.lamps, _COLUMNS, _GROUND)
        self._groups, self._curve = list(made.groups), list(made.curve)
        count = made.pixels.shape[0]
        self._strip = QImage(made.pixels.tobytes(), _COLUMNS, count, 3 * _COLUMNS, QImage.Format.Format_RGB888).copy()
        self.update()

    def show_time(self, time_s: float) -> None:
        """Move the playhead."""
        self._time = time_s % self._period
        with QSignalBlocker(self):
            self.setValue(round(self._time / self._period * _COLUMNS))
        self.update()

    def _scrub(self, x: float) -> None:
        share = (x - _LEFT) / max(1, self.width() - _LEFT - _RIGHT)
        self.scrubbed.emit(min(0.9999, max(0.0, share)) * self._period)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._strip is not None:
            self._scrub(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._strip is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._scrub(event.position().x())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key())) if event is not None else None
        if step and self._strip is not None:
            self.scrubbed.emit((self._time + step * self._period / 60) % self._period)
            return
        super().keyPressEvent(event)

    def sliderChange(self, change: QAbstractSlider.SliderChange) -> None:
        """Moved by a key of the slider, or by what reads the screen aloud."""
        super().sliderChange(change)
        if change == QAbstractSlider.SliderChange.SliderValueChange and self._strip is not None and not self.signalsBlocked():
            self.scrubbed.emit(min(0.9999, self.value() / _COLUMNS) * self._period)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        painter.fillRect(self.rect(), t.colour("window"))
        painter.setPen(QPen(t.colour("line"), 1))
        painter.drawLine(0, 0, self.width(), 0)
        painter.setFont(font(14, SEMIBOLD))
        painter.setPen(t.colour("text"))
        painter.drawText(QRectF(16, 8, 80, 20), 0, "Score")
        painter.setFont(font(13))
        if self._wish:
            painter.setPen(t.colour("honey"))
            painter.drawText(QRectF(62, 9, 60, 20), 0, "preview")
        if self._strip is None:
            painter.setPen(t.colour("quiet"))
            painter.drawText(self.rect(), int(Qt.AlignmentFlag.AlignCenter), "no lights yet: add some on Lights (4)")
            return
        self._paint_times(painter)
        self._paint_strips(painter)
        self._paint_current(painter)
        x = _LEFT + self._time / self._period * (self.width() - _LEFT - _RIGHT)
        painter.setPen(QPen(t.colour("ring" if self.hasFocus() else "text"), 1.6))
        painter.drawLine(QPointF(x, _TOP - 6), QPointF(x, self.height() - 8))
        painter.setBrush(t.colour("text"))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QPointF(x, _TOP - 7), 4, 4)

    def _paint_times(self, painter: QPainter) -> None:
        t = theme()
        wide = self.width() - _LEFT - _RIGHT
        painter.setPen(t.colour("quiet"))
        for part in range(5):
            words = f"{show(self._period * part / 4, 2)}{' s' if part in (0, 4) else ''}"
            x = _LEFT + wide * part / 4
            align = {0: Qt.AlignmentFlag.AlignLeft, 4: Qt.AlignmentFlag.AlignRight}.get(part, Qt.AlignmentFlag.AlignHCenter)
            left = {0: x, 4: x - 60}.get(part, x - 30)
            painter.drawText(QRectF(left, 8, 60, 18), int(align), words)

    def _paint_strips(self, painter: QPainter) -> None:
        assert self._strip is not None
        t = theme()
        wide = self.width() - _LEFT - _RIGHT
        high = self.height() - _TOP - _CURRENT - 14
        total = sum(size for _, size in self._groups)
        gap = 4.0
        room = high - gap * (len(self._groups) - 1)
        least = min(_LEAST, room / len(self._groups))
        y, row = float(_TOP), 0
        for name, size in self._groups:
            tall = least + (room - least * len(self._groups)) * size / total
            unit = tall / size
            painter.drawImage(QRectF(_LEFT, y, wide, tall), self._strip, QRectF(0, row, _COLUMNS, size))
            if unit >= 3:
                painter.setPen(QPen(QColor("#17141B"), 0.7))
                for line in range(1, size):
                    painter.drawLine(QPointF(_LEFT, y + unit * line), QPointF(_LEFT + wide, y + unit * line))
            painter.setPen(t.colour("text"))
            words = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, _LEFT - 50)
            painter.drawText(QRectF(16, y, _LEFT - 46, tall), int(Qt.AlignmentFlag.AlignVCenter), words)
            painter.setPen(t.colour("quiet"))
            area = QRectF(_LEFT - 34, y, 24, tall)
            painter.drawText(area, int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight), str(size))
            y, row = y + tall + gap, row + size

    def _paint_current(self, painter: QPainter) -> None:
        t = theme()
        wide = self.width() - _LEFT - _RIGHT
        top, base = self.height() - _CURRENT - 4, self.height() - 10
        painter.fillRect(QRectF(_LEFT, top, wide, base - top), t.colour("sunken"))
        painter.setPen(t.colour("text"))
        painter.drawText(QRectF(16, top, 100, 18), 0, "current")
        painter.setPen(t.colour("quiet"))
        painter.drawText(QRectF(16, top + 17, 106, 18), 0, f"average {show_si(self._average_a, 'A')}")
        painter.setPen(QPen(t.colour("lamp"), 1.5))
        points = [
            QPointF(_LEFT + wide * (place + 0.5) / _COLUMNS, base - 2 - value * (base - top - 6))
            for place, value in enumerate(self._curve)
        ]
        for one, other in itertools.pairwise(points):
            painter.drawLine(one, other)
