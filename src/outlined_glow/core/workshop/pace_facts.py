"""What sets the pace of a board without a program: its parts, its period, and how that spreads over many boards."""

from __future__ import annotations

from ..drive.timing import Astable, Oscillator, Spread, TwoSpeeds, distribution, leaks
from ..units import show_si
from .work import Work


def pace_rows(work: Work) -> list[tuple[str, str]]:
    """The parts of the timer with their values, and what comes of them; nothing where no timer is."""
    pace = work.plan.pace
    if pace is None:
        return []
    if isinstance(pace, Oscillator):
        parts = [("resistor", show_si(pace.r_ohm, "Ω")), ("capacitor", show_si(pace.c_f, "F"))]
        return [*parts, ("period of the first group", show_si(pace.period_s, "s")), _nine_in_ten(pace)]
    fast = pace.fast if isinstance(pace, TwoSpeeds) else pace
    rows = [("R1", show_si(fast.r1_ohm, "Ω")), ("R2", show_si(fast.r2_ohm, "Ω"))]
    if isinstance(pace, TwoSpeeds):
        rows += [("R3, bridged by the switch", show_si(pace.more_ohm, "Ω")), ("C", show_si(fast.c_f, "F"))]
        rows += [
            ("a step, switch closed", show_si(fast.period_s, "s")),
            ("a step, switch open", show_si(pace.slow.period_s, "s")),
        ]
    else:
        rows += [("C", show_si(fast.c_f, "F")), ("a step", show_si(fast.period_s, "s"))]
    slowest = slowest_of(pace)
    first = slowest.first_high_s + slowest.low_s
    rows += [_nine_in_ten(slowest), ("the first step", show_si(first, "s"))]
    return [*rows, ("leakage", "will show: choose a shorter period")] if leaks(slowest) else rows


def slowest_of(pace: Astable | TwoSpeeds) -> Astable:
    """The timer at its slower speed."""
    return pace.slow if isinstance(pace, TwoSpeeds) else pace


def _nine_in_ten(pace: Astable | Oscillator) -> tuple[str, str]:
    low, high = distribution(pace).nine_in_ten
    return "nine in ten boards", f"{show_si(low, 's')} to {show_si(high, 's')}"


def spread(work: Work) -> Spread | None:
    """How the period lies over many boards; None where no timer is."""
    pace = work.plan.pace
    if pace is None:
        return None
    return distribution(pace if isinstance(pace, Oscillator) else slowest_of(pace))
