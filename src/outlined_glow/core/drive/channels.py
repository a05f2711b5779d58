"""Channels: every light of every LED, each of which a way of driving lights by itself."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ..lights import Led
from ..parts import Emitter, Part, Source, resistor
from ..project import Drive
from .circuit import Circuit, PinOf
from .placement import led_parts
from .resistor import short_ohms


@dataclass(frozen=True)
class Channel:
    """A light of an LED, of the part that has a reference; `common` tells which of its ends it shares with other lights."""

    led: Led
    light: Source
    ref: str
    letter: str
    common: str

    @property
    def kind(self) -> tuple[str, str]:
        """What it is: the name of the LED and of its light."""
        return self.led.kind.name, self.light.name

    @property
    def key(self) -> str:
        """How it is told in a project: the number of its LED, and its letter where that has several."""
        return f"{self.led.index}{self.letter}"

    @property
    def anode(self) -> PinOf:
        """Its pin toward the supply."""
        return self.ref, self.light.anode

    @property
    def cathode(self) -> PinOf:
        """Its pin toward ground."""
        return self.ref, self.light.cathode

    def alike(self, number: str) -> list[PinOf]:
        """A pin, and those that are joined with it within the part: they have its name."""
        part: Part = self.led.kind.part
        pin = part.pin(number)
        same = [one.number for one in part.pins if one.number == number or (pin.name and one.name == pin.name)]
        return [(self.ref, one) for one in same]

    @property
    def name(self) -> str:
        """What the net at its own end is called."""
        return f"{self.ref} {self.light.name or 'anode'}"


def channels_of(leds: Sequence[Led]) -> tuple[Channel, ...]:
    """Every light of LEDs, in the order of their indices."""
    refs = {led.index: part.ref for led, part in zip(leds, led_parts(tuple(leds)), strict=True)}
    out = []
    for led in sorted(leds, key=lambda one: one.index):
        lights = led.kind.lights
        for at, light in enumerate(lights):
            common = _common(led.kind, light)
            out.append(Channel(led, light, refs[led.index], letter_of(at) if len(lights) > 1 else "", common))
    return tuple(out)


def on_outputs(channels: Sequence[Channel], order: Sequence[str]) -> tuple[Channel, ...]:
    """Lights in the order in which they hang on the outputs of registers: those that are told, then all others."""
    place = {key: at for at, key in enumerate(order)}
    return tuple(sorted(channels, key=lambda one: place.get(one.key, len(place))))


def _common(kind: Emitter, light: Source) -> str:
    if sum(one.anode == light.anode for one in kind.lights) > 1:
        return "anode"
    return "cathode" if sum(one.cathode == light.cathode for one in kind.lights) > 1 else ""


@dataclass(frozen=True)
class Alike:
    """Lights of one kind."""

    emitter: Emitter
    light: Source
    channels: tuple[Channel, ...]

    @property
    def indices(self) -> tuple[int, ...]:
        """Their LEDs."""
        return tuple(one.led.index for one in self.channels)


def by_kind(channels: Iterable[Channel]) -> list[Alike]:
    """Channels put together by kind, those that come first first."""
    kinds: dict[tuple[str, str], list[Channel]] = {}
    for one in channels:
        kinds.setdefault(one.kind, []).append(one)
    return [Alike(some[0].led.kind, some[0].light, tuple(some)) for some in kinds.values()]


def letter_of(at: int) -> str:
    """A, B, and so on; beyond Z AA.

    >>> letter_of(2), letter_of(26)
    ('C', 'AA')
    """
    return (letter_of(at // 26 - 1) if at >= 26 else "") + chr(ord("A") + at % 26)


def light_between(circuit: Circuit, channel: Channel, ohm: float, high: str, low: str, drive: Drive) -> None:
    """A light with its resistor between two nets: the resistor lies on the side that the light does not share."""
    shared = channel.common == "anode"
    led_end, net = (channel.cathode, low) if shared else (channel.anode, high)
    far, other = (channel.light.anode, high) if shared else (channel.light.cathode, low)
    if ohm <= 0:
        circuit.join(net, led_end)
        circuit.join(other, *channel.alike(far))
        return
    chip = resistor(drive.resistor)
    index = channel.led.index
    ref = circuit.add(chip, short_ohms(ohm), index, f"{chip.prefix}{index}{channel.letter}")
    circuit.join(net, (ref, chip.pins[0].number))
    circuit.join(other, *channel.alike(far))
    circuit.join(channel.name, (ref, chip.pins[1].number), led_end)


#: No colour is dimmed to less than this, A.
_LEAST_A = 5e-5


def targets(drive: Drive, lights: Sequence[Source]) -> list[float]:
    """The current wanted through each kind of light: the same for all, or such that all are as bright as the dimmest."""
    if not drive.balanced or not lights:
        return [drive.current_a] * len(lights)
    bright = [one.mcd / one.forward_a for one in lights]
    return [max(_LEAST_A, drive.current_a * min(bright) / each) for each in bright]


def of_channels(channels: tuple[Channel, ...], drive: Drive) -> list[tuple[float, tuple[Channel, ...]]]:
    """The kinds of channels, each with the current wanted through it."""
    kinds = by_kind(channels)
    wanted = targets(drive, [one.light for one in kinds])
    return [(each, one.channels) for each, one in zip(wanted, kinds, strict=True)]
