"""The library: emitters, passives, cells and their bodies, fabricator profiles. All of it is data in files."""

from typing import TYPE_CHECKING

from ..lazy import lazily
from .library import (
    Emitter,
    Supply,
    emitter,
    emitters,
    offered_supplies,
    part,
    parts,
    resistor,
    resistor_sizes,
    series_names,
    supplies,
    supply,
)
from .part import Pad, Part, Pin, Stroke
from .profiles import Profile, profile, profile_of, profile_text, profiles, read_profile

if TYPE_CHECKING:
    from .placed import PlacedPad, PlacedPart

__all__ = [
    "Emitter", "Pad", "Part", "Pin", "PlacedPad", "PlacedPart", "Profile", "Stroke", "Supply", "emitter", "emitters",
    "offered_supplies", "part", "parts", "profile", "profile_of", "profile_text", "profiles", "read_profile",
    "resistor", "resistor_sizes", "series_names", "supplies", "supply",
]  # fmt: skip
__getattr__ = lazily(__name__, {"placed": "PlacedPad PlacedPart"})
