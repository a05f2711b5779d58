"""The connection list of a board: every pin of every part with its net; and the pins of the controller."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractItemView, QHBoxLayout, QHeaderView, QLineEdit, QTableWidget, QTableWidgetItem, QWidget

from ..core_door import core
from ..widgets import button, label, link
from .block import BlockView
from .dialog import Dialog

if TYPE_CHECKING:
    from ..files import Files

_KINDS = "Table (*.csv);;JSON (*.json)"
_WIRES = "PDF (*.pdf);;Table (*.csv)"
_PINS = "Table (*.csv);;C header (*.h)"


class Connections(Dialog):
    """A table that is searched; it is written as CSV or JSON."""

    def __init__(self, parent: QWidget, work: Any, files: Files) -> None:
        super().__init__(parent, "Connection list")
        self.resize(860, 680)
        self._work, self._files = work, files
        facts = core("connections")
        rows = facts.connection_rows(work)
        words = f"{len({row['reference'] for row in rows})} parts, {len(work.plan.nets)} nets."
        self.column.addWidget(label(words, "quiet"))
        self.search = QLineEdit()
        self.search.setPlaceholderText("search: R3, supply, column 2 …")
        self.search.setAccessibleName("search the connection list")
        self.search.textChanged.connect(self._find)
        self.column.addWidget(self.search)
        self.table = _table(rows, facts.CONNECTION_COLUMNS)
        self.column.addWidget(self.table, 1)
        self.block = BlockView()
        self.block.show_block(None)
        self.column.addWidget(self.block)
        self.table.itemSelectionChanged.connect(self._draw)
        save = button("Save the list…", lambda: files.write("Save the connection list", "connections.csv", _KINDS, self._list))
        pins = link("Save the controller's pins…", self._save_pins, tip="A table, or a C header of names for the program")
        pins.setVisible(bool(work.plan.pins))
        run = lambda path: core("hand_wires").wires_file(work, path.suffix)  # noqa: E731
        self.by_hand = link(
            "Save the wires by hand…", lambda: files.write("Save the wires by hand", "wires by hand.pdf", _WIRES, run),
            tip="For a board that no fabricator makes: every wire from pin to pin, with its cut length and colour",
        )  # fmt: skip
        on_grid = lambda path: core("grid_wires").grid_file(work, path.suffix)  # noqa: E731
        self.grid = link(
            "Save a plain board…", lambda: files.write("Save a plain board", "plain board.pdf", _WIRES, on_grid),
            tip="For a plain board of holes 2.54 mm apart: which leg goes into which hole, and every link",
        )  # fmt: skip
        for one in (self.by_hand, self.grid):
            one.setVisible(bool(work.plan.nets))
        others = QWidget()
        row = QHBoxLayout(others)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(16)
        for one in (self.by_hand, self.grid, pins):
            row.addWidget(one)
        self.end("Close", others, save)

    def _find(self, text: str) -> None:
        """Leave only the rows in view that hold every word."""
        words = text.lower().split()
        for row in range(self.table.rowCount()):
            cells = [self.table.item(row, column) for column in range(self.table.columnCount())]
            whole = " ".join(cell.text().lower() for cell in cells if cell is not None)
            self.table.setRowHidden(row, not all(word in whole for word in words))
        self.table.clearSelection()
        self.table.setCurrentItem(None)

    def _draw(self) -> None:
        """The part of the row in hand, as a block."""
        item = self.table.item(self.table.currentRow(), 0) if self.table.currentRow() >= 0 else None
        self.block.show_block(core("blocks").block_of(self._work, item.text()) if item is not None else None)

    def _list(self, path: Path) -> bytes:
        made: bytes = core("connections").connection_file(self._work, path.suffix)
        return made

    def _save_pins(self) -> None:
        made = core("pin_header").pin_file
        self._files.write("Save the pins", "pins.csv", _PINS, lambda path: made(self._work, path.suffix))
        self.setFocus(Qt.FocusReason.OtherFocusReason)


def _table(rows: Sequence[Mapping[str, Any]], columns: Sequence[str]) -> QTableWidget:
    """The rows of the list."""
    table = QTableWidget(len(rows), len(columns))
    table.setAccessibleName("pins and their nets")
    table.setHorizontalHeaderLabels(list(columns))
    table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    table.setShowGrid(False)
    table.setTabKeyNavigation(False)
    down, across = table.verticalHeader(), table.horizontalHeader()
    assert down is not None
    assert across is not None
    down.hide()
    down.setDefaultSectionSize(24)
    across.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
    across.setStretchLastSection(True)
    across.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
    for at, row in enumerate(rows):
        for column, key in enumerate(columns):
            table.setItem(at, column, QTableWidgetItem(str(row[key])))
    for column, width in enumerate((92, 210, 60, 48, 130, 90)):
        table.setColumnWidth(column, width)
    return table
