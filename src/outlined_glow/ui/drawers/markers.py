"""Markers of the score: moments with a name, to go to, to snap to, to move."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QInputDialog

from ..edit_fields import KeyRows
from ..fields import Choice
from ..flow import FlowLayout
from ..session import Session
from ..widgets import link
from .base import Drawer, Window


class MarkersCard:
    """The marker in hand and when it is."""

    def __init__(self, drawer: Drawer, session: Session, edit: Callable[..., Any]) -> None:
        self._drawer, self._session, self._edit = drawer, session, edit
        self._window: Window | None = None
        self._name = ""
        self.card = drawer.add_card("Markers")
        self.of = Choice([])
        self.of.chosen.connect(self._go)
        self._of_row = self.card.row("marker", self.of)
        self.rows = KeyRows(self.card, "set-marker", lambda _, at_s: self._edit("set-marker", name=self._name, at_s=at_s))
        self.rows.add("at_s")
        links = FlowLayout()
        self.make = link("mark this moment", self._make)
        self.make.setToolTip("Key on the score: P")
        self.rename = link("name it…", self._rename)
        self.remove = link("remove this marker", lambda: self._edit("remove-marker", name=self._name))
        for one in (self.make, self.rename, self.remove):
            links.addWidget(one)
        self.card.body.addLayout(links)

    def attach(self, window: Window) -> None:
        """The window is there."""
        self._window = window

    def show_work(self, work: Any) -> None:
        """Show the marker in hand."""
        markers = work.project.motion.markers
        names = [one.name for one in markers]
        self.card.setVisible(bool(work.project.motion.score))
        self._name = self._name if self._name in names else names[0] if names else ""
        self.card.aside.set_full("" if names else "strips snap to them")
        self.of.fill([(name, name) for name in names])
        self.of.show_key(self._name)
        for widget in (self._of_row, self.rename, self.remove):
            widget.setVisible(bool(names))
        self.rows.only(("at_s",) if names else ())
        if names:
            self.rows.show_of(next(one for one in markers if one.name == self._name))

    def _go(self, name: str) -> None:
        """Take a marker in hand, and the playhead to it."""
        self._name, work = name, self._session.work
        if work is not None and self._window is not None:
            at = next(one.at_s for one in work.project.motion.markers if one.name == name)
            self._window.area.score.scrubbed.emit(min(at, 0.9999 * work.project.motion.seconds))
            self.show_work(work)

    def _make(self) -> None:
        if self._window is not None:
            score = self._window.area.score
            name = score.lanes.new_marker()
            if self._edit("set-marker", name=name, at_s=round(score.time_s, 3)):
                self._name = name

    def _rename(self) -> None:
        name, good = QInputDialog.getText(self._drawer, "Name the marker", "Name of the marker", text=self._name)
        if (
            good
            and name.strip()
            and name.strip() != self._name
            and self._edit("set-marker", name=self._name, called=name.strip())
        ):
            self._name = name.strip()
