"""Raster pictures: read, given few colours or tones of the board, and traced to regions."""

from .clusters import pixels_are_drawn
from .read import Raster, orientation_of, read_raster, upright
from .route import ToneRules, resolve_raster

__all__ = ["Raster", "ToneRules", "orientation_of", "pixels_are_drawn", "read_raster", "resolve_raster", "upright"]
