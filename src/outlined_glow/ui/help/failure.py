"""What is shown when something went wrong that nobody expected: what happened, what was kept, and the report."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtGui import QFontDatabase
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QPlainTextEdit, QWidget

from ..widgets import ElidedLabel, button, label, link
from .dialog import Dialog


class Failure(Dialog):
    """Goes on with the work when it is closed."""

    def __init__(self, parent: QWidget, happened: str, kept: str, report: Path, save: Callable[[], object] | None) -> None:
        super().__init__(parent, "Something went wrong inside the program", 560)
        column = self.column
        column.addWidget(label(happened, wrap=True))
        column.addWidget(label(kept, "sea", wrap=True))
        row = QHBoxLayout()
        row.setSpacing(10)
        self.read = link("read the report", self._read)
        row.addWidget(self.read)
        row.addWidget(ElidedLabel(str(report), "quiet"), 1)
        column.addLayout(row)
        self.text = QPlainTextEdit()
        self.text.setObjectName("report")
        self.text.setReadOnly(True)
        self.text.setFont(QFontDatabase.systemFont(QFontDatabase.SystemFont.FixedFont))
        self.text.setPlainText(_content(report))
        self.text.setAccessibleName("The report")
        self.text.setMinimumHeight(220)
        self.text.hide()
        column.addWidget(self.text)
        self.copy = button("Copy the report", self._copy)
        self.end("Go on", self.copy, *([button("Save the work…", save)] if save is not None else []))

    def _read(self) -> None:
        shown = self.text.isHidden()
        self.text.setVisible(shown)
        self.read.setText("put the report away" if shown else "read the report")
        self.adjustSize()

    def _copy(self) -> None:
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(self.text.toPlainText())
        self.copy.setText("Copied")


def _content(report: Path) -> str:
    try:
        return report.read_text("utf-8")
    except OSError as error:
        return f"The report could not be read back: {error.strerror}."
