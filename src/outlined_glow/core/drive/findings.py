"""What was found while LEDs were driven and parts were seated, told in the board frame."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..passes import Pass
from ..project import Drive, Finding, Remedy
from ..project.frames import all_in_board_frame
from ..units import show_si
from .methods import ways_of
from .plan import DrivePlan
from .supply.supply_parts import missing_findings


def _of_plan(plan: DrivePlan, drive: Drive, limit_a: float) -> Sequence[Finding]:
    """What the plan found. More current than the supply gives is none that flows where a program keeps its frames under it."""
    if not all(way.programmed(own) for way, own in ways_of(drive)):
        return plan.findings
    return [_kept(one, plan, limit_a) if one.code == "supply-over-current" else one for one in plan.findings]


def _kept(one: Finding, plan: DrivePlan, limit_a: float) -> Finding:
    """A supply, or a second one, that gives too little for all LEDs on, where a program lights them."""
    most_a = one.allowed or 0.0
    room = float(f"{0.95 * (most_a - plan.standing_a):.3g}")
    if 0 < limit_a <= most_a - plan.standing_a:
        text = (
            f"All LEDs together would draw {show_si(plan.lit_a, 'A')}; the score keeps every frame under"
            f" {show_si(limit_a, 'A')}, which the supply gives."
        )
        return Finding(code="supply-kept-under", severity="note", stage="drive", text=text, measured=plan.lit_a,
                       allowed=most_a)  # fmt: skip
    if room <= 0:
        return one
    keep = Remedy(f"keep every frame under {show_si(room, 'A')}", "set-limit", (("limit_a", room),))
    return replace(one, remedies=(keep, *one.remedies))


def _of_supply(drive: Drive, plan: DrivePlan) -> Sequence[Finding]:
    """What the supply needs; of a board whose LEDs do not light there is more to say first."""
    return missing_findings(drive, plan.sources) if plan.loads else ()


CHECKS = (
    Pass("placing check", ("placing findings", "origin"), all_in_board_frame),
    Pass("drive check", ("plan", "drive", "current limit"), _of_plan),
    Pass("supply check", ("drive", "plan"), _of_supply),
)
