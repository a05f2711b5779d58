"""The pins of a controller, handed out to what they drive; and which controller is taken where none is named."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ..parts import Part, part
from .circuit import GROUND, SUPPLY, Circuit, pin_named
from .devices import Controller, controller, controllers
from .feed import Feed
from .first_second import RISE_S, Level, Node, Start
from .keys import NO_CONTROLLER
from .limits import Refused, controller_out_of_range, needs_controller, too_few_pins
from .plan import PinUse


def choose_controller(name: str, needed: int, feed: Feed, title: str) -> Controller:
    """The controller of that name, or the smallest that fits. `Refused` where there is none, or it does not fit."""
    if name == NO_CONTROLLER:
        raise Refused(needs_controller(title))
    fitting = [controller(name)] if name else sorted(controllers().values(), key=lambda one: len(one.outputs))
    powered = [one for one in fitting if one.logic_v(feed.low_v, feed.open_v, feed.high_v, feed.supply.ends) is not None]
    if not powered:
        raise Refused(controller_out_of_range(fitting[-1], feed))
    wide = next((one for one in powered if len(one.outputs) >= needed), None)
    if wide is None:
        raise Refused(too_few_pins(title, needed, powered[-1]))
    return wide


class Pins:
    """A controller in a circuit, and its outputs one after another."""

    def __init__(self, chosen: Controller, feed: Feed, circuit: Circuit) -> None:
        self.controller = chosen
        self.logic_v = chosen.logic_v(feed.low_v, feed.open_v, feed.high_v, feed.supply.ends) or feed.open_v
        self._circuit = circuit
        body = part(chosen.part)
        self.ref = circuit.add(body, chosen.title)
        circuit.feed(self.ref, body)
        circuit.two(part("capacitor 0603"), "100n", SUPPLY, GROUND)
        self._programmed(body)
        self._free = list(chosen.outputs)
        self.used: list[PinUse] = []
        #: So many were used before the way that is being built.
        self.mark = 0

    def _programmed(self, body: Part) -> None:
        """Pads by which the program comes into it the first time: supply, ground, reset, and the pins it is told through."""
        pads = part("programming pads")
        ref = self._circuit.add(pads, "program")
        self._circuit.feed(ref, pads)
        told = [one for one in self.controller.pins if one.kind == "programming"]
        held = next((one for one in self.controller.pins if one.kind == "reset" and one.name != "reference"), None)
        joins = [(held, "reset"), *zip(told, ("program 1", "program 2"), strict=False)]
        for one, name in joins:
            if one is not None:
                self._circuit.join(f"program, {one.name}", (self.ref, one.number), (ref, pin_named(pads, name)))

    @property
    def left(self) -> int:
        """How many outputs are not given to anything yet."""
        return len(self._free)

    def begins(self, lights: str, pulled: Mapping[str, Level] | None = None) -> Start:
        """How lights that a program makes begin: the pins float until it runs, but for what is `pulled` or stands otherwise."""
        runs = self.controller.start_s
        nodes = []
        for used in self.used[self.mark :]:
            own: Level = {"high": "1", "low": "0"}.get(used.at_start, "unknown")  # type: ignore[assignment]
            level = (pulled or {}).get(used.drives, own)
            nodes.append(Node(used.drives, ((0.0, "unknown"), (RISE_S, level))))
        return Start((*nodes, Node(lights, ((0.0, "0"), (runs, "unknown")))), runs)

    def take(self, net: str, pwm: bool = False) -> None:
        """Give the next output to a net; one that can dim by its duty, if there is one, where `pwm` is asked for."""
        able = [one for one in self._free if one.pwm] if pwm else [one for one in self._free if not one.pwm]
        pin = (able or self._free)[0]
        self._free.remove(pin)
        self._circuit.join(net, (self.ref, pin.number))
        self.used.append(PinUse(pin.number, pin.name, net, pin.at_start, pwm and pin.pwm))

    def shifted(self, nets: Sequence[str], to_v: float) -> dict[str, str]:
        """The nets through level shifters, where a high of the controller does not reach what is fed from `to_v`."""
        if self.logic_v >= 0.7 * to_v:
            return {net: net for net in nets}
        gates, out = part("level shifter, 4 gates"), {}
        ref = ""
        for at, net in enumerate(nets):
            gate = at % 4 + 1
            if gate == 1:
                ref = self._circuit.add(gates, "level shifter")
                self._circuit.feed(ref, gates)
            strong = f"{net}, shifted"
            number = {pin.name: pin.number for pin in gates.pins}
            self._circuit.join(net, (ref, number[f"A{gate}"]))
            self._circuit.join(strong, (ref, number[f"Y{gate}"]))
            self._circuit.join(GROUND, (ref, number[f"enable {gate}"]))
            out[net] = strong
        return out
