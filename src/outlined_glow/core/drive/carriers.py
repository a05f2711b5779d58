"""The pins, switches and packages through which the currents of LEDs flow, found from the circuit alone, and what they bear."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from ..lights import Led
from ..parts import Part
from ..project import Drive
from .channels import Channel, channels_of
from .circuit import PinOf
from .devices import registers, sinks, switches
from .method import lit_at_once
from .methods import method
from .own_controller import chosen_controller
from .plan import DrivePlan
from .planning import own_drives

#: A light: the index of its LED, and its name within that.
LightOf = tuple[int, str]
#: A turn: the number of the way of driving that takes them, and which it is of that way, both from 1.
Turn = tuple[int, int]
#: That of what is lit whenever it is wanted.
WHENEVER: Turn = (0, 0)


@dataclass(frozen=True)
class Carrier:
    """A pin of a part, or a whole package (`pin` is ""), and the lights whose currents flow through it.

    `turns` are for each light the turn in which it is lit: those of one turn are lit together, those of another one of the same
    way are not. It bears `allowed_a`.
    """

    ref: str
    pin: str
    title: str
    allowed_a: float
    lights: tuple[LightOf, ...]
    turns: tuple[Turn, ...]


def carriers(plan: DrivePlan, drive: Drive, leds: Sequence[Led]) -> tuple[Carrier, ...]:
    """Everything between the LEDs and their supply of which a limit is known: outputs, switches, and packages as a whole."""
    parts = {one.ref: one.part for one in plan.wanted}
    net_of = {pin: at for at, net in enumerate(plan.nets) for pin in net.pins}
    rails = {at for at, net in enumerate(plan.nets) if net.kind != "signal"}
    beside = _through_resistors(parts, net_of, rails)
    turns = turns_of(plan, drive, leds)
    through: dict[PinOf, dict[LightOf, Turn]] = {}
    whole: dict[str, dict[LightOf, Turn]] = {}
    for one in channels_of(leds):
        light = (one.led.index, one.light.name)
        turn = turns.get(light, WHENEVER)
        for ref, pin in _reached(one, plan, net_of, beside, rails):
            if ref in parts:
                through.setdefault((ref, pin), {})[light] = turn
                whole.setdefault(ref, {})[light] = turn
    bears = {ref: _bears(part, drive, plan) for ref, part in parts.items()}
    out = []
    for (ref, pin), lights in through.items():
        name = parts[ref].pin(pin).name or pin
        out += _carrier(ref, pin, f"{ref} {name}", bears[ref][0], lights)
    for ref, lights in whole.items():
        out += _carrier(ref, "", f"{ref}, all outputs", bears[ref][1], lights)
    return tuple(out)


def turns_of(plan: DrivePlan, drive: Drive, leds: Sequence[Led]) -> dict[LightOf, Turn]:
    """The turn in which each light is lit that takes turns: those of a way that are fed by one net, be it through a resistor
    each, are lit together, unless each is lit alone; the nets come one after another."""
    parts = {one.ref: one.part for one in plan.wanted}
    net_of = {pin: at for at, net in enumerate(plan.nets) for pin in net.pins}
    rails = {at for at, net in enumerate(plan.nets) if net.kind != "signal"}
    beside = _through_resistors(parts, net_of, rails)
    takes = _taking_turns(drive, leds)
    known: dict[int, dict[LightOf | int, int]] = {}
    out = {}
    for one in channels_of(leds):
        if one.led.index in takes:
            light, (way, alone) = (one.led.index, one.light.name), takes[one.led.index]
            turns = known.setdefault(way, {})
            net = net_of.get(one.anode, -1)
            fed = min(beside.get(net, {net}))
            out[light] = way, turns.setdefault(light if alone else fed, len(turns) + 1)
    return out


def _carrier(ref: str, pin: str, title: str, allowed_a: float | None, lights: Mapping[LightOf, Turn]) -> list[Carrier]:
    return [] if allowed_a is None else [Carrier(ref, pin, title, allowed_a, tuple(lights), tuple(lights.values()))]


def driven_by(drive: Drive, leds: Sequence[Led]) -> Iterator[tuple[int, Drive, set[int]]]:
    """Each way of driving with its number, from 1, and the LEDs that it drives, by index."""
    rest = list(leds)
    for number, (own, names) in enumerate([*own_drives(drive), (drive, None)], 1):
        taken = {led.index for led in rest if names is None or names & set(led.groups)}
        rest = [led for led in rest if led.index not in taken]
        yield number, own, taken


def _taking_turns(drive: Drive, leds: Sequence[Led]) -> dict[int, tuple[int, bool]]:
    """The LEDs that take turns, by index: in which of the ways, and whether each has a turn of its own."""
    out: dict[int, tuple[int, bool]] = {}
    for number, own, taken in driven_by(drive, leds):
        way = method(own.method)
        if way.turns:
            alone = "lit" in way.uses and lit_at_once(own, len(taken)) == 1
            out |= dict.fromkeys(taken, (number, alone))
    return out


def _through_resistors(parts: Mapping[str, Part], net_of: Mapping[PinOf, int], rails: set[int]) -> dict[int, set[int]]:
    """For each net those on the other side of a resistor, without supplies and ground."""
    out: dict[int, set[int]] = {}
    for ref, part in parts.items():
        if part.kind.startswith("resistor"):
            ends = {net_of[ref, pin.number] for pin in part.pins if (ref, pin.number) in net_of} - rails
            for end in ends:
                out.setdefault(end, set()).update(ends - {end})
    return out


def _reached(
    one: Channel, plan: DrivePlan, net_of: Mapping[PinOf, int], beside: Mapping[int, set[int]], rails: set[int]
) -> Iterable[PinOf]:
    """The pins on the nets at both ends of a light, and on those behind their resistors."""
    nets: set[int] = set()
    for end in (one.anode, one.cathode):
        at = net_of.get(end)
        if at is not None and at not in rails:
            nets |= {at} | beside.get(at, set())
    for at in sorted(nets):
        yield from plan.nets[at].pins


def _bears(part: Part, drive: Drive, plan: DrivePlan) -> tuple[float | None, float | None]:
    """What an output of a part bears, and all of them together, A; None where that is not told."""
    chip = chosen_controller(drive, plan.controller) if plan.controller else None
    if chip is not None and part.name == chip.part:
        return chip.pin_a, chip.total_a
    if (one := registers().get(part.name)) is not None:
        return one.output_a, one.package_a
    if (sink := sinks().get(part.name)) is not None:
        return sink.output_a, None
    if (switch := switches().get(part.name)) is not None:
        return switch.most_a, None
    return None, None
