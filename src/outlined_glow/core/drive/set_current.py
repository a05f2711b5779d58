"""The resistor that sets the current of constant-current sinks: a preferred value, and the current that follows."""

from __future__ import annotations

from typing import NamedTuple

from ..parts import resistor
from ..project import Drive
from .circuit import GROUND, Circuit, PinOf
from .devices import Sink
from .resistor import preferred, short_ohms


class SetCurrent(NamedTuple):
    """The resistor, ohm; what each output then regulates, A; the share of the time that it is to be on, where less is wanted
    than sinks regulate."""

    ohm: float
    current_a: float
    dimmed: float


def set_current(sink: Sink, wanted_a: float, drive: Drive) -> SetCurrent:
    """What sets a current that is wanted, of the series and the values at hand: no less than sinks regulate.

    >>> from .devices import sinks
    >>> [sink] = sinks().values()
    >>> set_current(sink, 0.005, Drive()).ohm, set_current(sink, 0.001, Drive()).current_a >= sink.least_a
    (3900.0, True)
    """
    ohm = preferred(sink.set_v_ohm / max(wanted_a, sink.least_a), drive.series, drive.choose, drive.stock)
    weak = sink.set_v_ohm / ohm < sink.least_a * (1 - 1e-9)
    if weak:
        ohm = preferred(sink.set_v_ohm / sink.least_a, drive.series, "at-least", drive.stock)
    current_a = sink.set_v_ohm / ohm
    return SetCurrent(ohm, current_a, min(1.0, wanted_a / current_a) if weak or wanted_a < sink.least_a else 1.0)


def join_set_current(circuit: Circuit, drive: Drive, ohm: float, number: int, pin: PinOf) -> None:
    """The resistor from the pin of a register to ground; registers count from 1."""
    net = circuit.join(f"current set {number}", pin)
    circuit.two(resistor(drive.resistor), short_ohms(ohm), net, GROUND)
