"""A button of the board, pressed in the window."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QElapsedTimer, QTimer, pyqtSignal
from PyQt6.QtWidgets import QPushButton

from ..core_door import core


class ContactButton(QPushButton):
    """A button of the board: a short, long, very long or double press of it, told as on the board itself."""

    told = pyqtSignal(str, str)  # kind of press, name of the button

    def __init__(self, button: Any) -> None:
        super().__init__(f"press {button.name}")
        self._contact = core("scenes").Contact(button)
        self.setToolTip("Press it shortly, hold it, or press it twice; the space bar does as well")
        self._clock = QElapsedTimer()
        self._clock.start()
        self._held: list[QTimer] = []
        for after in (button.long_s, button.very_long_s):
            timer = QTimer(self)
            timer.setSingleShot(True)
            timer.setInterval(round(1000 * after) + 1)
            timer.timeout.connect(lambda: self._tell(None))
            self._held.append(timer)
        self.pressed.connect(self._down)
        self.released.connect(self._up)

    def _down(self) -> None:
        for timer in self._held:
            timer.start()
        self._tell(True)

    def _up(self) -> None:
        for timer in self._held:
            timer.stop()
        self._tell(False)

    def _tell(self, down: bool | None) -> None:
        """What the contact comes to now; whether it goes down or up, None while it is held."""
        for one in self._contact.at(self._clock.elapsed() / 1000, down):
            self.told.emit(one.kind, one.button)
