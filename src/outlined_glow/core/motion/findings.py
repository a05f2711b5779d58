"""What the chosen hardware cannot do of the pattern."""

from __future__ import annotations

from ..project import Finding, Motion, Remedy
from .pattern import truth_of


def motion_findings(motion: Motion, leds: int) -> list[Finding]:
    """A warning when the pattern is a wish."""
    if leds == 0 or truth_of(motion):
        return []
    what = f"The pattern “{motion.pattern}”" if motion.pattern != "steady" else "Dimmed steady light"
    text = f"{what} is a wish: with a resistor each and no driver the LEDs can only be lit steadily."
    remedy = Remedy("make it steady", "set-pattern", (("pattern", "steady"), ("brightness", 1.0)))
    return [Finding("pattern-is-a-wish", "warning", "motion", text, remedies=(remedy,))]
