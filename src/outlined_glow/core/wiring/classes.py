"""Net classes: how wide the tracks of each net are, and how far they keep from others (DOMAIN 7 and 11)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from ..drive.current_ways import CurrentWay
from ..drive.net_currents import net_currents
from ..drive.plan import DrivePlan
from ..parts import Profile
from ..parts.copper import clearance_mm, track_width
from ..parts.nets import Net

#: How much warmer than the board a track may become, K.
RISE_K = 10.0
#: Copper of the outer layers, um.
COPPER_UM = 35.0
#: Tracks are so many times as wide as the fabricator needs: those of signals, and of the supply and the ground.
_SIGNAL, _SUPPLY = 1.6, 3.0
#: Nets are made for no less than this, A: so much drives anything that is no LED.
LITTLE_A = 0.005
#: What a converter for a high voltage makes at most, V.
_HIGH_V = 250.0


@dataclass(frozen=True)
class NetClass:
    """How tracks of a net are made, mm: their width, the least they may be narrowed to at a small pad, their clearance; what
    LEDs send through them at most, A."""

    width: float
    least: float
    clearance: float
    #: Tracks go by their width alone: copper that was drawn for it stays what it is.
    current_a: float = field(repr=False)


def net_classes(plan: DrivePlan, profile: Profile, ways: Sequence[CurrentWay]) -> dict[str, NetClass]:
    """The class of every net of a plan, by its name; `ways` are those of its currents."""
    flows = net_currents(one for one in ways if one.light is not None)
    amps = {
        net.name: plan.current_max_a if _carries_all(net) else flows[net.name].most_a if net.name in flows else 0.0
        for net in plan.nets
    }
    return {net.name: _class_of(net, amps[net.name], profile) for net in plan.nets}


def clearance_of(name: str, classes: Mapping[str, NetClass], gap_mm: float) -> float:
    """How far copper of a net keeps from others; of one that nobody knows the gap of the fabricator."""
    return classes[name].clearance if name in classes else gap_mm


def is_chosen(name: str, chosen: Sequence[str]) -> bool:
    """Whether a net is among those chosen by name, or none is chosen; a name with a comma in it came as two.

    >>> is_chosen("stage 5, tips", ("ground", "stage 5", "tips")), is_chosen("row 1", ("row 2",)), is_chosen("row 1", ())
    (True, False, True)
    """
    parts = tuple(word.strip() for word in name.split(","))
    many = len(parts)
    return not chosen or name in chosen or any(tuple(chosen[at : at + many]) == parts for at in range(len(chosen)))


def _class_of(net: Net, amps: float, profile: Profile) -> NetClass:
    needed = track_width(max(amps, LITTLE_A), RISE_K, COPPER_UM)
    usual = profile.track_mm * (_SUPPLY if _carries_all(net) else _SIGNAL)
    least = max(profile.track_mm, needed)
    clearance = clearance_mm(_HIGH_V) if net.kind == "high voltage" else 0.0
    return NetClass(
        round(max(usual, least), 2), round(least, 3), max(profile.gap_mm, clearance), amps,
    )  # fmt: skip


def _carries_all(net: Net) -> bool:
    """Whether all current of the board flows in a net: supply and ground, and what lies between the source and them."""
    return net.kind in ("supply", "ground") or net.name.split()[0] in ("supply", "ground")
