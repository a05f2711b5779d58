"""The kinds of arrays. To add one: its section in `project/arrays.py`, a `Kind` in a module here, and its name in `KINDS`.
Edits, drawer, menu and handles are made from it."""

from __future__ import annotations

from collections.abc import Mapping

from ...project import Array, Spaced
from .along import ALONG, along_spots, inset_at, share_at
from .arc import ARC
from .contour import CONTOUR
from .curve import CURVE
from .denser import denser_array
from .digits import DIGITS
from .fill import FILL, too_many
from .grid import GRID
from .kind import Handle, Kind, LightPaths, Spot
from .letters import LETTERS
from .line import LINE
from .ring import RING, ring_spots
from .single import SINGLE
from .slots import SLOTS
from .spacing import steps_of

__all__ = [
    "KINDS", "Handle", "Kind", "LightPaths", "Spot", "along_spots", "denser", "inset_at", "kind_of", "ring_spots", "share_at",
    "spacing_of", "too_many",
]  # fmt: skip

#: Every kind by its tag, in the order in which they are offered.
KINDS: Mapping[str, Kind] = {
    kind.tag: kind for kind in (RING, ARC, GRID, LINE, CURVE, ALONG, CONTOUR, FILL, DIGITS, LETTERS, SLOTS, SINGLE)
}


def spacing_of(array: Array, paths: LightPaths) -> dict[str, float]:
    """Number, pitch and length as they are, by their keys; nothing for what has no equal steps."""
    course = kind_of(array).course
    if course is None or not isinstance(array, Spaced):
        return {}
    count, pitch, length = steps_of(array, *course(array, paths))
    return {"count": count, "pitch_mm": pitch, "length_mm": length}


def denser(array: Array, times: float, paths: LightPaths) -> dict[str, object] | None:
    """The values that lay the LEDs of an array about so many times as densely; None for what cannot be denser."""
    return denser_array(array, kind_of(array), times, paths)


def kind_of(array: Array) -> Kind:
    """The kind of an array."""
    return KINDS[str(array.__struct_config__.tag)]
