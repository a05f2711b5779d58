"""Motion: the pattern, and whether the board shows it or it is a preview only."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from PyQt6.QtWidgets import QWidget

from ...core.units import show, show_si
from ..core_door import core
from ..edit_fields import KeyRows
from ..widgets import label
from .base import Drawer


class MotionDrawer(Drawer):
    """Pattern, speed, brightness; what it means for current and run time."""

    def build(self) -> None:
        card = self.add_card("Pattern")
        self.pattern_card = card
        self.rows = KeyRows(card, "set-pattern", lambda key, value: self.edit("set-pattern", **{key: value}))
        self.rows.add("pattern", "period_s", "brightness")
        self.truth = label("", "honey", wrap=True)
        card.add(self.truth)
        current = self.add_card("Current", "of this pattern")
        self.average = current.figure("average")
        self.peak = current.figure("peak")
        run = self.add_card("Battery life", "until half bright or empty")
        self.run = run
        self.steady = run.figure("as it is driven")
        self.wish = run.figure("with the pattern (a preview)", "honey")
        self._wish_row = self.wish.parentWidget()

    def inputs(self) -> Mapping[str, QWidget]:
        """The pattern and its keys."""
        return self.rows.fields

    def show_work(self, work: Any) -> None:
        facts = core("facts")
        motion = work.project.motion
        self.rows.show_of(motion)
        true = core("facts").shown_truly(work)
        way = core("drive_facts").way_title(work)
        self.pattern_card.aside.set_full("as wired" if true else "preview")
        self.truth.setText(
            f"The LEDs show this as they are driven: {way}."
            if true
            else f"Preview only: {way} cannot show this pattern. Drive (5) says which ways can."
        )
        _, average, peak = facts.currents(work)
        self.average.setText(show_si(average, "A") if work.leds else "–")
        self.peak.setText(show_si(peak, "A") if work.leds else "–")
        _, wish = facts.hours(work)
        self.steady.setText(facts.battery_words(work))
        self.wish.setText("" if wish is None else facts.hours_words(wish))
        if self._wish_row is not None:
            self._wish_row.setVisible(wish is not None)
        words = "steady" if motion.pattern == "steady" else f"{motion.pattern}, repeats every {show(motion.period_s, 2)} s"
        self.subtitle.set_full(words if work.leds else "no LEDs yet")
