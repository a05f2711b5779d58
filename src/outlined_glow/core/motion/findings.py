"""What the chosen hardware cannot do of the pattern."""

from __future__ import annotations

from ..drive.methods import ways_of
from ..passes import Pass
from ..project import Drive, Finding, Motion, Remedy

_STEADY = Motion(pattern="steady", brightness=1.0)


def motion_findings(motion: Motion, leds: int, drive: Drive) -> list[Finding]:
    """A warning when the hardware cannot show the pattern."""
    if leds == 0:
        return []
    cannot = next((way for way, own in ways_of(drive) if not way.can_show(own, motion)), None)
    if cannot is None:
        return []
    what = f"“{motion.pattern}”" if motion.pattern != "steady" else "Dimmed steady light"
    text = f"{what} is a preview only: {cannot.title} cannot show it. Drive says which ways can."
    remedies: tuple[Remedy, ...] = (Remedy("choose a way with a program"),)
    if cannot.shows(_STEADY):
        remedies = (Remedy("make it steady", "set-pattern", (("pattern", "steady"), ("brightness", 1.0))), *remedies)
    return [Finding(code="pattern-is-a-wish", severity="warning", stage="motion", text=text, remedies=remedies)]


CHECKS = (Pass("led count", ("leds",), len), Pass("motion check", ("motion", "led count", "drive"), motion_findings))
