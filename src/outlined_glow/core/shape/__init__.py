"""Outline, cut-outs, hanging hole."""

from . import edits as _edits
from .features import RoundHole
from .outline import HOLE_CLEARANCE_MM, Outline, base_of, make_outline, taken_outline

__all__ = ["HOLE_CLEARANCE_MM", "Outline", "RoundHole", "base_of", "make_outline", "taken_outline"]
del _edits
