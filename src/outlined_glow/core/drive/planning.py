"""The drive of a board: its LEDs shared out to the ways they are driven, their circuit, and what flows in it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import NamedTuple

import msgspec

from ..lights import Led
from ..parts import supply
from ..parts.library import tolerance
from ..project import Drive, Finding, Remedy
from ..units import show_si
from .auto_off import give_opener, pays_finding
from .circuit import Circuit
from .colour_shift import shift_finding
from .devices import Regulator
from .feed import Feed, drop_v, feed_of, way_ohm
from .first_second import dark_finding, together
from .inlet import join_inlet, lasting, second_findings
from .law import LedLaw
from .limits import Refused, no_voltage, not_at_hand, resistor_findings
from .method import Built, Job, Method
from .methods import method
from .pins import Pins, choose_controller
from .plan import Branch, DrivePlan
from .rail import heat_w, least_source_v, rail_v, regulator_of, taken_a
from .regulating import regulator_findings
from .runtime import Load, source_state
from .source import capacity_ah, supply_findings
from .supply_parts import fitted
from .ways import Sized, branch_of, load_of, merged
from .ways import together as alike_together

#: Under this share of a supply's volts it is asked for far more than it gives.
_SHARE_LEFT = 0.4
#: What draws the same whatever the supply gives: its volts are next to nothing.
_CONSTANT = LedLaw(0.1, 0.02, 0.1, 0.0)
Grids = Mapping[str, tuple[int, int]]
#: A way, the drive as it is for it, and its LEDs.
_Share = tuple[Method, Drive, tuple[Led, ...]]


def plan_drive(drive: Drive, leds: tuple[Led, ...], grids: Grids | None = None) -> DrivePlan:
    """What the chosen ways make of these LEDs; `grids` are the rows and columns of arrays that have them."""
    grids = grids or {}
    source = supply(drive.supply)
    feed = feed_of(drive, source)
    circuit = Circuit(max((led.index for led in leds), default=0))
    join_inlet(circuit, drive, feed)
    shares, findings = _shared_out(drive, leds)
    asked = sum(way.asks(mine, some, feed) for way, mine, some in shares)
    loaded_v = feed.loaded_v(asked)
    if loaded_v < _SHARE_LEFT * feed.open_v:
        # So much more than the supply gives that no voltage is left says less than how much it is.
        findings = [*supply_findings(source, asked, asked, drive), *findings]
    pins, choices = None, [0] * len(shares)
    try:
        pins, choices = _controller(drive, shares, grids, feed, circuit)
    except Refused as refused:
        findings.append(refused.finding)
        shares = [share for share in shares if not share[0].needs(share[1], share[2], grids)[0]]
    made: list[tuple[Drive, Built]] = []
    for (way, mine, some), choice in zip(shares, choices, strict=False):
        if not some:
            continue
        if pins is not None:
            pins.mark = len(pins.used)
        try:
            made.append((mine, way.build(Job(mine, some, feed, loaded_v, circuit, grids, pins, choice))))
        except Refused as refused:
            findings.append(refused.finding)
    return _planned(drive, feed, circuit, pins, made, findings)


def _opened(
    drive: Drive, feed: Feed, circuit: Circuit, pins: Pins | None, findings: list[Finding]
) -> tuple[float | None, float]:
    """After which time a latch switches the board off, s (None without one), and what it draws until then, A."""
    if drive.auto_off is None:
        return None, 0.0
    after, draws, wrong = give_opener(circuit, drive, feed, pins)
    findings += wrong
    return after, draws


#: Why LEDs that need something else than a current are not lit.
_NEEDS = {
    "current": "it needs a current, which is limited before it",
    "data": "it takes data, and drives its lights itself",
    "voltage": "it takes a voltage of its own, and limits its current itself",
    "high voltage": "it takes a high voltage",
}
_SHARED = "its lights lie in rows and columns and share their pins"
_HELPS = {
    _NEEDS["data"]: (Remedy("drive them as a pixel chain", "drive", (("method", "pixels"),)),),
    _SHARED: (Remedy("drive them by a scan", "drive", (("method", "scan"),)),),
}


def _shared_out(drive: Drive, leds: tuple[Led, ...]) -> tuple[list[_Share], list[Finding]]:
    """The LEDs of each way, with the drive as it is for them; and a stop for each kind that a way does not light."""
    rest = list(leds)
    out: list[_Share] = []
    findings: list[Finding] = []
    for own, names in own_drives(drive):
        mine = tuple(led for led in rest if names & set(led.groups))
        rest = [led for led in rest if not names & set(led.groups)]
        out.append((method(own.method), own, mine))
    out.insert(0, (method(drive.method), msgspec.structs.replace(drive, groups=()), tuple(rest)))
    lit: list[_Share] = []
    for way, own, some in out:
        kinds: dict[str, list[Led]] = {}
        for led in some:
            kinds.setdefault(led.kind.name, []).append(led)
        dark = set()
        for name, alike in kinds.items():
            why = _why_not(way, alike[0])
            if why:
                dark.add(name)
                findings.append(_not_lit(way, name, len(alike), why))
        good = tuple(led for led in some if led.kind.name not in dark)
        if good or way is out[0][0]:
            lit.append((way, own, good))
    return lit, findings


def own_drives(drive: Drive) -> list[tuple[Drive, set[str]]]:
    """The groups that are driven in ways of their own, those that are alike together, with the drive as it is for them."""
    out: list[tuple[Drive, set[str]]] = []
    for group in drive.groups:
        told = {name: getattr(group, name) for name in ("current_a", "lit", "average", "rows", "period_s", "other_period_s")}
        kept = {name: value for name, value in told.items() if value is not None}
        own = msgspec.structs.replace(drive, method=group.method, groups=(), **kept)
        names = next((names for known, names in out if known == own), None)
        if names is None:
            out.append((own, {group.group}))
        else:
            names.add(group.group)
    return out


def _why_not(way: Method, led: Led) -> str:
    fed_by = led.kind.part.fed_by
    if fed_by != way.lights:
        return _NEEDS[fed_by]
    return _SHARED if fed_by == "current" and led.kind.shares_pins and not way.matrices else ""


def _not_lit(way: Method, name: str, count: int, why: str) -> Finding:
    helps = _HELPS.get(why, (Remedy("choose LEDs with two pins"),))
    return Finding(
        code="led-not-lit", severity="stop", stage="drive",
        text=f"{way.title.capitalize()} cannot light “{name}”: {why}. What is seen of its light is a preview.",
        count=count, remedies=helps,
    )  # fmt: skip


def _controller(
    drive: Drive, shares: Sequence[_Share], grids: Grids, feed: Feed, circuit: Circuit
) -> tuple[Pins | None, list[int]]:
    """The controller that all ways together need, if any, and which of its alternatives each takes."""
    asked = [way.needs(mine, some, grids) if some else (0,) for way, mine, some in shares]
    choices = [0] * len(asked)
    if not any(one[0] for one in asked):
        return None, choices
    title = next(way.title for (way, _, _), one in zip(shares, asked, strict=True) if one[0])
    last: Refused | None = None
    for at in range(max(map(len, asked))):
        choices = [min(at, len(one) - 1) for one in asked]
        needed = sum(one[choice] for one, choice in zip(asked, choices, strict=True))
        try:
            chosen = choose_controller(drive, needed, feed, title)
        except Refused as refused:
            last = refused
            continue
        return Pins(chosen, feed, circuit, drive), choices
    assert last is not None
    raise last


def _planned(
    drive: Drive, feed: Feed, circuit: Circuit, pins: Pins | None, made: Sequence[tuple[Drive, Built]], findings: list[Finding]
) -> DrivePlan:
    """Currents, totals, run time, and what breaks a limit."""
    rows = [(mine, row) for mine, built in made for row in alike_together(built.rows)]
    others = [Load(_CONSTANT, 0.0, 1.0, 1.0, 1.0, built.draws_a) for _, built in made if built.draws_a]
    loads = merged([*(load_of(row) for _, row in rows if row.resistor_ohm is not None), *others])
    terminal, _ = source_state(feed.supply, feed.cells, loads, feed.open_v, feed.ohm)
    lit = [(mine, row, branch_of(row, terminal, feed, mine)) for mine, row in rows]
    own = [(drive, branch) for _, built in made for branch in built.branches]
    findings += [no_voltage(branch, row.way.needs_v) for _, row, branch in lit if row.resistor_ohm is None]
    findings += [one for _, built in made for one in built.findings]
    for mine, row, branch in lit:
        findings += resistor_findings(branch, mine)
        findings += [_raised(branch, row)] if row.raised and row.resistor_ohm else []
    for mine, branch in own:
        findings += resistor_findings(branch, mine) if branch.emitter.part.fed_by == "current" else []
    draws = sum(built.draws_a for _, built in made)
    total = sum(branch.current_a * len(branch.indices) / branch.count for *_, branch in lit) + draws
    standing = sum(built.standing_a for _, built in made) + (pins.controller.standing_a if pins else 0.0)
    off_s, latch_a = _opened(drive, feed, circuit, pins, findings)
    findings += pins.finish() if pins is not None else []
    standing += sum(one.standing_a for one in fitted(drive, feed.supply)) + latch_a
    needs_v = max((built.needs_v for _, built in made), default=0.0)
    taken = _taken(drive, feed, _Taken(total, _most(rows, feed, drive) + draws, standing, needs_v, loads, terminal), findings)
    findings += supply_findings(feed.supply, taken.total_a, taken.most_a, drive)
    findings += second_findings(drive, feed, taken.loads, (feed.before or feed).loaded_v(taken.total_a))
    findings += not_at_hand(drive, circuit)
    second = supply(drive.second.supply) if drive.second is not None else None
    runs, cells = lasting(feed) or (feed.supply, feed.cells)
    first = together([built.start for _, built in made])
    findings += dark_finding(first, drive.period_s) if loads else []
    plan = DrivePlan(
        drive.method, feed.supply, feed.cells, terminal, (*(branch for *_, branch in lit), *(branch for _, branch in own)),
        taken.total_a, taken.most_a, None, taken.loads, tuple(findings), circuit.wanted, circuit.values, circuit.nets,
        pins.controller.title if pins else "", tuple(pins.used) if pins else (),
        next((built.refresh_hz for _, built in made if built.refresh_hz), None), taken.standing_a, taken.needs_v,
        _average([(built.share, built.rows) for _, built in made]) * drive.average, first, capacity_ah(runs, drive),
        way_ohm(drive, runs), taken.source_v, second, (runs, cells), off_s, drop_v(drive), taken.heat_w,
        next((built.pace for _, built in made if built.pace is not None), None),
    )  # fmt: skip
    steady = plan.hours(1.0)
    forgotten = pays_finding(drive, None if steady is None or runs.usual_farad else steady.hours)
    shift = shift_finding([row for _, row in rows], runs, steady) if regulator_of(drive) is None else []
    return replace(plan, steady=steady, findings=(*plan.findings, *forgotten, *shift))


class _Taken(NamedTuple):
    """What a supply sees: current with all LEDs on, usually and at most, and always; the volts it must have; the loads."""

    total_a: float
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
    findings += regulator_findings(drive, one, (before.open_v, before.high_v, feed.supply.ends), rail.most_a)
    total, most, standing = (
        taken_a(one, volts, amps, at)
        for amps, at in ((rail.total_a, before.open_v), (rail.most_a, before.low_v), (rail.standing_a, before.open_v))
    )
    return _Taken(
        total, most, standing, least_source_v(one, volts), _before(one, volts, rail.total_a, rail.loads), before.open_v,
        heat_w(one, volts, rail.total_a, before.open_v),
    )  # fmt: skip


def _before(one: Regulator, rail: float, current_a: float, loads: Sequence[Load]) -> tuple[Load, ...]:
    """What the regulator takes of the supply for a rail: the same current, or a converter the same power."""
    if not loads:
        return ()
    if one.efficiency is None:
        return (Load(_CONSTANT, 0.0, 1.0, 1.0, 1.0, current_a),)
    return (Load(_CONSTANT, 0.0, 1.0, 1.0, power_w=rail * current_a / one.efficiency, least_v=one.least_in_v),)


def _average(shares: Sequence[tuple[float, Sequence[Sized]]]) -> float:
    """The share of the time that LEDs are lit by their circuits themselves, by how many they are."""
    lights = sum(len(row.way.indices) for _, rows in shares for row in rows)
    return sum(share * len(row.way.indices) for share, rows in shares for row in rows) / lights if lights else 1.0


def _most(rows: Sequence[tuple[Drive, Sized]], feed: Feed, drive: Drive) -> float:
    """The most that all LEDs together may draw, A: highest supply, least forward voltages and resistors, its own resistance."""
    loads = []
    for mine, row in rows:
        if row.resistor_ohm is not None:
            way, one = row.way, load_of(row)
            spread = tolerance(mine.series)
            law = replace(one.law, forward_v=way.count * way.light.forward_v[0] + way.drop_v)
            loads.append(Load(law, row.resistor_ohm * (1 - spread) + way.ohm, one.lights, 1.0, way.duty, one.most_a))
    every = merged(loads)
    _, currents = source_state(feed.supply, 1, every, feed.high_v, feed.ohm)
    return sum(current * load.lights * load.duty for current, load in zip(currents, every, strict=True))


def _raised(branch: Branch, row: Sized) -> Finding:
    ideal = show_si(max(row.ideal_ohm or 0.0, 0.0), "Ω")
    return Finding(
        code="resistor-raised", severity="note", stage="drive",
        text=f"The resistor of the {branch.title} LEDs is {show_si(row.resistor_ohm or 0.0, 'Ω')}, so that no more than "
        f"{show_si(row.way.most_a, 'A')} flow at worst; with typical parts {ideal} would do.",
        measured=row.resistor_ohm,
    )  # fmt: skip
