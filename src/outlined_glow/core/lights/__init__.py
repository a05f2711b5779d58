"""Arrays of LEDs, the order of the chain, and light on the surface."""

from . import edits as _edits
from .place import Led, place_leds

__all__ = ["Led", "place_leds"]
del _edits
