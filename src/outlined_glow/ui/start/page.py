"""The start page: a drop target, the demos; the sun works here before any board exists."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import (
    QPainter,
    QPaintEvent,
    QResizeEvent,
)
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from ..bench.sun import SunSlider
from ..theme import theme
from ..widgets import label
from .demo_card import DEMOS, DemoCard
from .drop_zone import DropZone


class StartPage(QWidget):
    """In place of the bench while nothing lies on it."""

    demo_wanted = pyqtSignal(str)
    file_dropped = pyqtSignal(str)
    picture_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Start")
        self.sun = SunSlider(0.3)
        self.sun.setParent(self)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 76, 24, 24)
        column.setSpacing(12)
        self.zone = DropZone()
        self.zone.dropped.connect(self.file_dropped.emit)
        self.zone.wanted.connect(self.picture_wanted.emit)
        column.addWidget(self.zone, 1)
        head = QHBoxLayout()
        head.addWidget(label("Or take one apart", "cardTitle"))
        head.addStretch(1)
        head.addWidget(label("a complete project, ready to light", "quiet"))
        column.addLayout(head)
        row = QHBoxLayout()
        row.setSpacing(16)
        self.demos = [DemoCard(name) for name in DEMOS]
        for card in self.demos:
            card.opened.connect(self.demo_wanted.emit)
            self.sun.changed.connect(card.show_sun)
            row.addWidget(card)
        row.addWidget(self._keys(), 1)
        column.addLayout(row)

    def _keys(self) -> QWidget:
        box = QWidget()
        column = QVBoxLayout(box)
        column.setContentsMargins(12, 6, 0, 6)
        column.setSpacing(7)
        for key, words in (
            ("Enter", "opens the ringed demo"),
            ("Ctrl+O", "opens a picture or a project"),
            ("1 to 9", "the stages, once there is a board"),
            ("N", "noon to midnight"),
            ("T", "turns the board over"),
            ("space", "plays the pattern"),
            ("F", "fits the board"),
        ):
            line = QHBoxLayout()
            head = label(key)
            head.setFixedWidth(62)
            line.addWidget(head)
            line.addWidget(label(words, "quiet"), 1)
            column.addLayout(line)
        column.addStretch(1)
        return box

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.sun.move((self.width() - self.sun.width()) // 2, 12)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        QPainter(self).fillRect(self.rect(), theme().colour("bench"))
