"""One resistor each: values, currents (min, typ, max), power, totals and run time (DOMAIN 3, 4, 9)."""

from __future__ import annotations

from collections.abc import Sequence

from ..errors import Trouble
from ..lights import Led
from ..parts import Emitter, Supply, resistor, supply
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
        kinds: dict[Emitter, list[int]] = {}
        for led in leds:
            kinds.setdefault(led.kind, []).append(led.index)
        loaded_v = open_v - ohm * drive.current_a * len(leds)
        findings: list[Finding] = []
        rows: list[tuple[Emitter, tuple[int, ...], float | None, float | None, float]] = []
        for one, indices in kinds.items():
            law = LedLaw(one.forward_v[1], one.forward_a)
            headroom = loaded_v - law.volts(drive.current_a)
            try:
                answer = series_resistor(loaded_v, law, drive.current_a, 1, drive.series, drive.choose)
                rows.append((one, tuple(indices), answer.resistor_ohm, answer.ideal_ohm, headroom))
            except Trouble:
                rows.append((one, tuple(indices), None, None, headroom))
                findings.append(_no_voltage(one, law.volts(drive.current_a), loaded_v))
        works = [row for row in rows if row[2] is not None]
        loads = tuple(
            Load(LedLaw(one.forward_v[1], one.forward_a), ohms or 0.0, len(indices), one.mcd / one.forward_a)
            for one, indices, ohms, _, _ in works
        )
        terminal, currents = source_state(source, cells, loads, open_v, ohm)
        typical = {row[0].name: current for row, current in zip(works, currents, strict=True)}
        branches = tuple(_branch(row, typical.get(row[0].name, 0.0), drive, low_v, high_v) for row in rows)
        total = sum(branch.current_a * len(branch.indices) for branch in branches)
        most = _most(rows, drive, high_v, ohm)
        steady = run_time(source, cells, loads) if source.ends and loads else None
        for branch in branches:
            findings += _branch_findings(branch, drive)
        findings += supply_findings(source, total, most, drive)
        parts = _parts(drive, source, cells, branches)
        return DrivePlan(
            self.key, source, cells, terminal, branches, total, most, steady, loads, tuple(findings),
            wanted=tuple(wanted for wanted, _ in parts),
            values={wanted.ref: value for wanted, value in parts},
            nets=_nets(parts, leds),
        )  # fmt: skip


def _parts(drive: Drive, source: Supply, cells: int, branches: Sequence[Branch]) -> list[tuple[Wanted, str]]:
    """What is soldered beside the LEDs, with its value: where the supply is joined, and the resistors in the order of LEDs."""
    holder, chip = source.bodies.get(cells) or source.bodies[1], resistor(drive.resistor)
    title = f"{cells} × {source.title}" if cells > 1 else source.title
    ohms = {index: branch.resistor_ohm for branch in branches for index in branch.indices}
    out = [(Wanted(f"{holder.prefix}1", holder), title)]
    for index, ohm in sorted(ohms.items()):
        if ohm is not None:
            out.append((Wanted(f"{chip.prefix}{index}", chip, index), short_ohms(ohm)))
    return out


def _nets(parts: Sequence[tuple[Wanted, str]], leds: tuple[Led, ...]) -> tuple[Net, ...]:
    """The supply to every resistor, each resistor to the anode of its LED, the cathodes to ground."""
    (holder, _), *chips = parts
    pins = {role: [(holder.ref, pin.number) for pin in holder.part.pins if pin.role == role] for role in ("supply", "ground")}
    signals = []
    of_led = {one.led: one for one in led_parts(leds)}
    for chip, _ in chips:
        lamp = of_led[chip.led]
        ends = {pin.role: pin.number for pin in lamp.part.pins}
        first, second = (pin.number for pin in chip.part.pins)
        pins["supply"].append((chip.ref, first))
        pins["ground"].append((lamp.ref, ends["cathode"]))
        signals.append(Net(f"{lamp.ref} anode", ((chip.ref, second), (lamp.ref, ends["anode"]))))
    return (Net("supply", tuple(pins["supply"]), "supply"), Net("ground", tuple(pins["ground"]), "ground"), *signals)


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


def _most(
    rows: Sequence[tuple[Emitter, tuple[int, ...], float | None, float | None, float]], drive: Drive, high_v: float, ohm: float
) -> float:
    """The most that all LEDs together may draw, A: highest supply, least forward voltages and resistors, its own resistance."""
    spread = tolerance(drive.series)
    loads = tuple(
        Load(LedLaw(one.forward_v[0], one.forward_a), ohms * (1 - spread), len(indices))
        for one, indices, ohms, _, _ in rows
        if ohms is not None
    )
    _, currents = source_state(supply(drive.supply), 1, loads, high_v, ohm)
    return sum(current * load.lights for current, load in zip(currents, loads, strict=True))


def _branch(
    row: tuple[Emitter, tuple[int, ...], float | None, float | None, float],
    current: float,
    drive: Drive,
    low_v: float,
    high_v: float,
) -> Branch:
    one, indices, ohms, ideal, headroom = row
    if ohms is None:
        return Branch(one, indices, None, None, headroom, one.forward_v[1], 0.0, 0.0, 0.0, 0.0)
    spread = tolerance(drive.series)
    least = branch_current(low_v, ohms * (1 + spread), LedLaw(one.forward_v[2], one.forward_a))
    most = branch_current(high_v, ohms * (1 - spread), LedLaw(one.forward_v[0], one.forward_a))
    volts = LedLaw(one.forward_v[1], one.forward_a).volts(max(current, 1e-9))
    return Branch(one, indices, ohms, ideal, headroom, volts, least, current, most, most**2 * ohms)


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
                text=f"Only {branch.headroom_v:.2f} V are left for the resistor of the {branch.emitter.name} LEDs: "
                "their brightness will follow the supply.",
                measured=round(branch.headroom_v, 3),
                allowed=_HEADROOM_V,
                remedies=(Remedy("raise the supply"), Remedy("lower the current")),
            )
        )
    if branch.current_max_a > branch.emitter.continuous_a:
        out.append(
            Finding(
                code="led-over-current",
                severity="stop",
                stage="drive",
                text=f"At worst {show_si(branch.current_max_a, 'A')} flow through a {branch.emitter.name} LED; "
                f"it is rated for {show_si(branch.emitter.continuous_a, 'A')}.",
                measured=branch.current_max_a,
                allowed=branch.emitter.continuous_a,
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
                text=f"A resistor of the {branch.emitter.name} LEDs dissipates {show_si(branch.power_w, 'W')}, "
                f"over half of the {show(rated * 1000, 0)} mW an {drive.resistor} resistor is rated for.",
                measured=branch.power_w,
                allowed=rated / 2,
                remedies=(Remedy("1206 resistors", "set-resistors", (("size", "1206"),)),),
            )
        )
    return out
