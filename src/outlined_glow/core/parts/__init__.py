"""The library: emitters, passives, cells and their bodies, fabricator profiles. All of it is data in files."""

from typing import TYPE_CHECKING

from ..lazy import lazily
from .emitter import Emitter, Source, beam_exponent, caution_of, gives_light
from .file import part_file, read_part
from .library import (
    Library,
    Supply,
    emitter,
    emitters,
    library_with,
    offered_supplies,
    part,
    parts,
    refuse_other_kind,
    resistor,
    resistor_sizes,
    series_names,
    shipped_library,
    supplies,
    supply,
)
from .part import Die, Light, Pad, Part, Pin, Stroke, pin_order
from .profiles import Profile, profile, profile_of, profile_text, profiles, read_profile

if TYPE_CHECKING:
    from .placed import PlacedPad, PlacedPart, lying

__all__ = [
    "Die", "Emitter", "Library", "Light", "Pad", "Part", "Pin", "PlacedPad", "PlacedPart", "Profile", "Source",
    "Stroke", "Supply", "beam_exponent", "caution_of", "emitter", "emitters", "gives_light", "library_with", "lying",
    "offered_supplies", "part", "part_file", "parts", "pin_order", "profile", "profile_of", "profile_text", "profiles",
    "read_part", "read_profile", "refuse_other_kind", "resistor", "resistor_sizes", "series_names", "shipped_library",
    "supplies", "supply",
]  # fmt: skip
__getattr__ = lazily(__name__, {"placed": "PlacedPad PlacedPart lying"})
