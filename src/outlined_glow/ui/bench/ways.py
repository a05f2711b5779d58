"""Ways to drive the LEDs, side by side: as a table or as small drawings, one of them chosen; and what could light instead."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from ..widgets import ElidedLabel, label, link
from .instead import InsteadTable
from .sketch import Sketches
from .way_table import WayTable

#: What is seen: the name of each view, and what that is called at the head.
_VIEWS = ("table", "drawings", "what could light instead")
_TITLES = ("Ways to drive them", "Ways to drive them", "What could light instead")
_INSTEAD = "Each over the same room, driven the way that goes best with it. Price: lights and parts, without the board."


class Ways(QWidget):
    """Rises over the ledger on Drive; a double press or Enter chooses."""

    chosen = pyqtSignal(str)
    asked = pyqtSignal()  # what could light instead is wanted

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(348)
        self.setObjectName("ways")
        self.setAutoFillBackground(True)
        self._rows: list[Any] = []
        self._now = self._held = ""
        self.table, self.drawn, self.instead = WayTable(), Sketches(), InsteadTable()
        self.table.itemSelectionChanged.connect(lambda: self._hold(self.table.key_in_hand()))
        self.table.itemActivated.connect(lambda _: self._choose())
        self.drawn.itemSelectionChanged.connect(lambda: self._hold(self.drawn.key_in_hand()))
        self.drawn.taken.connect(lambda _: self._choose())
        self.pages = QStackedWidget()
        for page in (self.table, self.drawn, self.instead):
            self.pages.addWidget(page)
        head = QHBoxLayout()
        head.setSpacing(12)
        self.title = label(_TITLES[0], "cardTitle")
        head.addWidget(self.title)
        self.aside = ElidedLabel("", "quiet")
        head.addWidget(self.aside, 1)
        self.views = [link(words, partial(self.show_view, at)) for at, words in enumerate(_VIEWS)]
        for one in self.views:
            head.addWidget(one)
        foot = QHBoxLayout()
        self.reason = ElidedLabel("", "")
        self.use = QPushButton("Drive them this way")
        self.use.clicked.connect(lambda _=False: self._choose())
        foot.addWidget(self.reason, 1)
        foot.addWidget(self.use)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(16, 8, 16, 8)
        whole.setSpacing(4)
        whole.addLayout(head)
        whole.addWidget(self.pages, 1)
        whole.addLayout(foot)
        self.show_view(0)

    @property
    def compares(self) -> bool:
        """Whether what could light instead is in view."""
        return self.pages.currentWidget() is self.instead

    def show_view(self, at: int) -> None:
        """The table, the drawings, or what could light instead."""
        self.pages.setCurrentIndex(at)
        self.title.setText(_TITLES[at])
        for place, one in enumerate(self.views):
            one.setEnabled(place != at)
        self.use.setVisible(not self.compares)
        self._tell()
        if self.compares:
            self.asked.emit()

    def show_instead(self, rows: list[Any]) -> None:
        """What could light instead of the LEDs of a board."""
        self.instead.show_rows(rows)

    def show_rows(self, rows: list[Any], now: str, aside: str) -> None:
        """The ways of a board, and which of them is chosen."""
        if now != self._now:
            self._held = now
        self._rows, self._now = rows, now
        self.aside.set_full(aside)
        held = self._held or now
        self.table.show_rows(rows, now)
        self.drawn.show_rows(rows, now)
        self._hold(held)

    def key_in_hand(self) -> str:
        """The key of the way that is selected; "" for none."""
        return self._held

    def _hold(self, key: str) -> None:
        """Take a way in hand, in both views."""
        if not key:
            return
        self._held = key
        for view in (self.table, self.drawn):
            if view.key_in_hand() != key:
                view.hold(key)
        self._tell()

    def _tell(self) -> None:
        row = next((row for row in self._rows if row.key == self._held), None)
        self.use.setEnabled(row is not None and row.key != self._now)
        words = "" if row is None else row.reason or row.words
        self.reason.set_full(_INSTEAD if self.compares else words)

    def _choose(self) -> None:
        if self._held and self._held != self._now:
            self.chosen.emit(self._held)
