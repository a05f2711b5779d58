"""The pins of a controller, handed out to what they drive; and which controller is taken where none is named."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from ..parts import Part, part
from ..project import Drive, Finding, ReservedPin
from .circuit import GROUND, SUPPLY, Circuit, pin_named
from .devices import Controller, ControllerPin, controllers
from .first_second import RISE_S, Level, Node, Start
from .keys import NO_CONTROLLER
from .limits import (
    Refused,
    controller_out_of_range,
    needs_controller,
    no_such_controller,
    pin_cannot_be_kept,
    pin_cannot_drive,
    too_few_pins,
)
from .own_controller import body_of, controllers_of
from .plan import PinUse
from .supply.feed import Feed

#: What raises the highs of a controller to those of a higher supply.
SHIFTER = "level shifter, 4 gates"
#: Pins that may be kept for something else: a button or a sensor needs no output.
KEEPABLE = ("output", "input only", "analog only")


def choose_controller(drive: Drive, needed: int, feed: Feed, title: str) -> Controller:
    """The controller of a board, or the smallest that fits. `Refused` where there is none, or it does not fit."""
    if drive.controller == NO_CONTROLLER:
        raise Refused(needs_controller(title))
    known = controllers_of(drive)
    if drive.controller and drive.controller not in known:
        raise Refused(no_such_controller(drive.controller))
    several = sorted(controllers().values(), key=lambda one: len(one.outputs))
    fitting = [known[drive.controller]] if drive.controller else several
    powered = [one for one in fitting if one.logic_v(feed.least_v, feed.open_v, feed.high_v) is not None]
    if not powered:
        raise Refused(controller_out_of_range(fitting[-1], feed))
    wide = next((one for one in powered if len(free_outputs(one, drive)) >= needed), None)
    if wide is None:
        raise Refused(too_few_pins(title, needed, powered[-1], len(free_outputs(powered[-1], drive))))
    return wide


def free_outputs(one: Controller, drive: Drive) -> list[ControllerPin]:
    """The outputs of a controller that are not kept for something else."""
    kept = {reserved.pin for reserved in drive.reserved}
    return [pin for pin in one.outputs if pin.number not in kept]


class Pins:
    """A controller in a circuit, and its outputs one after another."""

    def __init__(self, chosen: Controller, feed: Feed, circuit: Circuit, drive: Drive) -> None:
        self.controller, self._drive = chosen, drive
        self.logic_v = chosen.logic_v(feed.least_v, feed.open_v, feed.high_v) or feed.open_v
        self.runs_from_v = chosen.runs_from_v(feed.least_v, feed.high_v)
        self._circuit = circuit
        body = body_of(chosen)
        self.ref = circuit.add(body, chosen.title)
        circuit.feed(self.ref, body)
        circuit.two(part("capacitor 0603"), "100n", SUPPLY, GROUND)
        self._programmed(body)
        self._free = free_outputs(chosen, drive)
        self._given = {one.net: one.pin for one in drive.given}
        self.used: list[PinUse] = []
        #: What is brought out to a pad, by its pin: the other name of its net.
        self._out: dict[str, str] = {}
        self._wrong: list[Finding] = []
        for one in drive.reserved:
            self._reserve(one)
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
                net, ends = f"program, {one.name}", ((self.ref, one.number), (ref, pin_named(pads, name)))
                self._circuit.apart(net, _at_pin(net, one), *ends)

    def _reserve(self, wish: ReservedPin) -> None:
        """Bring a pin that is kept for something out to a pad of that name."""
        pin = next((one for one in self.controller.pins if one.number == wish.pin), None)
        if pin is not None and pin.kind in KEEPABLE:
            self._bring_out(pin, wish.name)
        else:
            why = "it has none" if pin is None else f"that is a {pin.kind} pin"
            self._wrong.append(pin_cannot_be_kept(wish.name, wish.pin, why))

    def _bring_out(self, pin: ControllerPin, net: str) -> None:
        pad = part("one pad")
        ref = self._circuit.add(pad, net)
        other = self._out[pin.number] = _at_pin(net, pin)
        self._circuit.apart(net, other, (self.ref, pin.number), (ref, "1"))
        self.used.append(PinUse(pin.number, pin.name, net, pin.at_start))

    def finish(self) -> list[Finding]:
        """Bring spare outputs out to pads where that is wished; pins that were given to what they cannot drive are told."""
        outputs = {one.number for one in self.controller.outputs}
        taken = {one.drives: one.number for one in self.used if one.number not in self._out}
        wrong = list(self._wrong)
        for net, number in self._given.items():
            if net not in taken:
                wrong.append(pin_cannot_drive(net, number, "nothing of that name is driven by it"))
            elif taken[net] != number:
                why = "that is not one that can drive something" if number not in outputs else "it is kept for something else"
                wrong.append(pin_cannot_drive(net, number, f"{why}: another pin drives it"))
        if self._drive.spare_pads:
            for pin in list(self._free):
                self._free.remove(pin)
                self._bring_out(pin, f"spare {pin.name}")
        self.used = [
            replace(one, drives=self._circuit.called(self._out[one.number])) if one.number in self._out else one
            for one in self.used
        ]
        return wrong

    @property
    def left(self) -> int:
        """How many outputs are not given to anything yet."""
        return len(self._free)

    def left_but(self, at_start: str) -> bool:
        """Whether an output is left that does not stand so until the program runs."""
        return any(one.at_start != at_start for one in self._free)

    def begins(self, lights: str, pulled: Mapping[str, Level] | None = None) -> Start:
        """How lights that a program makes begin: the pins float until it runs, but for what is `pulled` or stands otherwise."""
        runs = self.controller.start_s
        pulls = {self._circuit.named(net): level for net, level in (pulled or {}).items()}
        nodes = []
        for used in self.used[self.mark :]:
            own: Level = {"high": "1", "low": "0"}.get(used.at_start, "unknown")  # type: ignore[assignment]
            level = pulls.get(used.drives, own)
            nodes.append(Node(used.drives, ((0.0, "unknown"), (RISE_S, level))))
        return Start((*nodes, Node(lights, ((0.0, "0"), (runs, "unknown")))), runs)

    def take(self, net: str, pwm: bool = False, but: str = "") -> None:
        """Give the next output to a net; one that can dim by its duty, if there is one, where `pwm` is asked for, and one that
        does not stand so (`but`) until the program runs."""
        net = self._circuit.named(net)
        pin = self._next(net, pwm, but)
        self._free.remove(pin)
        self._circuit.join(net, (self.ref, pin.number))
        self.used.append(PinUse(pin.number, pin.name, net, pin.at_start, pwm and pin.pwm))

    def _next(self, net: str, pwm: bool, but: str) -> ControllerPin:
        """The pin that was given to a net by hand, or the first that suits it and was given to nothing else."""
        wish = self._given.get(net)
        by_hand = next((one for one in self._free if one.number == wish), None)
        if by_hand is not None:
            return by_hand
        others = set(self._given.values())
        held = [one for one in self._free if one.at_start != but] or self._free
        free = [one for one in held if one.number not in others] or held
        able = [one for one in free if one.pwm == pwm]
        return (able or free)[0]

    def shifted(self, nets: Sequence[str], to_v: float, needs_v: float | None = None) -> dict[str, str]:
        """The nets through level shifters, where a high of the controller does not reach what is fed from `to_v`: seven tenths
        of it, unless its inputs need less (`needs_v`)."""
        if self.logic_v >= (0.7 * to_v if needs_v is None else needs_v):
            return {net: net for net in nets}
        gates, out = part(SHIFTER), {}
        ref = ""
        place = {net: at for at, net in enumerate(self._drive.gates)}
        ordered = sorted(nets, key=lambda net: place.get(self._circuit.named(net), len(place)))
        for at, net in enumerate(ordered):
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
        taken = len(nets) % 4
        # An input that floats draws current, and picks up noise.
        for gate in range(taken + 1, 5) if taken else ():
            self._circuit.join(GROUND, (ref, number[f"A{gate}"]), (ref, number[f"enable {gate}"]))
        return {net: out[net] for net in nets}


def _at_pin(net: str, pin: ControllerPin) -> str:
    return f"{net}, pin {pin.number}"
