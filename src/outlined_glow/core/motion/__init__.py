"""What the lights do: patterns, the score that is made of them, its picture, and what the hardware can show of it."""

from . import edits as _edits
from .currents import average_share, peak_share
from .lamps import Lamps, lamps_of
from .score import level_at, levels

__all__ = ["Lamps", "average_share", "lamps_of", "level_at", "levels", "peak_share"]
del _edits
