"""What is under way, over the bench, with a way to stop it. Short work never shows it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent, QPainter, QPaintEvent, QShowEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QWidget

from .bench.plate import paint_plate
from .jobs import Jobs
from .theme import theme
from .widgets import label, link

_AFTER_MS, _LOOK_MS = 500, 200
#: What is done that can be left half done.
_TRACKS = "drawing the tracks"
_WORDS = {
    "open": "reading",
    "compile": "making the board",
    "picture file": "reading the picture",
    "outline file": "making out the outline",
    "film out": "writing the film",
}


class Working(QFrame):
    """Shown while a job that a user waits for has lasted a while; what tells how far it is gets a bar."""

    stopped = pyqtSignal()
    enough = pyqtSignal()
    shown = pyqtSignal(bool)

    def __init__(self, parent: QWidget, jobs: Jobs) -> None:
        super().__init__(parent)
        self._jobs = jobs
        self.setAccessibleName("Under way")
        row = QHBoxLayout(self)
        row.setContentsMargins(18, 8, 18, 8)
        row.setSpacing(14)
        self.words = label("")
        row.addWidget(self.words)
        self.stop = link("stop", self.stopped.emit, tip="Stop this (Esc)")
        self.keep = link("keep what is drawn", self.enough.emit, tip="Stop here, with the tracks that are there by now")
        for one in (self.stop, self.keep):
            row.addWidget(one)
        #: How high that is which lies under the board on the bench, px; None where no board is seen.
        self.under_board: Callable[[], int | None] = lambda: None
        self._share = 0.0
        self._told = ""
        self._timer = QTimer(self)
        self._timer.timeout.connect(self._look)
        jobs.busy.connect(self._busy)
        self.hide()

    def _busy(self, busy: bool) -> None:
        if busy:
            self._timer.start(_AFTER_MS)
        else:
            self._timer.stop()
            self.hide()
            self._share, self._told = 0.0, ""

    def progress(self, share: float, words: str) -> None:
        """How far the board under way is, and what is being done."""
        self._share, self._told = share, words

    def _look(self) -> None:
        self._timer.setInterval(_LOOK_MS)
        key = next((key for key in _WORDS if self._jobs.waiting(key)), "")
        if not key:
            self.hide()
            return
        far = key == "compile" and self._share > 0
        self.words.setText(f"{self._told}, {self._share:.0%}" if far else f"{_WORDS[key]}…")
        self.keep.setVisible(far and self._told == _TRACKS)
        self.adjustSize()
        self.update()
        self._place()
        if self.isHidden():
            self.show()
            self.raise_()

    def _place(self) -> None:
        """In the middle, under the board if one is seen."""
        host, under = self.parentWidget(), self.under_board()
        assert host is not None
        top = host.height() // 2 + 40 if under is None else host.height() - under
        self.move((host.width() - self.width()) // 2, top)

    def showEvent(self, event: QShowEvent | None) -> None:
        self.shown.emit(True)

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.shown.emit(False)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_plate(painter, QRectF(self.rect()))
        if self._share > 0:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme().colour("lamp"))
            painter.drawRoundedRect(QRectF(14, self.height() - 5, (self.width() - 28) * self._share, 2), 1, 1)
