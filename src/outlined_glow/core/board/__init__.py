"""The board: a physical object in mm, its layers, and how it is drawn."""

from .model import LAYERS, Board, Layer, LightSpot

__all__ = ["LAYERS", "Board", "Layer", "LightSpot"]
