"""The light as the supply runs down and the copper takes volts, shown on the board."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QVBoxLayout

from ..core_door import core
from ..fields import Switch
from ..session import Session
from ..slider import ShareSlider
from ..widgets import clear, figure_row
from .base import Drawer, Window


class RailCard:
    """A switch that shows it, how much charge is left, and what it comes to."""

    def __init__(self, drawer: Drawer, session: Session) -> None:
        self._session = session
        self._window: Window | None = None
        self._lost: Any = {}
        self._board: Any = None
        self.card = drawer.add_card("Light that is left", "volts of each LED")
        self.shown = Switch("show it on the board")
        self.shown.switched.connect(self._switch)
        self.card.row("show it on the board", self.shown)
        self.charge = ShareSlider("Charge left", 1.0)
        self.charge.moved.connect(lambda _: self._show())
        self._charge_row = self.card.row("charge left", self.charge)
        self._figures = QVBoxLayout()
        self._figures.setSpacing(2)
        self.card.body.addLayout(self._figures)

    def attach(self, window: Window) -> None:
        """The window is there."""
        self._window = window

    def show_work(self, work: Any) -> None:
        """A new board: what its copper takes is worked out where it is shown."""
        self.card.setVisible(bool(work.leds))
        self._charge_row.setVisible(work.plan.steady is not None)
        if work.board is not self._board:
            self._lost, self._board = {}, None
        self._show()

    def look(self, work: Any) -> None:
        """Work out what the copper takes; a score that changes takes no more of it."""
        if work.board is self._board:
            return

        def found(lost: Any) -> None:
            if work is self._session.work:
                self._lost, self._board = lost, work.board
                self._show()

        lost = lambda cancelled: self._session.making.drops(work, cancelled).lost  # noqa: E731
        self._session.jobs.submit("rail", lost, found, self._session.trouble.emit)

    def _switch(self, _on: bool) -> None:
        self._show()

    def _show(self) -> None:
        work = self._session.work
        if work is None or self._window is None or not work.leds:
            return
        made = core("rail").rail_of(work, self.charge.share, self._lost)
        clear(self._figures)
        for name, words in core("rail").rail_words(work, made):
            self._figures.addWidget(figure_row(name, words))
        bench = self._window.area.bench
        shares = made.shares if self.shown.isChecked() else None
        if shares is not None or bench.rail is not None:
            bench.set_rail(shares)
