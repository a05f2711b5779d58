"""The board: a physical object in mm, its layers, and how it is drawn."""

from .model import LAYERS, Board, LightSpot

__all__ = ["LAYERS", "Board", "LightSpot"]
