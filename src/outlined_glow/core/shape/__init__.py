"""Outline, cut-outs, hanging hole."""

from . import edits as _edits
from .features import RoundHole
from .outline import Outline, base_of, make_outline, taken_outline

__all__ = ["Outline", "RoundHole", "base_of", "make_outline", "taken_outline"]
del _edits
