"""Arrays of LEDs, the order of the chain, and light on the surface."""

from . import edits as _edits
from . import renaming as _renaming
from .kinds import LightPaths
from .order import chain_length_mm, chain_of, data_ends
from .place import Led, place_leds

__all__ = ["Led", "LightPaths", "chain_length_mm", "chain_of", "data_ends", "place_leds"]
del _edits, _renaming
