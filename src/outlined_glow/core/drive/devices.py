"""What logic, switches, regulators and controllers can do: typical limits by family (DOMAIN 5), from `data/devices`."""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from functools import cache
from typing import Literal

import msgspec
from msgspec import Struct

from ..shipped import entries


class Family(Struct, frozen=True, forbid_unknown_fields=True):
    """A logic family, or a timer: its supply, what its outputs give, where its inputs tell high from low, and what it draws.

    `output_ohm` are (V of supply, ohm) of an output. Inputs tell by shares of the supply or by fixed volts. None: no limit
    is told.
    """

    title: str
    supply_v: tuple[float, float]
    standing_a: float
    output_ohm: tuple[tuple[float, float], ...] = ()
    output_a: float | None = None
    sinks_a: float | None = None
    sources_a: float | None = None
    package_a: float | None = None
    low_share: float | None = None
    high_share: float | None = None
    low_v: float | None = None
    high_v: float | None = None
    high_drop_v: float = 0.0

    def ohms(self, supply_v: float) -> float:
        """The resistance of an output: linear in 1/V between the tabulated volts, beyond them flat.

        >>> hc = family("HC")
        >>> hc.ohms(3.0), hc.ohms(4.5), round(hc.ohms(3.6), 1)
        (90.0, 50.0, 70.0)
        """
        rows = self.output_ohm
        if not rows:
            return 0.0
        if supply_v <= rows[0][0]:
            return rows[0][1]
        for (low_v, low_ohm), (high_v, high_ohm) in itertools.pairwise(rows):
            if supply_v <= high_v:
                share = (1 / low_v - 1 / supply_v) / (1 / low_v - 1 / high_v)
                return low_ohm + share * (high_ohm - low_ohm)
        return rows[-1][1]

    def needs_high(self, supply_v: float) -> float:
        """The least volts that an input takes for high."""
        return self.high_v if self.high_v is not None else (self.high_share or 0.7) * supply_v

    def works_at(self, low_v: float, high_v: float) -> bool:
        """Whether it runs over the whole range of a supply."""
        return self.supply_v[0] <= low_v + 1e-9 and high_v <= self.supply_v[1] + 1e-9


class Register(Struct, frozen=True, forbid_unknown_fields=True):
    """A register with outputs of its own: how many, of which family, and how much each and the whole package carry."""

    family: str
    outputs: int
    output_a: float
    package_a: float


class Sink(Struct, frozen=True, forbid_unknown_fields=True):
    """A register of constant-current sinks: what they need to regulate, and the set resistor for a current (V·ohm/A)."""

    outputs: int
    supply_v: tuple[float, float]
    output_a: float
    least_a: float
    drop_v: float
    standing_a: float
    set_v_ohm: float


class Switch(Struct, frozen=True, forbid_unknown_fields=True):
    """A switching transistor: its resistance when on, what it carries, and the volts at its gate that switch it on."""

    ohm: float
    most_a: float
    gate_v: float


class Regulator(Struct, frozen=True, forbid_unknown_fields=True):
    """A regulator: its dropout or its efficiency, what it draws itself, what it gives at most, and the volts it takes."""

    title: str
    standing_a: float
    part: str = ""
    dropout_v: float = 0.0
    efficiency: float | None = None
    most_a: float = 1.0
    most_in_v: float = 15.0
    least_in_v: float = 0.0


class Latch(Struct, frozen=True, forbid_unknown_fields=True):
    """What holds the supply of a board until it is switched off: a transistor or a relay, with what stands in the way of the
    current, what a coil draws (ohm; 0 for none), the volts it works on, and what leaks while it is open."""

    title: str
    part: str
    ohm: float
    supply_v: tuple[float, float]
    coil_ohm: float = 0.0
    leak_a: float = 0.0


class Need(Struct, frozen=True, forbid_unknown_fields=True):
    """Something that a supply needs: what it is called, what happens without it, the part, and what that stands for in the way
    of the current and draws."""

    title: str
    why: str
    part: str
    ohm: float = 0.0
    standing_a: float = 0.0


