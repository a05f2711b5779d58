"""LEDs on the pins of a controller, each with its resistor (DOMAIN 5)."""

from __future__ import annotations

import math

from ...lights import Led
from ...project import Drive, Finding
from ..channels import channels_of, light_between
from ..circuit import GROUND, SUPPLY
from ..devices import WRITE_S
from ..limits import Refused, not_for_these, output_over, package_over
from ..method import REFRESH_HZ, Built, Job, Method, lit_at_once
from ..shown import most_bits
from .each import sized_kinds


class DirectPins(Method):
    """A pin and a resistor for each light."""

    key, title = "pins", "controller pins"
    words = "each LED on a pin of a controller"
    program, uses = True, ("controller", "lit")
    pulses_hz = REFRESH_HZ

    def bits(self, drive: Drive, lights: int = 1) -> int:
        """Pins without a width of pulses of their own are switched by the program, one after another."""
        return most_bits(1 / REFRESH_HZ, WRITE_S + 2e-7 * lights)

    def needs(self, drive: Drive, leds: tuple[Led, ...], grids: object) -> tuple[int, ...]:
        """A pin for each light."""
        return (len(channels_of(leds)),)

    def build(self, job: Job) -> Built:
        """From the pins to ground, or from the supply to the pins where the lights share their anode."""
        channels, drive = channels_of(job.leds), job.drive
        assert job.pins is not None
        chosen = job.pins.controller
        weak = job.pins.logic_v < job.feed.open_v - 1e-9
        if weak and any(one.common == "anode" for one in channels):
            raise Refused(
                not_for_these(self.title, "a high of the controller is lower than the supply, and would not put them out")
            )
        found = sized_kinds(job, channels, limit_a=chosen.pin_a, most_v=job.pins.logic_v if weak else math.inf)
        findings: list[Finding] = []
        for row, _ in found:
            if row.way.target_a > chosen.pin_a:
                findings.append(output_over("A pin", row.way.target_a, chosen.pin_a, drive))
                break
        lit = lit_at_once(drive, len(channels))
        total = sum(sorted((row.way.target_a for row, some in found for _ in some), reverse=True)[:lit])
        if total > chosen.total_a:
            findings.append(package_over("the controller", total, chosen.total_a, drive))
        ohms = {channel: row.resistor_ohm for row, some in found for channel in some}
        for channel in channels:
            net = f"{channel.ref} pin{channel.letter and ' '}{channel.letter}"
            job.pins.take(net, pwm=True)
            high, low = (SUPPLY, net) if channel.common == "anode" else (net, GROUND)
            if ohms[channel] is not None:
                light_between(job.circuit, channel, ohms[channel] or 0.0, high, low, drive)
        return Built(tuple(row for row, _ in found), tuple(findings), start=job.pins.begins("LEDs"))
