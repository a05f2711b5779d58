"""A part file to be changed by hand: checked before it is taken, and what is wrong is told with its line."""

from __future__ import annotations

from PyQt6.QtGui import QFontDatabase
from PyQt6.QtWidgets import QPlainTextEdit, QWidget

from ...core.errors import Trouble
from ..core_door import core
from ..session import Session
from ..widgets import button, label
from .dialog import Dialog


class PartText(Dialog):
    """The file as it is, and a sentence about what is wrong with it."""

    def __init__(self, parent: QWidget, session: Session, text: str) -> None:
        super().__init__(parent, "Change the part")
        self._session = session
        self.resize(620, 620)
        self.text = QPlainTextEdit(text)
        self.text.setAccessibleName("part file")
        self.text.setFont(QFontDatabase.systemFont(QFontDatabase.SystemFont.FixedFont))
        self.column.addWidget(self.text, 1)
        self.wrong = label("", "warn", wrap=True)
        self.column.addWidget(self.wrong)
        self.end("Close", None, button("Take it", self._take))

    def _take(self) -> None:
        data = self.text.toPlainText().encode()
        try:
            one = core("parts").read_part(data)
        except Trouble as trouble:
            self.wrong.setText(str(trouble))
            return
        if self._session.edit("add-part", {"file": core("param").PictureFile(f"{one.name}.json", data)}):
            self.accept()
