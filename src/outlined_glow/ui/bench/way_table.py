"""The table of ways to drive the LEDs: what each takes, sorted by a press on a heading."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QModelIndex, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidget,
    QTableWidgetItem,
)

from ..core_door import core
from ..theme import theme

_SORT, _BAR = Qt.ItemDataRole.UserRole, Qt.ItemDataRole.UserRole + 1
_STATE, _KEY = Qt.ItemDataRole.UserRole + 2, Qt.ItemDataRole.UserRole + 3
#: Columns of words, which begin at the left.
_WORDS = ("title", "bars", "verdict")


class _Cell(QTableWidgetItem):
    """A cell that is sorted by its number, those without one last."""

    def __lt__(self, other: QTableWidgetItem) -> bool:
        mine, its = self.data(_SORT), other.data(_SORT)
        if mine is None or its is None:
            return mine is not None
        return bool(mine < its)


class _Bars(QStyledItemDelegate):
    """The current of a way: filled to its average, outlined to its peak."""

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        super().paint(painter, option, index)
        shares = index.data(_BAR)
        if painter is None or shares is None:
            return
        t = theme()
        room = QRectF(option.rect).adjusted(6, 8, -6, -8)
        average, peak = shares
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(t.colour("lamp"), 1))
        painter.drawRect(QRectF(room.left(), room.top(), max(1.0, peak * room.width()), room.height()))
        painter.fillRect(QRectF(room.left(), room.top(), average * room.width(), room.height()), t.colour("lamp"))
        painter.restore()


class _Verdict(QStyledItemDelegate):
    """The verdict by its shape: a disc that works, half of one with a caution, a ring that is struck through."""

    def initStyleOption(self, option: QStyleOptionViewItem | None, index: QModelIndex) -> None:
        super().initStyleOption(option, index)
        if option is not None:
            option.text = f"\u2003 {option.text}"  # room for the shape

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        super().paint(painter, option, index)
        state = index.data(_STATE)
        if painter is None or state is None:
            return
        t = theme()
        x, y = option.rect.left() + 11.0, option.rect.center().y() + 1.0
        colour = t.colour({"works": "sea", "refused": "warn"}.get(state, "honey"))
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour, 1.4))
        painter.setBrush(colour if state == "works" else Qt.BrushStyle.NoBrush)
        disc = QRectF(x - 4.5, y - 4.5, 9, 9)
        painter.drawEllipse(disc)
        if state == "refused":
            painter.drawLine(disc.topRight(), disc.bottomLeft())
        elif state != "works":
            painter.setBrush(colour)
            painter.drawPie(disc, 90 * 16, 180 * 16)
        painter.restore()


class WayTable(QTableWidget):
    """A row for each way; those without a number in the column that it is sorted by come last."""

    def __init__(self) -> None:
        columns = core("drive_keys").WAY_COLUMNS
        super().__init__(0, len(columns))
        self._now = ""
        self.setAccessibleName("Ways to drive the LEDs")
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setShowGrid(False)
        self.setTabKeyNavigation(False)
        self.setWordWrap(False)
        down, across = self.verticalHeader(), self.horizontalHeader()
        assert down is not None
        assert across is not None
        down.hide()
        down.setMinimumSectionSize(16)
        down.setDefaultSectionSize(21)
        across.setHighlightSections(False)
        across.setSortIndicatorShown(True)
        across.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        for at, (key, title, width) in enumerate(columns):
            heading = QTableWidgetItem(title)
            side = Qt.AlignmentFlag.AlignLeft if key in _WORDS else Qt.AlignmentFlag.AlignRight
            heading.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
            self.setHorizontalHeaderItem(at, heading)
            self.setColumnWidth(at, width)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self._delegates = (_Verdict(self), _Bars(self))
        self.setItemDelegateForColumn(0, self._delegates[0])
        self.setItemDelegateForColumn([key for key, _, _ in columns].index("bars"), self._delegates[1])

    def show_rows(self, rows: list[Any], now: str) -> None:
        """The ways of a board, and which of them is chosen."""
        held = now if now != self._now else self.key_in_hand() or now
        self._now = now
        self.setSortingEnabled(False)
        self.setRowCount(len(rows))
        for down, row in enumerate(rows):
            for across, (key, _, _) in enumerate(core("drive_keys").WAY_COLUMNS):
                self.setItem(down, across, self._cell(row, key))
        self.setSortingEnabled(True)
        self.hold(held)

    def hold(self, key: str) -> None:
        """Take the row of a way in hand."""
        for down in range(self.rowCount()):
            if self._key_at(down) == key:
                self.selectRow(down)

    def _key_at(self, down: int) -> str:
        item = self.item(down, 0)
        return str(item.data(_KEY)) if item is not None else ""

    def key_in_hand(self) -> str:
        """The key of the way that is selected; "" for none."""
        return self._key_at(self.currentRow()) if self.currentRow() >= 0 else ""

    def _cell(self, row: Any, key: str) -> QTableWidgetItem:
        words, number = row.cells[key]
        if key == "title" and row.key == self._now:
            words = f"{words}  · chosen"
        cell = _Cell(words)
        cell.setData(_SORT, number)
        cell.setToolTip(row.reason or row.words)
        if key == "title":
            cell.setData(_STATE, row.verdict)
            cell.setData(Qt.ItemDataRole.AccessibleTextRole, f"{words}, {row.verdict}")
        elif key == "bars":
            cell.setData(_BAR, row.shares)
        if key not in _WORDS:
            cell.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        if row.verdict == "refused":
            cell.setForeground(theme().colour("quiet"))
        cell.setData(_KEY, row.key)
        return cell
