"""A controller as a body with its pins on two sides; what a pin drives is dragged to another one."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ..theme import theme

_ROW, _BODY, _NUMBER, _TOP = 24, 190, 30, 12
#: So far a press moves before it is a drag, pixels.
_DRAGS = 5
#: Which colour what a pin drives has.
_INK = {"driven": "lamp", "by hand": "honey", "kept": "sea", "spare": "quiet"}


class PinView(QWidget):
    """Draws a table of pins. `chosen` is the number of the pin in hand; `moved` tells which net goes to which pin."""

    chosen = pyqtSignal(str)
    moved = pyqtSignal(str, str)

    def __init__(self) -> None:
        super().__init__()
        self.table: Any = None
        self.number = ""
        self._pressed: QPointF | None = None
        self._dragged = ""
        self._at = QPointF()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("pins of the controller")

    def show_table(self, table: Any) -> None:
        """Show the pins of a controller."""
        self.table = table
        if table is not None and table.line(self.number) is None:
            self.number = table.lines[0].number
        self.updateGeometry()
        self.setFixedHeight(self.sizeHint().height())
        self._tell()
        self.update()

    def sizeHint(self) -> QSize:
        rows = 0 if self.table is None else max(len(self.table.left), len(self.table.right))
        return QSize(560, 2 * _TOP + rows * _ROW)

    def choose(self, number: str) -> None:
        """Take another pin in hand."""
        if number != self.number:
            self.number = number
            self._tell()
            self.update()
        self.chosen.emit(number)

    def _tell(self) -> None:
        line = self.table.line(self.number) if self.table is not None else None
        words = "" if line is None else f"pin {line.number}, {line.name}: {line.drives or line.words}"
        self.setAccessibleDescription(words)

    # -- where things are -----------------------------------------------------------------------------------------

    def _body(self) -> QRectF:
        return QRectF((self.width() - _BODY) / 2, 4, _BODY, self.height() - 8)

    def place_of(self, number: str) -> QRectF:
        """Where what a pin drives is written."""
        body = self._body()
        for left, lines in ((True, self.table.left), (False, self.table.right)):
            for at, line in enumerate(lines):
                if line.number == number:
                    width = body.left() - _NUMBER - 8
                    x = 4.0 if left else body.right() + _NUMBER + 4
                    return QRectF(x, _TOP + at * _ROW + 2, width, _ROW - 4)
        return QRectF()

    def _line_at(self, point: QPointF) -> Any:
        if self.table is None:
            return None
        for line in self.table.lines:
            place = self.place_of(line.number)
            row = QRectF(0 if place.left() < self.width() / 2 else self.width() / 2, place.top() - 2, self.width() / 2, _ROW)
            if row.contains(point):
                return line
        return None

    # -- hands ----------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        line = self._line_at(event.position())
        if line is not None:
            self._pressed = event.position()
            self.choose(line.number)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        line = self.table.line(self.number) if self.table is not None else None
        far = self._pressed is not None and (event.position() - self._pressed).manhattanLength() > _DRAGS
        if far and line is not None and line.takes and line.drives and line.state != "spare":
            self._dragged = line.drives
        self._at = event.position()
        over = self._line_at(self._at)
        grabs = over is not None and over.takes and over.drives and over.state != "spare"
        self.setCursor(Qt.CursorShape.OpenHandCursor if grabs and not self._dragged else Qt.CursorShape.ArrowCursor)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        dragged, self._dragged, self._pressed = self._dragged, "", None
        self.update()
        if event is None or not dragged:
            return
        line = self._line_at(event.position())
        if line is not None and line.takes and line.number != self.number:
            self.choose(line.number)
            self.moved.emit(dragged, line.number)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or self.table is None:
            return
        if event.key() == Qt.Key.Key_Escape and self._dragged:
            self._dragged, self._pressed = "", None
            self.update()
            return
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
            return
        numbers = [line.number for line in self.table.lines]
        self.choose(numbers[(numbers.index(self.number) + step) % len(numbers)])

    # -- the picture ----------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.table is None:
            return
        painter, t, body = QPainter(self), theme(), self._body()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(t.colour("line"), 1.2))
        painter.setBrush(t.colour("sunken"))
        painter.drawRoundedRect(body, 8, 8)
        target = self._line_at(self._at) if self._dragged else None
        for left, lines in ((True, self.table.left), (False, self.table.right)):
            for at, line in enumerate(lines):
                self._paint_pin(painter, line, left, _TOP + at * _ROW, line is target)
        if self._dragged:
            painter.setPen(t.colour("text"))
            box = QRectF(self._at.x() + 10, self._at.y() - 10, 150, 20)
            painter.setBrush(t.colour("card"))
            painter.drawRoundedRect(box, 5, 5)
            painter.drawText(box.adjusted(6, 0, -6, 0), Qt.AlignmentFlag.AlignVCenter, self._dragged)

    def _paint_pin(self, painter: QPainter, line: Any, left: bool, top: float, target: bool) -> None:
        t, body = theme(), self._body()
        place = self.place_of(line.number)
        x = body.left() - _NUMBER + 2 if left else body.right() - 2
        leg = QRectF(x, top + 4, _NUMBER, _ROW - 8)
        in_hand = line.number == self.number
        painter.setPen(
            QPen(t.colour("ring" if in_hand and self.hasFocus() else "lamp" if in_hand else "line"), 1.4 if in_hand else 1)
        )
        painter.setBrush(t.colour("lamp", 0.3) if target and line.takes else t.colour("card"))
        painter.drawRoundedRect(leg, 3, 3)
        painter.setPen(t.colour("text" if line.state != "fixed" else "quiet"))
        painter.drawText(leg, Qt.AlignmentFlag.AlignCenter, line.number)
        side = Qt.AlignmentFlag.AlignLeft if left else Qt.AlignmentFlag.AlignRight
        inner = QRectF(body.left() + 10 if left else body.center().x(), top, body.width() / 2 - 10, _ROW)
        painter.drawText(inner, side | Qt.AlignmentFlag.AlignVCenter, _cut(painter, line.name, inner.width()))
        words = line.drives or ("" if line.kind in ("output", line.name) else line.kind)
        painter.setPen(t.colour(_INK.get(line.state, "quiet")))
        outer = Qt.AlignmentFlag.AlignRight if left else Qt.AlignmentFlag.AlignLeft
        painter.drawText(place, outer | Qt.AlignmentFlag.AlignVCenter, _cut(painter, words, place.width()))


def _cut(painter: QPainter, words: str, width: float) -> str:
    return painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(width))
