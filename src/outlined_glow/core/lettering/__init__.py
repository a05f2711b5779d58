"""Words as outlines: faces shipped and installed, shaping, regions."""

from .faces import Face, find_face, shipped_face, stand_in
from .setting import bent_region, followed_region, missing_letters, placed, text_region

__all__ = [
    "Face",
    "bent_region",
    "find_face",
    "followed_region",
    "missing_letters",
    "placed",
    "shipped_face",
    "stand_in",
    "text_region",
]
