"""Reading pictures, colours to appearances, feature sizes."""

from . import edits as _edits
from .appearance import Art, Chosen, choose, group, propose
from .drawing import Drawing
from .painting import Painted, Swatch, natural_width_mm, paint
from .read import read_picture

__all__ = [
    "Art",
    "Chosen",
    "Drawing",
    "Painted",
    "Swatch",
    "choose",
    "group",
    "natural_width_mm",
    "paint",
    "propose",
    "read_picture",
]
del _edits
