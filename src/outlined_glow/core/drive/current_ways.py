"""The way that the current of each light takes over the board: from the source through parts and nets, and on to ground.

It is found in the connection list alone: over each net it comes from the pin that lies nearest to the source, counted in the
parts between. What a chip's outputs give comes through its supply pin, what they sink goes through its ground pin.
"""

from __future__ import annotations

import heapq
import itertools
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from ..lights import Led
from ..parts import Part
from ..project import Drive
from .carriers import WHENEVER, LightOf, Turn, driven_by, turns_of
from .channels import Channel, channels_of
from .circuit import PinOf
from .methods import method
from .placement import led_parts
from .plan import DrivePlan

#: What a part counts on the way to the source: a resistor, which may only pull a net, more than what drives it; what is
#: pressed for a moment is no way where there is another; and through an LED goes only what lies in series with it.
_PART, _RESISTOR, _WEAK, _LED = 2, 3, 100, 30


@dataclass(frozen=True)
class Hop:
    """A net that a current crosses: from the pin toward the source to the one toward the light, or the other way about."""

    net: str
    near: PinOf
    far: PinOf


@dataclass(frozen=True)
class CurrentWay:
    """The way of a current, A: its nets from the source to what takes it, and those from there to ground.

    What takes it is a light while it is lit (`turn` tells when), or a chip that draws its own (`light` is None).
    """

    light: LightOf | None
    turn: Turn
    current_a: float
    fed: tuple[Hop, ...]
    back: tuple[Hop, ...]

    @property
    def hops(self) -> tuple[Hop, ...]:
        """All of its nets."""
        return self.fed + self.back


def current_ways(plan: DrivePlan, drive: Drive, leds: Sequence[Led]) -> tuple[CurrentWay, ...]:
    """The ways of all lights, at what each takes at most while it is lit, and of what chips draw."""
    circuit, turns = _Circuit(plan, leds), turns_of(plan, drive, leds)
    outputs = {
        index: number for number, own, taken in driven_by(drive, leds) if method(own.method).one_output for index in taken
    }
    known: dict[int, dict[tuple[PinOf, ...], int]] = {}
    out = []
    for one in channels_of(leds):
        light = (one.led.index, one.light.name)
        branch, ends = plan.branch_of(*light), circuit.ends_of(one)
        if branch is None or branch.current_max_a <= 0 or ends is None:
            continue
        amps = branch.current_max_a / branch.duty / branch.count
        fed, back = circuit.way(ends[0], up=True), circuit.way(ends[1], up=False)
        turn = turns.get(light, WHENEVER)
        if (number := outputs.get(one.led.index)) is not None:
            mine = known.setdefault(number, {})
            turn = number, mine.setdefault(circuit.outputs((*fed, *back)), len(mine) + 1)
        out.append(CurrentWay(light, turn, amps, fed, back))
    return (*out, *circuit.standing())


def ways_to(plan: DrivePlan, leds: Sequence[Led], taken: Mapping[tuple[PinOf, bool], float]) -> tuple[CurrentWay, ...]:
    """The ways of what pins take of the supply (True), or give to ground, for something beyond the board, A."""
    circuit = _Circuit(plan, leds)
    return tuple(
        CurrentWay(None, WHENEVER, amps, circuit.way(pin, up=True) if up else (), () if up else circuit.way(pin, up=False))
        for (pin, up), amps in taken.items()
    )


