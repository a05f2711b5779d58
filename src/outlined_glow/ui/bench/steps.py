"""Every step of the open project in words, over the bench; a click or an arrow key goes to any of them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from ..theme import SEMIBOLD, font, theme
from ..widgets import ElidedLabel, label

if TYPE_CHECKING:
    from ...core.project.history import History

_WIDE, _MOST_HIGH = 292, 380


class Steps(QFrame):
    """The list. What has been taken back stands dim below the present step."""

    wanted = pyqtSignal(int)
    closed = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        self.setFixedWidth(_WIDE)
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 8, 10, 10)
        column.setSpacing(4)
        column.addWidget(label("Steps", "cardTitle"))
        self.list = QListWidget()
        self.list.setObjectName("steps")
        self.list.setAccessibleName("Steps of this project")
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.list.currentRowChanged.connect(self._chosen)
        column.addWidget(self.list)
        self.hint = ElidedLabel("", "quiet")
        column.addWidget(self.hint)
        self.hide()

    def show_history(self, history: History | None, on_disk: bool) -> None:
        """List the steps anew; `on_disk` when the project has a file."""
        if history is None:
            self.hide()
            return
        self.list.blockSignals(True)
        self.list.clear()
        for at, words in enumerate(history.steps):
            item = QListWidgetItem(words + (" – on disk" if on_disk and at == history.saved_place else ""))
            item.setToolTip(words)
            item.setFont(font(13, SEMIBOLD) if at == history.place else font(13))
            item.setForeground(theme().colour("quiet" if at > history.place else "text"))
            self.list.addItem(item)
        self.list.setCurrentRow(history.place)
        self.list.blockSignals(False)
        undone = len(history.steps) - 1 - history.place
        self.hint.set_full(f"{undone} taken back; the next edit replaces them" if undone else "arrow keys go through them")
        rows = min(len(history.steps), 12) * max(22, self.list.sizeHintForRow(0)) + 8
        self.list.setFixedHeight(min(rows, _MOST_HIGH))
        self.adjustSize()

    def _chosen(self, row: int) -> None:
        if row >= 0:
            self.wanted.emit(row)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
            return
        super().keyPressEvent(event)
