"""What flows in a circuit that was built, what its supply sees of it, how long that lasts, and what is found of that."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

from ..parts import supply
from ..parts.library import tolerance
from ..project import Drive, Finding, Remedy
from ..units import show, show_si
from .circuit import Circuit
from .devices import Regulator
from .first_second import dark_finding, together
from .law import LedLaw
from .limits import no_voltage, not_at_hand, only, resistor_findings
from .method import Built
from .pins import Pins
from .plan import Branch, DrivePlan
from .plugs import join_plugs
from .supply.auto_off import give_opener, pays_finding
from .supply.colour_shift import shift_finding
from .supply.feed import Feed, drop_v, way_ohm
from .supply.inlet import lasting, second_findings
from .supply.left_in_cells import cells_left_finding
from .supply.rail import heat_w, least_source_v, rail_v, regulator_of, taken_a
from .supply.regulating import regulator_findings
from .supply.runtime import Load, source_state
from .supply.source import capacity_ah, source_title, supply_findings
from .supply.supply_parts import fitted, fuse_values
from .ways import Sized, branch_of, load_of, merged
from .ways import together as alike_together

#: Colours that are at most so many times as bright as others count as balanced: preferred values lie as far apart.
_BALANCED = 1.5
#: What draws the same whatever the supply gives: its volts are next to nothing.
_CONSTANT = LedLaw(0.1, 0.02, 0.1, 0.0)


def _opened(
    drive: Drive, feed: Feed, circuit: Circuit, pins: Pins | None, findings: list[Finding]
) -> tuple[float | None, float]:
    """After which time a latch switches the board off, s (None without one), and what it draws until then, A."""
    if drive.auto_off is None:
        return None, 0.0
    after, draws, wrong = give_opener(circuit, drive, feed, pins)
    findings += wrong
    return after, draws


class _Flow(NamedTuple):
    """What flows: each way with the drive as it is for it, its resistor and its branch; branches that tell themselves; the
    loads on the rail and the volts that are left of it; what is drawn besides, A."""

    lit: list[tuple[Drive, Sized, Branch]]
    own: list[Branch]
    loads: tuple[Load, ...]
    terminal_v: float
    draws_a: float

    @property
    def rows(self) -> list[tuple[Drive, Sized]]:
        """The ways."""
        return [(mine, row) for mine, row, _ in self.lit]

    @property
    def total_a(self) -> float:
        """All LEDs on, A."""
        return sum(branch.current_a * len(branch.indices) / branch.count for *_, branch in self.lit) + self.draws_a

    @property
    def at_once(self) -> float:
        """The share of that which flows at a time."""
        each = ((branch.current_a * len(branch.indices) / branch.count, row.way.at_once) for _, row, branch in self.lit)
        dark = sum(amps * (1 - share) for amps, share in each)
        return 1 - dark / self.total_a if dark else 1.0


def planned(
    drive: Drive, feed: Feed, circuit: Circuit, pins: Pins | None, made: Sequence[tuple[Drive, Built]], findings: list[Finding]
) -> DrivePlan:
    """Currents, totals, run time, and what breaks a limit."""
    flow = _flow(drive, feed, made)
    findings += _of_branches(drive, flow)
    findings += [one for _, built in made for one in built.findings]
    off_s, latch_a = _opened(drive, feed, circuit, pins, findings)
    findings += pins.finish() if pins is not None else []
    findings += join_plugs(circuit, drive)
    standing_a = latch_a + (pins.controller.standing_a if pins else 0.0)
    rail = _on_rail(drive, feed, flow, made, standing_a, pins.runs_from_v if pins else 0.0)
    taken = _taken(drive, feed, rail, findings)
    most_a = [_most_of(drive, flow, rail, one) for one in (feed.before or feed).each]
    first = together([built.start for _, built in made])
    findings += _of_sources(drive, feed, flow, taken, most_a)
    findings += not_at_hand(drive, circuit)
    findings += dark_finding(first, drive.period_s) if flow.loads else []
    plan = DrivePlan(
        method=drive.method,
        supply=feed.supply,
        cells=feed.cells,
        supply_v=flow.terminal_v,
        branches=(*(branch for *_, branch in flow.lit), *flow.own),
        current_a=taken.total_a,
        current_max_a=max(most_a),
        steady=None,
        loads=taken.loads,
        findings=tuple(findings),
        wanted=circuit.wanted,
        values={**circuit.values, **fuse_values(circuit, max(most_a) + taken.standing_a)},
        nets=circuit.nets,
        controller=pins.controller.title if pins else "",
        pins=tuple(pins.used) if pins else (),
        refresh_hz=next((built.refresh_hz for _, built in made if built.refresh_hz), None),
        standing_a=taken.standing_a,
        ends_below_v=taken.needs_v,
        average=_average([(built.share, built.rows) for _, built in made]) * drive.average,
        first=first,
        source_v=taken.source_v,
        supply_max_a=most_a[0],
        most_v=max(feed.high_v, (feed.before or feed).high_v),
        second=supply(drive.second.supply) if drive.second is not None else None,
        off_s=off_s,
        regulator_w=taken.heat_w,
        at_once=flow.at_once,
        pace=next((built.pace for _, built in made if built.pace is not None), None),
    )
    return _with_run(drive, feed, plan, [row for _, row in flow.rows])


def _of_sources(drive: Drive, feed: Feed, flow: _Flow, taken: _Taken, most_a: Sequence[float]) -> list[Finding]:
    """What is found of the supply, and of a second one, of which each gives so much at worst."""
    left_v = (feed.before or feed).loaded_v(taken.lit_a)
    return [
        *supply_findings(feed.supply, taken.lit_a, most_a[0], drive, flow.at_once, taken.standing_a),
        *second_findings(drive, feed, taken.loads, left_v, (most_a[-1], taken.standing_a)),
    ]


def _with_run(drive: Drive, feed: Feed, plan: DrivePlan, rows: Sequence[Sized]) -> DrivePlan:
    """The plan with the source that runs empty, its run time all on, and what is found of that."""
    runs, cells = lasting(feed) or (feed.supply, feed.cells)
    plan = replace(
        plan, runs_on=(runs, cells), capacity_ah=capacity_ah(runs, drive), extra_ohm=way_ohm(drive, runs), drop_v=drop_v(drive)
    )
    steady = plan.hours(1.0)
    left = []
    if steady is not None and steady.ended_by == "circuit" and not any(one.severity == "stop" for one in plan.findings):
        without = replace(plan, ends_below_v=0.0).hours(1.0) or steady
        left = cells_left_finding(drive, (source_title(runs, cells), plan.most_v), plan.ends_below_v, steady, without)
    forgotten = pays_finding(drive, None if steady is None or runs.usual_farad else steady.hours)
    shift = shift_finding(rows, runs, steady) if regulator_of(drive) is None else []
    return replace(plan, steady=steady, findings=(*plan.findings, *left, *forgotten, *shift))


def _flow(drive: Drive, feed: Feed, made: Sequence[tuple[Drive, Built]]) -> _Flow:
    """What flows in everything that was built."""
    rows = [(mine, row) for mine, built in made for row in alike_together(built.rows)]
    others = [one for _, built in made for one in built.loads or _always(built.draws_a)]
    loads = merged([*(load_of(row) for _, row in rows if row.resistor_ohm is not None), *others])
    terminal, _ = source_state(feed.supply, feed.cells, loads, feed.open_v, feed.ohm)
    lit = [(mine, row, branch_of(row, terminal, feed, mine)) for mine, row in rows]
    own = [branch for _, built in made for branch in built.branches]
    return _Flow(lit, own, loads, terminal, sum(built.draws_a for _, built in made))


def _always(draws_a: float) -> tuple[Load, ...]:
    """What draws the same at any volts."""
    return (Load(_CONSTANT, 0.0, 1.0, 1.0, 1.0, draws_a),) if draws_a else ()


def _of_branches(drive: Drive, flow: _Flow) -> list[Finding]:
    """What is found of single branches and their resistors."""
    found = [no_voltage(branch, row.way.needs_v) for _, row, branch in flow.lit if row.resistor_ohm is None]
    for mine, row, branch in flow.lit:
        found += resistor_findings(branch, mine)
        found += [_raised(branch, row)] if row.raised and row.resistor_ohm else []
    ways = {id(mine): mine for mine, _ in flow.rows}
    found += only([_unbalanced(mine, flow) for mine in ways.values()])
    for branch in flow.own:
        found += resistor_findings(branch, drive) if branch.emitter.part.fed_by == "current" else []
    return found


def _unbalanced(mine: Drive, flow: _Flow) -> Finding | None:
    """Colours that are to be equally bright and are not, where one current, or one resistor, is for all of them."""
    bright = {
        branch.title: branch.current_a * branch.light.mcd / branch.light.forward_a
        for own, _, branch in flow.lit
        if own is mine and branch.current_a > 0
    }
    most, least = (pick(bright, key=bright.__getitem__, default="") for pick in (max, min))
    if not mine.balanced or not bright or bright[most] <= _BALANCED * bright[least]:
        return None
    share = bright[most] / bright[least]
    return Finding(
        code="colours-not-balanced", severity="note", stage="drive",
        text=f"Colours are to be equally bright, but as they are driven the {most} LEDs are {show(share, 1)} times "
        f"as bright as the {least} ones.",
        measured=round(share, 2), allowed=_BALANCED,
        remedies=(Remedy("balance them by the levels of the pattern"), Remedy("drive the colours apart, a group each")),
    )  # fmt: skip


def _on_rail(
    drive: Drive, feed: Feed, flow: _Flow, made: Sequence[tuple[Drive, Built]], standing_a: float, runs_from_v: float
) -> _Taken:
    """What the rail gives; `standing_a` is what controller and latch draw, which runs from so many volts on."""
    standing = sum(built.standing_a for _, built in made) + sum(one.standing_a for one in fitted(drive, feed.supply))
    needs_v = max((runs_from_v, *(built.needs_v for _, built in made)))
    lit_a = flow.total_a * flow.at_once
    return _Taken(flow.total_a, lit_a, _most(flow, feed), standing + standing_a, needs_v, flow.loads, flow.terminal_v)


class _Taken(NamedTuple):
    """What a supply sees: the current of all LEDs, that of those lit at once, the most that its rail gives, and what flows
    always; the volts it must have; the loads."""

    total_a: float
    lit_a: float
    most_a: float
    standing_a: float
    needs_v: float
    loads: tuple[Load, ...]
    source_v: float
    heat_w: float = 0.0


def _taken(drive: Drive, feed: Feed, rail: _Taken, findings: list[Finding]) -> _Taken:
    """What the supply sees of what its rail gives; without a regulator both are the same."""
    one, before, volts = regulator_of(drive), feed.before, rail_v(drive)
    if one is None or before is None:
        return rail
    findings += regulator_findings(drive, one, before, rail.most_a)
    usual = before.open_v
    total, lit, standing = (taken_a(one, volts, amps, usual) for amps in (rail.total_a, rail.lit_a, rail.standing_a))
    return _Taken(
        total, lit, rail.most_a, standing + one.standing_a, least_source_v(one, volts),
        _before(one, volts, rail.lit_a, rail.loads), usual, heat_w(one, volts, rail.lit_a, usual),
    )  # fmt: skip


def _before(one: Regulator, rail: float, current_a: float, loads: Sequence[Load]) -> tuple[Load, ...]:
    """What the regulator takes of the supply for a rail: the same current, or a converter the same power."""
    if not loads:
        return ()
    if one.efficiency is None:
        return _always(current_a)
    return (Load(_CONSTANT, 0.0, 1.0, 1.0, power_w=rail * current_a / one.efficiency, least_v=one.least_in_v),)


def _average(shares: Sequence[tuple[float, Sequence[Sized]]]) -> float:
    """The share of the time that LEDs are lit by their circuits themselves, by how many they are."""
    lights = sum(len(row.way.indices) for _, rows in shares for row in rows)
    return sum(share * len(row.way.indices) for share, rows in shares for row in rows) / lights if lights else 1.0


def _most_of(drive: Drive, flow: _Flow, rail: _Taken, source: Feed) -> float:
    """The most that a source gives to all LEDs together, A: a regulator asks the most of it when it is nearly empty."""
    one = regulator_of(drive)
    return _most(flow, source) if one is None else taken_a(one, rail_v(drive), rail.most_a, source.low_v)


def _most(flow: _Flow, feed: Feed) -> float:
    """The most that all LEDs together may draw, A: highest supply, least forward voltages and resistors, its own resistance."""
    usual_a = sum(one.current_a * len(one.indices) for one in flow.own)
    worst_a = sum(one.current_max_a * len(one.indices) for one in flow.own)
    more = flow.draws_a * worst_a / usual_a if usual_a else 0.0
    loads = []
    for mine, row in flow.rows:
        if row.resistor_ohm is not None:
            way, one = row.way, load_of(row)
            spread = tolerance(mine.series)
            law = replace(one.law, forward_v=way.count * way.light.forward_v[0] + way.drop_v)
            ohm = row.resistor_ohm * (1 - spread) + way.ohm
            loads.append(replace(one, law=law, resistor_ohm=ohm, light_per_a=1.0))
    every = merged(loads)
    _, currents = source_state(feed.supply, 1, every, feed.high_v, feed.ohm)
    return more + sum(current * load.lights * load.duty for current, load in zip(currents, every, strict=True))


def _raised(branch: Branch, row: Sized) -> Finding:
    ideal = show_si(max(row.ideal_ohm or 0.0, 0.0), "Ω")
    return Finding(
        code="resistor-raised", severity="note", stage="drive",
        text=f"The resistor of the {branch.title} LEDs is {show_si(row.resistor_ohm or 0.0, 'Ω')}, so that no more than "
        f"{show_si(row.way.most_a, 'A')} flow at worst; with typical parts {ideal} would do.",
        measured=row.resistor_ohm,
    )  # fmt: skip
