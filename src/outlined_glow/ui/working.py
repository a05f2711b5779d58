"""What is under way, over the bench, with a way to stop it. Short work never shows it."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent, QPainter, QPaintEvent, QShowEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QWidget

from .bench.plate import paint_plate
from .jobs import Jobs
from .widgets import label, link

_AFTER_MS, _LOOK_MS = 500, 200
_WORDS = {
    "open": "reading…",
    "compile": "making the board…",
    "picture file": "reading the picture…",
    "outline file": "making out the outline…",
}


class Working(QFrame):
    """Shown while a job of `open` or `compile` has lasted a while."""

    stopped = pyqtSignal()
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
        row.addWidget(self.stop)
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

    def _look(self) -> None:
        self._timer.setInterval(_LOOK_MS)
        words = next((words for key, words in _WORDS.items() if self._jobs.waiting(key)), "")
        if not words:
            self.hide()
            return
        self.words.setText(words)
        if self.isHidden():
            self.adjustSize()
            host = self.parentWidget()
            assert host is not None
            self.move((host.width() - self.width()) // 2, host.height() // 2 + 40)
            self.show()
            self.raise_()

    def showEvent(self, event: QShowEvent | None) -> None:
        self.shown.emit(True)

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.shown.emit(False)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_plate(painter, QRectF(self.rect()))
