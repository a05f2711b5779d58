"""What the dialogs over the window share: a title, a column, and a foot that ends with the ready button."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QFrame, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ..theme import keep_in_theme
from ..widgets import button, label
from ..window_first import window_first


class Dialog(QDialog):
    """Fill `column`, then call `end`."""

    def __init__(self, parent: QWidget, title: str, width: int = 0) -> None:
        super().__init__(parent)
        window_first()
        keep_in_theme(self)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(title)
        self.setAccessibleName(title)
        if width:
            self.setFixedWidth(width)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(22, 18, 22, 18)
        self.column.setSpacing(10)
        self.column.addWidget(label(title, "stageTitle"))

    def sheet(self, column: QVBoxLayout) -> QScrollArea:
        """A column of the dialog that scrolls, however much there is in it: the dialog keeps its size."""
        inner = QWidget()
        inner.setObjectName("dialogInner")
        inner.setLayout(column)
        column.setContentsMargins(0, 0, 10, 0)
        sheet = QScrollArea()
        sheet.setObjectName("dialogInner")
        sheet.setWidgetResizable(True)
        sheet.setFrameShape(QFrame.Shape.NoFrame)
        sheet.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # what is in it has the focus, and is brought into view
        sheet.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        sheet.setWidget(inner)
        return sheet

    def end(self, ready: str, left: QWidget | None = None, *others: QPushButton) -> None:
        """The foot: something on the left, other buttons, and the one that closes."""
        foot = QHBoxLayout()
        if left is not None:
            foot.addWidget(left)
        foot.addStretch(1)
        for one in (*others, button(ready, self.accept, filled=True)):
            foot.addWidget(one)
        self.column.addLayout(foot)
