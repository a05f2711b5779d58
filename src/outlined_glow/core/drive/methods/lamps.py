"""Lights that are no LEDs: wire-filament lamps on a voltage, and cold-cathode tubes on a high one (DOMAIN 3, 5 and 11)."""

from __future__ import annotations

from dataclasses import replace

from ...lights import Led
from ...parts import part, resistor
from ...project import Drive, Finding, Motion, Remedy
from ...units import show, show_si
from ..channels import by_kind, channels_of
from ..circuit import GROUND, SUPPLY, pin_named
from ..devices import family, switches
from ..filament import COLD, filament_a
from ..first_second import Start, with_supply
from ..law import law_of
from ..limits import Refused, out_of_range, output_over, stop
from ..method import Built, Job, Method, lit_at_once
from ..plan import Branch
from ..resistor import preferred, short_ohms
from ..shown import Asked, Numbers, all_on, lagging
from ..supply.feed import Feed
from ..supply.runtime import Load
from ..tube import anode_resistor

#: The share of its volts that a filament glows at.
_LEAST_SHARE = 0.6
#: How long a filament takes to come to 63 % of another light, s: a typical one of this size.
FILAMENT_LAG_S = 0.08
#: What switches a lamp that is not always lit.
_SWITCH = "switching transistor, N"
#: What a bought converter makes for tubes, V, and how well.
HIGH_V, _CONVERTS = 180.0, 0.8
#: Chip resistors are not made for such volts.
_AXIAL = "resistor, axial quarter watt"


class FilamentLamps(Method):
    """Lamps on the supply, behind a resistor where that gives more than they are made for."""

    key, title = "filament", "filament lamps"
    words = "wire-filament lamps on the supply, behind a resistor where it gives more than they are made for"
    lights, uses = "voltage", ("controller", "lit")

    def programmed(self, drive: Drive) -> bool:
        """Lamps of which not all are lit are switched, by a program."""
        return drive.lit != "all"

    def truly(self, drive: Drive, asked: Asked) -> Numbers:
        """What is wanted, as late as a filament warms and cools; steady light where nothing switches it."""
        return lagging(asked, FILAMENT_LAG_S) if self.programmed(drive) else all_on(asked)

    def needs(self, drive: Drive, leds: tuple[Led, ...], grids: object) -> tuple[int, ...]:
        """A pin for each lamp that is switched."""
        return (len(channels_of(leds)) if self.programmed(drive) else 0,)

    def asks(self, drive: Drive, leds: tuple[Led, ...], feed: Feed) -> float:
        """Those that are lit, at what they are made for."""
        most = sorted((one.light.forward_a for one in channels_of(leds)), reverse=True)
        return sum(most[: lit_at_once(drive, len(most))])

    def build(self, job: Job) -> Built:
        """Each lamp between supply and ground, or a switch to it."""
        branches: list[Branch] = []
        each: list[float] = []
        loads: list[Load] = []
        switch = switches()[_SWITCH] if self.programmed(job.drive) else None
        findings: list[Finding] = []
        for kind in by_kind(channels_of(job.leds)):
            light, volts = kind.light, job.loaded_v
            rated_v, rated_a = light.forward_v[1], light.forward_a
            if volts < _LEAST_SHARE * rated_v:
                raise Refused(
                    stop(
                        "no-voltage-left",
                        f"A lamp of {rated_v:g} V hardly glows on {show(volts, 2)} V.",
                        Remedy("choose another supply"), measured=round(volts, 3), allowed=round(_LEAST_SHARE * rated_v, 3),
                    )
                )  # fmt: skip
            ideal = max(0.0, (volts - rated_v) / rated_a)
            ohm = preferred(ideal, job.drive.series, "at-most", job.drive.stock) if volts > light.forward_v[2] else 0.0
            on = switch.ohm if switch is not None else 0.0
            flows = filament_a(volts, ohm + on, rated_v, rated_a)
            most = filament_a(job.feed.high_v, ohm * 0.95 + on, rated_v, rated_a)
            branches.append(
                Branch(
                    kind.emitter, light, kind.indices, rated_a, ohm, ideal, volts - rated_v, volts - flows * (ohm + on),
                    filament_a(job.feed.low_v, ohm * 1.05 + on, rated_v, rated_a), flows, most, most**2 * ohm, ohm=on,
                    resistors=len(kind.channels),
                )
            )  # fmt: skip
            each += [flows] * len(kind.channels)
            per_a, many = light.mcd / rated_a, float(len(kind.channels))
            loads.append(Load(law_of(light), ohm + on, many, per_a, filament=(rated_v, rated_a)))
            if switch is not None and COLD * most > switch.most_a:
                findings.append(output_over("The switch of a cold lamp", COLD * most, switch.most_a, job.drive))
            for one in kind.channels:
                _between(job, one.led, one.ref, ohm, _switched(job, one.ref) if switch is not None else GROUND)
        draws = sum(sorted(each, reverse=True)[: lit_at_once(job.drive, len(each))])
        lit = tuple(replace(one, lights=one.lights * draws / sum(each)) for one in loads)
        if draws * COLD > job.feed.supply.most_a:
            findings.append(_inrush(draws * COLD, job.feed))
        start = Start((with_supply("all lamps"),))
        if switch is not None and job.pins is not None:
            start = job.pins.begins("lamps", {f"{one.ref} gate": "0" for one in channels_of(job.leds)})
        return Built((), tuple(findings), start=start, branches=tuple(branches), draws_a=draws, loads=lit)


