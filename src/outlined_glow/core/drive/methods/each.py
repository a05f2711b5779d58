"""One resistor each, one resistor for all, and strings in series: LEDs on the supply itself (DOMAIN 4 and 5)."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

from ...lights import Led
from ...parts import resistor
from ...project import Drive, Finding, Motion, Remedy
from ..channels import Channel, by_kind, channels_of, light_between, targets
from ..circuit import GROUND, SUPPLY
from ..first_second import Start, with_supply
from ..law import LedLaw, branch_current, law_of
from ..limits import HEADROOM_V, Refused, lit_together, not_for_these
from ..method import Built, Job, Method, lit_at_once
from ..resistor import short_ohms
from ..shown import Asked, Numbers, brightest_alone
from ..supply.feed import Feed
from ..ways import Sized, Way, lit_a, share_at_once, sharing, sized


def sized_kinds(
    job: Job, channels: tuple[Channel, ...], ohm: float = 0.0, limit_a: float | None = None, most_v: float = math.inf
) -> list[tuple[Sized, tuple[Channel, ...]]]:
    """The resistor of every kind of light, each at an output of that resistance; `most_v` is the most that an output gives,
    where that is less than the supply."""
    kinds = by_kind(channels)
    volts = min(job.loaded_v, most_v)
    return [
        (
            sized(
                Way(one.emitter, one.light, one.indices, each, ohm=ohm, limit_a=limit_a, most_v=most_v),
                volts,
                job.feed,
                job.drive,
            ),
            one.channels,
        )
        for each, one in zip(targets(job.drive, [one.light for one in kinds]), kinds, strict=True)
    ]


class OneResistorEach(Method):
    """Every LED has a resistor of its own and is lit as long as there is a supply."""

    key, title = "each", "one resistor each"
    words = "a resistor for each LED, all of them on the supply"

    def build(self, job: Job) -> Built:
        """A resistor for each light between supply and ground."""
        found = sized_kinds(job, channels_of(job.leds))
        ohms = {one: row.resistor_ohm for row, channels in found for one in channels}
        for one in channels_of(job.leds):
            if ohms[one] is not None:
                light_between(job.circuit, one, ohms[one] or 0.0, SUPPLY, GROUND, job.drive)
        return Built(tuple(row for row, _ in found), start=Start((with_supply("all LEDs"),)))


class OneShared(Method):
    """One resistor before all LEDs, of which one at a time is lit, each by a pin of its own."""

    key, title = "shared", "one resistor for all"
    words = "one resistor; each LED is switched by a pin of its own, one at a time"
    program, uses = True, ("controller", "lit")
    one_output = True

    def shows(self, motion: Motion) -> bool:
        """One after another: nothing that lights two at a time."""
        return not motion.score and motion.pattern == "one at a time"

    def truly(self, drive: Drive, asked: Asked) -> Numbers:
        """One light at a time: the one that is wanted brightest."""
        return brightest_alone(asked)

    def needs(self, drive: Drive, leds: tuple[Led, ...], grids: object) -> tuple[int, ...]:
        """A pin for each light."""
        return (len(channels_of(leds)),)

    def asks(self, drive: Drive, leds: tuple[Led, ...], feed: Feed) -> float:
        """One of them."""
        return drive.current_a if leds else 0.0

    def build(self, job: Job) -> Built:
        """The resistor from the supply to every anode, each cathode to its pin."""
        channels, drive = channels_of(job.leds), job.drive
        if any(one.common == "cathode" for one in channels):
            raise Refused(not_for_these(self.title, "lights with a common cathode cannot be switched one by one at it"))
        found = sized_kinds(job, channels)
        if len(channels) > 1 and lit_at_once(drive, len(channels)) > 1:
            raise Refused(lit_together(self.title, self._fading(job, found[0][0])))
        most = max((row.resistor_ohm for row, _ in found if row.resistor_ohm is not None), default=None)
        if most is None:
            return Built(tuple(row for row, _ in found))
        chip = resistor(drive.resistor)
        job.circuit.two(chip, short_ohms(most), SUPPLY, "anodes")
        for one in channels:
            job.circuit.join("anodes", *one.alike(one.light.anode))
            job.circuit.join(one.name.replace("anode", "cathode"), one.cathode)
            if job.pins is not None:
                job.pins.take(one.name.replace("anode", "cathode"))
        rows = sharing([row for row, _ in found], most, 1, 1.0)
        share = share_at_once([amps for row in rows for amps in [lit_a(row, job.loaded_v)] * len(row.way.indices)])
        rows = [replace(row, way=replace(row.way, at_once=share)) for row in rows]
        begins = job.pins.begins("LEDs") if job.pins is not None else Start()
        return Built(tuple(rows), share=1 / max(1, len(channels)), start=begins)

    def _fading(self, job: Job, row: Sized) -> str:
        """How bright each is when more are lit together."""
        law, ohm = row.way.law, row.resistor_ohm or 0.0
        alone = branch_current(job.loaded_v, ohm, law)
        counts = sorted({2, 3, len(job.leds)})
        each = [branch_current(job.loaded_v, ohm * many, law) for many in counts]
        told = ", ".join(f"{many} lit: {100 * now / alone:.0f} %" for many, now in zip(counts, each, strict=True) if alone)
        return f"the others dim as more are lit ({told} each)"


class SeriesStrings(Method):
    """As many LEDs in series as the supply carries, with a resistor for each string."""

    key, title = "strings", "strings in series"
    words = "several LEDs in series behind one resistor"

    def asks(self, drive: Drive, leds: tuple[Led, ...], feed: Feed) -> float:
        """Each string once."""
        kinds = by_kind(channels_of(leds))
        wanted = targets(drive, [one.light for one in kinds])
        out = 0.0
        for each, one in zip(wanted, kinds, strict=True):
            long = max(1, longest(law_of(one.light), each, feed.open_v))
            out += each * -(-len(one.channels) // long)
        return out

    def build(self, job: Job) -> Built:
        """Strings of each kind of light, the last of them shorter if it must be."""
        channels = channels_of(job.leds)
        if any(one.common for one in channels):
            raise Refused(not_for_these(self.title, "their lights share a pin"))
        rows: list[Sized] = []
        kinds = by_kind(channels)
        number = 0
        for each, kind in zip(targets(job.drive, [one.light for one in kinds]), kinds, strict=True):
            law = law_of(kind.light)
            long = longest(law, each, job.loaded_v)
            if long < 2:
                raise Refused(_no_two(kind.emitter.name, 2 * law.volts(each) + HEADROOM_V, job.loaded_v))
            strings = [kind.channels[at : at + long] for at in range(0, len(kind.channels), long)]
            for size in sorted({len(one) for one in strings}, reverse=True):
                mine = [one for one in strings if len(one) == size]
                indices = tuple(one.led.index for some in mine for one in some)
                row = sized(Way(kind.emitter, kind.light, indices, each, count=size), job.loaded_v, job.feed, job.drive)
                rows.append(row)
                for some in mine:
                    number += 1
                    _string(job, some, row.resistor_ohm or 0.0, number)
        return Built(tuple(rows), start=Start((with_supply("all strings"),)))


def longest(law: LedLaw, current_a: float, volts: float) -> int:
    """How many LEDs in series leave enough for a resistor."""
    return int((volts - HEADROOM_V) / law.volts(current_a))


def _string(job: Job, some: tuple[Channel, ...], ohm: float, number: int) -> None:
    chip = resistor(job.drive.resistor)
    ref = job.circuit.add(chip, short_ohms(ohm), some[0].led.index, f"{chip.prefix}{some[0].led.index}")
    job.circuit.join(SUPPLY, (ref, chip.pins[0].number))
    job.circuit.join(f"string {number}, 1", (ref, chip.pins[1].number), some[0].anode)
    for at, (one, after) in enumerate(itertools.pairwise(some), 2):
        job.circuit.join(f"string {number}, {at}", one.cathode, after.anode)
    job.circuit.join(GROUND, some[-1].cathode)


def _no_two(name: str, needs: float, has: float) -> Finding:
    return Finding(
        code="no-voltage-left", severity="stop", stage="drive",
        text=f"Two {name} LEDs in series with a resistor need {needs:.2f} V; the supply gives {has:.2f} V.",
        measured=round(has, 3), allowed=round(needs, 3),
        remedies=(Remedy("give each LED a resistor"), Remedy("raise the supply")),
    )  # fmt: skip