class ControllerPin(Struct, frozen=True, forbid_unknown_fields=True):
    """A pin of a controller: what it can be, and how it stands at start."""

    number: str
    name: str
    kind: Literal["output", "input only", "analog only", "programming", "supply", "ground", "reset"]
    pwm: bool = False
    at_start: Literal["floating", "high", "low"] = "floating"
    lamp: bool = False


#: How fast bits go out to a chain of registers, and how long a program takes to write the pins of a line, s.
SERIAL_HZ, WRITE_S = 4e6, 2e-6


class Controller(Struct, frozen=True, forbid_unknown_fields=True):
    """A controller as a table of pins: its supply, what a pin and all of them together carry, what it draws.

    A module with a regulator of its own makes `regulated_v` from higher supplies, from `regulated_from_v` on. Its program
    runs after `start_s`.
    """

    title: str
    supply_v: tuple[float, float]
    pin_a: float
    total_a: float
    standing_a: float
    part: str
    pins: tuple[ControllerPin, ...]
    regulated_v: float | None = None
    regulated_from_v: float = 0.0
    start_s: float = 0.1
    #: What it keeps beside nothing else: its program and tables; 0 where that is not known.
    memory_bytes: int = 0
    #: What its program has to work in; 0 where that is not known.
    ram_bytes: int = 0

    def logic_v(self, least_v: float, open_v: float, high_v: float) -> float | None:
        """The volts of a high of its outputs on a supply; None where that cannot feed it."""
        if self._by_itself(least_v, high_v):
            return open_v
        if self.regulated_v is not None and least_v >= self.regulated_from_v and high_v <= 6.0:
            return self.regulated_v
        return None

    def runs_from_v(self, least_v: float, high_v: float) -> float:
        """The least volts on which it runs, as it is fed."""
        return self.supply_v[0] if self._by_itself(least_v, high_v) else self.regulated_from_v

    def _by_itself(self, least_v: float, high_v: float) -> bool:
        return self.supply_v[0] <= least_v + 1e-9 and high_v <= self.supply_v[1] + 1e-9

    @property
    def outputs(self) -> tuple[ControllerPin, ...]:
        """The pins that can drive an LED: those that stand still at start first."""
        free = [one for one in self.pins if one.kind == "output"]
        return tuple(sorted(free, key=lambda one: (one.at_start != "floating", one.lamp)))


def _of(key: str, kind: type) -> Mapping[str, object]:
    return {name: msgspec.convert(entry, kind) for name, entry in entries("devices", key).items()}


@cache
def families() -> Mapping[str, Family]:
    """Every logic family and timer, by key."""
    return _of("families", Family)  # type: ignore[return-value]


def family(key: str) -> Family:
    """The family of that key."""
    return families()[key]


@cache
def registers() -> Mapping[str, Register]:
    """Every register, by the part that it is."""
    return _of("registers", Register)  # type: ignore[return-value]


@cache
def sinks() -> Mapping[str, Sink]:
    """Every constant-current sink register, by the part that it is."""
    return _of("sinks", Sink)  # type: ignore[return-value]


@cache
def switches() -> Mapping[str, Switch]:
    """Every switching transistor, by the part that it is."""
    return _of("switches", Switch)  # type: ignore[return-value]


@cache
def regulators() -> Mapping[str, Regulator]:
    """Every regulator, by key."""
    return _of("regulators", Regulator)  # type: ignore[return-value]


@cache
def latches() -> Mapping[str, Latch]:
    """Everything that can hold a supply, by key."""
    return _of("latches", Latch)  # type: ignore[return-value]


def latch(key: str) -> Latch:
    """The latch of that key."""
    return latches()[key]


@cache
def needs() -> Mapping[str, Need]:
    """Everything that a supply may need, by key, in the order of the current."""
    return _of("needs", Need)  # type: ignore[return-value]


@cache
def controllers() -> Mapping[str, Controller]:
    """Every controller, by name."""
    return _of("controllers", Controller)  # type: ignore[return-value]