def _switched(job: Job, ref: str) -> str:
    """A switch to ground for a lamp, which a pin closes and which is open until the program runs; the net at the lamp."""
    assert job.pins is not None
    body, net, gate = part(_SWITCH), f"{ref} switched", f"{ref} gate"
    job.pins.take(gate)
    held = job.circuit.add(body)
    job.circuit.join(gate, (held, pin_named(body, "gate")))
    job.circuit.join(net, (held, pin_named(body, "drain")))
    job.circuit.join(GROUND, (held, pin_named(body, "source")))
    job.circuit.two(resistor(job.drive.resistor), "100k", gate, GROUND)
    return net


def _between(job: Job, led: Led, ref: str, ohm: float, low: str) -> None:
    """A lamp, which has no polarity, with its resistor between the supply and what is low."""
    first, second = (pin.number for pin in led.kind.part.pins[:2])
    net = SUPPLY
    if ohm > 0:
        net = f"{ref} lamp"
        job.circuit.two(resistor(job.drive.resistor), short_ohms(ohm), SUPPLY, net, led.index, f"R{led.index}")
    job.circuit.join(net, (ref, first))
    job.circuit.join(low, (ref, second))


def _inrush(inrush: float, feed: Feed) -> Finding:
    return Finding(
        code="lamp-inrush", severity="warning", stage="drive",
        text=f"Cold lamps take about {show_si(inrush, 'A')} for a moment; the {feed.supply.title} gives "
        f"{show_si(feed.supply.most_a, 'A')}. It may fail to start.",
        measured=inrush, allowed=feed.supply.most_a,
        remedies=(Remedy("use fewer lamps"), Remedy("choose a supply that gives more")),
    )  # fmt: skip


