"""Reading pictures, colours to appearances, feature sizes."""

from . import edits as _edits
from .appearance import Art, Chosen, choose, group, propose
from .drawing import Drawing
from .painting import Painted, Resolved, Swatch, fine_width, natural_width_mm, paint, place, resolve
from .read import read_picture

__all__ = [
    "Art",
    "Chosen",
    "Drawing",
    "Painted",
    "Resolved",
    "Swatch",
    "choose",
    "fine_width",
    "group",
    "natural_width_mm",
    "paint",
    "place",
    "propose",
    "read_picture",
    "resolve",
]
del _edits
