"""The score: its strips in rows, or the one pattern, LEDs down and time across; the current below, a playhead through it."""

from __future__ import annotations

import itertools
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QAbstractSlider

from ...core.units import show_si
from ..core_door import core
from ..theme import SEMIBOLD, font, theme
from .lanes import GROUND, Lanes
from .score_marks import marker_at, paint_first_second, paint_markers, paint_quarters, paint_scenes, paint_start, paint_times

_LEFT, _RIGHT, _TOP, _CURRENT = 124, 20, 34, 54
#: So wide the first second after power-on is, where it is another one.
_START = 96
#: A group of a few LEDs among hundreds still has room for its name.
_LEAST = 14.0
_COLUMNS = 240
_SIDEWAYS = Qt.CursorShape.SizeHorCursor
#: What the pointer is over the start, the end, all of a strip, or none.
_CURSORS = {"start": _SIDEWAYS, "end": _SIDEWAYS, "all": Qt.CursorShape.OpenHandCursor, "": Qt.CursorShape.ArrowCursor}
#: So high it is with a few rows, and at most; a row of strips is no lower than this while there is room.
_HIGH, _HIGHEST, _ROW = 214, 330, 30


class Score(QAbstractSlider):
    """Rises over the ledger on Motion. A strip is dragged, stretched at its ends, changed by keys; a drag elsewhere scrubs."""

    scrubbed = pyqtSignal(float)
    chosen = pyqtSignal(int)  # the number of a strip, 0 for none
    wanted = pyqtSignal(str, object)  # an edit and its values
    grown = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setOrientation(Qt.Orientation.Horizontal)
        self.setRange(0, _COLUMNS)
        self.setSingleStep(_COLUMNS // 60)
        self.setPageStep(_COLUMNS // 6)
        self.setFixedHeight(_HIGH)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Score")
        self.setMouseTracking(True)
        self.setProperty("plays", True)
        self._groups: list[tuple[str, int]] = []
        self._strip: QImage | None = None
        self._curve: list[float] = []
        #: The current without a limit, where that is another one.
        self._wanted: list[float] = []
        self._average_a = 0.0
        self._period = 1.0
        self._time = 0.0
        self._wish = False
        self.lanes = Lanes()
        #: The stretch that is played again and again, s; None for all of it.
        self.loop: tuple[float, float] | None = None
        self._from_s: float | None = None
        #: The marker in the hand, and where that has it.
        self._marker: tuple[str, float] | None = None
        self._scenes: tuple[Any, ...] = ()
        self._start: dict[str, Any] = {}
        self.strip = 0

    def show_work(self, work: Any) -> None:
        """Draw the score of a board, or its pattern."""
        motion = work.project.motion
        self._period, self._wish = motion.seconds, not core("facts").shown_truly(work)
        _, self._average_a, _ = core("facts").currents(work)
        self.lanes.show(motion, work.lamps)
        self._scenes = motion.scenes
        self._start = core("motion_facts").start_of_groups(work)
        self._place_lanes()
        if self.loop is not None and self.loop[1] > motion.seconds + 1e-6:
            self.loop = None
        if self.strip not in {one.number for one in motion.score}:
            self.choose(0)
        self._grow()
        if not work.leds:
            self._strip, self._curve, self._wanted, self._groups = None, [], [], []
            self.update()
            return
        made = core("strips").strips(motion, work.lamps, _COLUMNS, GROUND)
        self._groups, self._curve, self._wanted = list(made.groups), list(made.curve), list(made.wanted)
        count = made.pixels.shape[0]
        self._strip = QImage(made.pixels.tobytes(), _COLUMNS, count, 3 * _COLUMNS, QImage.Format.Format_RGB888).copy()
        self.update()

    def _grow(self) -> None:
        """As high as the rows of strips ask for."""
        high = min(_HIGHEST, max(_HIGH, _TOP + _CURRENT + self._between + _ROW * self.lanes.rows))
        if high != self.height():
            self.setFixedHeight(high)
            self.grown.emit()

    @property
    def _between(self) -> int:
        """The room between the rows and the current: scenes lie in it."""
        return 34 if self._scenes and self.lanes.strips else 14

    @property
    def _left(self) -> int:
        """Where time begins: the first second lies before it, on a scale of its own."""
        return _LEFT + (_START + 8 if self._start and not self.lanes.strips else 0)

    def _place_lanes(self) -> None:
        self.lanes.area = QRectF(
            self._left, _TOP, self.width() - self._left - _RIGHT, self.height() - _TOP - _CURRENT - self._between
        )

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._place_lanes()

    def choose(self, number: int) -> None:
        """Take a strip in hand, 0 for none."""
        if number != self.strip:
            self.strip = number
            self.chosen.emit(number)
            self.update()

    @property
    def span_s(self) -> float:
        """How much time is in view."""
        return self.lanes.span_s if self.lanes.strips else self._period

    @property
    def time_s(self) -> float:
        """Where the playhead is."""
        return self._time

    def show_time(self, time_s: float) -> None:
        """Move the playhead."""
        self._time = time_s % self._period
        with QSignalBlocker(self):
            self.setValue(round(self._time / self._period * _COLUMNS))
        self.update()

    def _moment_at(self, x: float) -> float:
        share = (x - self._left) / max(1, self.width() - self._left - _RIGHT)
        return min(max(0.0, share * self.span_s), self._period)

    def _scrub(self, x: float) -> None:
        share = (x - self._left) / max(1, self.width() - self._left - _RIGHT)
        self.scrubbed.emit(min(0.9999 * self._period, max(0.0, share) * self.span_s))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._strip is None or event.button() != Qt.MouseButton.LeftButton:
            return
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._from_s, self.loop = self._moment_at(event.position().x()), None
            self.update()
            return
        marker = marker_at(self.lanes, self.lanes.markers, event.position()) if self.lanes.strips else None
        if marker is not None:
            self._marker = marker.name, marker.at_s
            self.scrubbed.emit(min(marker.at_s, 0.9999 * self._period))
            return
        hit = self.lanes.at(event.position()) if self.lanes.strips else None
        if hit is None:
            if self.lanes.area.contains(event.position()):
                self.choose(0)
            self._scrub(event.position().x())
            return
        self.choose(hit[0].number)
        self.lanes.take(*hit, event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._strip is None:
            return
        if not event.buttons() & Qt.MouseButton.LeftButton:
            hit = self.lanes.at(event.position()) if self.lanes.strips else None
            self.setCursor(_CURSORS["" if hit is None else hit[1]])
        elif self._from_s is not None:
            now = self._moment_at(event.position().x())
            low, high = min(self._from_s, now), max(self._from_s, now)
            self.loop = (low, high) if high - low > 0.02 * self._period else None
            self.update()
        elif self._marker is not None:
            self._marker = self._marker[0], self.lanes.snapped(self.lanes.time_at(event.position().x()))
            self.update()
        elif self.lanes.hold is not None:
            self.lanes.drag(event.position())
            self.update()
        else:
            self._scrub(event.position().x())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        hold, self._from_s = self.lanes.hold, None
        marker, self._marker = self._marker, None
        if marker is not None:
            was = next((one.at_s for one in self.lanes.markers if one.name == marker[0]), marker[1])
            if abs(was - marker[1]) > 1e-9:
                self.wanted.emit("set-marker", {"name": marker[0], "at_s": marker[1]})
            self.update()
        if hold is not None:
            changed = self.lanes.let_go()
            if changed:
                self.wanted.emit("set-strip", {"number": hold.strip.number, **changed})
            self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or self._strip is None:
            super().keyPressEvent(event)
            return
        key = Qt.Key(event.key())
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key)
        shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if step and self.strip and (shift or event.modifiers() & Qt.KeyboardModifier.ControlModifier):
            self._nudge(step, shift)
        elif step:
            self.scrubbed.emit((self._time + step * self._period / 60) % self._period)
        elif not self._on_strips(key, shift):
            super().keyPressEvent(event)

    def _in_hand(self) -> Any:
        """The strip in hand; None where there is none, or its board is still being made."""
        return next((one for one in self.lanes.strips if one.number == self.strip), None)

    def _nudge(self, step: int, stretch: bool) -> None:
        """Move the strip in hand by a beat, or its end."""
        one, beat = self._in_hand(), self.lanes.beat_s()
        if one is None:
            return
        if stretch:
            length = (one.end_s - one.start_s + step * beat) / one.repeats
            self.wanted.emit("set-strip", {"number": one.number, "length_s": max(beat / one.repeats, length)})
        elif one.start_s + step * beat >= 0:
            self.wanted.emit("set-strip", {"number": one.number, "start_s": round(one.start_s + step * beat, 6)})

    def _on_strips(self, key: Qt.Key, shift: bool) -> bool:
        """What a key does to the strip in hand, or which strip it takes; False where it is no such key."""
        order = [one.number for one in sorted(self.lanes.strips, key=lambda one: (-one.row, one.start_s))]
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and order:
            at = order.index(self.strip) if self.strip in order else -1
            self.choose(order[(at + (1 if key == Qt.Key.Key_Down else -1)) % len(order)])
            return True
        if key == Qt.Key.Key_P and order:
            self.wanted.emit("set-marker", {"name": self.lanes.new_marker(), "at_s": round(self._time, 3)})
            return True
        one = self._in_hand()
        if one is None:
            return False
        edits: dict[Qt.Key, tuple[str, dict[str, Any]]] = {
            Qt.Key.Key_Delete: ("remove-strip", {}),
            Qt.Key.Key_D: ("copy-strip", {}),
            Qt.Key.Key_S: ("split-strip", {"at_s": self._time}),
            Qt.Key.Key_M: ("set-strip", {"muted": not one.muted}),
            Qt.Key.Key_R: ("set-strip", {"repeats": min(max(1, one.repeats + (-1 if shift else 1)), 1000)}),
        }
        if key not in edits:
            return False
        name, values = edits[key]
        self.wanted.emit(name, {"number": self.strip, **values})
        return True

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
        if self.lanes.strips:
            paint_times(painter, self.lanes)
        else:
            if self._start:
                paint_first_second(painter, _LEFT, _START)
            paint_quarters(painter, self._left, self.width() - self._left - _RIGHT, self.span_s)
        if self.loop is not None:
            low, high = (self._left + at / self.span_s * (self.width() - self._left - _RIGHT) for at in self.loop)
            painter.fillRect(QRectF(low, _TOP - 8, high - low, 5), t.colour("lamp"))
        if self.lanes.strips:
            self._paint_lanes(painter)
            if self._scenes:
                paint_scenes(painter, self.lanes, self._scenes, self._left)
            paint_markers(painter, self.lanes, self.lanes.markers, self._marker)
        else:
            self._paint_strips(painter)
        self._paint_current(painter)
        x = self._left + self._time / self.span_s * (self.width() - self._left - _RIGHT)
        if self.lanes.strips:  # they lie on a dark ground in both themes
            painter.setPen(QPen(t.colour("window"), 3.6))
            painter.drawLine(QPointF(x, _TOP), QPointF(x, self.lanes.area.bottom()))
        painter.setPen(QPen(t.colour("ring" if self.hasFocus() else "text"), 1.6))
        painter.drawLine(QPointF(x, _TOP - 6), QPointF(x, self.height() - 8))
        painter.setBrush(t.colour("text"))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QPointF(x, _TOP - 7), 4, 4)

    def _paint_strips(self, painter: QPainter) -> None:
        assert self._strip is not None
        t = theme()
        wide = self.width() - self._left - _RIGHT
        high = self.height() - _TOP - _CURRENT - 14
        total = sum(size for _, size in self._groups)
        gap = 4.0
        room = high - gap * (len(self._groups) - 1)
        least = min(_LEAST, room / len(self._groups))
        y, row = float(_TOP), 0
        for name, size in self._groups:
            tall = least + (room - least * len(self._groups)) * size / total
            unit = tall / size
            if name in self._start:
                paint_start(painter, QRectF(_LEFT, y, _START, tall), self._start[name])
            painter.drawImage(QRectF(self._left, y, wide, tall), self._strip, QRectF(0, row, _COLUMNS, size))
            if unit >= 3:
                painter.setPen(QPen(QColor("#17141B"), 0.7))
                for line in range(1, size):
                    painter.drawLine(QPointF(self._left, y + unit * line), QPointF(self._left + wide, y + unit * line))
            painter.setPen(t.colour("text"))
            words = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, _LEFT - 50)
            painter.drawText(QRectF(16, y, _LEFT - 46, tall), int(Qt.AlignmentFlag.AlignVCenter), words)
            painter.setPen(t.colour("quiet"))
            area = QRectF(_LEFT - 34, y, 24, tall)
            painter.drawText(area, int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight), str(size))
            y, row = y + tall + gap, row + size

    def _paint_lanes(self, painter: QPainter) -> None:
        t = theme()
        self.lanes.paint(painter, self.strip)
        painter.setFont(font(13))
        high = self.lanes.area.height() / max(1, self.lanes.rows)
        for row in range(1, self.lanes.rows + 1):
            there = [one for one in self.lanes.strips if one.row == row]
            each = {"picked LEDs" if one.leds else core("motion_facts").limits_words(one) or "all LEDs" for one in there}
            words = each.pop() if len(each) == 1 else f"row {row}"
            painter.setPen(t.colour("text" if any(one.number == self.strip for one in there) else "quiet"))
            area = QRectF(16, _TOP + (self.lanes.rows - row) * high, _LEFT - 24, high - 3)
            shown = painter.fontMetrics().elidedText(words if there else "", Qt.TextElideMode.ElideRight, _LEFT - 26)
            if high >= 12:
                painter.drawText(area, int(Qt.AlignmentFlag.AlignVCenter), shown)

    def _paint_current(self, painter: QPainter) -> None:
        t = theme()
        wide = self.width() - self._left - _RIGHT
        top, base = self.height() - _CURRENT - 4, self.height() - 10
        painter.fillRect(QRectF(self._left, top, wide, base - top), t.colour("sunken"))
        painter.setPen(t.colour("text"))
        painter.drawText(QRectF(16, top, 100, 18), 0, "current")
        painter.setPen(t.colour("quiet"))
        painter.drawText(QRectF(16, top + 17, 106, 18), 0, f"average {show_si(self._average_a, 'A')}")
        for curve, pen in (
            (self._wanted, QPen(t.colour("warn"), 1, Qt.PenStyle.DotLine)), (self._curve, QPen(t.colour("lamp"), 1.5)),
        ):  # fmt: skip
            painter.setPen(pen)
            unit = wide * self._period / self.span_s / _COLUMNS
            points = [
                QPointF(self._left + unit * (place + 0.5), base - 2 - value * (base - top - 6))
                for place, value in enumerate(curve)
            ]
            for one, other in itertools.pairwise(points):
                painter.drawLine(one, other)
