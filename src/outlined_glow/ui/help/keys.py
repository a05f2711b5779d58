"""The sheet of keys, made from the actions themselves."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ..actions import Entry, shown_key
from ..theme import theme
from ..widgets import label
from .dialog import Dialog

_COLUMNS = 3


class KeyCap(QLabel):
    """A key in a rounded frame."""

    def __init__(self, text: str) -> None:
        super().__init__(text)
        self.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.setContentsMargins(8, 1, 8, 2)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme().colour("line"), 1))
        painter.setBrush(theme().colour("sunken"))
        painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 5, 5)
        painter.end()
        super().paintEvent(event)


class KeySheet(Dialog):
    """Every action with its key in groups, and the keys of the things themselves below each group."""

    def __init__(self, parent: QWidget, entries: Sequence[Entry], by_hand: Sequence[tuple[str, str, str]]) -> None:
        super().__init__(parent, "Keys")
        rows: dict[str, list[tuple[str, str]]] = {}
        for group, members in groupby(entries, lambda entry: entry.group):
            rows[group] = [(shown_key(entry.key), entry.text.rstrip("…")) for entry in members]
        for group, key, words in by_hand:
            rows[group].append((key, words))
        across = QHBoxLayout()
        across.setSpacing(36)
        for column in _columns(rows):
            across.addLayout(column, 1)
        self.column.addLayout(across)
        self.end("Close", label("Fields take values as you write them: 4.7u, 2k2, 0.5 in, 12 mm, 1,5.", "quiet"))


def _columns(rows: dict[str, list[tuple[str, str]]]) -> list[QVBoxLayout]:
    """The groups dealt out to columns, each to the one that is shortest so far."""
    columns = [QVBoxLayout() for _ in range(_COLUMNS)]
    heights = [0] * _COLUMNS
    for group, lines in rows.items():
        shortest = heights.index(min(heights))
        heights[shortest] += len(lines) + 2
        column = columns[shortest]
        column.addWidget(label(group, "cardTitle"))
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(4)
        grid.setColumnStretch(1, 1)
        grid.setColumnMinimumWidth(0, 108)
        for at, (key, words) in enumerate(lines):
            grid.addWidget(KeyCap(key), at, 0, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
            grid.addWidget(label(words, "quiet"), at, 1)
        column.addLayout(grid)
        column.addSpacing(12)
    for column in columns:
        column.setSpacing(6)
        column.addStretch(1)
    return columns
