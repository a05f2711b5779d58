"""Outline, cut-outs, hanging hole."""

from . import edits as _edits
from .outline import Outline, RoundHole, make_outline

__all__ = ["Outline", "RoundHole", "make_outline"]
del _edits
