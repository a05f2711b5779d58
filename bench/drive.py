"""Every way to drive LEDs, compared; and an edit of the drive to its figures."""

from __future__ import annotations

import math
from functools import partial

from timing import Row, cpu

from outlined_glow.core.drive import plan_drive
from outlined_glow.core.drive.planner import planned
from outlined_glow.core.lights import Led
from outlined_glow.core.parts import emitters
from outlined_glow.core.project import Drive

_COUNTS = (20, 300, 1024)


def _leds(count: int) -> tuple[Led, ...]:
    """LEDs in a row, in five groups."""
    kind = emitters()["0603 amber"]
    return tuple(Led(at + 1, 3.0 * at, 0.0, 0.0, "front", kind, f"g{at % 5}", "a", at + 1) for at in range(count))


def rows() -> list[Row]:
    """Seconds of CPU for all ways together, how they grow, and the figures after an edit."""
    drive = Drive(current_a=0.0004)
    every = [_leds(count) for count in _COUNTS]
    times = [cpu(partial(lambda leds: list(planned(drive, leds)), leds), 3) for leds in every]
    growth = math.log(times[-1] / times[0]) / math.log(_COUNTS[-1] / _COUNTS[0])
    told = ", ".join(f"{1000 * time:.0f}" for time in times) + " ms of CPU"
    out = [Row("drive", f"growth exponent of the planner, {_COUNTS[0]} to {_COUNTS[-1]:,} LEDs", growth, 1.2, note=told)]
    for key in ("each", "scan", "ripple", "shift-register"):
        one = Drive(method=key, supply="aaa-alkaline", current_a=0.0004)
        spent = 1000 * cpu(partial(plan_drive, one, every[1]), 3)
        out.append(Row("drive", f"an edit to the figures of 300 LEDs: {key}", spent, 50, "ms"))
    return out
