"""The few real choices of the window."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QUrl, pyqtSignal
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from ..fields import Choice, Switch
from ..widgets import Card, ElidedLabel, label, link
from .dialog import Dialog

LOOKS = (("desktop", "as the desktop"), ("dusk", "dusk"), ("paper", "paper"))


class Settings(Dialog):
    """`look_chosen` and `still_chosen` fire at once; there is nothing to confirm."""

    look_chosen = pyqtSignal(str)
    still_chosen = pyqtSignal(bool)
    forgotten = pyqtSignal()

    def __init__(self, parent: QWidget, look: str, still: bool, kept_in: Path) -> None:
        super().__init__(parent, "Settings", 440)
        card = Card("The window")
        self.look = Choice(LOOKS)
        self.look.show_key(look)
        self.look.chosen.connect(self.look_chosen.emit)
        card.row("look", self.look)
        self.moving = Switch("turn the board over visibly")
        self.moving.setChecked(not still)
        self.moving.switched.connect(lambda on: self.still_chosen.emit(not on))
        card.row("turn the board over visibly", self.moving)
        self.column.addWidget(card)
        kept = Card("What is kept")
        kept.add(
            label("The journal of unsaved edits, reports, recent work and the window's place lie here:", "quiet", wrap=True)
        )
        kept.add(ElidedLabel(str(kept_in)))
        row = QHBoxLayout()
        row.addWidget(link("open the folder", lambda: QDesktopServices.openUrl(QUrl.fromLocalFile(str(kept_in)))))
        row.addStretch(1)
        self.forget = link("forget recent work", self._forget)
        row.addWidget(self.forget)
        kept.body.addLayout(row)
        self.column.addWidget(kept)
        self.end("Close")

    def _forget(self) -> None:
        self.forgotten.emit()
        self.forget.setText("forgotten")
        self.forget.setEnabled(False)
