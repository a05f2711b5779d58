"""Registers with an output for each LED: shift registers with resistors, and constant-current sinks (DOMAIN 5)."""

from __future__ import annotations

from collections.abc import Mapping

from ...lights import Led
from ...parts import Part, part, resistor
from ...project import Drive, Finding
from ..channels import Alike, by_kind, channels_of, light_between, on_outputs
from ..circuit import GROUND, SUPPLY
from ..devices import SERIAL_HZ, family, registers, sinks
from ..limits import Refused, not_for_these, output_over, package_over, sink_out_of_range
from ..logic import logic_of
from ..method import REFRESH_HZ, Built, Job, Method
from ..set_current import join_set_current, set_current
from ..shown import most_bits
from ..ways import Sized, Way, sized
from .each import sized_kinds

_REGISTER, _SINK = "shift register, 8 bits", "constant-current sink, 16 outputs"
#: The lines that a chain of registers takes of a controller, and the pins they come to.
_LINES = ("data", "shift clock", "storage clock", "enable")


def chained(
    job: Job, body: Part, count: int, lines: Mapping[str, str], value: str, prefix: str
) -> list[tuple[str, Mapping[str, str]]]:
    """So many registers in a chain: their references, and the numbers of their pins by name. `lines` are the nets of their pins
    by name; the data of each comes from the one before."""
    number = {pin.name: pin.number for pin in body.pins}
    data = lines["data in"]
    out: list[tuple[str, Mapping[str, str]]] = []
    for at in range(count):
        ref = job.circuit.add(body, value)
        job.circuit.feed(ref, body)
        job.circuit.two(part("capacitor 0603"), "100n", SUPPLY, GROUND)
        job.circuit.join(data, (ref, number["data in"]))
        for name, net in lines.items():
            if name != "data in":
                job.circuit.join(net, (ref, number[name]))
        if at + 1 < count:
            data = job.circuit.join(f"{prefix} data {at + 2}", (ref, number["data out"]))
        out.append((ref, number))
    return out


