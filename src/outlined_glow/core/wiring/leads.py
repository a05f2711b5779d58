"""Leads that go off the board: what they cost in volts, how hard they may be pulled and how sharply bent (DOMAIN 6 and 9)."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cache

from msgspec import Struct, convert

from ..parts import PlacedPart, pin_order
from ..parts.copper import RHO_OHM_M
from ..parts.nets import Net
from ..project import Lead
from ..shipped import entries
from .classes import NetClass

#: What soft copper bears before it breaks, N/mm²; of that, what may be asked of it.
_BREAKS_N_MM2, _SHARE = 200.0, 0.5
#: What a land bears that is pulled off the laminate, N for each mm of its width (peel, IPC-TM-650 2.4.8); one with a lead
#: through its hole bears so many times that.
_PEEL_N_MM, _THROUGH = 1.0, 4.0
#: A wire is bent no sharper than to so many times its outside, once and for all.
_BENDS = 6.0
#: The wire of a lead of which nobody knows another.
USUAL = Lead(part="-").wire
#: How a lead is held, and how it is called.
HELD = (("joints", "by its joints alone"), ("relief", "strain relief"), ("glue", "glue"), ("hole", "through a hole"))
CONNECTORS = (
    ("none", "none, soldered"), ("pins 2.54", "pins, 2.54 mm"), ("locking 2.0", "locking, 2.0 mm"),
    ("locking 2.5", "locking, 2.5 mm"), ("clamp 5.0", "screw clamp, 5 mm"), ("crocodile", "crocodile clips"),
)  # fmt: skip
GENDERS = (("plug", "a plug"), ("socket", "a socket"))


class Wire(Struct, frozen=True, forbid_unknown_fields=True):
    """A kind of wire: copper across it, or ohm for each metre; its outside with what is round it; what it bears, N."""

    title: str
    outside_mm: float
    area_mm2: float = 0.0
    ohm_per_m: float = 0.0
    pull_n: float = 0.0
    insulated: bool = True

    @property
    def ohms(self) -> float:
        """Of one metre."""
        return self.ohm_per_m or RHO_OHM_M / (self.area_mm2 * 1e-6)

    @property
    def bears_n(self) -> float:
        """How hard it may be pulled, N."""
        return _SHARE * (self.pull_n or self.area_mm2 * _BREAKS_N_MM2)


@cache
def wires() -> Mapping[str, Wire]:
    """The kinds there are, by name."""
    return {name: convert(entry, Wire) for name, entry in entries("materials", "wires").items()}


@dataclass(frozen=True)
class Strand:
    """A wire of a lead: pin, net, colour, what flows in it, A, its resistance, and how hard it may be pulled, N. Wires of one
    net share its current."""

    pin: str
    name: str
    net: str
    colour: str
    current_a: float
    ohm: float
    pull_n: float

    @property
    def drop_v(self) -> float:
        """What it costs, V."""
        return self.current_a * self.ohm


@dataclass(frozen=True)
class LeadFacts:
    """A lead as it is: its strands, how sharply it may be bent, mm, and what holds it."""

    lead: Lead
    strands: tuple[Strand, ...]
    bend_mm: float

    @property
    def pull_n(self) -> float:
        """How hard all of it may be pulled, N."""
        return sum(one.pull_n for one in self.strands)

    @property
    def drop_v(self) -> float:
        """There by one net and back by another: the two that cost most."""
        of_net = {one.net: one.drop_v for one in self.strands}
        return sum(sorted(of_net.values())[-2:])


def lead_facts(lead: Lead, part: PlacedPart, nets: Iterable[Net], classes: Mapping[str, NetClass]) -> LeadFacts:
    """What a lead that is soldered to a part is worth. Each pin has a strand, in the order of their numbers."""
    wire = wires().get(lead.wire) or wires()[USUAL]
    of_pin = {pin: net.name for net in nets for pin in net.pins}
    lands = {pad.pin: pad for pad in part.pads()}
    named = {pin.number: pin.name for pin in part.part.pins}
    colours = [word.strip() for word in lead.colours.split(",") if word.strip()]
    of_part = Counter(of_pin.get((part.ref, pin), "") for pin in lands)
    strands = []
    for at, (pin, pad) in enumerate(sorted(lands.items(), key=lambda land: pin_order(land[0]))):
        net = of_pin.get((part.ref, pin), "")
        holds = wire.bears_n
        if lead.held == "joints":
            holds = min(holds, _PEEL_N_MM * min(pad.width, pad.height) * (_THROUGH if pad.drill_mm else 1.0))
        amps = classes[net].current_a / of_part[net] if net in classes else 0.0
        colour = colours[at] if at < len(colours) else ""
        strands.append(Strand(pin, named.get(pin, ""), net, colour, amps, wire.ohms * lead.length_mm / 1000, holds))
    return LeadFacts(lead, tuple(strands), _BENDS * wire.outside_mm)


def leads_of(
    leads: Iterable[Lead], parts: Iterable[PlacedPart], nets: Iterable[Net], classes: Mapping[str, NetClass]
) -> tuple[LeadFacts, ...]:
    """The leads whose part is on the board, and has pads that they can be soldered to."""
    by_ref = {part.ref: part for part in parts if part.part.pads}
    every = tuple(nets)
    return tuple(lead_facts(one, by_ref[one.part], every, classes) for one in leads if one.part in by_ref)
