"""Charlieplexing: each LED lies between two pins of a controller, every ordered pair of which is another LED (DOMAIN 5)."""

from __future__ import annotations

import itertools
import math

from ...lights import Led
from ...parts import resistor
from ...project import Drive, Remedy
from ...units import show
from ..channels import Channel, channels_of, of_channels
from ..devices import WRITE_S
from ..law import law_of
from ..limits import Refused, not_for_these, output_over, package_over, pulse_over, stop
from ..method import REFRESH_HZ, Built, Job, Method, lit_at_once
from ..resistor import preferred, short_ohms
from ..shown import most_bits
from ..turns import allowed_peak, charlieplex_pins
from ..ways import Sized, Way, sharing, sized

#: So much over the voltage of the LED that is wanted two others in series must need, not to glow (DOMAIN 5), V; and the share
#: of the current at which they would be seen.
_GHOST_V, _GHOST_SHARE = 0.2, 0.01


class Charlieplex(Method):
    """LEDs between pins of a controller, which are high, low, or let go."""

    key, title = "charlieplex", "charlieplex"
    words = "few pins: each LED lies between two of them, and all others are let go"
    program, uses, turns = True, ("controller", "lit"), True
    pulses_hz = REFRESH_HZ

    def bits(self, drive: Drive, lights: int = 1) -> int:
        """The shortest bit plane of a turn, of one light or of a line, lasts as long as its pins take to be written."""
        turns = lights if lit_at_once(drive, lights) == 1 else charlieplex_pins(lights)
        return most_bits(1 / (REFRESH_HZ * max(1, turns)), WRITE_S)

    def needs(self, drive: Drive, leds: tuple[Led, ...], grids: object) -> tuple[int, ...]:
        """The least pins that have as many ordered pairs."""
        return (charlieplex_pins(len(channels_of(leds))),)

    def build(self, job: Job) -> Built:
        """The table of pairs; a resistor at each pin where one LED is lit at a time, else one for each LED."""
        channels, drive = channels_of(job.leds), job.drive
        if any(one.common for one in channels):
            raise Refused(not_for_these(self.title, "their lights share a pin"))
        assert job.pins is not None
        count = len(channels)
        pins = charlieplex_pins(count)
        alone = lit_at_once(drive, count) == 1
        duty = 1 / max(1, count if alone else pins)
        wanted = of_channels(channels, drive)
        limit = job.pins.controller.pin_a if alone else job.pins.controller.pin_a / max(1, pins - 1)
        most = job.pins.logic_v if job.pins.logic_v < job.feed.open_v - 1e-9 else math.inf
        findings, rows = [], []
        for target, some in wanted:
            peak, light = target / duty, some[0].light
            allowed = allowed_peak(light.continuous_a, duty)
            if peak > allowed * 1.0001:
                findings.append(pulse_over(some[0].led.kind.name, peak, allowed, duty, drive))
            elif peak > limit * 1.0001:
                whole = peak if alone else peak * (pins - 1)
                findings.append(output_over("A pin", whole, job.pins.controller.pin_a, drive))
            way = Way(
                some[0].led.kind, light, tuple(one.led.index for one in some), peak, duty, limit_a=max(limit, 1e-4), most_v=most
            )
            rows.append(sized(way, min(job.loaded_v, most), job.feed, drive))
        if not findings:
            self._ghosts(wanted, duty)
        total = 0.0 if alone else max((row.way.target_a for row in rows), default=0.0) * (pins - 1)
        if total > job.pins.controller.total_a:
            findings.append(package_over("the controller", total, job.pins.controller.total_a, drive))
        rows = self._join(job, channels, pins, rows, alone)
        return Built(tuple(rows), tuple(findings), REFRESH_HZ, start=job.pins.begins("LEDs"))

    def _ghosts(self, wanted: list[tuple[float, tuple[Channel, ...]]], duty: float) -> None:
        """Refuse colours of which two low ones in series glow when a high one is lit."""
        laws = [(target / duty, law_of(some[0].light), some[0].led.kind.name) for target, some in wanted]
        if not laws:
            return
        low = min(laws, key=lambda one: one[1].forward_v)
        high = max(laws, key=lambda one: one[1].forward_v)
        two = 2 * low[1].volts(_GHOST_SHARE * low[0])
        needs = high[1].volts(high[0]) + _GHOST_V
        if two < needs:
            raise Refused(
                stop(
                    "leds-ghost",
                    f"Two {low[2]} LEDs in series glow from {show(two, 2)} V on; a {high[2]} LED beside them needs "
                    f"{show(needs - _GHOST_V, 2)} V, and {_GHOST_V:g} V more are asked for. They would light when it does.",
                    Remedy("drive the colours apart, a group each"), Remedy("choose another way to drive them"),
                    measured=round(two, 3), allowed=round(needs, 3),
                )
            )  # fmt: skip

    def _join(self, job: Job, channels: tuple[Channel, ...], pins: int, rows: list[Sized], alone: bool) -> list[Sized]:
        """The nets: a line for each pin, and each LED from one to another; what its resistors then are."""
        assert job.pins is not None
        chip, drive = resistor(job.drive.resistor), job.drive
        lines = [f"line {pin}" for pin in range(1, pins + 1)]
        most = max((row.resistor_ohm or 0.0 for row in rows), default=0.0)
        half = 0.0
        for line in lines:
            net = line
            if alone and most > 0:
                half = preferred(most / 2, drive.series, "at-most", drive.stock)
                net = f"{line} pin"
                job.circuit.two(chip, short_ohms(half), line, net)
            job.pins.take(net)
        ohms = {(row.way.emitter.name, row.way.light.name): row.resistor_ohm or 0.0 for row in rows}
        for one, (high, low) in zip(channels, itertools.permutations(lines, 2), strict=False):
            index = one.led.index
            if alone or not ohms[one.kind]:
                job.circuit.join(high, one.anode)
            else:
                job.circuit.two(chip, short_ohms(ohms[one.kind]), high, one.name, index, f"{chip.prefix}{index}{one.letter}")
                job.circuit.join(one.name, one.anode)
            job.circuit.join(low, one.cathode)
        if not (alone and half):
            return rows
        # A pin carries a current in the turns of all lights that hang on it; two of its resistors stand before each.
        carries = min(2 * (pins - 1), len(channels)) / len(channels) / 2
        return sharing(rows, 2 * half, pins, carries)
