"""A part of the circuit as a block: its pins on two sides, each with its net and what else lies on that."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from .connections import connections
from .work import Work

#: So many others on a net are named, more are counted; a way is followed through so many parts; it ends at a rail.
_NAMED, _STEPS, _RAILS = 3, 4, ("supply", "ground")


@dataclass(frozen=True)
class Step:
    """A part of two ends that a way leads through: what it is, its reference and value, whether an LED points away from the
    block, and how many lie there side by side, of which it is the first."""

    kind: str
    reference: str
    value: str
    away: bool = True
    many: int = 1

    @property
    def words(self) -> str:
        """What it is called."""
        return f"{self.many} × {self.reference} …" if self.many > 1 else self.reference


@dataclass(frozen=True)
class BlockPin:
    """A pin: number, name, the net it lies on ("" for none); the way from it through parts of two ends, and where that leads to
    in words."""

    number: str
    name: str
    net: str
    way: tuple[Step, ...]
    others: str


@dataclass(frozen=True)
class Block:
    """A part with its value, the pins on its left and on its right."""

    reference: str
    value: str
    left: tuple[BlockPin, ...]
    right: tuple[BlockPin, ...]


def block_of(work: Work, reference: str) -> Block | None:
    """The block of a part with the ways from its pins; pins without a net are left out where it has many."""
    facts = connections(work)
    parts = {one["reference"]: one for one in facts["parts"]}
    part = parts.get(reference)
    if part is None:
        return None
    on_net = {net["name"]: [tuple(pin.rsplit(".", 1)) for pin in net["pins"]] for net in facts["nets"]}
    pins = []
    for pin in part["pins"]:
        way, leads = _way(parts, on_net, reference, pin["net"] or "")
        pins.append(BlockPin(pin["number"], pin["name"], pin["net"] or "", way, leads))
    if len(pins) > 8:
        pins = [one for one in pins if one.net]
    # What comes in stands on the left: supply, ground, clocks, data; what goes out on the right.
    comes = {"supply", "ground", "clock", "data in", "enable", "reset", "input", "anode"}
    roles = {pin["number"]: pin["role"] for pin in part["pins"]}
    left = [one for one in pins if roles[one.number] in comes]
    right = [one for one in pins if roles[one.number] not in comes]
    if not left or not right:
        half = (len(pins) + 1) // 2
        left, right = pins[:half], pins[half:]
    return Block(reference, part["value"], tuple(left), tuple(right))


def _way(
    parts: Mapping[str, Any], on_net: Mapping[str, Sequence[tuple[str, ...]]], reference: str, net: str
) -> tuple[tuple[Step, ...], str]:  # fmt: skip
    """From a pin of a part on a net through parts of two ends, as long as it does not branch; and where it leads to."""
    steps: list[Step] = []
    here = reference
    while net and net not in _RAILS and len(steps) < _STEPS:
        others = dict.fromkeys(ref for ref, _ in on_net.get(net, ()) if ref != here)
        alike = {(parts[ref]["kind"], parts[ref]["value"]) for ref in others}
        one = parts[next(iter(others))] if len(alike) == 1 else None
        joined = {pin["net"]: pin for pin in one["pins"] if pin["net"]} if one is not None else {}
        if one is None or len(joined) != 2:
            break
        [beyond] = [name for name in joined if name != net]
        steps.append(Step(one["kind"], one["reference"], one["value"], joined[net]["role"] != "cathode", len(others)))
        here, net = one["reference"], beyond
    if not net or net in _RAILS:
        return tuple(steps), net
    rest = list(dict.fromkeys(ref for ref, _ in on_net.get(net, ()) if ref != here))
    return tuple(steps), f"{net}  ({_words(rest)})" if rest else net


def _words(others: list[str]) -> str:
    more = len(others) - _NAMED
    return ", ".join(others[:_NAMED]) + (f" and {more} more" if more > 0 else "")
