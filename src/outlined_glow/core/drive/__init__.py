"""LED law, resistors, supplies, run time; ways to drive LEDs, and where their parts go."""

from typing import TYPE_CHECKING

from ..lazy import lazily

if TYPE_CHECKING:
    from .method import Method, Verdict
    from .methods import METHODS, plan_drive
    from .plan import Branch, DrivePlan
    from .runtime import RunTime

__all__ = ["METHODS", "Branch", "DrivePlan", "Method", "RunTime", "Verdict", "plan_drive"]
__getattr__ = lazily(
    __name__,
    {"method": "Method Verdict", "methods": "METHODS plan_drive", "plan": "Branch DrivePlan", "runtime": "RunTime"},
)
