"""What the current of a score does: pins and packages over their limits, heat, passages in which a power bank switches off."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from ...drive import DrivePlan
from ...drive.carriers import Carrier
from ...drive.heat import heat_findings
from ...project import Drive, Finding, Motion, Remedy
from ...shape import Outline
from ...units import show_si
from ..currents import average_share, played
from ..lamps import Lamps
from ..loads import Load, loads, most_of

#: A power bank that is asked too little for so long switches off, s.
QUIET_S = 10.0


def current_findings(motion: Motion, lamps: Lamps, plan: DrivePlan) -> list[Finding]:
    """Of all that plays, once round and on into the next."""
    least = max((one.least_a for one in plan.sources), default=0.0)
    if not least or not lamps.count or plan.lit_a + plan.standing_a < least:
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


def load_findings(
    motion: Motion, lamps: Lamps, plan: DrivePlan, drive: Drive, through: Sequence[Carrier]
) -> list[Finding]:  # fmt: skip
    """Pins, switches and packages that carry more than they bear while the score plays, which Drive has not told already."""
    told = {one.code for one in plan.findings}
    # What bears all its lights at once bears every score.
    weak = [one for one in through if most_of(one, plan) > one.allowed_a * 1.0001]
    over: dict[bool, list[Load]] = {}
    for one in loads(motion, lamps, plan, weak) if weak else ():
        if one.ref and one.worst_a > one.allowed_a * 1.0001:
            over.setdefault(bool(one.pin), []).append(one)
    out = []
    for is_pin, some in over.items():
        if ("output-over-current" if is_pin else "package-over-current") not in told:
            out.append(_over(some[0], len(some), drive))
    return out


def _over(one: Load, count: int, drive: Drive) -> Finding:
    """The one that is most over its limit, and how many are."""
    lower = float(f"{drive.current_a * 0.95 * one.allowed_a / one.worst_a:.2g}")
    others = "" if count == 1 else f" {count} such are over it."
    text = (
        f"Up to {show_si(one.worst_a, 'A')} flow through {one.title}, at {one.peak_s:.2f} s of the score;"
        f" {show_si(one.allowed_a, 'A')} may.{others} Light fewer at once, or lower the LED current."
    )
    return Finding(
        code="score-over-limit", severity="warning", stage="motion", text=text, measured=one.worst_a, allowed=one.allowed_a,
        count=count,
        remedies=(Remedy(f"lower the LED current to {show_si(lower, 'A')}", "set-current", (("current_a", lower),)),),
    )  # fmt: skip


def warm_findings(motion: Motion, lamps: Lamps, plan: DrivePlan, shown: bool, outline: Outline, place: str) -> list[Finding]:
    """What becomes too warm for the skin, by what plays where the LEDs can show that, else with all of them on."""
    return heat_findings(plan, outline, place, average_share(motion, lamps) if shown and lamps.count else None)


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
