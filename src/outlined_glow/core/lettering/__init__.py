"""Words as outlines: faces shipped and installed, shaping, regions."""

from .faces import Face, find_face, shipped_face
from .words import bent_region, followed_region, placed, text_region

__all__ = ["Face", "bent_region", "find_face", "followed_region", "placed", "shipped_face", "text_region"]