def chain_bits(lights: int, outputs: int) -> int:
    """In how many bits a chain of registers of so many outputs shows light, all of it anew as often as is needed.

    >>> chain_bits(8, 8), chain_bits(256, 8)
    (8, 6)
    """
    return most_bits(1 / REFRESH_HZ, -(-lights // outputs) * outputs / SERIAL_HZ)


class ShiftRegisters(Method):
    """A chain of 8-bit registers with storage: an output and a resistor for each light."""

    key, title = "shift-register", "shift registers"
    words = "a chain of registers, with an output and a resistor for each LED"
    program, uses = True, ("controller", "family")
    pulses_hz = REFRESH_HZ
    outputs_swap = True

    def bits(self, drive: Drive, lights: int = 1) -> int:
        """The shortest bit plane lasts as long as the chain takes to be filled."""
        return chain_bits(lights, registers()[_REGISTER].outputs)

    def needs(self, drive: Drive, leds: tuple[Led, ...], grids: object) -> tuple[int, ...]:
        """Data, two clocks and the enable, which dims all of them."""
        return (len(_LINES),)

    def build(self, job: Job) -> Built:
        """Lights from the outputs to ground; those with a common anode from the supply to the outputs."""
        channels, drive, one = channels_of(job.leds), job.drive, registers()[_REGISTER]
        logic = logic_of(drive, ("HC", "HCT"), "shift register", job.feed)
        assert job.pins is not None
        ohm = logic.ohms(job.loaded_v)
        found = sized_kinds(job, channels, ohm=ohm, limit_a=one.output_a)
        ohms = {channel: row.resistor_ohm for row, some in found for channel in some}
        findings: list[Finding] = []
        for row, _ in found:
            most = row.way.at_most(job.feed, row.resistor_ohm or 0.0, 0.05)
            if row.way.target_a > one.output_a or most > one.output_a * 1.001:
                findings.append(output_over("An output of the register", max(most, row.way.target_a), one.output_a, drive))
                break
        count = -(-len(channels) // one.outputs)
        full = sum(sorted((row.way.target_a for row, some in found for _ in some), reverse=True)[: one.outputs])
        if full > one.package_a:
            findings.append(package_over("a register", full, one.package_a, drive))
        for line in _LINES:
            job.pins.take(f"registers {line}", pwm=line == "enable")
        strong = job.pins.shifted([f"registers {line}" for line in _LINES], job.feed.open_v, logic.needs_high(job.feed.open_v))
        body = part(_REGISTER)
        nets = {
            "data in": strong["registers data"], "shift clock": strong["registers shift clock"],
            "storage clock": strong["registers storage clock"], "output enable": strong["registers enable"], "clear": SUPPLY,
        }  # fmt: skip
        value = "595 type" if logic is family(one.family) else f"595 type, {logic.title}"
        chain = chained(job, body, count, nets, value, "registers")
        # The enable is active low: a pull keeps all lights off until the program runs.
        job.circuit.two(resistor(drive.resistor), "10k", SUPPLY, strong["registers enable"])
        for at, channel in enumerate(on_outputs(channels, drive.outputs)):
            ref, number = chain[at // one.outputs]
            net = job.circuit.join(f"output {at + 1}", (ref, number[f"Q{at % one.outputs}"]))
            high, low = (SUPPLY, net) if channel.common == "anode" else (net, GROUND)
            if ohms[channel] is not None:
                light_between(job.circuit, channel, ohms[channel] or 0.0, high, low, drive)
        if drive.spare_pads:
            # What is no light, or a pause: an output that comes out to a pad.
            for at in range(len(channels), count * one.outputs):
                ref, number = chain[at // one.outputs]
                pad = job.circuit.add(part("one pad"), f"output {at + 1}")
                job.circuit.join(f"output {at + 1}", (ref, number[f"Q{at % one.outputs}"]), (pad, "1"))
        begins = job.pins.begins("LEDs of the registers", {"registers enable": "1"})
        return Built(
            tuple(row for row, _ in found), tuple(findings), standing_a=count * logic.standing_a,
            needs_v=logic.supply_v[0], start=begins,
        )  # fmt: skip


class CurrentSinks(Method):
    """Registers whose outputs regulate the current: one resistor sets it for sixteen lights."""

    key, title = "sink", "constant-current sinks"
    words = "registers that regulate the current of each LED; one resistor sets it"
    program, uses = True, ("controller",)
    pulses_hz = REFRESH_HZ
    outputs_swap = True

    def bits(self, drive: Drive, lights: int = 1) -> int:
        """The shortest bit plane lasts as long as the chain takes to be filled."""
        return chain_bits(lights, sinks()[_SINK].outputs)

    def needs(self, drive: Drive, leds: tuple[Led, ...], grids: object) -> tuple[int, ...]:
        """Data, clock, latch and the enable, which dims all of them."""
        return (4,)

    def build(self, job: Job) -> Built:
        """Lights from the supply to the outputs."""
        channels, drive, one = channels_of(job.leds), job.drive, sinks()[_SINK]
        if any(channel.common == "cathode" for channel in channels):
            raise Refused(not_for_these(self.title, "lights with a common cathode cannot be sunk one by one"))
        assert job.pins is not None
        if not (one.supply_v[0] <= job.feed.least_v and job.feed.high_v <= one.supply_v[1]):
            raise Refused(sink_out_of_range(one, job.feed))
        rows: list[Sized] = []
        findings: list[Finding] = []
        found = set_current(one, drive.current_a, drive)
        if found.current_a > one.output_a:
            findings.append(output_over("A sink", found.current_a, one.output_a, drive))
        for kind in by_kind(channels):
            # Under the least current that is regulated the enable dims.
            rows.append(self._row(job, kind, found.current_a, found.dimmed))
        lines = ["sinks data", "sinks clock", "sinks latch", "sinks enable"]
        for line in lines:
            job.pins.take(line, pwm=line.endswith("enable"))
        strong = job.pins.shifted(lines, job.feed.open_v)
        names = ("data in", "clock", "latch", "output enable")
        count = -(-len(channels) // one.outputs)
        chain = chained(job, part(_SINK), count, dict(zip(names, strong.values(), strict=True)), "sinks", "sinks")
        job.circuit.two(resistor(drive.resistor), "10k", SUPPLY, strong["sinks enable"])
        for at, (ref, number) in enumerate(chain, 1):
            join_set_current(job.circuit, drive, found.ohm, at, (ref, number["current set"]))
        for at, channel in enumerate(on_outputs(channels, drive.outputs)):
            ref, number = chain[at // one.outputs]
            job.circuit.join(SUPPLY, *channel.alike(channel.light.anode))
            job.circuit.join(f"output {at + 1}", (ref, number[f"OUT{at % one.outputs}"]), channel.cathode)
        begins = job.pins.begins("LEDs of the sinks", {"sinks enable": "1"})
        return Built(tuple(rows), tuple(findings), standing_a=count * one.standing_a, needs_v=one.supply_v[0], start=begins)

    def _row(self, job: Job, kind: Alike, peak_a: float, duty: float) -> Sized:
        one = sinks()[_SINK]
        way = Way(
            kind.emitter, kind.light, kind.indices, peak_a, duty, drop_v=one.drop_v, limit_a=one.output_a, regulated=True
        )  # fmt: skip
        return sized(way, job.loaded_v, job.feed, job.drive)
