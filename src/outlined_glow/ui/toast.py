"""A sentence over the bench that goes by itself."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from .theme import theme
from .widgets import Paragraph

_MS_A_WORD, _LEAST_MS = 380, 3500


class Toast(Paragraph):
    """Shown low over the bench; a click puts it away."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent=parent)
        self.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.setContentsMargins(18, 10, 18, 10)
        self.setAccessibleName("Message")
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.hide)
        self.hide()

    def say(self, words: str) -> None:
        """Show a sentence for as long as it takes to read."""
        self.setText(words)
        host = self.parentWidget()
        assert host is not None
        wide = min(620, host.width() - 480)
        self.setFixedWidth(min(wide, self.fontMetrics().horizontalAdvance(words) + 48))
        self.adjustSize()
        self.move(92 + (host.width() - 412 - self.width()) // 2, host.height() - 56 - self.height() - 120)
        self.show()
        self.raise_()
        self._timer.start(max(_LEAST_MS, _MS_A_WORD * len(words.split())))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.hide()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme().colour("lamp"), 1))
        painter.setBrush(theme().colour("card"))
        painter.drawRoundedRect(self.rect().adjusted(1, 1, -1, -1), 12, 12)
        painter.end()
        super().paintEvent(event)
