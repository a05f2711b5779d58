"""The drawer of the start page: recent work."""

from __future__ import annotations

import contextlib
import threading
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QImage,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
)
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ..core_door import core
from ..files import ask
from ..recent import is_there, journal_folder, recent_files
from ..theme import theme
from ..widgets import Card, ElidedLabel, Pressable, button, clear, label

if TYPE_CHECKING:
    from ...core.project.journal import Left

_MOST_LEFT = 2
_MOST_RECENT = 5
#: The window stands first.
_LOOK_AFTER_MS = 30


def _picture_row(holder: QWidget, data: bytes | None, name: str, quiet: str) -> None:
    """Lay out a small picture, a name and a quiet line under it."""
    row = QHBoxLayout(holder)
    row.setContentsMargins(0, 2, 0, 2)
    row.setSpacing(10)
    picture = QLabel()
    picture.setFixedSize(72, 54)
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
    column.addWidget(ElidedLabel(name))
    column.addWidget(ElidedLabel(quiet, "quiet"))
    column.addStretch(1)
    row.addLayout(column, 1)


class LeftRow(QWidget):
    """Work that a killed window left behind: what it was, how old, and what to do about it."""

    wanted = pyqtSignal(object)
    let_go = pyqtSignal(object)

    def __init__(self, left: Left) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 4)
        column.setSpacing(4)
        steps = f"{left.steps} change{'' if left.steps == 1 else 's'}, {core('lock').age(left.written)} ago"
        row = QWidget()
        _picture_row(row, left.picture, left.name, steps)
        row.setToolTip(f"last change: {left.words}" + (f"\n{left.saved_as}" if left.saved_as else "\nnever saved"))
        column.addWidget(row)
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        take = button("Restore", lambda: self.wanted.emit(left), filled=True)
        take.setAccessibleName(f"Restore {left.name}")
        drop = button("Discard", lambda: self.let_go.emit(left))
        drop.setAccessibleName(f"Discard {left.name}")
        buttons.addWidget(take)
        buttons.addWidget(drop)
        column.addLayout(buttons)


class RecentRow(Pressable):
    """A recent project: its picture, name and age."""

    opened = pyqtSignal(str)

    def __init__(self, path: Path, picture: bytes | None, age: str) -> None:
        super().__init__()
        _picture_row(self, picture, path.stem, age)
        self.clicked.connect(lambda _=False: self.opened.emit(str(path)))
        self.setAccessibleName(f"Open {path.stem}")
        self.setToolTip(str(path))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.hasFocus():
            painter = QPainter(self)
            painter.setPen(QPen(theme().colour("ring"), 1))
            painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 5, 5)


class _Looking(QObject):
    """Looks at recent files on a thread of its own: the disk of one may answer late, or never."""

    seen = pyqtSignal(int, object, object, str)  # which look, path, picture, age

    def __init__(self) -> None:
        super().__init__()
        self.turn = 0

    def look(self, paths: list[Path]) -> None:
        """Begin anew; what an older look still finds is not wanted."""
        self.turn += 1
        threading.Thread(target=self._look, args=(self.turn, paths), name="recent", daemon=True).start()

    def _look(self, turn: int, paths: list[Path]) -> None:
        found = 0
        for path in paths:
            if found >= _MOST_RECENT or turn != self.turn:
                return
            if not is_there(path):
                continue
            found += 1
            with contextlib.suppress(RuntimeError):  # the window is gone
                self.seen.emit(turn, path, core("storage").read_thumbnail(path), _age(path))


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
    """The drawer of the start page: work left behind, recent work and a button to open a project."""

    file_wanted = pyqtSignal(str)
    left_wanted = pyqtSignal(object)
    open_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("drawerFrame")
        self.setFixedWidth(320)
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 12, 14, 12)
        column.setSpacing(8)
        head = label("Start", "stageTitle")
        head.setContentsMargins(6, 0, 0, 0)
        column.addWidget(head)
        self.state = label("no project is open", "quiet")
        self.state.setContentsMargins(6, 0, 0, 0)
        column.addWidget(self.state)
        self.left = Card("Unsaved work from last time")
        self._left_rows = QVBoxLayout()
        self._left_rows.setSpacing(8)
        self.left.body.addLayout(self._left_rows)
        self.left.hide()
        column.addWidget(self.left)
        self.card = Card("Recent work")
        self._rows = QVBoxLayout()
        self._rows.setSpacing(6)
        self.card.body.addLayout(self._rows)
        column.addWidget(self.card)
        column.addStretch(1)
        column.addWidget(button("Open a project…", self.open_wanted.emit, filled=True))
        self._looking = _Looking()
        self._looking.seen.connect(self._seen)
        self.refresh()

    def refresh(self) -> None:
        """Read the recent files anew; each is shown once it is seen to be there."""
        clear(self._rows)
        self._shown = 0
        self.card.aside.set_full("")
        self._empty = label("Projects you save are listed here, with their picture.", "quiet", wrap=True)
        self._rows.addWidget(self._empty)
        paths = recent_files()
        if paths:
            QTimer.singleShot(_LOOK_AFTER_MS, lambda: self._looking.look(paths))

    def _seen(self, turn: int, path: Path, picture: bytes | None, age: str) -> None:
        if turn != self._looking.turn:
            return
        self._empty.hide()
        row = RecentRow(path, picture, age)
        row.opened.connect(self.file_wanted.emit)
        self._rows.addWidget(row)
        self._shown += 1
        self.card.aside.set_full(f"{self._shown} projects" if self._shown > 1 else "")

    def show_left(self) -> None:
        """Look for work that a killed window left behind."""
        clear(self._left_rows)
        found = core("journal").left_behind(journal_folder())
        for one in found[:_MOST_LEFT]:
            row = LeftRow(one)
            row.wanted.connect(self.left_wanted.emit)
            row.let_go.connect(self._forget)
            self._left_rows.addWidget(row)
        self.left.aside.set_full(f"{_MOST_LEFT} of {len(found)}" if len(found) > _MOST_LEFT else "never saved")
        self.left.setVisible(bool(found))

    def _forget(self, left: Left) -> None:
        words = f"Delete the unsaved work on “{left.name}”? It cannot be brought back."
        if ask(self, words, ("Delete", "Keep")) == 0:
            core("journal").forget(left)
            self.show_left()
