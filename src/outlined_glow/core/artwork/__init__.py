"""Reading pictures, colours to appearances, feature sizes."""

from typing import TYPE_CHECKING

from ..lazy import lazily
from . import edits as _edits
from . import mends as _mends
from . import pictures as _pictures
from . import words as _words

if TYPE_CHECKING:
    from .appearance import Art, Beside, Chosen, choose, group, propose, touching
    from .drawing import Drawing
    from .painting import Painted, Source, Swatch, compose, fine_width, has_outline, natural_width_mm, paint, place, resolve
    from .raster import Raster, ToneRules
    from .read import read_picture
    from .resolved import Resolved

__all__ = [
    "Art",
    "Beside",
    "Chosen",
    "Drawing",
    "Painted",
    "Raster",
    "Resolved",
    "Source",
    "Swatch",
    "ToneRules",
    "choose",
    "compose",
    "fine_width",
    "group",
    "has_outline",
    "natural_width_mm",
    "paint",
    "place",
    "propose",
    "read_picture",
    "resolve",
    "touching",
]
__getattr__ = lazily(
    __name__,
    {
        "appearance": "Art Beside Chosen choose group propose touching", "drawing": "Drawing",
        "painting": "Painted Source Swatch compose fine_width has_outline natural_width_mm paint place resolve",
        "raster": "Raster ToneRules", "read": "read_picture", "resolved": "Resolved",
    },
)  # fmt: skip
del _edits, _mends, _pictures, _words
