"""Raster pictures: read, given few colours or tones of the board, and traced to regions."""

from .clusters import pixels_are_drawn
from .read import Raster, read_raster
from .route import Desk, resolve_raster

__all__ = ["Desk", "Raster", "pixels_are_drawn", "read_raster", "resolve_raster"]
