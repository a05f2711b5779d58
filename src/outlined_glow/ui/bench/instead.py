"""What could light instead of the LEDs there are, side by side."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from ..core_door import core
from ..theme import theme

#: Columns of words, which begin at the left.
_WORDS = ("title", "shows", "way")


class InsteadTable(QTableWidget):
    """A row for the LEDs of the board, and one for each other thing that could light over the same room."""

    def __init__(self) -> None:
        columns = core("instead").COLUMNS
        super().__init__(0, len(columns))
        self.setAccessibleName("what could light instead")
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setShowGrid(False)
        self.setTabKeyNavigation(False)
        down, across = self.verticalHeader(), self.horizontalHeader()
        assert down is not None
        assert across is not None
        down.hide()
        down.setDefaultSectionSize(45)
        across.setHighlightSections(False)
        for at, (key, title, width) in enumerate(columns):
            heading = QTableWidgetItem(title)
            side = Qt.AlignmentFlag.AlignLeft if key in _WORDS else Qt.AlignmentFlag.AlignRight
            heading.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
            self.setHorizontalHeaderItem(at, heading)
            if width:
                self.setColumnWidth(at, width)
            else:
                across.setSectionResizeMode(at, QHeaderView.ResizeMode.Stretch)

    def show_rows(self, rows: list[Any]) -> None:
        """The rows of a board."""
        self.setRowCount(len(rows))
        for down, row in enumerate(rows):
            cells = core("instead").instead_cells(row)
            for at, (key, _, _) in enumerate(core("instead").COLUMNS):
                cell = QTableWidgetItem(cells[key][0])
                cell.setToolTip(row.reason or row.shows)
                if key not in _WORDS:
                    cell.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                if row.key == "own":
                    cell.setForeground(theme().colour("honey"))
                self.setItem(down, at, cell)
