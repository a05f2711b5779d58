"""A part of the circuit drawn as a block with its pins, their nets, and what lies on them."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from ..theme import SEMIBOLD, font, theme

_ROW, _BODY, _LEG, _HEAD = 22, 150, 26, 30


class BlockView(QWidget):
    """The part in hand; a line for each pin that is joined to something."""

    def __init__(self) -> None:
        super().__init__()
        self._block: Any = None
        self.setMinimumHeight(150)

    def show_block(self, block: Any) -> None:
        """Another part; None for none."""
        self._block = block
        rows = max((len(block.left), len(block.right)), default=0) if block is not None else 0
        self.setFixedHeight(max(90, _HEAD + rows * _ROW + 14))
        words = "no part in hand"
        if block is not None:
            pins = "; ".join(f"{one.number} {one.name}: {_told(one)}" for one in (*block.left, *block.right))
            words = f"{block.reference} {block.value}: {pins}"
        self.setAccessibleName("the part as a block")
        self.setAccessibleDescription(words)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        painter.setFont(font(13))
        if self._block is None:
            painter.setPen(t.colour("quiet"))
            painter.drawText(self.rect(), int(Qt.AlignmentFlag.AlignCenter), "choose a row: its part is drawn here")
            return
        middle = self.width() / 2
        body = QRectF(middle - _BODY / 2, 4, _BODY, self.height() - 8)
        painter.setPen(QPen(t.colour("lamp"), 1.4))
        painter.setBrush(t.colour("card"))
        painter.drawRoundedRect(body, 6, 6)
        painter.setPen(t.colour("text"))
        painter.setFont(font(13, SEMIBOLD))
        head = QRectF(body.left() + 6, body.top() + 3, _BODY - 12, _HEAD - 8)
        title = f"{self._block.reference} {self._block.value}".strip()
        words = painter.fontMetrics().elidedText(title, Qt.TextElideMode.ElideRight, int(head.width()))
        painter.drawText(head, int(Qt.AlignmentFlag.AlignCenter), words)
        painter.setFont(font(12))
        for pins, left in ((self._block.left, True), (self._block.right, False)):
            for at, pin in enumerate(pins):
                self._paint_pin(painter, pin, body, _HEAD + at * _ROW, left)

    def _paint_pin(self, painter: QPainter, pin: Any, body: QRectF, y: float, left: bool) -> None:
        t = theme()
        edge = body.left() if left else body.right()
        out = edge - _LEG if left else edge + _LEG
        level = y + _ROW / 2
        painter.setPen(QPen(t.colour("text" if pin.net else "line"), 1.2))
        painter.drawLine(QPointF(edge, level), QPointF(out, level))
        side = Qt.AlignmentFlag.AlignLeft if left else Qt.AlignmentFlag.AlignRight
        away = Qt.AlignmentFlag.AlignRight if left else Qt.AlignmentFlag.AlignLeft
        middle = Qt.AlignmentFlag.AlignVCenter
        inside = QRectF(body.left() + 8, y, _BODY - 16, _ROW)
        half = QRectF(inside.left(), y, inside.width() / 2 + 14, _ROW)
        if not left:
            half.moveRight(inside.right())
        name = painter.fontMetrics().elidedText(pin.name or pin.number, Qt.TextElideMode.ElideRight, int(half.width()))
        painter.setPen(t.colour("quiet"))
        painter.drawText(half, int(side | middle), name)
        painter.drawText(QRectF(min(edge, out), y - 4, _LEG, _ROW / 2 + 4), int(Qt.AlignmentFlag.AlignHCenter), pin.number)
        for step in pin.way:
            out = self._paint_step(painter, step, out, level, -1 if left else 1)
        painter.setPen(QPen(t.colour("text" if pin.net else "line"), 1.2))
        room = QRectF(6, y, out - 14, _ROW) if left else QRectF(out + 8, y, self.width() - out - 14, _ROW)
        words = pin.others or (pin.net if pin.way else pin.net or "not joined")
        painter.setPen(t.colour("text" if pin.net else "quiet"))
        fitted = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideMiddle, int(room.width()))
        painter.drawText(room, int(away | middle), fitted)

    def _paint_step(self, painter: QPainter, step: Any, at: float, level: float, way: int) -> float:
        """A part that a pin leads through, with its name in it; where its far end is."""
        t = theme()
        words = f"{step.words} {step.value}".strip() if step.kind != "led" else step.words
        wide = painter.fontMetrics().horizontalAdvance(words) + 12
        start, end = (at + way * 6, at + way * (6 + wide))
        painter.setPen(QPen(t.colour("text"), 1.2))
        painter.drawLine(QPointF(at, level), QPointF(start, level))
        body = QRectF(min(start, end), level - 8, wide, 16)
        if step.kind == "led":
            tip = way if step.away else -way
            back, front = (body.left(), body.right()) if tip > 0 else (body.right(), body.left())
            painter.setBrush(t.colour("lamp", 0.25))
            painter.setPen(QPen(t.colour("lamp"), 1.2))
            painter.drawPolygon(QPolygonF([QPointF(back, level - 9), QPointF(back, level + 9), QPointF(front, level)]))
            painter.drawLine(QPointF(front, level - 8), QPointF(front, level + 8))
        else:
            painter.setBrush(t.colour("card"))
            painter.drawRoundedRect(body, 3, 3)
        painter.setPen(t.colour("text"))
        painter.drawText(body, int(Qt.AlignmentFlag.AlignCenter), words)
        painter.setPen(QPen(t.colour("text"), 1.2))
        painter.drawLine(QPointF(end, level), QPointF(end + way * 8, level))
        return end + way * 8


def _told(pin: Any) -> str:
    """A pin with the way from it, in words."""
    steps = [f"{step.words} {step.value}".strip() for step in pin.way]
    return " – ".join([*steps, pin.others or pin.net or "not joined"])
