"""A layout that sets its widgets in lines, as words are set in a paragraph."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QLayout, QLayoutItem


class FlowLayout(QLayout):
    """Items from left to right, on as many lines as the width needs."""

    def __init__(self, across: int = 12, down: int = 0) -> None:
        super().__init__()
        self._items: list[QLayoutItem] = []
        self._across, self._down = across, down
        self.setContentsMargins(0, 0, 0, 0)

    def addItem(self, item: QLayoutItem | None) -> None:
        if item is not None:
            self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._set(QRect(0, 0, width, 0), move=False)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._set(rect, move=True)

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        sizes = [item.minimumSize() for item in self._items]
        return QSize(max((size.width() for size in sizes), default=0), max((size.height() for size in sizes), default=0))

    def _set(self, rect: QRect, move: bool) -> int:
        """Set every item, or only reckon; how high the lines are together."""
        x, y, line = rect.x(), rect.y(), 0
        for item in self._items:
            hint = item.sizeHint()
            if x > rect.x() and x + hint.width() > rect.x() + rect.width():
                x, y, line = rect.x(), y + line + self._down, 0
            if move:
                item.setGeometry(QRect(QPoint(x, y), hint))
            x, line = x + hint.width() + self._across, max(line, hint.height())
        return y + line - rect.y()
