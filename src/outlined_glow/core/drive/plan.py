"""One resistor each: values, currents (min, typ, max), power, totals and run time (DOMAIN 3, 4, 9)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import Trouble
from ..lights import Led
from ..parts import Emitter, Supply, emitter, resistor, supply
from ..parts.library import tolerance
from ..project import Drive, Finding, Remedy
from ..units import show, show_si
from .law import LedLaw, branch_current
from .resistor import series_resistor
from .runtime import Load, RunTime, run_time, source_state

#: Below this the current follows the supply, V (DOMAIN 4).
_HEADROOM_V = 0.4
_POWER_BANK_A = 0.05


@dataclass(frozen=True)
class Branch:
    """LEDs of one kind and their resistor: one LED's current at minimum, typical and maximum, A."""

    emitter: Emitter
    indices: tuple[int, ...]
    resistor_ohm: float | None
    ideal_ohm: float | None
    headroom_v: float
    forward_v: float
    current_min_a: float
    current_a: float
    current_max_a: float
    power_w: float

    @property
    def law(self) -> LedLaw:
        """The typical LED of this kind."""
        return LedLaw(self.emitter.forward_v[1], self.emitter.forward_a)


@dataclass(frozen=True)
class DrivePlan:
    """The whole drive with every LED lit: source, branches, totals, run time (None where it does not end)."""

    supply: Supply
    cells: int
    supply_v: float
    branches: tuple[Branch, ...]
    current_a: float
    current_max_a: float
    steady: RunTime | None
    loads: tuple[Load, ...]
    findings: tuple[Finding, ...]

    def branch_of(self, index: int) -> Branch:
        """The branch that holds an LED."""
        return next(branch for branch in self.branches if index in branch.indices)

    @property
    def led_currents(self) -> dict[int, float]:
        """Typical current of each LED by index, A."""
        return {index: branch.current_a for branch in self.branches for index in branch.indices}

    def hours(self, duty: float) -> RunTime | None:
        """The run time when the LEDs are lit a share of the time; None where it does not end or nothing is lit."""
        if not self.supply.ends or not self.loads or duty <= 0:
            return None
        return run_time(self.supply, self.cells, self.loads, duty=duty)


def plan_drive(drive: Drive, leds: tuple[Led, ...]) -> DrivePlan:
    """Resistors and currents for these LEDs on the chosen supply."""
    source = supply(drive.supply)
    cells = cells_used(source, drive.cells)
    low_v, open_v, high_v = source_volts(source, cells)
    ohm = source_ohm(source, cells)
    kinds: dict[str, list[int]] = {}
    for led in leds:
        kinds.setdefault(led.emitter, []).append(led.index)
    loaded_v = open_v - ohm * drive.current_a * len(leds)
    findings: list[Finding] = []
    rows: list[tuple[Emitter, tuple[int, ...], float | None, float | None, float]] = []
    for name, indices in kinds.items():
        one = emitter(name)
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
    findings += _supply_findings(source, total, most, drive)
    return DrivePlan(source, cells, terminal, branches, total, most, steady, loads, tuple(findings))


def cells_used(source: Supply, wanted: int) -> int:
    """How many cells a source has: one where it is no cell, or where no holder takes that many."""
    return wanted if source.volts is None and wanted in source.bodies else 1


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


def source_volts(source: Supply, cells: int) -> tuple[float, float, float]:
    """Least, usual (new cells) and most open voltage of a source, V."""
    if source.volts is not None:
        return source.volts
    new = source.open_v[0][1] * cells
    return source.cut_off_v * cells, new, new


def source_ohm(source: Supply, cells: int) -> float:
    """The resistance of the source when new, ohm."""
    return source.ohm if source.volts is not None else source.resistance_ohm[0][1] * cells


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
        "no-voltage-left",
        "stop",
        "drive",
        f"The supply is too low for {one.name} LEDs: they need {needs:.2f} V, the supply gives {has:.2f} V at this current.",
        measured=round(has, 3),
        allowed=round(needs, 3),
        remedies=(
            Remedy("power it from USB", "set-supply", (("supply", "usb"),)),
            Remedy("choose a colour with a lower forward voltage"),
            Remedy("add a cell"),
        ),
    )


def _branch_findings(branch: Branch, drive: Drive) -> list[Finding]:
    out = []
    if branch.resistor_ohm is not None and branch.headroom_v < _HEADROOM_V:
        out.append(
            Finding(
                "little-headroom",
                "warning",
                "drive",
                f"Only {branch.headroom_v:.2f} V are left for the resistor of the {branch.emitter.name} LEDs: "
                "their brightness will follow the supply.",
                measured=round(branch.headroom_v, 3),
                allowed=_HEADROOM_V,
                remedies=(Remedy("raise the supply"), Remedy("lower the current")),
            )
        )
    if branch.current_max_a > branch.emitter.continuous_a:
        out.append(
            Finding(
                "led-over-current",
                "stop",
                "drive",
                f"At worst {show_si(branch.current_max_a, 'A')} flow through a {branch.emitter.name} LED; "
                f"it is rated for {show_si(branch.emitter.continuous_a, 'A')}.",
                measured=branch.current_max_a,
                allowed=branch.emitter.continuous_a,
                remedies=(Remedy("lower the current", "set-current", (("current_a", drive.current_a / 2),)),),
            )
        )
    rated = resistor(drive.resistor).rated_w
    if branch.power_w > rated / 2:
        out.append(
            Finding(
                "resistor-warm",
                "warning",
                "drive",
                f"A resistor of the {branch.emitter.name} LEDs dissipates {show_si(branch.power_w, 'W')}, "
                f"over half of the {show(rated * 1000, 0)} mW an {drive.resistor} resistor is rated for.",
                measured=branch.power_w,
                allowed=rated / 2,
                remedies=(Remedy("1206 resistors", "set-resistors", (("size", "1206"),)),),
            )
        )
    return out


def _supply_findings(source: Supply, total: float, most: float, drive: Drive) -> list[Finding]:
    if max(total, most) > source.most_a:
        least = drive.current_a * 0.95 * source.most_a / max(total, most)
        lower = float(f"{least:.2g}")
        lower = lower if lower <= least else float(f"{0.95 * least:.2g}")
        return [
            Finding(
                "supply-over-current",
                "stop",
                "drive",
                f"All LEDs together draw {show_si(total, 'A')}, and {show_si(most, 'A')} at worst. "
                f"The supply ({source.title}) gives at most {show_si(source.most_a, 'A')}.",
                measured=max(total, most),
                allowed=source.most_a,
                remedies=(
                    Remedy(f"lower the LED current to {show_si(lower, 'A')}", "set-current", (("current_a", lower),)),
                    Remedy("use fewer LEDs"),
                ),
            )
        ]
    if source.continuous_a is not None and total > source.continuous_a:
        return [
            Finding(
                "cell-over-continuous",
                "warning",
                "drive",
                f"{show_si(total, 'A')} is more than a {source.title} can give for long "
                f"({show_si(source.continuous_a, 'A')}). It will run down early.",
                measured=total,
                allowed=source.continuous_a,
                remedies=(Remedy("lower the current"), Remedy("use AAA cells")),
            )
        ]
    if source.name == "usb" and 0 < total < _POWER_BANK_A:
        text = f"A power bank switches off below about 50 mA; this board asks {show_si(total, 'A')}."
        return [Finding("power-bank", "note", "drive", text, measured=total, allowed=_POWER_BANK_A)]
    return []
