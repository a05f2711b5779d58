"""The ways to drive LEDs as small drawings: supply above, ground below, a sign for each thing between them."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QListView, QListWidget, QListWidgetItem, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from ..core_door import core
from ..theme import SEMIBOLD, font, theme

_KEY, _STATE, _CHOSEN = Qt.ItemDataRole.UserRole, Qt.ItemDataRole.UserRole + 1, Qt.ItemDataRole.UserRole + 2
_CARD = QSize(160, 84)


def paint_sketch(painter: QPainter, room: QRectF, rows: Sequence[str], quiet: bool = False) -> None:
    """A drawing from its rows of signs, as large as there is room for it."""
    t = theme()
    cell = min(room.width() / len(rows[0]), room.height() / len(rows))
    left = room.center().x() - cell * len(rows[0]) / 2
    top = room.center().y() - cell * len(rows) / 2
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(t.colour("quiet" if quiet else "text"), 1.2))
    for down, row in enumerate(rows):
        for chip in re.finditer(r"[\[=\]]+", row):
            begin, end = left + chip.start() * cell, left + chip.end() * cell
            painter.fillRect(QRectF(begin, top + down * cell, end - begin, cell), t.colour("sea", 0.65))
        for across, sign in enumerate(row):
            box = QRectF(left + across * cell, top + down * cell, cell, cell)
            _SIGNS.get(sign, _nothing)(painter, box, (row[across - 1 : across], row[across + 1 : across + 2]))
    painter.restore()


_Beside = tuple[str, str]


def _nothing(painter: QPainter, box: QRectF, beside: _Beside) -> None:
    """No sign."""


def _across(painter: QPainter, box: QRectF, beside: _Beside = ("", "")) -> None:
    y = box.center().y()
    painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))


def _down(painter: QPainter, box: QRectF, beside: _Beside = ("", "")) -> None:
    x = box.center().x()
    painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))


def _join(painter: QPainter, box: QRectF, beside: _Beside) -> None:
    middle = box.center()
    if beside[0].strip():
        painter.drawLine(QPointF(box.left(), middle.y()), middle)
    if beside[1].strip():
        painter.drawLine(middle, QPointF(box.right(), middle.y()))
    painter.setBrush(painter.pen().color())
    painter.drawEllipse(middle, 1.6, 1.6)


def _terminal(painter: QPainter, box: QRectF, beside: _Beside) -> None:
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(box.center(), 2.4, 2.4)
    painter.drawLine(QPointF(box.center().x() + 2.4, box.center().y()), QPointF(box.right(), box.center().y()))


def _resistor(painter: QPainter, box: QRectF, beside: _Beside, upright: bool = True) -> None:
    (_down if upright else _across)(painter, box)
    body = box.adjusted(box.width() * 0.32, box.height() * 0.14, -box.width() * 0.32, -box.height() * 0.14)
    if not upright:
        body = box.adjusted(box.width() * 0.14, box.height() * 0.32, -box.width() * 0.14, -box.height() * 0.32)
    painter.setBrush(theme().colour("card"))
    painter.drawRect(body)


def _led(painter: QPainter, box: QRectF, beside: _Beside, way: str = "down") -> None:
    (_across if way == "across" else _down)(painter, box)
    x, y, reach = box.center().x(), box.center().y(), min(box.width(), box.height()) * 0.34
    shape = {
        "down": ((x - reach, y - reach), (x + reach, y - reach), (x, y + reach)),
        "up": ((x - reach, y + reach), (x + reach, y + reach), (x, y - reach)),
        "across": ((x - reach, y - reach), (x - reach, y + reach), (x + reach, y)),
    }[way]
    pen = painter.pen()
    painter.setPen(QPen(theme().colour("lamp"), 1.2))
    painter.setBrush(theme().colour("lamp"))
    painter.drawPolygon(QPolygonF([QPointF(*point) for point in shape]))
    painter.setPen(pen)


def _switch(painter: QPainter, box: QRectF, beside: _Beside) -> None:
    middle = box.center()
    painter.drawLine(QPointF(middle.x(), box.top()), QPointF(middle.x(), middle.y() - 3))
    painter.drawLine(QPointF(middle.x() - 4, middle.y() - 2), QPointF(middle.x(), middle.y() + 4))
    painter.drawLine(QPointF(middle.x(), middle.y() + 4), QPointF(middle.x(), box.bottom()))


def _pixel(painter: QPainter, box: QRectF, beside: _Beside) -> None:
    side = min(box.width(), box.height()) * 0.8
    body = QRectF(box.center().x() - side / 2, box.center().y() - side / 2, side, side)
    painter.setBrush(theme().colour("lamp"))
    painter.drawRoundedRect(body, 2, 2)


def _lamp(painter: QPainter, box: QRectF, beside: _Beside) -> None:
    _down(painter, box)
    painter.setBrush(theme().colour("honey"))
    painter.drawEllipse(box.center(), box.width() * 0.34, box.width() * 0.34)


def _tube(painter: QPainter, box: QRectF, beside: _Beside) -> None:
    _down(painter, box)
    painter.setBrush(theme().colour("warn", 0.7))
    painter.drawRoundedRect(box.adjusted(box.width() * 0.15, 0, -box.width() * 0.15, 0), 4, 4)


def _digit(painter: QPainter, box: QRectF, beside: _Beside) -> None:
    painter.save()
    painter.setPen(theme().colour("lamp"))
    painter.setFont(font(max(11, round(box.height() * 1.1)), SEMIBOLD))
    painter.drawText(box.adjusted(-6, -6, 6, 6), Qt.AlignmentFlag.AlignCenter, "8")
    painter.restore()


_SIGNS: dict[str, Callable[[QPainter, QRectF, _Beside], None]] = {
    "-": _across, "|": _down, "+": _join, "o": _terminal, "R": _resistor,
    "r": lambda painter, box, beside: _resistor(painter, box, beside, upright=False),
    "D": _led, "U": lambda painter, box, beside: _led(painter, box, beside, "up"),
    "d": lambda painter, box, beside: _led(painter, box, beside, "across"),
    "s": _switch, "x": _pixel, "L": _lamp, "V": _tube, "8": _digit,
}  # fmt: skip


class _Card(QStyledItemDelegate):
    """A way as a card: its drawing, its name, and whether it works."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return _CARD

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        if painter is None:
            return
        t = theme()
        refused = index.data(_STATE) == "refused"
        held = bool(option.state & QStyle.StateFlag.State_Selected)
        room = QRectF(option.rect).adjusted(3, 3, -3, -3)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(t.colour("lamp" if held else "line"), 1.6 if held else 1))
        painter.setBrush(t.colour("card"))
        painter.drawRoundedRect(room, 6, 6)
        painter.setOpacity(0.45 if refused else 1.0)
        paint_sketch(painter, room.adjusted(10, 6, -10, -24), core("sketches").SKETCHES[index.data(_KEY)], refused)
        painter.setFont(font(12, SEMIBOLD) if index.data(_CHOSEN) else font(12))
        painter.setPen(t.colour("honey" if index.data(_CHOSEN) else "text"))
        words = painter.fontMetrics().elidedText(index.data(), Qt.TextElideMode.ElideRight, int(room.width() - 12))
        painter.drawText(room.adjusted(6, 0, -6, -4), Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignHCenter, words)
        painter.restore()


