"""Motion: the pattern, and whether it is true or a wish."""

from __future__ import annotations

from typing import Any

from ...core.units import show, show_si
from ..core_door import core
from ..fields import Choice, QuantityField
from ..widgets import label
from .base import Drawer

_PATTERNS = (("steady", "steady"), ("chase", "chase"), ("breathe", "breathe"), ("twinkle", "twinkle"))


class MotionDrawer(Drawer):
    """Pattern, speed, brightness; what it means for current and run time."""

    stage, title = "motion", "Motion"

    def build(self) -> None:
        card = self.add_card("Pattern")
        self.pattern_card = card
        self.pattern = Choice(_PATTERNS)
        self.pattern.chosen.connect(lambda word: self.edit("set-pattern", pattern=word))
        card.row("pattern", self.pattern)
        self.period = QuantityField("s", "s", step=0.5)
        self.period.committed.connect(lambda value: self.edit("set-pattern", period_s=value))
        card.row("one round takes", self.period)
        self.brightness = QuantityField("%", "%", step=5, digits=0)
        self.brightness.committed.connect(lambda value: self.edit("set-pattern", brightness=min(1.0, max(0.0, value / 100))))
        card.row("brightness", self.brightness)
        self.truth = label("", "honey", wrap=True)
        card.add(self.truth)
        current = self.add_card("Current", "this pattern, repeated")
        self.average = current.figure("average")
        self.peak = current.figure("peak")
        run = self.add_card("Run time", "new cells to half light")
        self.run = run
        self.steady = run.figure("steady, as it is wired now")
        self.wish = run.figure("with the pattern, a wish", "honey")

    def show_work(self, work: Any) -> None:
        facts, pattern = core("facts"), core("pattern")
        motion = work.project.motion
        self.pattern.show_key(motion.pattern)
        self.period.show_value(motion.period_s)
        self.brightness.show_value(motion.brightness * 100)
        true = pattern.truth_of(motion)
        self.pattern_card.aside.set_full("true" if true else "a wish")
        self.truth.setText(
            "Steady light is what resistors alone can do."
            if true
            else "A wish: with a resistor each and no driver the LEDs can only be lit steadily. "
            "What plays here is what a driver could make of it."
        )
        _, average, peak = facts.currents(work)
        self.average.setText(show_si(average, "A") if work.leds else "–")
        self.peak.setText(show_si(peak, "A") if work.leds else "–")
        steady, wish = facts.hours(work)
        self.steady.setText("as long as it is fed" if steady is None else f"{show(steady, 1)} h")
        self.wish.setText("–" if wish is None else f"{show(wish, 1)} h")
        words = "steady" if motion.pattern == "steady" else f"{motion.pattern}, {show(motion.period_s, 2)} s, then again"
        self.subtitle.set_full(words if work.leds else "no lights to move yet")
