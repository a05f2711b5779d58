"""Patterns: the level of each LED as a pure function of time, their average, and what the hardware can do."""

from . import edits as _edits
from .pattern import average_level, levels

__all__ = ["average_level", "levels"]
del _edits
