"""Words as outlines: faces shipped and installed, shaping, regions."""

from typing import TYPE_CHECKING

from ..lazy import lazily

if TYPE_CHECKING:
    from .faces import Face, Features, find_face, shipped_face, stand_in
    from .setting import bent_region, followed_region, missing_letters, placed, text_region

__all__ = [
    "Face",
    "Features",
    "bent_region",
    "find_face",
    "followed_region",
    "missing_letters",
    "placed",
    "shipped_face",
    "stand_in",
    "text_region",
]
__getattr__ = lazily(
    __name__,
    {
        "faces": "Face Features find_face shipped_face stand_in",
        "setting": "bent_region followed_region missing_letters placed text_region",
    },
)
