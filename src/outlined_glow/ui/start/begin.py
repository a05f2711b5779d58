"""The drawer of the start page: recent work."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import (
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
)
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ..core_door import core
from ..recent import recent_files
from ..theme import theme
from ..widgets import Card, ElidedLabel, button, clear, label


class RecentRow(QWidget):
    """A recent project: its picture, name and age."""

    opened = pyqtSignal(str)

    def __init__(self, path: Path) -> None:
        super().__init__()
        self._path = path
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"Open {path.stem}")
        self.setToolTip(str(path))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 2, 0, 2)
        row.setSpacing(10)
        picture = QLabel()
        picture.setFixedSize(72, 54)
        data = core("storage").read_thumbnail(path)
        if data:
            image = QImage.fromData(data)
            picture.setPixmap(
                QPixmap.fromImage(image.scaled(72, 54, Qt.AspectRatioMode.KeepAspectRatioByExpanding,
                                               Qt.TransformationMode.SmoothTransformation))
            )  # fmt: skip
        row.addWidget(picture)
        column = QVBoxLayout()
        column.setSpacing(0)
        column.addStretch(1)
        column.addWidget(ElidedLabel(path.stem))
        column.addWidget(ElidedLabel(_age(path), "quiet"))
        column.addStretch(1)
        row.addLayout(column, 1)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.opened.emit(str(self._path))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space):
            self.opened.emit(str(self._path))
            return
        super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.hasFocus():
            painter = QPainter(self)
            painter.setPen(QPen(theme().colour("ring"), 1))
            painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 5, 5)


def _age(path: Path) -> str:
    """When a file was written, as people say it."""
    try:
        moment = datetime.fromtimestamp(path.stat().st_mtime)
    except OSError:
        return ""
    days = (datetime.now().date() - moment.date()).days
    if days == 0:
        return f"today {moment:%H:%M}"
    if days == 1:
        return f"yesterday {moment:%H:%M}"
    if days < 7:
        return f"{moment:%A}"
    return f"{moment.day} {moment:%B}" + ("" if days < 300 else f" {moment.year}")


class BeginDrawer(QFrame):
    """The drawer of the start page: recent work and a button to open a project."""

    file_wanted = pyqtSignal(str)
    open_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("drawerFrame")
        self.setFixedWidth(320)
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 12, 14, 12)
        column.setSpacing(8)
        head = label("Begin", "stageTitle")
        head.setContentsMargins(6, 0, 0, 0)
        column.addWidget(head)
        self.state = label("nothing on the bench yet", "quiet")
        self.state.setContentsMargins(6, 0, 0, 0)
        column.addWidget(self.state)
        self.card = Card("Recent work")
        self._rows = QVBoxLayout()
        self._rows.setSpacing(6)
        self.card.body.addLayout(self._rows)
        column.addWidget(self.card)
        column.addStretch(1)
        column.addWidget(button("Open a project…", self.open_wanted.emit, filled=True))
        self.refresh()

    def refresh(self) -> None:
        """Read the recent files anew."""
        clear(self._rows)
        paths = recent_files()[:5]
        for path in paths:
            row = RecentRow(path)
            row.opened.connect(self.file_wanted.emit)
            self._rows.addWidget(row)
        if not paths:
            words = "What you save will be found here, with its picture."
            self._rows.addWidget(label(words, "quiet", wrap=True))
        self.card.aside.set_full(f"{len(paths)} projects" if len(paths) > 1 else "")
