"""Where the parts of a wired board stand: there they stay while they have room, for a part that moves tears its tracks up."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from ..parts import PlacedPart
from ..parts.nets import Net
from ..project import PartPlace
from .wanted import Wanted

#: No board reaches so far from the corner of its picture, mm.
_FARTHEST_MM = 10_000.0


@dataclass(frozen=True)
class Standing:
    """A part by its reference and name, the net of each of its pins, and where it stands (picture frame, mm)."""

    ref: str
    name: str
    nets: tuple[str, ...]
    x: float
    y: float
    angle_deg: float
    side: str

    def row(self) -> list[Any]:
        """Its values in their order, as a file keeps them."""
        return [self.ref, self.name, list(self.nets), self.x, self.y, self.angle_deg, self.side]


def standing_from(row: Sequence[Any]) -> Standing:
    """What a file keeps of a part. ValueError or TypeError where it is none."""
    ref, name, nets, x, y, angle, side = row
    if not all(isinstance(one, str) for one in (ref, name, side, *nets)) or side not in ("front", "back"):
        raise ValueError("a part")
    place = float(x), float(y), float(angle)
    if not all(math.isfinite(one) and abs(one) < _FARTHEST_MM for one in place):
        raise ValueError("a place")
    return Standing(ref, name, tuple(nets), *place, side)


def standing_of(
    parts: Iterable[PlacedPart], wanted: Sequence[Wanted], nets: Sequence[Net], by_hand: Iterable[PartPlace]
) -> tuple[Standing, ...]:
    """Where parts stand that do not lie where a hand put them, and have their places neither from an LED nor from the edge."""
    asked, hands = _asked(wanted, nets), {(one.part, one.x_mm, one.y_mm, one.angle_deg, one.side) for one in by_hand}
    return tuple(
        Standing(one.ref, *asked[one.ref][:2], one.x, one.y, one.angle_deg, one.side)
        for one in parts
        if one.ref in asked and (one.ref, one.x, one.y, one.angle_deg, one.side) not in hands
    )


def still_standing(before: Iterable[Standing], wanted: Sequence[Wanted], nets: Sequence[Net]) -> tuple[Standing, ...]:
    """Those that are the same parts of the same nets by now."""
    asked = _asked(wanted, nets)
    return tuple(one for one in before if asked.get(one.ref) == (one.name, one.nets, one.side))


def _asked(wanted: Sequence[Wanted], nets: Sequence[Net]) -> dict[str, tuple[str, tuple[str, ...], str]]:
    """The name, the net of each pin, and the side of each part that lies neither beside an LED nor by the edge."""
    of_pin = {pin: net.name for net in nets for pin in net.pins}
    return {
        one.ref: (one.part.name, tuple(of_pin.get((one.ref, pin.number), "") for pin in one.part.pins), one.side)
        for one in wanted
        if one.led is None and not (one.takes_leads or one.outside)
    }
