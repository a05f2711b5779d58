"""What the chosen hardware cannot do of the pattern."""

from __future__ import annotations

from ..project import Finding, Motion, Remedy
from .pattern import truth_of


def motion_findings(motion: Motion, leds: int) -> list[Finding]:
    """A warning when the hardware cannot show the pattern."""
    if leds == 0 or truth_of(motion):
        return []
    what = f"“{motion.pattern}”" if motion.pattern != "steady" else "Dimmed steady light"
    text = f"{what} is a preview only. With resistors alone the LEDs stay on. "
    text += "Blinking needs a driver, which this version cannot add."
    remedy = Remedy("make it steady", "set-pattern", (("pattern", "steady"), ("brightness", 1.0)))
    return [Finding("pattern-is-a-wish", "warning", "motion", text, remedies=(remedy,))]
