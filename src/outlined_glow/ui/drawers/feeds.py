"""The feeds of a score: values that change while it plays, simulated or recorded."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice
from ..flow import FlowLayout
from ..opening import chosen_file
from ..session import Session
from ..slider import ShareSlider
from ..widgets import link
from .base import Drawer, Window

_IS, _READ = ("kind", "low", "high", "period_s", "response", "detents"), ("noise", "bits", "smooth_s", "dead_band", "timeout_s")
#: The kinds that are turned by hand.
TURNED = ("knob", "encoder")


class FeedsCard:
    """The feed in hand, its value now, how the board reads it, and how to make another one."""

    def __init__(self, drawer: Drawer, session: Session, edit: Callable[..., Any]) -> None:
        self._session, self._edit = session, edit
        self._window: Window | None = None
        card = self.card = drawer.add_card("Feeds")
        self._name = ""
        self.of = Choice([])
        self.of.chosen.connect(self._take)
        self.of_row = card.row("feed", self.of)
        self.rows = KeyRows(card, "set-feed", lambda key, value: self._edit("set-feed", name=self._name, **{key: value}))
        self.rows.add(*_IS)
        self.knob = ShareSlider("Knob")
        self.knob.moved.connect(self._turn)
        self.knob.settled.connect(lambda at: self._edit("set-feed", name=self._name, at=round(at, 4)))
        self._knob_row = card.row("turned to", self.knob)
        self.now = card.figure("its value at the playhead")
        links = FlowLayout()
        self.make = link("make a feed", self._make)
        self.read = link("read one from a file…", self._read)
        self.remove = link("remove it", lambda: self._edit("remove-feed", name=self._name))
        self.read.setToolTip("CSV: a moment in seconds and a value on each line; or JSON lines with t and value")
        for one in (self.make, self.read, self.remove):
            links.addWidget(one)
        card.body.addLayout(links)
        self.reading = drawer.add_card("How it is read", "by the board")
        self.read_rows = KeyRows(
            self.reading, "set-feed", lambda key, value: self._edit("set-feed", name=self._name, **{key: value})
        )
        self.read_rows.add(*_READ)

    def attach(self, window: Window) -> None:
        """The window is there."""
        self._window = window
        window.area.moment.connect(lambda *_: self.show_time(window.area.score.time_s))

    def _turn(self, at: float) -> None:
        """The knob is in the hand."""
        if self._window is not None and self._name:
            self._window.area.turn_knob(self._name, at)

    def show_work(self, work: Any) -> None:
        """Show the feed in hand."""
        feeds = work.project.motion.feeds
        names = [one.name for one in feeds]
        if self._name not in names:
            self._name = names[-1] if names else ""
        self.card.aside.set_full("none" if not names else "simulated or recorded")
        self.of.fill([(name, name) for name in names])
        self.of.show_key(self._name)
        one = next((one for one in feeds if one.name == self._name), None)
        for widget in (self.of_row, self.remove, self.now.parentWidget()):
            if widget is not None:
                widget.setVisible(one is not None)
        self.reading.setVisible(one is not None and one.kind != "clock")
        by_hand = one is not None and one.kind in TURNED
        self._knob_row.setVisible(by_hand)
        if one is None:
            self.rows.only(())
            return
        lacks = {"period_s", "timeout_s"} if by_hand else {"response", "detents"}
        lacks |= {"detents"} if one.kind == "knob" else set()
        lacks |= {"timeout_s"} if one.kind != "recorded" else set()
        self.rows.only([key for key in _IS if key not in lacks])
        self.read_rows.only([key for key in _READ if key not in lacks])
        self.rows.show_of(one)
        self.read_rows.show_of(one)
        self.knob.stops = one.detents if one.kind == "encoder" else 0
        self.knob.show_share(one.at)
        if self._window is not None:
            self.show_time(self._window.area.score.time_s)

    def show_time(self, time_s: float) -> None:
        """The value at the playhead."""
        project = self._session.project
        one = next((one for one in project.motion.feeds if one.name == self._name), None) if project is not None else None
        if one is not None:
            self.now.setText(core("motion_facts").feed_words(one, time_s))

    def _take(self, name: str) -> None:
        self._name = name
        if self._session.work is not None:
            self.show_work(self._session.work)

    def _new_name(self) -> str:
        project = self._session.project
        names = {one.name for one in project.motion.feeds} if project is not None else set()
        return next(name for at in range(1, 200) if (name := "tide" if at == 1 else f"feed{at}") not in names)

    def _make(self) -> None:
        name = self._new_name()
        if self._edit("set-feed", name=name, kind="tide", low=0.4, high=4.2):
            self._name = name

    def _read(self) -> None:
        kinds = "Recorded values (*.csv *.json *.jsonl *.txt)"
        file = chosen_file(self.card, "Read a feed", kinds, self._session.trouble.emit)
        name = self._new_name()
        if file is not None and self._edit("set-feed", name=name, file=file):
            self._name = name
