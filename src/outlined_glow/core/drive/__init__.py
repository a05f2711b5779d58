"""LED law, resistors, supplies, run time; where resistors and the holder go."""

from . import edits as _edits
from .plan import Branch, DrivePlan, plan_drive
from .runtime import RunTime

__all__ = ["Branch", "DrivePlan", "RunTime", "plan_drive"]
del _edits
