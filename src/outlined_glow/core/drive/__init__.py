"""LED law, resistors, supplies, run time; ways to drive LEDs, and where their parts go."""

from typing import TYPE_CHECKING

from ..lazy import lazily

if TYPE_CHECKING:
    from .method import Method
    from .methods import METHODS
    from .plan import Branch, DrivePlan
    from .planner import Verdict
    from .planning import plan_drive
    from .supply.runtime import RunTime

__all__ = ["METHODS", "Branch", "DrivePlan", "Method", "RunTime", "Verdict", "plan_drive"]
__getattr__ = lazily(
    __name__,
    {
        "method": "Method", "methods": "METHODS", "plan": "Branch DrivePlan", "planner": "Verdict", "planning": "plan_drive",
        "supply.runtime": "RunTime",
    },
)  # fmt: skip
