"""One resistor each: values, currents (min, typ, max), power, totals and run time (DOMAIN 3, 4, 9)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from ..errors import Trouble
from ..lights import Led
from ..parts import Emitter, Part, Source, Supply, resistor, supply
from ..parts.library import tolerance
from ..parts.nets import Net
from ..project import Drive, Finding, Motion, Remedy
from ..units import show, show_si
from .law import LedLaw, branch_current
from .method import Method
from .placement import Wanted, led_parts
from .plan import Branch, DrivePlan
from .resistor import series_resistor
from .runtime import Load, run_time, source_state
from .source import cells_used, source_ohm, source_volts, supply_findings

#: Below this the current follows the supply, V (DOMAIN 4).
_HEADROOM_V = 0.4


class OneResistorEach(Method):
    """Every LED has a resistor of its own and is lit as long as there is a supply."""

    key, title = "each", "one resistor each"

    def shows(self, motion: Motion) -> bool:
        """Only a steady light at full brightness."""
        return motion.pattern == "steady" and motion.brightness >= 1.0

    def plan(self, drive: Drive, leds: tuple[Led, ...]) -> DrivePlan:
        """Resistors and currents for these LEDs on the chosen supply."""
        source = supply(drive.supply)
        cells = cells_used(source, drive.cells)
        low_v, open_v, high_v = source_volts(source, cells)
        ohm = source_ohm(source, cells)
        lit, findings = _lit(leds)
        targets = _targets(drive, [light for _, light, _ in lit])
        loaded_v = open_v - ohm * sum(each * len(indices) for each, (_, _, indices) in zip(targets, lit, strict=True))
        rows: list[_Row] = []
        for target, (one, light, indices) in zip(targets, lit, strict=True):
            law = LedLaw(light.forward_v[1], light.forward_a)
            headroom = loaded_v - law.volts(target)
            try:
                answer = series_resistor(loaded_v, law, target, 1, drive.series, drive.choose)
                rows.append(_Row(one, light, indices, target, answer.resistor_ohm, answer.ideal_ohm, headroom))
            except Trouble:
                rows.append(_Row(one, light, indices, target, None, None, headroom))
                findings.append(_no_voltage(one, law.volts(target), loaded_v))
        works = [row for row in rows if row.ohms is not None]
        loads = tuple(
            Load(
                LedLaw(row.light.forward_v[1], row.light.forward_a), row.ohms or 0.0, len(row.indices),
                row.light.mcd / row.light.forward_a,
            )
            for row in works
        )  # fmt: skip
        terminal, currents = source_state(source, cells, loads, open_v, ohm)
        typical = {id(row): current for row, current in zip(works, currents, strict=True)}
        branches = tuple(_branch(row, typical.get(id(row), 0.0), drive, low_v, high_v) for row in rows)
        total = sum(branch.current_a * len(branch.indices) for branch in branches)
        most = _most(rows, drive, high_v, ohm)
        steady = run_time(source, cells, loads) if source.ends and loads else None
        for branch in branches:
            findings += _branch_findings(branch, drive)
        findings += supply_findings(source, total, most, drive)
        parts, chips = _parts(drive, source, cells, branches)
        return DrivePlan(
            self.key, source, cells, terminal, branches, total, most, steady, loads, tuple(findings),
            wanted=tuple(wanted for wanted, _ in parts),
            values={wanted.ref: value for wanted, value in parts},
            nets=_nets(parts[0][0], chips, leds),
        )  # fmt: skip


class _Row(NamedTuple):
    """Lights of one kind, the current wanted through each, its resistor, what the sum asked for, and the volts left for it."""

    emitter: Emitter
    light: Source
    indices: tuple[int, ...]
    target: float
    ohms: float | None
    ideal: float | None
    headroom: float


#: No colour is dimmed to less than this, A.
_LEAST_A = 5e-5


def _targets(drive: Drive, lights: Sequence[Source]) -> list[float]:
    """The current wanted through each kind of light: the same for all, or such that all are as bright as the dimmest."""
    if not drive.balanced or not lights:
        return [drive.current_a] * len(lights)
    bright = [one.mcd / one.forward_a for one in lights]
    return [max(_LEAST_A, drive.current_a * min(bright) / each) for each in bright]


class _Chip(NamedTuple):
    """A resistor, and the light that it serves."""

    wanted: Wanted
    light: Source


def _lit(leds: tuple[Led, ...]) -> tuple[list[tuple[Emitter, Source, tuple[int, ...]]], list[Finding]]:
    """The lights of every kind of LED with their indices; and a stop for each kind that a resistor alone does not light."""
    kinds: dict[str, tuple[Emitter, list[Led]]] = {}
    for led in leds:
        kinds.setdefault(led.kind.name, (led.kind, []))[1].append(led)
    lit, findings = [], []
    for one, some in kinds.values():
        why = _WHY_NOT.get(one.part.fed_by) or (_SHARED if one.shares_pins else "")
        if why:
            findings.append(_not_lit(one, some, why))
        else:
            indices = tuple(led.index for led in some)
            lit += [(one, light, indices) for light in one.lights]
    return lit, findings


#: Why a resistor for each light does not light some kinds of parts.
_WHY_NOT = {
    "data": "it takes data, and drives its lights itself",
    "voltage": "it takes a voltage of its own, and limits its current itself",
    "high voltage": "it takes a high voltage",
}
_SHARED = "its lights lie in rows and columns and share their pins"


def _not_lit(one: Emitter, leds: Sequence[Led], why: str) -> Finding:
    return Finding(
        code="led-not-lit", severity="stop", stage="drive",
        text=f"One resistor each cannot light “{one.name}”: {why}. What is seen of its light is a preview.",
        count=len(leds),
        remedies=(Remedy("choose LEDs with two pins"),),
    )  # fmt: skip


def _parts(
    drive: Drive, source: Supply, cells: int, branches: Sequence[Branch]
) -> tuple[list[tuple[Wanted, str]], list[_Chip]]:
    """What is soldered beside the LEDs, with its value: where the supply is joined, and the resistors in the order of LEDs.

    An LED of several lights has a resistor for each: R3A, R3B and so on.
    """
    holder, chip = source.bodies.get(cells) or source.bodies[1], resistor(drive.resistor)
    title = f"{cells} × {source.title}" if cells > 1 else source.title
    out = [(Wanted(f"{holder.prefix}1", holder), title)]
    rows = sorted((index, at) for at, branch in enumerate(branches) for index in branch.indices)
    chips = []
    for index, at in rows:
        branch = branches[at]
        if branch.resistor_ohm is not None:
            lights = branch.emitter.lights
            letter = _letter(lights.index(branch.light)) if len(lights) > 1 else ""
            wanted = Wanted(f"{chip.prefix}{index}{letter}", chip, index)
            out.append((wanted, short_ohms(branch.resistor_ohm)))
            chips.append(_Chip(wanted, branch.light))
    return out, chips


def _letter(at: int) -> str:
    """A, B, and so on; beyond Z AA.

    >>> _letter(2), _letter(26)
    ('C', 'AA')
    """
    return (_letter(at // 26 - 1) if at >= 26 else "") + chr(ord("A") + at % 26)


def _nets(holder: Wanted, chips: Sequence[_Chip], leds: tuple[Led, ...]) -> tuple[Net, ...]:
    """The supply by way of a resistor to each light, and from it to ground; where lights share their anode, the resistor is
    on the other side."""
    pins = {role: [(holder.ref, pin.number) for pin in holder.part.pins if pin.role == role] for role in ("supply", "ground")}
    signals = []
    of_led = {one.led: (one, led.kind) for one, led in zip(led_parts(leds), leds, strict=True)}
    joined: set[tuple[str, str]] = set()
    for chip, light in chips:
        lamp, kind = of_led[chip.led]
        shared = sum(one.anode == light.anode for one in kind.lights) > 1
        first, second = (pin.number for pin in chip.part.pins)
        far, near = (light.anode, light.cathode) if shared else (light.cathode, light.anode)
        pins["ground" if shared else "supply"].append((chip.ref, first))
        for pin in _alike(lamp.part, far):
            if (lamp.ref, pin) not in joined:
                joined.add((lamp.ref, pin))
                pins["supply" if shared else "ground"].append((lamp.ref, pin))
        name = f"{lamp.ref} {light.name or 'anode'}"
        signals.append(Net(name, ((chip.ref, second), (lamp.ref, near))))
    return (Net("supply", tuple(pins["supply"]), "supply"), Net("ground", tuple(pins["ground"]), "ground"), *signals)


def _alike(part: Part, number: str) -> list[str]:
    """A pin, and those that are joined with it within the part: they have its name."""
    pin = part.pin(number)
    return [one.number for one in part.pins if one.number == number or (pin.name and one.name == pin.name)]


def short_ohms(value: float) -> str:
    """A resistor's value as a legend prints it: 680R, 1k2, 47k.

    >>> short_ohms(680), short_ohms(1200), short_ohms(47000)
    ('680R', '1k2', '47k')
    """
    for factor, letter in ((1e6, "M"), (1e3, "k"), (1.0, "R")):
        if value >= factor:
            whole, _, rest = f"{value / factor:.4g}".partition(".")
            return f"{whole}{letter}{rest}"
    return f"{value:g}R"


def _most(rows: Sequence[_Row], drive: Drive, high_v: float, ohm: float) -> float:
    """The most that all LEDs together may draw, A: highest supply, least forward voltages and resistors, its own resistance."""
    spread = tolerance(drive.series)
    loads = tuple(
        Load(LedLaw(row.light.forward_v[0], row.light.forward_a), row.ohms * (1 - spread), len(row.indices))
        for row in rows
        if row.ohms is not None
    )
    _, currents = source_state(supply(drive.supply), 1, loads, high_v, ohm)
    return sum(current * load.lights for current, load in zip(currents, loads, strict=True))


def _branch(row: _Row, current: float, drive: Drive, low_v: float, high_v: float) -> Branch:
    light, ohms = row.light, row.ohms
    if ohms is None:
        nothing = (0.0, 0.0, 0.0, 0.0)
        return Branch(row.emitter, light, row.indices, row.target, None, None, row.headroom, light.forward_v[1], *nothing)
    spread = tolerance(drive.series)
    least = branch_current(low_v, ohms * (1 + spread), LedLaw(light.forward_v[2], light.forward_a))
    most = branch_current(high_v, ohms * (1 - spread), LedLaw(light.forward_v[0], light.forward_a))
    volts = LedLaw(light.forward_v[1], light.forward_a).volts(max(current, 1e-9))
    return Branch(
        row.emitter, light, row.indices, row.target, ohms, row.ideal, row.headroom, volts, least, current, most, most**2 * ohms
    )


def _no_voltage(one: Emitter, needs: float, has: float) -> Finding:
    return Finding(
        code="no-voltage-left", severity="stop", stage="drive",
        text=f"The supply is too low for {one.name} LEDs: they need {needs:.2f} V, "
        f"the supply gives {has:.2f} V at this current.",
        measured=round(has, 3), allowed=round(needs, 3),
        remedies=(
            Remedy("power it from USB", "set-supply", (("supply", "usb"),)),
            Remedy("choose a colour with a lower forward voltage"),
            Remedy("add a cell"),
        ),
    )  # fmt: skip


def _branch_findings(branch: Branch, drive: Drive) -> list[Finding]:
    out = []
    if branch.resistor_ohm is not None and branch.headroom_v < _HEADROOM_V:
        out.append(
            Finding(
                code="little-headroom",
                severity="warning",
                stage="drive",
                text=f"Only {branch.headroom_v:.2f} V are left for the resistor of the {branch.title} LEDs: "
                "their brightness will follow the supply.",
                measured=round(branch.headroom_v, 3),
                allowed=_HEADROOM_V,
                remedies=(Remedy("raise the supply"), Remedy("lower the current")),
            )
        )
    if branch.current_max_a > branch.light.continuous_a:
        out.append(
            Finding(
                code="led-over-current",
                severity="stop",
                stage="drive",
                text=f"At worst {show_si(branch.current_max_a, 'A')} flow through a {branch.title} LED; "
                f"it is rated for {show_si(branch.light.continuous_a, 'A')}.",
                measured=branch.current_max_a,
                allowed=branch.light.continuous_a,
                remedies=(Remedy("lower the current", "set-current", (("current_a", drive.current_a / 2),)),),
            )
        )
    rated = resistor(drive.resistor).rated_w or 0.0
    if branch.power_w > rated / 2:
        out.append(
            Finding(
                code="resistor-warm",
                severity="warning",
                stage="drive",
                text=f"A resistor of the {branch.title} LEDs dissipates {show_si(branch.power_w, 'W')}, "
                f"over half of the {show(rated * 1000, 0)} mW an {drive.resistor} resistor is rated for.",
                measured=branch.power_w,
                allowed=rated / 2,
                remedies=(Remedy("1206 resistors", "set-resistors", (("size", "1206"),)),),
            )
        )
    return out
