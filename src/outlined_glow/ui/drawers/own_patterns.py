"""Patterns of one's own: a formula that every strip can play; brought from files and saved for others."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QInputDialog

from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice
from ..flow import FlowLayout
from ..opening import chosen_file
from ..session import Session
from ..widgets import label, link
from .base import Drawer, Window

_FILES = "Patterns (*.json)"
_FIRST = "max(0, sin(2 * pi * (phase - share))) ** 2"


class OwnPatternsCard:
    """The pattern in hand as its formulas."""

    def __init__(self, drawer: Drawer, session: Session) -> None:
        self._drawer, self._session, self._edit = drawer, session, drawer.edit
        self._window: Window | None = None
        self._name = ""
        self.card = drawer.add_card("Own patterns", "formulas")
        self.of = Choice([])
        self.of.chosen.connect(self._take)
        self._of_row = self.card.row("pattern", self.of)
        self.rows = KeyRows(self.card, "set-formula", self._set)
        self.rows.add("level", "colour", "palette", "keys")
        self.rows["level"].setToolTip(
            "0 dark to 1 full, from phase, share, place, count, chance, x_mm, y_mm, group and numbers"
        )
        self.rows["colour"].setPlaceholderText("none")
        self.rows["keys"].setPlaceholderText("width=0.2:0:1")
        self.words = label("", "quiet", wrap=True)
        self.card.add(self.words)
        links = FlowLayout()
        self.make = link("write a pattern…", self._make)
        self.bring = link("bring patterns…", self._bring)
        self.save = link("save them as a file…", self._save)
        self.remove = link("remove this pattern", lambda: self._edit("remove-formula", name=self._name))
        for one in (self.make, self.bring, self.save, self.remove):
            links.addWidget(one)
        self.card.body.addLayout(links)

    def attach(self, window: Window) -> None:
        """The window is there."""
        self._window = window

    def show_work(self, work: Any) -> None:
        """Show the pattern in hand."""
        patterns = work.project.motion.patterns
        names = [one.name for one in patterns]
        self.card.setVisible(bool(work.leds))
        self._name = self._name if self._name in names else names[-1] if names else ""
        self.of.fill([(name, name) for name in names])
        self.of.show_key(self._name)
        for widget in (self._of_row, self.save, self.remove):
            widget.setVisible(bool(names))
        self.rows.only(("level", "colour", "palette", "keys") if names else ())
        self.words.setText("" if names else "Write how bright each LED is as a formula of time and place.")
        self.words.setVisible(not names)
        if names:
            one = next(one for one in patterns if one.name == self._name)
            keys = " ".join(f"{key}={value:g}:{low:g}:{high:g}" for key, value, low, high in one.keys)
            self.rows.show_of(one, palette=one.palette or "none", keys=keys)

    def _set(self, key: str, value: Any) -> Any:
        return self._edit("set-formula", name=self._name, **{key: value})

    def _take(self, name: str) -> None:
        self._name = name
        if self._session.work is not None:
            self.show_work(self._session.work)

    def _make(self) -> None:
        name, good = QInputDialog.getText(self._drawer, "Write a pattern", "Name of the pattern")
        if good and name.strip() and self._edit("set-formula", name=name.strip(), level=_FIRST):
            self._name = name.strip()

    def _bring(self) -> None:
        file = chosen_file(self._drawer, "Bring patterns", _FILES, self._session.trouble.emit)
        if file is not None:
            self._edit("add-patterns", file=file)

    def _save(self) -> None:
        project = self._session.project
        if project is not None and self._window is not None:
            patterns = project.motion.patterns
            run = lambda _path: core("pattern_edits").pattern_file(patterns)  # noqa: E731
            self._window.files.write("Save the patterns", "patterns.json", _FILES, run)
