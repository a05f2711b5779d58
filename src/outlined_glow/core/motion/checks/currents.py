"""What the current of a score does to its supply: passages so quiet that a power bank switches off."""

from __future__ import annotations

import math

import numpy as np

from ...drive import DrivePlan
from ...project import Finding, Motion, Remedy
from ...units import show_si
from ..currents import played
from ..lamps import Lamps

#: A power bank that is asked too little for so long switches off, s.
QUIET_S = 10.0


def current_findings(motion: Motion, lamps: Lamps, plan: DrivePlan) -> list[Finding]:
    """Of all that plays, once round and on into the next."""
    least = max((one.least_a for one in plan.sources), default=0.0)
    if not least or not lamps.count or plan.current_a + plan.standing_a < least:
        return []  # where all LEDs ask too little, Drive tells it
    made = played(motion, lamps)
    flows = made.shares * plan.current_a + plan.standing_a
    start, length = longest_under(flows < least, made.rate)
    if length < QUIET_S:
        return []
    most = float(flows[flows < least].max())
    when = f"From {start:.1f} s on, for {length:.0f} s," if math.isfinite(length) else "All the time"
    text = (
        f"{when} the score asks at most {show_si(most, 'A')}; a power bank switches off below about {show_si(least, 'A')}."
        " Let some light stay on."
    )
    return [
        Finding(
            code="power-bank-quiet", severity="note", stage="motion", text=text, measured=most, allowed=least,
            remedies=(Remedy("choose another supply in Drive"), Remedy("let a strip stay on there")),
        )
    ]  # fmt: skip


def longest_under(quiet: np.ndarray[tuple[int], np.dtype[np.bool_]], rate: float) -> tuple[float, float]:
    """When the longest quiet stretch begins, and how long it is, s; it may go on over the end into the beginning. Endless
    where all is quiet."""
    if quiet.all():
        return 0.0, float("inf")
    twice = np.concatenate([[False], quiet, quiet, [False]]).astype(int)
    steps = np.diff(twice)
    starts, ends = np.flatnonzero(steps == 1), np.flatnonzero(steps == -1)
    if not len(starts):
        return 0.0, 0.0
    at = int(np.argmax(ends - starts))
    return float(starts[at] % len(quiet)) / rate, float(ends[at] - starts[at]) / rate
