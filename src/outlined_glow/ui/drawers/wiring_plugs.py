"""Pins and sockets by which boards plug together: one in hand, its nets, what it goes onto, and which pin meets which."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QVBoxLayout

from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice
from ..session import Session
from ..widgets import Card, clear, figure_row, label, link

_KEYS = ("kind", "nets", "rows", "keyed")
_NOTHING = ("", "nothing")


class PlugsCard:
    """The plugs of the board in view."""

    def __init__(self, card: Card, session: Session, edit: Callable[..., Any]) -> None:
        self.card, self._session, self._edit = card, session, edit
        self._name = ""
        self.of = Choice([])
        self.of.chosen.connect(self._take)
        self.of_row = card.row("plug", self.of)
        self.rows = KeyRows(card, "plug", self._change)
        self.rows.add(*_KEYS)
        self.rows["nets"].setToolTip("In the order of the pins, with commas between; none: a pin that is joined to nothing")
        self.onto = Choice([])
        self.onto.setToolTip("A plug of another board of this project")
        self.onto.chosen.connect(self._plug_onto)
        self.onto_row = card.row("plugs onto", self.onto)
        self.words = label("", "quiet", wrap=True)
        card.add(self.words)
        self._pins = QVBoxLayout()
        self._pins.setSpacing(2)
        card.body.addLayout(self._pins)
        self.add = link("add a plug", self._add, tip="Pins or a socket, 2.54 mm, by which this board plugs onto another one")
        self.remove = link("remove this plug", lambda: self._edit("remove-plug", name=self._name))
        for one in (self.add, self.remove):
            card.add(one)

    def _change(self, key: str, value: Any) -> None:
        self._edit("plug", name=self._name, **{key: value})

    def _take(self, name: str) -> None:
        self._name = name
        self.show()

    def _plug_onto(self, key: str) -> None:
        board, _, name = key.partition("\n")
        self._edit("plug", name=self._name, onto=name or "none", onto_board=board or "none")

    def _add(self) -> None:
        work = self._session.work
        if work is not None:
            known = {one.name for one in work.design.drive.plugs}
            name = next(one for one in (f"plug {number}" for number in itertools.count(1)) if one not in known)
            if self._edit("plug", name=name):
                self._take(name)

    def show(self) -> None:
        """Show the plug in hand as the board has it."""
        work = self._session.work
        if work is None:
            return
        plugs = {one.name: one for one in work.design.drive.plugs}
        if self._name not in plugs:
            self._name = next(iter(plugs), "")
        one = plugs.get(self._name)
        self.card.aside.set_full(f"{len(plugs)} plug{'s' if len(plugs) != 1 else ''}")
        self.of.fill([(name, name) for name in plugs])
        self.of.show_key(self._name)
        self.rows.only(_KEYS if one is not None else ())
        for widget in (self.of_row, self.onto_row, self.remove):
            widget.setVisible(one is not None)
        self.words.hide()
        clear(self._pins)
        if one is None:
            return
        self.rows.show_of(one, nets=tuple(net or "none" for net in one.nets))
        others = [
            (f"{design.name}\n{its.name}", f"{its.name} of {design.name}")
            for design in work.project.designs
            if design.name != work.design.name
            for its in design.drive.plugs
        ]
        self.onto.fill([_NOTHING, *others])
        board = one.onto_board or next((key.partition("\n")[0] for key, _ in others if key.endswith(f"\n{one.onto}")), "")
        self.onto.show_key(f"{board}\n{one.onto}" if one.onto else "")
        if others:
            self._ask_what_meets(work)

    def _ask_what_meets(self, work: Any) -> None:
        """The other boards are made beside the window."""

        def found(cancelled: Callable[[], bool]) -> Any:
            works = self._session.making.made(work.project, cancelled)
            mine = next(one for one in works if one.design.name == work.design.name)
            return core("mating").plug_rows(works, mine)

        self._session.jobs.submit("plugs", found, lambda rows: self._show_pins(work, rows), self._session.trouble.emit)

    def _show_pins(self, work: Any, rows: Any) -> None:
        row = next((one for one in rows if one["name"] == self._name), None)
        if work is not self._session.work or row is None or row["gap_mm"] is None:
            return
        clear(self._pins)
        self.words.setText(
            f"Plugged onto {row['meets']}, the boards are {row['gap_mm']:g} mm apart. Which pin meets which, in mirror:"
        )
        self.words.show()
        for pin in row["pins"]:
            meets = "meets none" if pin["meets"] is None else f"meets {pin['meets']}: {pin['its_net'] or 'nothing'}"
            self._pins.addWidget(figure_row(f"{pin['pin']}: {pin['net'] or 'nothing'}", meets))
