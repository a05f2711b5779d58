"""The leads that go off the board: one in hand, what it costs and bears, and the sheet of all of them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..core_door import core
from ..edit_fields import KeyRows
from ..fields import Choice
from ..session import Session
from ..widgets import Card, link
from .base import Window

_KINDS = "PDF (*.pdf);;Table (*.csv)"
_KEYS = ("to", "length_mm", "wire", "colours", "held", "connector", "gender", "keyed")


class LeadsCard:
    """The parts that leads are soldered to, and the one in hand."""

    def __init__(self, card: Card, session: Session, edit: Callable[..., Any]) -> None:
        self.card, self._session, self._edit = card, session, edit
        self._window: Window | None = None
        self._ref = ""
        self.of = Choice([])
        self.of.setToolTip("The part that the lead is soldered to")
        self.of.chosen.connect(self._take)
        self.of_row = card.row("lead of", self.of)
        self.begin = link("solder a lead to it", lambda: self._edit("lead", part=self._ref))
        card.add(self.begin)
        self.rows = KeyRows(card, "lead", lambda key, value: self._edit("lead", part=self._ref, **{key: value}))
        self.rows.add(*_KEYS)
        self.rows["colours"].setToolTip("In the order of the pins, with commas between: black, red")
        for key in ("wire", "held", "connector", "gender"):
            self.rows[key].setFixedWidth(150)
        self.figures = {key: card.figure(words) for key, words in (("drop", "loses, there and back"),
                        ("pull", "pulled no harder than"), ("bend", "bent no sharper than"))}  # fmt: skip
        self.remove = link("remove this lead", lambda: self._edit("remove-lead", part=self._ref))
        self.save = link("Save the sheet of leads…", self._save)
        for one in (self.remove, self.save):
            card.add(one)

    def attach(self, window: Window) -> None:
        """The window is there."""
        self._window = window

    def _take(self, ref: str) -> None:
        self._ref = ref
        self.show()

    def show(self) -> None:
        """Show the lead in hand as the board has it."""
        work = self._session.work
        if work is None:
            return
        facts = core("lead_facts")
        there = {one.lead.part: one for one in facts.leads_there(work)}
        words = facts.takers(work)
        refs = [ref for ref, _ in words]
        if self._ref not in refs:
            self._ref = next((ref for ref in refs if ref in there), refs[0] if refs else "")
        self.of.fill([(ref, f"{name} ●" if ref in there else name) for ref, name in words])
        self.of.show_key(self._ref)
        self.card.setVisible(bool(refs))
        self.card.aside.set_full(f"{len(there)} lead{'s' if len(there) != 1 else ''}")
        one = there.get(self._ref)
        self.begin.setVisible(one is None)
        self.remove.setVisible(one is not None)
        self.save.setVisible(bool(there))
        keys = () if one is None else _KEYS if one.lead.connector != "none" else _KEYS[:-2]
        self.rows.only(keys)
        for figure in self.figures.values():
            row = figure.parentWidget()
            assert row is not None
            row.setVisible(one is not None)
        if one is not None:
            self.rows.show_of(one.lead)
            told = facts.figures(one)
            for key, figure in self.figures.items():
                figure.setText(told[key])

    def _save(self) -> None:
        work = self._session.work
        if work is not None and self._window is not None:
            run = lambda path: core("lead_facts").leads_file(work, path.suffix)  # noqa: E731
            self._window.files.write("Save the sheet of leads", "leads.pdf", _KINDS, run)
