"""Cards of the lights: LEDs in hand, and the order of the chain."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QLineEdit, QWidget

from ...core.units import show
from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice, Switch
from ..widgets import Card, label, link


class HandCard:
    """LEDs that were picked on the bench, to be given something of their own."""

    def __init__(self, card: Card, edit: Callable[..., Any]) -> None:
        self.card, self._edit = card, edit
        self.words = label("", "quiet", wrap=True)
        card.add(self.words)
        self.emitter = EmitterChoice(card, lambda name: self._each("retype", emitter=name))
        self.turn = link("Turn by 90°", self._turn)
        self.skip = link("Leave out", lambda: self._each("skip"))
        self.plain = link("As the array has it", lambda: self._each("as-array"))
        self.groups = QLineEdit()
        self.groups.setMinimumWidth(150)
        self.groups.setPlaceholderText("none of their own")
        self.groups.editingFinished.connect(self._group)
        card.row("groups beside the array's", self.groups)
        for one in (self.turn, self.skip, self.plain):
            card.add(one)
        self._own_groups: tuple[str, ...] = ()
        self._steps = itertools.count()
        self._picked: dict[str, tuple[int, ...]] = {}
        self._work: Any = None

    def show(self, work: Any, picked: frozenset[tuple[str, int]]) -> None:
        """Show what is in hand of a board."""
        here = [led for led in work.leds if (led.array, led.place) in picked] if work is not None else []
        self._work = work
        self._picked = {}
        for led in here:
            self._picked[led.array] = (*self._picked.get(led.array, ()), led.place)
        self.card.setVisible(bool(here))
        if not here:
            return
        numbers = ", ".join(str(led.index) for led in here[:12]) + (", …" if len(here) > 12 else "")
        self.card.title.set_full("LED in hand" if len(here) == 1 else f"{len(here)} LEDs in hand")
        self.words.setText(f"Number {numbers}. They keep their numbers, whatever they are given.")
        self.emitter.show_emitter(here[0].kind, work.values["library"])
        own = [core("light_facts").change_of(work, led.array, led.place) for led in here]
        self.plain.setVisible(any(core("light_facts").has_its_own(one) for one in own))
        self._own_groups = tuple(dict.fromkeys(name for one in own for name in one.groups))
        if not self.groups.hasFocus():
            self.groups.setText(", ".join(self._own_groups))

    def _group(self) -> None:
        names = tuple(word.strip() for word in self.groups.text().split(",") if word.strip())
        if names != self._own_groups:
            self._each("group", groups=names)

    def _each(self, name: str, **values: Any) -> None:
        step = f"in hand {next(self._steps)}"
        for array, places in self._picked.items():
            self._edit(step, name, array=array, place=places, **values)

    def _turn(self) -> None:
        step = f"in hand {next(self._steps)}"
        for array, places in self._picked.items():
            for place in places:
                turned = core("light_facts").change_of(self._work, array, place).turn_deg + 90
                self._edit(step, "nudge", array=array, place=(place,), turn_deg=turned % 360)


class EmitterChoice:
    """What an LED is: a package and a colour, or a part of the project's own, which is of one colour."""

    def __init__(self, card: Card, chosen: Callable[[str], object]) -> None:
        self.package, self.colour = Choice([]), Choice([])
        self._colour_row = QWidget()
        for choice, title in ((self.package, "part"), (self.colour, "colour")):
            choice.chosen.connect(lambda _: chosen(self.name))
            self._colour_row = card.row(title, choice)
        self._known: Any = None

    @property
    def name(self) -> str:
        """The emitter that is chosen."""
        package = str(self.package.currentData())
        name = package if package in self._known.emitters else f"{package} {self.colour.currentData()}"
        # A display does not come in every colour.
        return name if name in self._known.emitters else self._of(package)[0].name

    def _of(self, package: str) -> list[Any]:
        return [one for one in self._known.emitters.values() if one.package == package]

    def show_emitter(self, one: Any, known: Any) -> None:
        """Show an emitter of a library."""
        if known is not self._known:
            self._known = known
            self.package.fill([(name, name) for name in dict.fromkeys(other.package for other in known.emitters.values())])
        self.package.show_key(one.package)
        self._colour_row.setVisible(bool(one.colour))
        if one.colour:
            self.colour.fill([(other.colour, other.colour) for other in self._of(one.package)])
            self.colour.show_key(one.colour)


class ChainCard:
    """In which order the LEDs are chained, and how long the way is."""

    def __init__(self, card: Card, edit: Callable[..., Any]) -> None:
        self.card, self._edit = card, edit
        self.rows = KeyRows(card, "order", self._set)
        self.rows.add("how", "turned")
        self.shown = Switch("shown on the board")
        card.row("shown on the board", self.shown)
        self.paint = Switch("paint it: Ctrl and drag")
        self._paint_row = card.row("paint it: Ctrl and drag", self.paint)
        self.ends = card.figure("first and last LED")
        self.length = card.figure("length, LED to LED")
        self.renumber = link("Number them anew", lambda: edit("renumber"), tip="From 1, array by array, without gaps")
        card.add(self.renumber)
        self._chain: Any = None
        self._leds: tuple[int, ...] = ()

    def _set(self, key: str, value: Any) -> None:
        if self._chain is None:  # no board was shown yet
            return
        values = {"how": self._chain.how, "turned": self._chain.turned, key: value}
        hand = {"leds": self._leds} if values["how"] == "hand" else {}
        self._edit("order", **values, **hand)

    def painted(self, leds: tuple[int, ...]) -> None:
        """LEDs were painted over, in this order: they come first, the others keep theirs behind them."""
        if leds and self._chain is not None:
            self._edit("order", how="hand", leds=(*leds, *(one for one in self._leds if one not in leds)))

    def show_work(self, work: Any) -> None:
        """Show the chain of a board."""
        self._chain, self._leds = work.design.chain, work.values["chain"]
        self.card.setVisible(len(self._leds) > 1)
        self.rows.show_of(self._chain)
        by_hand = self._chain.how == "hand"
        self.rows["turned"].setEnabled(not by_hand)
        self._paint_row.setVisible(by_hand)
        if not by_hand and self.paint.isChecked():
            self.paint.setChecked(False)
            self.paint.switched.emit(False)
        if self._leds:
            self.ends.setText(f"{self._leds[0]} and {self._leds[-1]}")
            self.length.setText(f"{show(core('lights').chain_length_mm(work.leds, self._leds), 1)} mm")
