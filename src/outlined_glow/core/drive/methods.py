"""Every way to drive LEDs, by its key. To add one, write it in a file of its own and put it here; nothing else asks which one
it is."""

from __future__ import annotations

from ..errors import Trouble
from ..lights import Led
from ..project import Drive
from .each import OneResistorEach
from .method import Method
from .plan import DrivePlan

METHODS: dict[str, Method] = {one.key: one for one in (OneResistorEach(),)}


def method(key: str) -> Method:
    """The method of that key, or `Trouble`."""
    found = METHODS.get(key)
    if found is None:
        raise Trouble(f"There is no way “{key}” to drive LEDs; there are {', '.join(METHODS)}.")
    return found


def plan_drive(drive: Drive, leds: tuple[Led, ...]) -> DrivePlan:
    """What the chosen method makes of these LEDs."""
    return method(drive.method).plan(drive, leds)
