"""The pins of a board's controller as a table: what each is, what it drives, and what may be changed by hand."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..drive.devices import Controller
from ..drive.keys import NO_CONTROLLER
from ..drive.own_controller import controller_file, controllers_of
from ..drive.pins import KEEPABLE
from ..project import OwnController
from ..project.finding import some_of
from .connections import lit_rows
from .work import Work

State = Literal["driven", "by hand", "kept", "spare", "free", "fixed"]


@dataclass(frozen=True)
class PinLine:
    """A pin: its number and name, what it can be, what it drives, and how it stands at start; what it lights, in words. `fixed`
    ones take nothing."""

    number: str
    name: str
    kind: str
    drives: str
    state: State
    at_start: str
    pwm: bool
    lamp: bool
    lights: str = ""

    @property
    def takes(self) -> bool:
        """Whether something can be given to it."""
        return self.kind == "output" and self.state not in ("kept", "fixed")

    @property
    def keepable(self) -> bool:
        """Whether it can be kept for something else."""
        return self.kind in KEEPABLE and self.state in ("free", "kept", "spare")

    @property
    def words(self) -> str:
        """What it can be, in words."""
        more = ["dims by its duty"] * self.pwm + ["has a lamp on it"] * self.lamp
        start = [] if self.at_start == "floating" else [f"{self.at_start} at start"]
        return ", ".join([self.kind, *more, *start])


@dataclass(frozen=True)
class PinTable:
    """A controller with its pins, on the left and on the right as a chip has them; `own` is the table of one's own."""

    key: str
    title: str
    left: tuple[PinLine, ...]
    right: tuple[PinLine, ...]
    nets: tuple[str, ...]
    own: OwnController | None
    free: int

    @property
    def lines(self) -> tuple[PinLine, ...]:
        """Every pin, in the order of the table."""
        return (*self.left, *reversed(self.right))

    def line(self, number: str) -> PinLine | None:
        """The pin of that number."""
        return next((one for one in self.lines if one.number == number), None)


def controller_of(work: Work) -> tuple[str, Controller] | None:
    """The controller that a board uses, or else the one that is chosen for it, with its key."""
    drive = work.design.drive
    known = controllers_of(drive)
    used = next((key for key, one in known.items() if one.title == work.plan.controller), None)
    key = used or (drive.controller if drive.controller != NO_CONTROLLER else "")
    return (key, known[key]) if key in known else None


def pin_table(work: Work) -> PinTable | None:
    """The table of the controller of a board; None where it has none."""
    found = controller_of(work)
    if found is None:
        return None
    key, one = found
    drive, used = work.design.drive, {pin.number: pin.drives for pin in work.plan.pins}
    by_hand = {given.pin for given in drive.given}
    kept = {reserved.pin: reserved.name for reserved in drive.reserved}
    lights, lines = _lights(work), []
    for pin in one.pins:
        drives = used.get(pin.number, "")
        state: State = "free" if pin.kind in KEEPABLE else "fixed"
        if pin.number in kept and pin.kind in KEEPABLE:
            state, drives = "kept", kept[pin.number]
        elif drives.startswith("spare "):
            state = "spare"
        elif drives:
            state = "by hand" if pin.number in by_hand else "driven"
        told = lights.get(pin.number, "")
        lines.append(PinLine(pin.number, pin.name, pin.kind, drives, state, pin.at_start, pin.pwm, pin.lamp, told))
    half = (len(lines) + 1) // 2
    nets = tuple(one.drives for one in lines if one.state in ("driven", "by hand"))
    free = sum(one.takes and not one.drives for one in lines)
    own = drive.own if key == "own" else None
    return PinTable(key, one.title, tuple(lines[:half]), tuple(reversed(lines[half:])), nets, own, free)


def _lights(work: Work) -> dict[str, str]:
    """What the pins of the controller light, and while they stand how, by their numbers."""
    found: dict[str, dict[str, list[str]]] = {}
    controllers = {one.ref for one in work.plan.wanted if one.part.kind == "controller"}
    for led, outputs in lit_rows(work):
        for one in outputs:
            if one.ref in controllers:
                found.setdefault(one.pin, {}).setdefault(one.level, []).append(led)
    words = {
        pin: "; while ".join(f"{level} it lights {some_of(leds)}" for level, leds in levels.items())
        for pin, levels in found.items()
    }
    return {pin: f"While {told}." for pin, told in words.items()}


def table_file(work: Work) -> bytes:
    """The table of the board's controller as the file that `add-controller` reads; nothing where it has none."""
    found = controller_of(work)
    return b"" if found is None else controller_file(found[1])
