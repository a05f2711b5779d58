"""Arrays of LEDs, the order of the chain, and light on the surface."""

from . import edits as _edits
from .kinds import Silhouette
from .place import Led, chain_of, place_leds

__all__ = ["Led", "Silhouette", "chain_of", "place_leds"]
del _edits
