"""Patterns: the level of each LED as a pure function of time, their average, and what the hardware can do."""

from . import edits as _edits
from .lamps import Lamps, lamps_of
from .pattern import average_share, level_at, levels, peak_share

__all__ = ["Lamps", "average_share", "lamps_of", "level_at", "levels", "peak_share"]
del _edits