class _Circuit:
    """The connection list of a plan, with the way from every net to the source and to ground."""

    def __init__(self, plan: DrivePlan, leds: Sequence[Led]) -> None:
        self._plan = plan
        self._net_of = {pin: net.name for net in plan.nets for pin in net.pins}
        self._parts: dict[str, Part] = {one.ref: one.part for one in plan.wanted}
        self._glows = {one.ref: one.part for one in led_parts(tuple(leds))}
        self._in_series = [one for one in channels_of(leds) if one.light.anode and _strung(plan, one)]
        self._next = {up: self._nearest(up) for up in (True, False)}

    def ends_of(self, one: Channel) -> tuple[PinOf, PinOf] | None:
        """The pins by which a light takes its current and gives it back; None where they are not joined."""
        part = one.led.kind.part
        if one.light.anode:
            ends = one.anode, one.cathode
        elif part.fed_by == "data":
            ends = self._rails(one.ref, part)
        else:
            joined = [pin for pin in part.pins if (one.ref, pin.number) in self._net_of]
            ends = (one.ref, joined[0].number if joined else ""), (one.ref, joined[1].number if len(joined) > 1 else "")
        return ends if all(end in self._net_of for end in ends) else None

    def _rails(self, ref: str, part: Part) -> tuple[PinOf, PinOf]:
        number = {pin.role: pin.number for pin in part.pins if (ref, pin.number) in self._net_of}
        return (ref, number.get("supply", "")), (ref, number.get("ground", ""))

    def way(self, pin: PinOf, up: bool) -> tuple[Hop, ...]:
        """From a pin net by net to the source, or to ground."""
        out: list[Hop] = []
        seen: set[str] = set()
        at: PinOf | None = pin
        while at is not None:
            net = self._net_of[at]
            if net not in self._next[up] or net in seen:
                break
            seen.add(net)
            near, at_next = self._next[up][net]
            if near != at:
                out.append(Hop(net, near, at))
            at = at_next
        return tuple(out)

    def outputs(self, hops: Iterable[Hop]) -> tuple[PinOf, ...]:
        """The outputs of chips by which a light is lit."""
        return tuple(hop.near for hop in hops if hop.near[0] in self._parts
                     and self._parts[hop.near[0]].pin(hop.near[1]).role in ("output", "passive")
                     and self._parts[hop.near[0]].kind in ("chip", "controller"))  # fmt: skip

    def standing(self) -> Iterator[CurrentWay]:
        """What chips, and LEDs with a chip of their own, draw by themselves: they share it."""
        takers = [(ref, part) for ref, part in self._parts.items() if part.kind in ("chip", "controller")]
        takers += [(ref, part) for ref, part in self._glows.items() if part.fed_by == "data"]
        for ref, part in takers if self._plan.standing_a > 0 else ():
            supply, ground = self._rails(ref, part)
            if supply in self._net_of and ground in self._net_of:
                amps = self._plan.standing_a / len(takers)
                yield CurrentWay(None, WHENEVER, amps, self.way(supply, up=True), self.way(ground, up=False))

    def _nearest(self, up: bool) -> dict[str, tuple[PinOf, PinOf | None]]:
        """For each net the pin that leads to the source (or ground), and the pin of that part that lies nearer to it."""
        joins: dict[str, list[tuple[int, PinOf, PinOf]]] = {}
        for near, far, cost in self._joins(up):
            if near in self._net_of and far in self._net_of:
                joins.setdefault(self._net_of[near], []).append((cost, near, far))
        out: dict[str, tuple[PinOf, PinOf | None]] = {}
        heap: list[tuple[int, int, PinOf, PinOf | None]] = [(0, at, pin, None) for at, pin in enumerate(self._sources(up))]
        count = len(heap)
        while heap:
            far_off, _, pin, beyond = heapq.heappop(heap)
            net = self._net_of[pin]
            if net in out:
                continue
            out[net] = pin, beyond
            for cost, near, far in joins.get(net, ()):
                if self._net_of[far] not in out:
                    heapq.heappush(heap, (far_off + cost, count, far, near))
                    count += 1
        return out

    def _sources(self, up: bool) -> list[PinOf]:
        """Where it comes from: the holder of the supply, which is the first, or else whatever leads off the board."""
        role = "supply" if up else "ground"
        rails = {net.name for net in self._plan.nets if net.kind == role}
        for ref, part in self._parts.items():
            pins = [(ref, pin.number) for pin in part.pins if (ref, pin.number) in self._net_of]
            if part.kind == "holder" and pins:
                return [pin for pin in pins if part.pin(pin[1]).role == role]
        return [pin for net in self._plan.nets if net.name in rails for pin in net.pins
                if pin[0] in self._parts and self._parts[pin[0]].kind == "plug"]  # fmt: skip

    def _joins(self, up: bool) -> Iterator[tuple[PinOf, PinOf, int]]:
        """Every pair of pins between which a part lets a current through: nearer to the source, farther, and its cost."""
        for ref, part in self._parts.items():
            for near, far, cost in _through(part, up):
                yield (ref, near), (ref, far), cost
        for one in self._in_series:
            yield (one.anode, one.cathode, _LED) if up else (one.cathode, one.anode, _LED)


def _strung(plan: DrivePlan, one: Channel) -> bool:
    found = plan.branch_of(one.led.index, one.light.name)
    return found is not None and found.count > 1


def _through(part: Part, up: bool) -> Iterator[tuple[str, str, int]]:
    """The pins of a part between which a current flows on its way to a light (`up`) or back to ground, and what that costs."""
    of = {role: [pin.number for pin in part.pins if pin.role == role] for role in ("supply", "ground", "input", "output")}
    passive = [pin.number for pin in part.pins if pin.role == "passive"]
    pairs: Iterable[tuple[str, ...]]
    match part.kind:
        case "chip" | "controller":
            pairs = itertools.product(of["supply" if up else "ground"], [*of["output"], *passive])
        case "regulator":
            pairs = itertools.product(of["input"], of["output"] if up else ())
        case "module":
            ahead = [*of["supply"], *of["input"], *passive] if up else of["ground"]
            pairs = itertools.product(ahead, [*of["output"], *passive] if up else of["ground"])
        case "diode":
            cathode, anode = (pin.number for pin in part.pins)
            pairs = [(anode, cathode) if up else (cathode, anode)]
        case "transistor":
            pairs = itertools.permutations([*passive, *of["output"]], 2)
        case "relay":
            pairs = itertools.permutations([pin.number for pin in part.pins if pin.name.startswith("contact")], 2)
        case "fuse" | "switch" | "resistor" | "resistor through hole":
            pairs = itertools.permutations(passive, 2)
        case _:
            pairs = ()
    cost = _RESISTOR if part.kind.startswith("resistor") else _WEAK if part.name == "push button" else _PART
    yield from ((near, far, cost) for near, far in pairs if near != far)
