"""What `plan`, `nets`, `pins` and `power` say, and the drive's drawer: ways side by side, connections, pins, run time."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from msgspec.structs import replace

from ..drive import RunTime
from ..drive.first_second import RISE_S
from ..drive.heat import board_rise_k, watts_of
from ..drive.keys import ANY, ANY_FAMILY
from ..drive.methods import method
from ..drive.methods.scan import shape_of
from ..drive.plan import Branch
from ..drive.planner import Row, planned
from ..drive.planning import own_drives
from ..drive.supply.source import filled_in_s
from ..lights import Led
from ..lights.groups import groups_of
from ..motion import average_share, peak_share
from ..project import Drive
from ..text_safety import short
from ..units import show, show_si
from .part_heat import part_heats
from .work import Work


def plan_rows(work: Work, group: str = "") -> Iterator[Row]:
    """Every way to drive the LEDs of a board, or those of a group of it; the one that drives all of them lasts as long as the
    board does."""
    drive, leds = part_of(work, group)
    run = run_of(work)
    for row in planned(drive, leds, work.values["grids"]):
        chosen = row.method == drive.method and not group and not drive.groups
        yield dataclasses.replace(row, run_time_h=run.hours) if chosen and run is not None else row


def group_choices(work: Work) -> list[tuple[str, str]]:
    """What may be driven in a way of its own: all LEDs (""), and each group, with what people read."""
    apart = {one.group for one in work.design.drive.groups}
    rest = "all other LEDs" if apart else "all LEDs"
    return [("", rest), *((name, f"{name}, apart" if name in apart else name) for name in groups_of(work.design))]


def part_of(work: Work, group: str) -> tuple[Drive, tuple[Led, ...]]:
    """The drive of a group as it is for it, and its LEDs; without a group those of the board, whatever drives them."""
    drive = work.design.drive
    if not group:
        return drive, work.leds
    own = next((one for one in own_drives(drive) if group in one[1]), None)
    leds = tuple(led for led in work.leds if group in led.groups)
    return (own[0] if own is not None else replace(drive, groups=())), leds


def plan_row(row: Row) -> dict[str, Any]:
    """A way, as `plan --json` tells it."""
    told = {
        "method": row.method, "title": row.title, "verdict": row.verdict.word, "reason": row.verdict.reason or None,
        "limit": row.verdict.limit or None, "pins": row.pins, "parts": row.parts, "peak_a": row.peak_a,
        "average_a": row.average_a, "worst_a": row.worst_a, "total_peak_a": row.total_peak_a,
        "total_average_a": row.total_average_a, "refresh_hz": row.refresh_hz, "relative_light": row.relative_light,
        "height_mm": row.height_mm, "price": row.price, "standing_a": row.standing_a, "joints": row.joints,
        "minutes": row.minutes, "program": row.program, "run_time_h": row.run_time_h,
        "heat_w": row.heat_w, "changeable": row.program,
    }  # fmt: skip
    return told


def run_of(work: Work) -> RunTime | None:
    """How long the supply lasts, as the board is: one sum, wherever it is told."""
    run: RunTime | None = work.values["run"]
    return run


def power(work: Work) -> dict[str, Any]:
    """Run time with its curve, and currents, as `power --json` tells them."""
    run, plan = run_of(work), work.plan
    average = lit_share(work)
    peak = peak_share(work.project.motion, work.lamps) if truly_shown(work) else plan.at_once
    curve = []
    if run is not None:
        curve = [
            {"t_h": hour, "supply_v": volts, "current_a": amps, "light": light}
            for hour, volts, amps, light in zip(run.curve_h, run.curve_v, run.curve_a, run.curve_light, strict=True)
        ]
    return {
        "run_time_h": run.hours if run is not None else None,
        "ended_by": run.ended_by if run is not None else None,
        "average_a": plan.current_a * average + plan.standing_a,
        "peak_a": plan.current_a * peak + plan.standing_a,
        "standing_a": plan.standing_a,
        "auto_off_s": plan.off_s,
        "filled_in_s": filled_in_s(plan.supply, work.design.drive),
        "heat": [
            {"part": one.title, "count": one.many, "each_w": one.each_w, "bears_w": one.bears_w} for one in part_heats(work)
        ],
        "curve": curve,
    }


def first_second(work: Work) -> dict[str, Any]:
    """What happens from power-up on, as `first-second --json` tells it."""
    first = work.plan.first
    if first is None:
        return {"supply_rise_s": RISE_S, "dark_s": 0.0, "nodes": [], "reset": None}
    nodes = [{"net": node.net, "levels": [list(one) for one in node.levels]} for node in first.nodes]
    reset = None if first.reset is None else {"resistor_ohm": first.reset.ohm, "capacitor_f": first.reset.farad}
    return {"supply_rise_s": first.rise_s, "dark_s": first.dark_s, "nodes": nodes, "reset": reset}


def truly_shown(work: Work) -> bool:
    """Whether the LEDs as they are driven can show the motion; otherwise it is a preview."""
    shown: bool = work.values["shown"]
    return shown


def lit_share(work: Work) -> float:
    """The share of the time that an LED is lit, on average: by its motion where that is shown, else by its circuit."""
    motion = work.project.motion
    return average_share(motion, work.lamps) if truly_shown(work) and not motion.is_full else work.plan.average


def keys_of(work: Work, group: str = "") -> set[str]:
    """The keys of the edit `drive` that the chosen way of all LEDs, or of a group, goes by, beside those of every way."""
    return {"method", "current_a", *method(part_of(work, group)[0].method).uses}


def way_values(work: Work, group: str = "") -> dict[str, Any]:
    """What the keys of the way of all LEDs, or of a group, are now: of a scan the rows that it has, where none were told."""
    drive, some = part_of(work, group)
    apart = {one.group for one in drive.groups}
    mine = [led for led in some if not apart & set(led.groups)]
    rows = drive.rows or shape_of(drive, mine, work.values["grids"])[0]
    return {
        "method": drive.method, "controller": drive.controller or ANY, "rows": rows, "lit": drive.lit,
        "period_s": drive.period_s, "other_period_s": drive.other_period_s or 0.0, "current_a": drive.current_a,
        "family": drive.family or ANY_FAMILY, "reset": drive.reset,
    }  # fmt: skip


def plan_words(work: Work, group: str = "") -> str:
    """What a board is fed from and what that feeds, for the heading of the table of ways."""
    plan, (drive, leds) = work.plan, part_of(work, group)
    cells = f"{plan.cells} × {plan.supply.title}" if plan.cells > 1 else plan.supply.title
    whose = f" of “{short(group)}”" if group else ""
    return f"{len(leds)} LEDs{whose}, {show_si(drive.current_a, 'A')} each, {cells}"


def way_title(work: Work) -> str:
    """What the chosen way is called."""
    return method(work.plan.method).title


def lit_words(work: Work) -> str:
    """Of which LEDs the current of a board is told: all of them, or those that its circuit lights at once."""
    return "all LEDs on" if work.plan.at_once >= 1 else "LEDs lit at once"


def heat_words(work: Work) -> str:
    """How much the board warms with all LEDs on that are on at once."""
    watts = watts_of(work.plan)
    return f"{show(board_rise_k(watts, work.outline.region.area), 1)} K, {show_si(watts, 'W')}"


@dataclass(frozen=True)
class Alike:
    """Lights with the same figures: one branch of them, what all of them are called, and how many they are."""

    branch: Branch
    title: str
    many: str


def alike_branches(work: Work) -> list[Alike]:
    """The branches of a board; those of one part with the same figures together, such as the dots of a block."""
    same: dict[tuple[Any, ...], list[Branch]] = {}
    for one in work.plan.branches:
        told = (one.resistor_ohm, one.current_a, one.current_min_a, one.current_max_a, one.duty, one.count)
        same.setdefault((one.emitter.name, *told), []).append(one)
    out = []
    for some in same.values():
        lights = sum(len(one.indices) for one in some)
        if len(some) == 1:
            out.append(Alike(some[0], some[0].title, f"{lights} LEDs"))
        else:
            out.append(Alike(some[0], f"{some[0].emitter.name}, {len(some)} lights alike", f"{lights} lights"))
    return out


def start_words(work: Work) -> tuple[str, str]:
    """How long no LED is lit after power-on, and what holds counters at their start."""
    first = work.plan.first
    if first is None:
        return "–", "–"
    reset = first.reset
    held = "nothing to hold" if reset is None else f"{show_si(reset.ohm, 'Ω')}, {show_si(reset.farad, 'F')}"
    return show_si(first.dark_s, "s"), held
