"""The sensor that dims the board by the light of its place."""

from __future__ import annotations

from typing import Any

from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice
from ..session import Session
from .base import Drawer, Window

_KEYS = ("map", "dark_lx", "bright_lx", "floor", "ceiling", "falls", "own_lx", "every_s", "smooth_s")


class AmbientCard:
    """Which feed is the light of the place, and what the board makes of it."""

    def __init__(self, drawer: Drawer, session: Session) -> None:
        self._session = session
        self._window: Window | None = None
        self.card = drawer.add_card("Light of the place")
        self.feed = Choice([])
        self.feed.chosen.connect(lambda name: drawer.edit("set-ambient", feed=name))
        self._feed_row = self.card.row("a sensor reads", self.feed)
        self.rows = KeyRows(self.card, "set-ambient", lambda key, value: drawer.edit("set-ambient", **{key: value}))
        self.rows.add(*_KEYS)
        self.rows["own_lx"].setToolTip("What the board adds on its own sensor with all its light; a meter tells it in the dark")
        self.now = self.card.figure("dimmed at the playhead to")

    def attach(self, window: Window) -> None:
        """The window is there."""
        self._window = window
        window.area.moment.connect(lambda *_: self._show_now())

    def show_work(self, work: Any) -> None:
        """Show the sensor as the project has it."""
        motion = work.project.motion
        on = bool(motion.ambient.feed)
        self.card.setVisible(bool(motion.feeds) or on)
        self.card.aside.set_full("dims the board" if on else "no sensor")
        names = [one.name for one in motion.feeds]
        names += [motion.ambient.feed] if on and motion.ambient.feed not in names else []
        self.feed.fill([("none", "nothing"), *((name, name) for name in names)])
        self.feed.show_key(motion.ambient.feed or "none")
        self.rows.only(_KEYS if on else ())
        row = self.now.parentWidget()
        if row is not None:
            row.setVisible(on)
        if on:
            self.rows.show_of(motion.ambient)
            self._show_now()

    def _show_now(self) -> None:
        project = self._session.project
        if project is not None and project.motion.ambient.feed and self._window is not None:
            self.now.setText(core("motion_facts").dimmed_words(project.motion, self._window.area.score.time_s))
