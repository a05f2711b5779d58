"""Clean up: every layer brought to the fabricator's rules at once, what that changed, and how it is undone."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from ..core_door import core
from ..edit_fields import KeyRows
from ..session import Session
from ..widgets import Card, button, label, link

_MOST_MARKS = 300


class CleanCard(Card):
    """One button, a strength, and the report. It is there while something is too thin, and as long as it is on."""

    shown = pyqtSignal(object, int)  # a finding whose places are marked, and which of them

    def __init__(self, session: Session) -> None:
        super().__init__("Clean up")
        self._session = session
        self.start = button("Clean up", lambda: session.edit("clean", {}), filled=True)
        self.start.setToolTip("Thicken, join, close or remove, whichever changes the art least. You can undo it.")
        self.add(self.start)
        keys = KeyRows(self, "clean", lambda key, value: session.edit("clean", {key: value}))
        self.strength = keys.add("strength_percent")
        self.strength.setToolTip("100 % keeps every thin line and makes it thicker, 0 % removes them, 50 % changes least")
        self._strength = keys.rows["strength_percent"]
        self.report = label("", "quiet", wrap=True)
        self.add(self.report)
        self._links = QWidget()
        line = QHBoxLayout(self._links)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(10)
        self.show_changes = link("show what changed", self._mark)
        self.undo = link("undo the clean-up", lambda: session.edit("unclean", {}))
        line.addWidget(self.show_changes)
        line.addStretch(1)
        line.addWidget(self.undo)
        self.add(self._links)
        self._changed: Any = None
        self.hide()

    def show_work(self, work: Any) -> None:
        """Whether it is on."""
        clean = work.design.artwork.clean
        self.start.setVisible(clean is None)
        for widget in (self._strength, self.report, self._links):
            widget.setVisible(clean is not None)
        if clean is not None:
            self.strength.show_value(100 * clean.keep)
            self.report.setText("measuring…")
            self.show()

    def show_findings(self, work: Any, findings: Sequence[Any]) -> None:
        """What is left, and what was changed; without anything to clean up the card goes."""
        report = core("clean_report")
        on = work.design.artwork.clean is not None
        todo = sum(len(one.places) for one in findings if one.code in report.KINDS and one.severity != "note")
        self.setVisible(on or todo > 0)
        self.aside.set_full(f"{todo} places" if todo else "")
        if not on:
            return

        def took(found: Any) -> None:
            lines, self._changed = found
            self.report.setText("\n".join(line[0].upper() + line[1:] + "." for line in lines))
            self.show_changes.setVisible(self._changed is not None)

        self._session.jobs.submit(
            "clean report", lambda cancelled: report.report(work, findings, _MOST_MARKS), took, self._session.trouble.emit
        )

    def _mark(self) -> None:
        if self._changed is not None:
            self.shown.emit(self._changed, 0)
