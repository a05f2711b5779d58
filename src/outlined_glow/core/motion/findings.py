"""What the chosen hardware cannot do of the pattern."""

from __future__ import annotations

from ..drive.methods import method
from ..passes import Pass
from ..project import Drive, Finding, Motion, Remedy


def motion_findings(motion: Motion, leds: int, drive: Drive) -> list[Finding]:
    """A warning when the hardware cannot show the pattern."""
    if leds == 0 or method(drive.method).shows(motion):
        return []
    what = f"“{motion.pattern}”" if motion.pattern != "steady" else "Dimmed steady light"
    text = f"{what} is a preview only. With resistors alone the LEDs stay on. "
    text += "Blinking needs a driver, which this version cannot add."
    remedy = Remedy("make it steady", "set-pattern", (("pattern", "steady"), ("brightness", 1.0)))
    return [Finding(code="pattern-is-a-wish", severity="warning", stage="motion", text=text, remedies=(remedy,))]


CHECKS = (Pass("led count", ("leds",), len), Pass("motion check", ("motion", "led count", "drive"), motion_findings))
