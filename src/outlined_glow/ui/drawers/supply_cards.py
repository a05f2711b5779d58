"""The supply of a board: what it is and needs, a second source, and a latch that switches the board off."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PyQt6.QtWidgets import QLabel

from ...core.units import show_si
from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice, Switch
from ..widgets import Card

if TYPE_CHECKING:
    from .base import Drawer


class SupplyCard(Card):
    """What feeds the board, and what that needs beside it."""

    def __init__(self, drawer: Drawer) -> None:
        super().__init__("Supply", "prices in credits")
        self.supply = Choice(tuple(core("parts").offered_supplies().items()))
        self.supply.chosen.connect(lambda word: drawer.edit("set-supply", supply=word))
        self.row("powered by", self.supply)
        self.source = KeyRows(self, "drive", lambda key, value: drawer.edit("drive", **{key: value}))
        self.source.add("cells", "volts_v", "capacity_ah", "capacitor_f", "sun_a", "regulator", "rail_v")
        self.needs: dict[str, Switch] = {}
        self._need_rows = {}
        for key, title, why in core("supply_facts").need_rows():
            one = Switch(title)
            one.setToolTip(why[:1].upper() + why[1:])
            one.switched.connect(lambda on, key=key: drawer.edit("drive", **{"fit" if on else "leave_away": (key,)}))
            self.needs[key], self._need_rows[key] = one, self.row(title, one)
        self.volts = self.figure("supply voltage under load", why=reason(drawer, "why_volts"))
        self.standing = self.figure("drawn with all LEDs off", why=reason(drawer, "why_standing"))
        self.sun = self.figure("filled by full sun in", why=reason(drawer, "why_sun"))

    def show_work(self, work: Any) -> None:
        """What it is now."""
        drive, plan, facts = work.design.drive, work.plan, core("supply_facts")
        self.supply.show_key(drive.supply)
        self.source.only(facts.supply_keys(work))
        self.source.show(facts.supply_values(work))
        for key, row in self._need_rows.items():
            row.setVisible(any(key in one.needs for one in plan.sources))
            self.needs[key].setChecked(key in drive.fitted)
        self.volts.setText(f"{plan.supply_v:.2f} V")
        self.standing.setText(show_si(plan.standing_a, "A") if plan.standing_a else "nothing")
        show_figure(self.sun, facts.sun_words(work))


class SecondCard(Card):
    """Another source beside the supply, and when the board switches itself off."""

    def __init__(self, drawer: Drawer) -> None:
        super().__init__("Second source and auto-off")
        self.second = KeyRows(self, "second-source", lambda key, value: drawer.edit("second-source", **{key: value}))
        self.second.add("supply", "cells", "volts_v", "joined")
        self.latch = KeyRows(self, "auto-off", lambda key, value: drawer.edit("auto-off", **{key: value}))
        self.latch.add("by", "after_s")
        self.latch["by"].setToolTip("A press of a button switches the board on; a counter or the program switches it off")
        self.off = self.figure("switches off after", why=reason(drawer, "why_off"))
        self.pressed = self.figure("can be pressed", why=reason(drawer, "why_day"))
        self.day = self.figure("a day left on takes", why=reason(drawer, "why_day"))

    def show_work(self, work: Any) -> None:
        """What they are now."""
        facts = core("supply_facts")
        for rows, values in ((self.second, facts.second_values(work)), (self.latch, facts.latch_values(work))):
            rows.only(values)
            rows.show(values)
        show_figure(self.off, facts.off_words(work))
        day, presses = facts.forgotten_words(work)
        show_figure(self.pressed, presses)
        show_figure(self.day, day)


def reason(drawer: Drawer, name: str) -> Callable[[], None]:
    """Opens “why” for a figure of the supply: its formula, by the name of the function that gives it."""

    def tell() -> None:
        work = drawer.session.work
        if work is not None:
            drawer.why(getattr(core("why_supply"), name)(work))

    return tell


def show_figure(value: QLabel, words: str) -> None:
    """Show a figure with its row, or hide both where there is none."""
    value.setText(words)
    row = value.parentWidget()
    if row is not None:
        row.setVisible(bool(words))
