"""Raster pictures: read, given few colours or tones of the board, and traced to regions."""

from .clusters import pixels_are_drawn
from .read import Raster, read_raster
from .route import ToneRules, resolve_raster

__all__ = ["Raster", "ToneRules", "pixels_are_drawn", "read_raster", "resolve_raster"]
