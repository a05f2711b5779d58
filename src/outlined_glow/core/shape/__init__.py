"""Outline, cut-outs, hanging hole."""

from . import edits as _edits
from .features import RoundHole
from .outline import Outline, make_outline

__all__ = ["Outline", "RoundHole", "make_outline"]
del _edits
