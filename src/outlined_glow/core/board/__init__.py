"""The board: a physical object in mm, its layers, and how it is drawn."""

from .model import LAYERS, Board, LightSpot, Pad

__all__ = ["LAYERS", "Board", "LightSpot", "Pad"]
