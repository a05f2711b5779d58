"""A written file to take hold of: dragged into a mail, a folder or a web page; Enter copies it."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl, pyqtSignal
from PyQt6.QtGui import QDrag, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QLabel

from .icons import pixmap
from .theme import theme
from .widgets import ElidedLabel, Pressable


class DragOut(Pressable):
    """Stands for a file or folder on the disk. `copied` tells that it is on the clipboard now."""

    copied = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.path: Path | None = None
        self._from: QPointF | None = None
        self.setAttribute(Qt.WidgetAttribute.WA_Hover)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 6, 10, 6)
        row.setSpacing(9)
        self._picture = QLabel()
        row.addWidget(self._picture)
        self._name = ElidedLabel()
        row.addWidget(self._name, 1)
        self.clicked.connect(lambda _=False: self._copy())

    def show_file(self, path: Path) -> None:
        """Stand for this one."""
        self.path = path
        self._picture.setPixmap(pixmap("file-down", "lamp", 20))
        self._name.set_full(path.name)
        self.setAccessibleName(f"{path.name}: drag it out, or press to copy it")
        for part in (self, self._name):
            part.setToolTip("drag it where it should go; a press copies it, to be pasted there")

    def mime(self) -> QMimeData:
        """The file as other programs take it."""
        data = QMimeData()
        if self.path is not None:
            data.setUrls([QUrl.fromLocalFile(str(self.path.absolute()))])
        return data

    def _copy(self) -> None:
        clipboard = QApplication.clipboard()
        if clipboard is not None and self.path is not None:
            clipboard.setMimeData(self.mime())
            self.copied.emit(f"{self.path.name} is copied; paste it where it should go")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self._from = event.position() if event is not None else None
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._from is None or not self.isDown():
            return
        if (event.position() - self._from).manhattanLength() > QApplication.startDragDistance():
            self._from = None
            self.setDown(False)
            self._drag()

    def _drag(self) -> None:
        drag = QDrag(self)
        drag.setMimeData(self.mime())
        drag.setPixmap(pixmap("file-down", "lamp", 32))
        drag.exec(Qt.DropAction.CopyAction)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        edge = "ring" if self.hasFocus() else "lamp" if self.underMouse() else "line"
        painter.setPen(QPen(t.colour(edge), 1))
        painter.setBrush(t.colour("sunken"))
        painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 7, 7)
