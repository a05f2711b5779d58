"""Ways to drive the LEDs, side by side: what each takes, and its verdict with the reason; one of them is chosen."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QModelIndex, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ..core_door import core
from ..theme import theme
from ..widgets import ElidedLabel, label

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


class Ways(QWidget):
    """Rises over the ledger on Drive: a table that is sorted by a press on a heading; a double press or Enter chooses."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(348)
        self.setObjectName("ways")
        self.setAutoFillBackground(True)
        self._rows: list[Any] = []
        self._now = ""
        head = QHBoxLayout()
        head.addWidget(label("Ways to drive them", "cardTitle"))
        self.aside = ElidedLabel("", "quiet")
        head.addWidget(self.aside, 1)
        self.table = self._made()
        self.table.itemSelectionChanged.connect(self._selected)
        self.table.itemActivated.connect(lambda item: self._choose(item.row()))
        foot = QHBoxLayout()
        self.reason = ElidedLabel("", "")
        self.use = QPushButton("Drive them this way")
        self.use.clicked.connect(lambda _=False: self._choose(self.table.currentRow()))
        foot.addWidget(self.reason, 1)
        foot.addWidget(self.use)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(16, 8, 16, 8)
        whole.setSpacing(4)
        whole.addLayout(head)
        whole.addWidget(self.table, 1)
        whole.addLayout(foot)
        self._selected()

    def _made(self) -> QTableWidget:
        """The table with its headings, empty."""
        columns = core("drive_keys").WAY_COLUMNS
        table = QTableWidget(0, len(columns))
        table.setAccessibleName("Ways to drive the LEDs")
        table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        table.setShowGrid(False)
        table.setTabKeyNavigation(False)
        table.setWordWrap(False)
        down, across = table.verticalHeader(), table.horizontalHeader()
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
            table.setHorizontalHeaderItem(at, heading)
            if width:
                table.setColumnWidth(at, width)
            else:
                across.setSectionResizeMode(at, QHeaderView.ResizeMode.Stretch)
        self._delegates = (_Verdict(table), _Bars(table))
        table.setItemDelegateForColumn(0, self._delegates[0])
        table.setItemDelegateForColumn([key for key, _, _ in columns].index("bars"), self._delegates[1])
        return table

    def show_rows(self, rows: list[Any], now: str, aside: str) -> None:
        """The ways of a board, and which of them is chosen."""
        held = now if now != self._now else self.key_in_hand() or now
        self._rows, self._now = rows, now
        self.aside.set_full(aside)
        self.table.setSortingEnabled(False)
        self.table.setRowCount(len(rows))
        for down, row in enumerate(rows):
            for across, (key, _, _) in enumerate(core("drive_keys").WAY_COLUMNS):
                self.table.setItem(down, across, self._cell(row, key))
        self.table.setSortingEnabled(True)
        for down in range(len(rows)):
            if self._row_at(down).key == held:
                self.table.selectRow(down)
        self._selected()

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

    def _row_at(self, down: int) -> Any:
        item = self.table.item(down, 0)
        key = item.data(_KEY) if item is not None else None
        return next((row for row in self._rows if row.key == key), None)

    def key_in_hand(self) -> str:
        """The key of the way that is selected; "" for none."""
        row = self._row_at(self.table.currentRow()) if self.table.currentRow() >= 0 else None
        return "" if row is None else str(row.key)

    def _selected(self) -> None:
        row = self._row_at(self.table.currentRow()) if self.table.currentRow() >= 0 else None
        self.use.setEnabled(row is not None and row.key != self._now)
        self.reason.set_full("" if row is None else row.reason or row.words)

    def _choose(self, down: int) -> None:
        row = self._row_at(down) if down >= 0 else None
        if row is not None and row.key != self._now:
            self.chosen.emit(row.key)
