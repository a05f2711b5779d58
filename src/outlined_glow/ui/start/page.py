"""The start page: a drop target, the demos; the sun works here before any board exists."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import (
    QPainter,
    QPaintEvent,
    QResizeEvent,
)
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from ... import DEMOS
from ..actions import Entry, shown_key
from ..bench.sun import SunSlider
from ..theme import theme
from ..widgets import ElidedLabel, clear, label
from .demo_card import DemoCard
from .drop_zone import DropZone

_ROOM_FOR_KEYS = 1320


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
        row.setSpacing(11)
        self.demos = [DemoCard(name) for name in DEMOS]
        for card in self.demos:
            card.opened.connect(self.demo_wanted.emit)
            self.sun.changed.connect(card.show_sun)
            row.addWidget(card, 1)
        self._legend = QWidget()
        self._keys = QVBoxLayout(self._legend)
        self._keys.setContentsMargins(12, 2, 0, 2)
        self._keys.setSpacing(4)
        row.addWidget(self._legend, 1)
        row.addStretch(0)
        column.addLayout(row)

    def show_keys(self, entries: Sequence[Entry]) -> None:
        """A few keys to begin with, as the actions have them."""
        clear(self._keys)
        known = {entry.name: (shown_key(entry.key), entry.tip) for entry in entries}
        rows = [("Enter", "Open the selected demo"), ("1–8", "Go to a stage of the open board")]
        rows += [known[name] for name in ("open", "night", "turn", "play", "fit", "keys")]
        for key, words in rows:
            line = QHBoxLayout()
            head = label(key)
            head.setFixedWidth(62)
            line.addWidget(head)
            line.addWidget(ElidedLabel(words, "quiet"), 1)
            self._keys.addLayout(line)
        self._keys.addStretch(1)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        # Where there is room beside the demos, a few keys to begin with.
        self._legend.setVisible(self.width() > _ROOM_FOR_KEYS)
        self.sun.move((self.width() - self.sun.width()) // 2, 12)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        QPainter(self).fillRect(self.rect(), theme().colour("bench"))
