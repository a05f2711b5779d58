"""The drive of a board: its LEDs shared out to the ways they are driven, their circuit, and what flows in it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import msgspec

from ..lights import Led
from ..parts import supply
from ..project import Drive, Driven, Finding, Remedy
from ..text_safety import short
from .circuit import Circuit
from .limits import Refused
from .method import Built, Job, Method
from .methods import method
from .pins import Pins, choose_controller
from .plan import DrivePlan
from .supply.feed import Feed, feed_of
from .supply.inlet import join_inlet
from .supply.source import supply_findings
from .totals import planned

#: Under this share of a supply's volts it is asked for far more than it gives.
_SHARE_LEFT = 0.4
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
        circuit.begin(_first_group(drive, some))
        try:
            built = way.build(Job(mine, some, feed, loaded_v, circuit, grids, pins, choice))
            nodes = tuple(replace(node, net=circuit.has(node.net)) for node in built.start.nodes)
            made.append((mine, replace(built, start=replace(built.start, nodes=nodes))))
        except Refused as refused:
            findings.append(refused.finding)
    circuit.end()
    return planned(drive, feed, circuit, pins, made, findings)


def _first_group(drive: Drive, leds: Sequence[Led]) -> str:
    """What nets of these LEDs are told apart by from those of the others."""
    groups = {name for led in leds for name in led.groups}
    return next((one.group for one in drive.groups if one.group in groups), "others")


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
    """The LEDs of each way, with the drive as it is for them; a stop for each kind that a way does not light, and groups that
    are driven in a way of their own and have no LEDs."""
    rest = list(leds)
    out: list[_Share] = []
    there = {name for led in leds for name in led.groups}
    findings = [_no_leds(one) for one in drive.groups if one.group not in there] if leds else []
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


def _no_leds(one: Driven) -> Finding:
    text = (
        f"“{short(one.group)}” is driven in a way of its own ({method(one.method).title}), and no LED is in it."
        " Put LEDs into that group, or drive the one that they are in now."
    )
    leave = Remedy("drive it like the others", "drive-alike", (("group", one.group),))
    return Finding(code="group-without-leds", severity="warning", stage="drive", text=text, remedies=(leave,))


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
