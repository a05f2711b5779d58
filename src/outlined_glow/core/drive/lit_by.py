"""Which outputs a program sets to light a light, and how: found on the way of its current."""

from __future__ import annotations

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


class Outputs:
    """The outputs of a plan that a program sets."""

    def __init__(self, plan: DrivePlan) -> None:
        self._parts: dict[str, Part] = {one.ref: one.part for one in plan.wanted}
        self._pins = {net.name: net.pins for net in plan.nets}
        self._net_of = {pin: net.name for net in plan.nets for pin in net.pins}

    def lighting(self, way: CurrentWay) -> tuple[LitBy, ...]:
        """Those that light what lies on a way; none where no program does."""
        out = []
        for hops, level in ((way.fed, "high"), (way.back, "low")):
            for hop in hops:
                part = self._parts.get(hop.near[0])
                if part is not None and part.kind == "transistor":
                    gate = self._driver(self._net_of.get((hop.near[0], pin_named(part, "gate")), ""))
                    if gate is not None:
                        out.append(self._of(gate, "low" if part.name == _LOW_CLOSES else "high"))
                elif part is not None and self._is_set(hop.near):
                    out.append(self._of(hop.near, "on" if part.name in sinks() else level))  # type: ignore[arg-type]
        return tuple(out)

    def _of(self, pin: PinOf, level: Level) -> LitBy:
        return LitBy(*pin, self._parts[pin[0]].pin(pin[1]).name or pin[1], self._net_of[pin], level)

    def _is_set(self, pin: PinOf) -> bool:
        """Whether a pin is an output that a program sets."""
        part = self._parts.get(pin[0])
        if part is None:
            return False
        role = part.pin(pin[1]).role
        if part.kind == "controller":
            return role not in ("supply", "ground")
        return (part.name in registers() or part.name in sinks()) and role == "output"

    def _driver(self, net: str) -> PinOf | None:
        """The output that drives a net, be it through a level shifter."""
        pins = self._pins.get(net, ())
        own = next((pin for pin in pins if self._is_set(pin)), None)
        if own is not None:
            return own
        for ref, number in pins:
            part = self._parts.get(ref)
            if part is not None and part.name == _SHIFTER and (name := part.pin(number).name).startswith("Y"):
                return self._driver(self._net_of.get((ref, pin_named(part, f"A{name[1:]}")), ""))
        return None
