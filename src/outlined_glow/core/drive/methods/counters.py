"""Lights without a program: a ripple counter with its own oscillator, and a timer with a decade counter (DOMAIN 5 and 8)."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import replace

from ...lights import Led
from ...parts import part, resistor
from ...project import Drive, Finding, Motion
from ..channels import Channel, by_kind, channels_of, light_between, of_channels
from ..circuit import GROUND, SUPPLY, Circuit, pin_named
from ..devices import Family, family
from ..first_second import RISE_S, Level, Node, Reset, Start, reset_for
from ..law import law_of
from ..limits import Refused, not_for_these, out_of_range, output_over, package_over, stop
from ..logic import logic_of
from ..method import Built, Job, Method
from ..oscillator import COUNTER, join_oscillator
from ..resistor import short_ohms
from ..shown import Asked, Numbers, halving, one_after_another
from ..supply.feed import Feed
from ..timing import Astable, Oscillator, best_astable, best_oscillator, best_two_speeds, oscillator_hz, short_farads
from ..ways import Sized, Way, lit_a, share_at_once, sized

_DECADE, _TIMER = "decade counter", "timer"
#: The stages of the ripple counter that come to pins, and where the wires of its oscillator come.
_STAGES = (4, 5, 6, 7, 8, 9, 10, 12, 13, 14)


def grouped(channels: Sequence[Channel], outputs: int) -> list[tuple[str, tuple[Channel, ...]]]:
    """Channels by the group that their LED is in; where all are in one, they are dealt out to the outputs in turn."""
    groups: dict[str, list[Channel]] = {}
    for one in channels:
        groups.setdefault(one.led.group, []).append(one)
    if len(groups) > 1 or len(channels) <= 1:
        return [(name, tuple(some)) for name, some in groups.items()]
    many = min(outputs, len(channels))
    return [(f"output {at + 1}", tuple(channels[at::many])) for at in range(many)]


def shared_out(
    job: Job, groups: Sequence[tuple[str, tuple[Channel, ...]]], logic: Family, title: str
) -> tuple[list[Sized], list[Finding], dict[Channel, float]]:
    """Groups of LEDs, each at an output whose resistance they share: their resistors, and what the outputs then carry."""
    ohm, rows, findings, ohms = logic.ohms(job.loaded_v), [], [], {}
    heaviest = 0.0
    for name, some in groups:
        kinds = of_channels(some, job.drive)
        carries = sum(target * len(alike) for target, alike in kinds)
        left_v = job.loaded_v - ohm * carries
        enough = all(left_v > law_of(alike[0].light).volts(target) for target, alike in kinds)
        for target, alike in kinds:
            limit = None if logic.output_a is None else logic.output_a / len(some)
            way = Way(
                alike[0].led.kind, alike[0].light, tuple(one.led.index for one in alike), target,
                ohm=ohm * (carries / target if enough else len(some)), limit_a=limit,
            )  # fmt: skip
            row = sized(way, job.loaded_v, job.feed, job.drive)
            rows.append(row)
            if row.resistor_ohm is not None:
                ohms.update(dict.fromkeys(alike, row.resistor_ohm))
        heaviest += carries
        if logic.output_a is not None and carries > logic.output_a:
            findings.append(output_over(f"The output of “{name}”", carries, logic.output_a, job.drive))
    if logic.package_a is not None and heaviest > logic.package_a:
        findings.append(package_over(title, heaviest, logic.package_a, job.drive))
    return rows, findings, ohms


class RippleCounter(Method):
    """Groups of LEDs on the stages of a counter: each blinks half as fast as the one before."""

    key, title = "ripple", "ripple counter"
    words = "no program: a counter with its own oscillator; each group blinks half as fast as the one before"
    uses = ("period_s", "family", "reset")
    own_pattern, outputs = "halves", 5

    def shows(self, motion: Motion) -> bool:
        """Only what the counter itself does, which a pattern of its own will show."""
        return motion.plays("halves")

    def truly(self, drive: Drive, asked: Asked) -> Numbers:
        """Its own halving, whatever is wanted."""
        return halving(asked, drive.period_s)

    def build(self, job: Job) -> Built:
        """Each group between the supply and a stage; a resistor and a capacitor set the pace."""
        channels, drive = channels_of(job.leds), job.drive
        logic = logic_of(drive, ("HC", "4000"), "counter", job.feed)
        groups = grouped(channels, 5)
        if len(groups) > len(_STAGES):
            raise Refused(_too_many_groups(self.title, len(groups), len(_STAGES)))
        commons = {one.common for one in channels} - {""}
        if len(commons) > 1:
            why = "some of their lights are lit by a high, others by a low; make them all of common anode, or of common cathode"
            raise Refused(not_for_these(self.title, why))
        lit_high = commons == {"cathode"}
        rows, findings, ohms = shared_out(job, groups, logic, "the counter")
        body = part(COUNTER)
        ref = job.circuit.add(body, f"4060 type, {logic.title}")
        first = _first_stage(len(groups))
        stages = _STAGES[first : first + len(groups)]
        pace = best_oscillator(drive.period_s / 2 ** stages[0])
        reset = reset_for() if drive.reset == "network" else None
        join_oscillator(job.circuit, ref, pace, reset, drive)
        for (name, some), stage in zip(groups, stages, strict=True):
            net = job.circuit.join(f"stage {stage}, {name}", (ref, pin_named(body, f"Q{stage}")))
            for one in some:
                # Lit while the stage is low: all of them at once, as soon as there is a supply.
                high, low = (net, GROUND) if lit_high else (SUPPLY, net)
                if one in ohms:
                    light_between(job.circuit, one, ohms[one], high, low, drive)
        named = list(zip((name for name, _ in groups), stages, strict=True))
        begins = _halving(named, 1 / oscillator_hz(*pace), reset, lit_high)
        return Built(
            tuple(rows), tuple(findings), share=0.5, standing_a=logic.standing_a, needs_v=logic.supply_v[0], start=begins,
            pace=Oscillator(*pace, stages[0]),
        )  # fmt: skip


def _halving(stages: Sequence[tuple[str, int]], clock_s: float, reset: Reset | None, lit_high: bool) -> Start:
    """A counter that is held at zero, then counts: each stage goes high after half of its period. Lights are lit while it is
    low, or high. One that nothing holds starts anywhere: the fastest stage is low after half of its period at the latest."""
    if reset is None:
        unknown = [Node(name, ((0.0, "0"), (RISE_S, "unknown"))) for name, _ in stages]
        fastest = min((stage for _, stage in stages), default=1)
        return Start(tuple(unknown), RISE_S + clock_s * 2 ** (fastest - 1))
    held: Level = "0" if lit_high else "1"
    counted: Level = "1" if lit_high else "0"
    nodes = [Node("reset", ((0.0, "unknown"), (RISE_S, "1"), (reset.lasts_s, "0")))]
    for name, stage in stages:
        first = reset.lasts_s + clock_s * 2 ** (stage - 1)
        nodes.append(Node(f"stage {stage}, {name}", ((0.0, "unknown"), (RISE_S, "0"), (first, "1"))))
        nodes.append(Node(name, ((0.0, "0"), (RISE_S, held), (first, counted))))
    fastest = min((stage for _, stage in stages), default=1)
    return Start(tuple(nodes), reset.lasts_s + clock_s * 2 ** (fastest - 1) if lit_high else RISE_S, reset)


def _first_stage(groups: int) -> int:
    """Stages that follow one another without a gap, where there are as many: 4 to 10; else from the first on."""
    return 1 if groups <= 6 else 0


class CounterChaser(Method):
    """A timer and a decade counter: ten outputs, one of which is high at a time."""

    key, title = "counter-chaser", "timer and decade counter"
    words = "no program: ten outputs, one after another"
    uses = ("period_s", "other_period_s", "family")
    own_pattern, outputs = "one at a time", 10
    one_output = True

    def shows(self, motion: Motion) -> bool:
        """One after another; its own chase has no tail."""
        return motion.plays("one at a time")

    def truly(self, drive: Drive, asked: Asked) -> Numbers:
        """One output after another, whatever is wanted."""
        return one_after_another(asked, drive.period_s / max(1, asked.count))

    def asks(self, drive: Drive, leds: tuple[Led, ...], feed: Feed) -> float:
        """One output."""
        count = len(channels_of(leds))
        return drive.current_a * -(-count // 10) if count else 0.0

    def build(self, job: Job) -> Built:
        """Each group at an output; the counter goes back to its start after the last one."""
        channels, drive = channels_of(job.leds), job.drive
        logic, clocked = logic_of(drive, ("HC", "4000"), "counter", job.feed), family("CMOS timer")
        wrong = out_of_range("timer", clocked, job.feed)
        if wrong is not None:
            raise Refused(wrong)
        if any(one.common == "anode" for one in channels):
            why = "its outputs are high one at a time, and lights with a common anode are lit by a low"
            raise Refused(not_for_these(self.title, why))
        groups = grouped(channels, 10)
        if len(groups) > 10:
            raise Refused(_too_many_groups(self.title, len(groups), 10))
        rows, findings, ohms = shared_out(job, groups, logic, "the counter")
        # One output at a time: all of them together are no load of the package, nor of the supply.
        each = iter(rows)
        carries = [sum(lit_a(row, job.loaded_v) * len(row.way.indices) for row in itertools.islice(each, len(by_kind(some))))
                   for _, some in groups]  # fmt: skip
        share = share_at_once(carries)
        rows = [replace(row, way=replace(row.way, at_once=share)) for row in rows]
        findings = [one for one in findings if one.code != "package-over-current"]
        body = part(_DECADE)
        ref = job.circuit.add(body, f"4017 type, {logic.title}")
        job.circuit.feed(ref, body)
        job.circuit.two(part("capacitor 0603"), "100n", SUPPLY, GROUND)
        clock = job.circuit.join("clock", (ref, pin_named(body, "clock")))
        job.circuit.join(GROUND, (ref, pin_named(body, "clock enable")))
        steps = max(1, len(groups))
        two = None if not drive.other_period_s else best_two_speeds(drive.period_s / steps, drive.other_period_s / steps)
        slow = best_astable(drive.period_s / steps) if two is None else two.slow
        timer(job.circuit, clock, slow if two is None else two.fast, drive, 0.0 if two is None else two.more_ohm)
        for at, (name, some) in enumerate(groups):
            net = job.circuit.join(f"output {at}, {name}", (ref, pin_named(body, f"Q{at}")))
            for one in some:
                high, low = (SUPPLY, net) if one.common == "anode" else (net, GROUND)
                if one in ohms:
                    light_between(job.circuit, one, ohms[one], high, low, drive)
        again = f"output {len(groups)}"
        after = GROUND if len(groups) in (0, 10) else job.circuit.join(again, (ref, pin_named(body, f"Q{len(groups)}")))
        job.circuit.join(after, (ref, pin_named(body, "reset")))
        needs = max(logic.supply_v[0], clocked.supply_v[0])
        standing = logic.standing_a + clocked.standing_a
        begins = self._start(slow, [name for name, _ in groups])
        return Built(
            tuple(rows), tuple(findings), share=1 / steps, standing_a=standing, needs_v=needs, start=begins,
            pace=two or slow,
        )  # fmt: skip

    def _start(self, pace: Astable, names: Sequence[str]) -> Start:
        """The counter starts anywhere: on an output that lights nothing it goes on until it comes round. The timer's first
        high lasts longer than the others."""
        unused = 10 - len(names)
        dark = 0.0 if not unused else pace.first_high_s + pace.low_s + (unused - 1) * pace.period_s
        edges = [RISE_S + pace.first_high_s + pace.low_s + at * pace.period_s for at in range(3)]
        levels: list[tuple[float, Level]] = [(0.0, "unknown"), (RISE_S, "1")]
        for edge in edges:
            levels += [(edge - pace.low_s, "0"), (edge, "1")]
        lights = tuple(Node(name, ((0.0, "0"), (RISE_S, "unknown"))) for name in names)
        return Start((Node("clock", tuple(levels)), *lights), max(RISE_S, dark))


def timer(circuit: Circuit, clock: str, pace: Astable, drive: Drive, more_ohm: float = 0.0) -> None:
    """A timer that runs by itself and drives a clock; with one resistor more, that a switch bridges, at two speeds."""
    body, chip = part(_TIMER), resistor(drive.resistor)
    cap = part("capacitor 0603" if pace.c_f < 2e-6 else "capacitor 1206")
    ref = circuit.add(body, "555 type, CMOS")
    circuit.feed(ref, body)
    circuit.two(part("capacitor 0603"), "100n", SUPPLY, GROUND)
    timing = circuit.join("timing", (ref, pin_named(body, "trigger")), (ref, pin_named(body, "threshold")))
    drain = circuit.join("discharge", (ref, pin_named(body, "discharge")))
    control = circuit.join("control", (ref, pin_named(body, "control")))
    circuit.join(SUPPLY, (ref, pin_named(body, "reset")))
    circuit.join(clock, (ref, pin_named(body, "output")))
    circuit.two(chip, short_ohms(pace.r1_ohm), SUPPLY, drain)
    after = circuit.join("speed") if more_ohm else timing
    circuit.two(chip, short_ohms(pace.r2_ohm), drain, after)
    if more_ohm:
        circuit.two(chip, short_ohms(more_ohm), after, timing)
        switch = part("slide switch")
        held = circuit.add(switch, "speed", outside=True)
        circuit.join(after, (held, pin_named(switch, "common")))
        circuit.join(timing, (held, pin_named(switch, "on")))
    circuit.two(cap, short_farads(pace.c_f), timing, GROUND)
    circuit.two(part("capacitor 0603"), "10n", control, GROUND)


def _too_many_groups(title: str, groups: int, outputs: int) -> Finding:
    return stop(
        "too-few-outputs", f"The LEDs are {groups} groups; the {title} has {outputs} outputs for them.",
        measured=groups, allowed=outputs,
    )  # fmt: skip
