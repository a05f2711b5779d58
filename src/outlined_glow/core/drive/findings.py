"""What was found while LEDs were driven and parts were seated, told in the board frame."""

from __future__ import annotations

from collections.abc import Sequence

from ..passes import Pass
from ..project import Finding
from ..project.frames import all_in_board_frame
from .plan import DrivePlan


def _of_plan(plan: DrivePlan) -> Sequence[Finding]:
    return plan.findings


CHECKS = (
    Pass("placing check", ("placing findings", "origin"), all_in_board_frame),
    Pass("drive check", ("plan",), _of_plan),
)
