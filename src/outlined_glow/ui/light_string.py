"""The stages on a wire: a bulb each, its state told by shape as well as by colour."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QKeyEvent, QPainter, QPainterPath, QPaintEvent, QPen, QRadialGradient, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ..core.stages import Stage, stages
from .theme import DUSK, SEMIBOLD, font, theme
from .widgets import Pressable

_PITCH, _TOP, _RADIUS = 84, 56, 11.5
_ABOVE = 31  # what a bulb's surface has above its middle

#: State of a bulb: dark (nothing yet), lit (in order), half (has warnings), broken (stops the order).
DARK, LIT, HALF, BROKEN = "dark", "lit", "half", "broken"
_WORDS = {DARK: "nothing yet", LIT: "no warnings", HALF: "has warnings", BROKEN: "stops the order"}


class Bulb(Pressable):
    """A stage on the wire."""

    stepped = pyqtSignal(int)

    def __init__(self, stage: Stage) -> None:
        super().__init__(Qt.FocusPolicy.ClickFocus)
        self.stage = stage
        self.state = DARK
        self.current = False
        self.middle = 46.0
        self.setAttribute(Qt.WidgetAttribute.WA_Hover)
        self.setProperty("plays", True)

    def show(self, state: str, current: bool, active: bool) -> None:  # type: ignore[override]
        """Change its state; one of the bulbs is the current stage, and without a board all of them rest."""
        self.state, self.current = state if active else DARK, active and current
        self.setEnabled(active)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if self.current else Qt.FocusPolicy.ClickFocus)
        here = ", open" if self.current else ""
        self.setAccessibleName(f"{self.stage.number} {self.stage.title}: {_WORDS[self.state]}{here}")
        self.setToolTip(f"{self.stage.tip} ({self.stage.number}): {_WORDS[self.state]}")
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key())) if event is not None else None
        if step:
            self.stepped.emit(step)
            return
        super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        if self.current:
            painter.setPen(QPen(t.colour("ring"), 1) if self.hasFocus() else Qt.PenStyle.NoPen)
            painter.setBrush(t.colour("card"))
            painter.drawRoundedRect(QRectF(4, 0.5, 84, self.height() - 1), 8, 8)
        self._paint_bulb(painter, QPointF(self.middle, _ABOVE))

    def _paint_bulb(self, painter: QPainter, at: QPointF) -> None:
        t = theme()
        state, stage = self.state, self.stage
        ground = t.colour("card") if self.current else t.colour("sunken")
        painter.setFont(font(14, SEMIBOLD if self.current else QFont.Weight.Normal))
        place = QRectF(0, at.y() + 15, 92, 20)
        # The wire passes behind the words.
        wide = painter.fontMetrics().horizontalAdvance(stage.title) + 8
        painter.fillRect(QRectF(place.center().x() - wide / 2, place.top(), wide, place.height()), ground)
        if state in (LIT, HALF):
            glow = QRadialGradient(at, 30)
            glow.setColorAt(0, t.colour("lamp", 0.42))
            glow.setColorAt(1, t.colour("lamp", 0.0))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(glow)
            painter.drawEllipse(at, 30, 30)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.colour("quiet", 0.75))
        painter.drawRoundedRect(QRectF(at.x() - 4.5, at.y() - 19, 9, 7), 1.5, 1.5)
        edge = {DARK: "quiet", LIT: "lamp", HALF: "lamp", BROKEN: "warn"}[state]
        painter.setPen(QPen(t.colour(edge), 1.6))
        fill = DUSK.colour("honey")
        painter.setBrush(fill if state == LIT else ground)
        painter.drawEllipse(at, _RADIUS, _RADIUS)
        if state == HALF:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(fill)
            painter.drawPie(
                QRectF(at.x() - _RADIUS + 1, at.y() - _RADIUS + 1, 2 * _RADIUS - 2, 2 * _RADIUS - 2), -90 * 16, 180 * 16
            )
        elif state == BROKEN:
            crack = QPainterPath(QPointF(at.x() - 2, at.y() - _RADIUS))
            for dx, dy in ((3, -4), (-3, 0), (3, 4), (-1, _RADIUS)):
                crack.lineTo(at.x() + dx, at.y() + dy)
            painter.setPen(QPen(t.colour("warn"), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(crack)
            painter.drawLine(QPointF(at.x() - 8, at.y() + 3), QPointF(at.x() - 3, at.y() + 1))
            painter.drawLine(QPointF(at.x() + 8, at.y() - 3), QPointF(at.x() + 3, at.y() - 1))
        bright = self.current or state != DARK or self.underMouse()
        painter.setPen(t.colour("text") if bright else t.colour("quiet"))
        painter.drawText(place, int(Qt.AlignmentFlag.AlignHCenter), stage.title)


class LightString(QWidget):
    """Bulbs on a wire; a press, an arrow or a number key goes to a stage."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedWidth(92)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Stages")
        self._current = "artwork"
        self._active = False
        self.bulbs = {stage.key: Bulb(stage) for stage in stages()}
        self._states = dict.fromkeys(self.bulbs, DARK)
        for key, bulb in self.bulbs.items():
            bulb.setParent(self)
            bulb.clicked.connect(lambda _=False, key=key: self.chosen.emit(key))
            bulb.stepped.connect(self._step)
        self._tell()

    def show_states(self, states: dict[str, str]) -> None:
        """Change the bulbs."""
        self._states.update(states)
        self._tell()

    def state(self, key: str) -> str:
        """The state of a stage's bulb."""
        return self._states[key]

    def show_current(self, key: str, active: bool) -> None:
        """Which stage is open; without a board the stages rest."""
        moves = any(bulb.hasFocus() for bulb in self.bulbs.values())
        self._current, self._active = key, active
        self._tell()
        if moves and active:
            self.bulbs[key].setFocus()

    def _tell(self) -> None:
        for key, bulb in self.bulbs.items():
            bulb.show(self._states[key], key == self._current, self._active)

    def _step(self, step: int) -> None:
        keys = list(self.bulbs)
        self.chosen.emit(keys[(keys.index(self._current) + step) % len(keys)])

    def centre(self, key: str) -> QPointF:
        """Where a bulb hangs."""
        place = list(self.bulbs).index(key)
        return QPointF(38 if place % 2 == 0 else 54, _TOP + place * self._pitch())

    def _pitch(self) -> float:
        return min(_PITCH, (self.height() - 90) / max(1, len(self.bulbs) - 1))

    def sizeHint(self) -> QSize:
        return QSize(92, 700)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        high = round(min(72.0, self._pitch()))
        for key, bulb in self.bulbs.items():
            at = self.centre(key)
            bulb.middle = at.x()
            bulb.setGeometry(0, round(at.y()) - _ABOVE, 92, high)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        painter.fillRect(self.rect(), t.colour("sunken"))
        painter.setPen(QPen(t.colour("line"), 1))
        painter.drawLine(self.width() - 1, 0, self.width() - 1, self.height())
        self._wire(painter)

    def _wire(self, painter: QPainter) -> None:
        path = QPainterPath(QPointF(46, 0))
        last = QPointF(46, 0)
        for key in self.bulbs:
            bulb = self.centre(key)
            top = QPointF(bulb.x(), bulb.y() - 19)
            middle = (last.y() + top.y()) / 2
            path.cubicTo(QPointF(last.x(), middle), QPointF(top.x(), middle), top)
            last = top
        end = QPointF(46, self.height())
        path.cubicTo(QPointF(last.x() + 26, last.y() + 30), QPointF(46, last.y() + 60), end)
        painter.setPen(QPen(theme().colour("line"), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)
