"""Raster pictures: read, given few colours or tones of the board, and traced to regions."""

from .read import Raster, read_raster
from .route import Desk, resolve_raster

__all__ = ["Desk", "Raster", "read_raster", "resolve_raster"]
