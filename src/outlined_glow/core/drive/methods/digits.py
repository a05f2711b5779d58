"""Seven-segment digits by logic: counters that count themselves, and decoders that a program tells a number (DOMAIN 5)."""

from __future__ import annotations

from collections.abc import Sequence

from ...lights import Led
from ...parts import Part, part
from ...project import Drive, Finding, Motion
from ..channels import Channel, channels_of, light_between
from ..circuit import GROUND, SUPPLY, pin_named
from ..devices import Family, family
from ..first_second import Node, Start
from ..limits import Refused, not_for_these, out_of_range, output_over
from ..method import Built, Job, Method
from ..shown import Asked, Numbers, all_on
from ..timing import best_astable
from ..ways import Sized
from .counters import timer
from .each import sized_kinds

_SEGMENTS = frozenset("abcdefg")
#: Segments that are lit on average, over the ten digits: 49 of 70.
_LIT = 0.7


def digits_of(title: str, leds: Sequence[Led]) -> dict[Led, list[Channel]]:
    """The segments of single digits with a common cathode, which is what these chips feed. `Refused` for anything else."""
    out: dict[Led, list[Channel]] = {}
    for one in channels_of(leds):
        out.setdefault(one.led, []).append(one)
    for channels in out.values():
        if not {one.light.name for one in channels} >= _SEGMENTS:
            raise Refused(not_for_these(title, "they are no single digits of seven segments"))
        if any(one.common != "cathode" for one in channels):
            raise Refused(not_for_these(title, "their anode is common, and these chips feed digits with a common cathode"))
    return out


def segments(job: Job, logic: Family, title: str) -> tuple[list[Sized], list[Finding], dict[Channel, float | None]]:
    """The resistors of all segments on outputs of a family; points, which stay dark, have none."""
    lit = tuple(one for one in channels_of(job.leds) if one.light.name in _SEGMENTS)
    found = sized_kinds(job, lit, ohm=logic.ohms(job.loaded_v), limit_a=logic.output_a)
    findings = []
    for row, _ in found:
        if logic.output_a is not None and row.way.target_a > logic.output_a:
            findings.append(output_over(f"An output of the {title}", row.way.target_a, logic.output_a, job.drive))
            break
    return [row for row, _ in found], findings, {one: row.resistor_ohm for row, some in found for one in some}


def join_segments(job: Job, ref: str, body: Part, channels: Sequence[Channel], ohms: dict[Channel, float | None]) -> None:
    """The outputs of a chip to the segments of a digit; its point stays dark."""
    for one in channels:
        if ohms.get(one) is not None:
            net = job.circuit.join(f"{ref} {one.light.name}", (ref, pin_named(body, one.light.name)))
            light_between(job.circuit, one, ohms[one] or 0.0, net, GROUND, job.drive)
        elif one.light.name not in _SEGMENTS:
            job.circuit.join(GROUND, one.anode, *one.alike(one.light.cathode))


class DigitCounters(Method):
    """A decade counter at each digit: it counts the pulses of a timer, and carries to the digit before it."""

    key, title = "decade-digits", "counters for digits"
    words = "no program: a counter at each digit counts the pulses of a timer; zeros in front stay dark"
    uses = ("period_s",)

    def shows(self, motion: Motion) -> bool:
        """It counts, which no pattern of single LEDs is."""
        return False

    def build(self, job: Job) -> Built:
        """The last digit counts the timer, each other one the carry of the digit behind it."""
        digits = digits_of(self.title, job.leds)
        logic, clock = family("4000"), family("CMOS timer")
        for what, one in (("counter", logic), ("timer", clock)):
            wrong = out_of_range(what, one, job.feed)
            if wrong is not None:
                raise Refused(wrong)
        rows, findings, ohms = segments(job, logic, "counter")
        pace = best_astable(job.drive.period_s)
        body = part("digit counter")
        before = job.circuit.join("clock")
        timer(job.circuit, before, pace, job.drive)
        refs = [job.circuit.add(body, f"4033 type, {logic.title}") for _ in digits]
        for ref, (_, channels) in zip(reversed(refs), reversed(list(digits.items())), strict=True):
            job.circuit.feed(ref, body)
            job.circuit.two(part("capacitor 0603"), "100n", SUPPLY, GROUND)
            job.circuit.join(before, (ref, pin_named(body, "clock")))
            for name in ("clock inhibit", "reset", "lamp test"):
                job.circuit.join(GROUND, (ref, pin_named(body, name)))
            before = job.circuit.join(f"{ref} carry", (ref, pin_named(body, "carry")))
            join_segments(job, ref, body, channels, ohms)
        ahead = GROUND
        for at, ref in enumerate(refs):
            # Zeros are dark from the first digit on; the last one is always shown.
            job.circuit.join(SUPPLY if at + 1 == len(refs) else ahead, (ref, pin_named(body, "blank in")))
            ahead = job.circuit.join(f"{ref} blank", (ref, pin_named(body, "blank out")))
        begins = Start((Node("digits", ((0.0, "0"), (0.01, "unknown"))),), 0.01)
        standing = len(refs) * logic.standing_a + clock.standing_a
        return Built(
            tuple(rows), tuple(findings), share=_LIT, standing_a=standing, needs_v=logic.supply_v[0], start=begins, pace=pace
        )


class DigitDecoders(Method):
    """A decoder with a latch at each digit: four lines tell the number, one more a digit which of them it is for."""

    key, title = "decoder", "decoders for digits"
    words = "a decoder with a latch at each digit; four lines for the number, one more for each digit"
    program, uses = True, ("controller",)

    def shows(self, motion: Motion) -> bool:
        """It shows numbers, which no pattern of single LEDs is."""
        return False

    def truly(self, drive: Drive, asked: Asked) -> Numbers:
        """Of single lights nothing: a number is on all the time."""
        return all_on(asked)

    def needs(self, drive: Drive, leds: tuple[Led, ...], grids: object) -> tuple[int, ...]:
        """Four lines for the number, and a latch for each digit."""
        return (4 + len(leds),)

    def build(self, job: Job) -> Built:
        """The lines to every decoder, its outputs to its digit."""
        digits = digits_of(self.title, job.leds)
        logic = family("HC")
        assert job.pins is not None
        wrong = out_of_range("decoder", logic, job.feed)
        if wrong is not None:
            raise Refused(wrong)
        rows, findings, ohms = segments(job, logic, "decoder")
        lines = [f"number {name}" for name in "ABCD"]
        latches = [f"latch {at}" for at in range(1, len(digits) + 1)]
        for line in (*lines, *latches):
            job.pins.take(line)
        strong = job.pins.shifted([*lines, *latches], job.feed.open_v)
        body = part("digit decoder")
        for latch, channels in zip(latches, digits.values(), strict=True):
            ref = job.circuit.add(body, f"4511 type, {logic.title}")
            job.circuit.feed(ref, body)
            job.circuit.two(part("capacitor 0603"), "100n", SUPPLY, GROUND)
            for line in lines:
                job.circuit.join(strong[line], (ref, pin_named(body, line[-1])))
            job.circuit.join(strong[latch], (ref, pin_named(body, "latch")))
            for name in ("lamp test", "blank"):
                job.circuit.join(SUPPLY, (ref, pin_named(body, name)))
            join_segments(job, ref, body, channels, ohms)
        begins = job.pins.begins("digits")
        standing = len(digits) * logic.standing_a
        return Built(tuple(rows), tuple(findings), share=_LIT, standing_a=standing, needs_v=logic.supply_v[0], start=begins)
