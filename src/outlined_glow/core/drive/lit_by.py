"""Which outputs a program sets to light a light, and how: found on the way of its current."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ..parts import Part
from .circuit import PinOf, pin_named
from .current_ways import CurrentWay
from .devices import registers, sinks
from .plan import DrivePlan

#: How an output stands while the light is lit; `on` is a sink that lets a current through.
Level = Literal["high", "low", "on"]
_SHIFTER, _LOW_CLOSES = "level shifter, 4 gates", "switching transistor, P"


@dataclass(frozen=True)
class LitBy:
    """An output of a controller or a register, the net that it drives, and how it stands while a light is lit."""

    ref: str
    pin: str
    name: str
    net: str
    level: Level


def lit_by(plan: DrivePlan, way: CurrentWay) -> tuple[LitBy, ...]:
    """The outputs that light what lies on a way; none where no program does."""
    parts = {one.ref: one.part for one in plan.wanted}
    net_of = {pin: net.name for net in plan.nets for pin in net.pins}
    out = []
    for hops, level in ((way.fed, "high"), (way.back, "low")):
        for hop in hops:
            ref, number = hop.near
            part = parts.get(ref)
            if part is not None and part.kind == "transistor":
                gate = _driver(plan, parts, net_of.get((ref, pin_named(part, "gate")), ""))
                if gate is not None:
                    out.append(_of(gate, parts, net_of[gate], "low" if part.name == _LOW_CLOSES else "high"))
            elif part is not None and _is_set(part, number):
                out.append(_of(hop.near, parts, hop.net, "on" if part.name in sinks() else level))  # type: ignore[arg-type]
    return tuple(out)


def _of(pin: PinOf, parts: Mapping[str, Part], net: str, level: Level) -> LitBy:
    return LitBy(*pin, parts[pin[0]].pin(pin[1]).name or pin[1], net, level)


def _is_set(part: Part, number: str) -> bool:
    """Whether a pin is an output that a program sets."""
    if part.kind == "controller":
        return part.pin(number).role not in ("supply", "ground")
    return (part.name in registers() or part.name in sinks()) and part.pin(number).role == "output"


def _driver(plan: DrivePlan, parts: Mapping[str, Part], net: str) -> PinOf | None:
    """The output that drives a net, be it through a level shifter."""
    pins = next((one.pins for one in plan.nets if one.name == net), ())
    for ref, number in pins:
        if ref in parts and _is_set(parts[ref], number):
            return ref, number
    for ref, number in pins:
        if ref in parts and parts[ref].name == _SHIFTER and (name := parts[ref].pin(number).name).startswith("Y"):
            before = (ref, pin_named(parts[ref], f"A{name[1:]}"))
            return _driver(plan, parts, next((one.name for one in plan.nets if before in one.pins), ""))
    return None
