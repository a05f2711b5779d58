"""What keeps a board from being ordered at all."""

from __future__ import annotations

from ..board.model import LightSpot
from ..passes import Pass
from ..project import Finding


def unwired_findings(lights: tuple[LightSpot, ...]) -> list[Finding]:
    """A stop for LEDs without tracks."""
    if not lights:
        return []
    leds = {spot.index: (spot.x, spot.y) for spot in reversed(lights)}
    text = f"The {len(leds)} LEDs have no tracks to them: this version does not route wiring yet. "
    text += "Remove the LEDs to order a plain badge."
    places = tuple(reversed(leds.values()))
    return [Finding(code="not-wired", severity="stop", stage="order", text=text, count=len(leds), places=places)]


CHECKS = (Pass("wiring check", ("lights",), unwired_findings),)
