"""A part of the circuit as a block: its pins on two sides, each with its net and what else lies on that."""

from __future__ import annotations

from dataclasses import dataclass

from .compile import Work
from .connections import connections

#: So many others on a net are named; more are counted.
_NAMED = 3


@dataclass(frozen=True)
class BlockPin:
    """A pin: number, name, the net it lies on ("" for none), and the other parts there in words."""

    number: str
    name: str
    net: str
    others: str


@dataclass(frozen=True)
class Block:
    """A part with its value, the pins on its left and on its right."""

    reference: str
    value: str
    left: tuple[BlockPin, ...]
    right: tuple[BlockPin, ...]


def block_of(work: Work, reference: str) -> Block | None:
    """The block of a part; pins without a net are left out where it has many."""
    facts = connections(work)
    part = next((one for one in facts["parts"] if one["reference"] == reference), None)
    if part is None:
        return None
    on_net = {net["name"]: [pin.split(".")[0] for pin in net["pins"]] for net in facts["nets"]}
    pins = []
    for pin in part["pins"]:
        others = list(dict.fromkeys(ref for ref in on_net.get(pin["net"] or "", ()) if ref != reference))
        pins.append(BlockPin(pin["number"], pin["name"], pin["net"] or "", _words(others)))
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


def _words(others: list[str]) -> str:
    more = len(others) - _NAMED
    return ", ".join(others[:_NAMED]) + (f" and {more} more" if more > 0 else "")