class DigitTubes(Method):
    """Cold-cathode tubes, each with a decoder that lets one cathode burn; the high voltage comes from a bought module."""

    key, title = "tube", "digit tubes"
    words = "cold-cathode tubes with a decoder each; the high voltage comes from a bought module"
    program, uses = True, ("controller",)
    lights = "high voltage"

    def shows(self, motion: Motion) -> bool:
        """It shows numbers, which no pattern of single LEDs is."""
        return False

    def truly(self, drive: Drive, asked: Asked) -> Numbers:
        """Of single lights nothing: a number is on all the time."""
        return all_on(asked)

    def needs(self, drive: Drive, leds: tuple[Led, ...], grids: object) -> tuple[int, ...]:
        """Four lines for each tube: its decoder keeps nothing."""
        return (4 * len(leds),)

    def asks(self, drive: Drive, leds: tuple[Led, ...], feed: Feed) -> float:
        """What the converter takes from the supply."""
        return _taken(sum(_burns(drive, led) for led in leds), feed)

    def build(self, job: Job) -> Built:
        """The anode resistor, the tube, its decoder and its lines."""
        assert job.pins is not None
        logic = family("tube decoder")
        wrong = out_of_range("tube decoder", logic, job.feed)
        if wrong is not None:
            raise Refused(wrong)
        module = part("high-voltage module")
        converter = job.circuit.add(module, f"{HIGH_V:g} V")
        job.circuit.feed(converter, module)
        high = job.circuit.join("high voltage", (converter, pin_named(module, "high voltage")), kind="high voltage")
        branches, flows = [], 0.0
        for kind in by_kind(channels_of(job.leds)):
            amps = _burns(job.drive, kind.channels[0].led)
            ideal, _ = anode_resistor(HIGH_V, kind.light.forward_v[1], amps)
            ohm = preferred(ideal, job.drive.series, "at-most", job.drive.stock)
            real = (HIGH_V - kind.light.forward_v[1]) / ohm
            most = (HIGH_V - kind.light.forward_v[0]) / (0.95 * ohm)
            least = (HIGH_V - kind.light.forward_v[2]) / (1.05 * ohm)
            branches.append(
                Branch(
                    kind.emitter, kind.light, kind.indices, amps, ohm, ideal, HIGH_V - kind.light.forward_v[1],
                    kind.light.forward_v[1], least, real, most, most**2 * ohm, resistors=len(kind.channels),
                )
            )  # fmt: skip
            flows += real * len(kind.channels)
            for one in kind.channels:
                self._tube(job, one.led, one.ref, short_ohms(ohm), high)
        findings = (_caution(),)
        draws = _taken(flows, job.feed)
        standing = len(job.leds) * logic.standing_a
        begins = job.pins.begins("tubes")
        return Built((), findings, standing_a=standing, start=begins, branches=tuple(branches), draws_a=draws)

    def _tube(self, job: Job, led: Led, ref: str, value: str, high: str) -> None:
        assert job.pins is not None
        body = part("tube decoder")
        glass = led.kind.part
        anode = f"{ref} anode"
        job.circuit.join(anode, (ref, pin_named(glass, "anode")), kind="high voltage")
        job.circuit.two(part(_AXIAL), value, high, anode, led.index, f"R{led.index}")
        decoder = job.circuit.add(body, "74141 type")
        job.circuit.feed(decoder, body)
        job.circuit.two(part("capacitor 0603"), "100n", SUPPLY, GROUND)
        for digit in range(10):
            net = f"{ref} numeral {digit}"
            job.circuit.join(net, (ref, pin_named(glass, f"numeral {digit}")), kind="high voltage")
            job.circuit.join(net, (decoder, pin_named(body, str(digit))))
        lines = [f"{ref} {name}" for name in "ABCD"]
        for line in lines:
            job.pins.take(line)
        strong = job.pins.shifted(lines, job.feed.open_v)
        for line in lines:
            job.circuit.join(strong[line], (decoder, pin_named(body, line[-1])))


def _burns(drive: Drive, led: Led) -> float:
    """The current wanted through a tube, no more than it is made for."""
    return min(drive.current_a, led.kind.lights[0].forward_a)


def _taken(burns_a: float, feed: Feed) -> float:
    """What the converter takes for so much at the high voltage."""
    return burns_a * HIGH_V / _CONVERTS / max(feed.open_v, 1.0)


def _caution() -> Finding:
    return Finding(
        code="high-voltage", severity="note", stage="drive",
        text=f"Tubes burn on {HIGH_V:g} V: it can kill, and capacitors keep it after the power is off. Qualified persons and "
        "local rules decide. The distances here are such that it works; they are no safety insulation.",
        measured=HIGH_V, allowed=50.0,
    )  # fmt: skip
