"""The edits of the motion."""

from __future__ import annotations

from typing import Any

import msgspec

from ..project import Param, Project, edit
from .pattern import pattern_names


@edit(
    "set-pattern",
    "Pattern",
    pattern=Param("choice", choices=pattern_names, title="pattern"),
    period_s=Param("quantity", "s", 0.05, 600, title="period", step=0.5),
    brightness=Param("quantity", "", 0, 1, title="brightness", shown="%", step=5, digits=0),
)
def set_pattern(project: Project, **changes: Any) -> Project:
    """Choose the pattern, how long one round takes, and how bright it is (0 to 1)."""
    kept = {key: value for key, value in changes.items() if value is not None}
    return msgspec.structs.replace(project, motion=msgspec.structs.replace(project.motion, **kept))
