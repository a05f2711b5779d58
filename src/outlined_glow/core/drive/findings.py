"""What was found while LEDs were driven and parts were seated, told in the board frame."""

from __future__ import annotations

from collections.abc import Sequence

from ..passes import Pass
from ..project import Drive, Finding
from ..project.frames import all_in_board_frame
from .heat import heat_findings
from .plan import DrivePlan
from .supply.supply_parts import missing_findings


def _of_plan(plan: DrivePlan) -> Sequence[Finding]:
    return plan.findings


def _of_supply(drive: Drive, plan: DrivePlan) -> Sequence[Finding]:
    """What the supply needs; of a board whose LEDs do not light there is more to say first."""
    return missing_findings(drive, plan.sources) if plan.loads else ()


CHECKS = (
    Pass("placing check", ("placing findings", "origin"), all_in_board_frame),
    Pass("drive check", ("plan",), _of_plan),
    Pass("supply check", ("drive", "plan"), _of_supply),
    Pass("heat check", ("plan", "outline", "place"), heat_findings),
)
