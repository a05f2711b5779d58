"""LED law, resistors, supplies, run time; ways to drive LEDs, and where their parts go."""

from . import edits as _edits
from .method import Method, Verdict
from .methods import METHODS, method, plan_drive
from .plan import Branch, DrivePlan
from .runtime import RunTime

__all__ = ["METHODS", "Branch", "DrivePlan", "Method", "RunTime", "Verdict", "method", "plan_drive"]
del _edits