class Sketches(QListWidget):
    """All ways as small drawings; a double press or Enter chooses."""

    taken = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Ways to drive the LEDs, drawn")
        self.setViewMode(QListView.ViewMode.IconMode)
        self.setMovement(QListView.Movement.Static)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setGridSize(QSize(_CARD.width() + 2, _CARD.height() + 1))
        self._cards = _Card(self)
        self.setItemDelegate(self._cards)
        self.itemActivated.connect(lambda item: self.taken.emit(item.data(_KEY)))

    def show_rows(self, rows: Sequence[Any], now: str) -> None:
        """The ways of a board, in the order of the table; which of them is chosen."""
        self.blockSignals(True)  # what is in hand is told by who shows it
        self.clear()
        for row in rows:
            item = QListWidgetItem(row.cells["title"][0])
            item.setData(_KEY, row.key)
            item.setData(_STATE, row.verdict)
            item.setData(_CHOSEN, row.key == now)
            item.setToolTip(row.reason or row.words)
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{row.cells['title'][0]}, {row.verdict}")
            self.addItem(item)
        self.blockSignals(False)

    def hold(self, key: str) -> None:
        """Take the drawing of a way in hand."""
        for at in range(self.count()):
            item = self.item(at)
            if item is not None and item.data(_KEY) == key:
                self.setCurrentItem(item)

    def key_in_hand(self) -> str:
        """The key of the way that is selected; "" for none."""
        item = self.currentItem()
        return "" if item is None else str(item.data(_KEY))
