"""What `plan`, `nets`, `pins` and `power` say, and the drive's drawer: ways side by side, connections, pins, run time."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from msgspec.structs import replace

from ..drive import RunTime, plan_drive
from ..drive.edits import groups_of
from ..drive.first_second import RISE_S
from ..drive.heat import board_rise_k, watts_of
from ..drive.keys import ANY, NO_REGULATOR
from ..drive.methods import method
from ..drive.methods.scan import shape_of
from ..drive.placement import led_parts
from ..drive.planner import Row, planned
from ..drive.planning import own_drives
from ..drive.rail import rail_v
from ..drive.supply_parts import needs
from ..lights import Led
from ..motion import average_share
from ..motion.pattern import peak_share
from ..parts import Part, part
from ..project import Drive
from ..text_safety import short
from ..units import show, show_si
from .compile import Work

_FACTORS = {"M": 1e6, "k": 1e3, "R": 1.0, "u": 1e-6, "n": 1e-9, "p": 1e-12}
#: What a pin of a part is used for, where the controller stands by its table.
PIN_COLUMNS = ("pin", "name", "drives", "at_start", "pwm")


def plan_rows(work: Work, group: str = "") -> Iterator[Row]:
    """Every way to drive the LEDs of a board, or those of a group of it."""
    drive, leds = part_of(work, group)
    return planned(drive, leds, work.values["grids"])


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
    }  # fmt: skip
    return told


def value_of(part: Part, value: str) -> dict[str, float | None]:
    """The number that a value on the legend means: ohms of a resistor, farads of a capacitor.

    >>> _number("1k2"), _number("470u"), _number("595 type")
    (1200.0, 0.00047, None)
    """
    number = _number(value)
    if part.kind == "capacitor":
        return {"value_f": number}
    return {"value_ohm": number} if part.kind == "resistor" else {}


def _number(value: str) -> float | None:
    found = re.fullmatch(r"(\d+)([MkRunp])(\d*)", value)
    if found is None:
        return None
    whole, factor, rest = found.groups()
    return float(f"{float(f'{whole}.{rest or 0}') * _FACTORS[factor]:.6g}")


def connections(work: Work) -> dict[str, Any]:
    """Parts with value and pins, and nets with pins: the connection list."""
    plan = work.plan
    net_of = {pin: net.name for net in plan.nets for pin in net.pins}
    every = [(one.ref, one.part, one.side, one.value) for one in led_parts(work.leds)]
    every += [(one.ref, one.part, one.side, plan.values.get(one.ref, "")) for one in plan.wanted]
    parts = [
        {
            "reference": ref, "kind": part.kind, "value": value, **value_of(part, value), "side": side,
            "pins": [
                {"number": pin.number, "name": pin.name, "role": pin.role, "net": net_of.get((ref, pin.number))}
                for pin in part.pins
            ],
        }
        for ref, part, side, value in every
    ]  # fmt: skip
    nets = [{"name": net.name, "class": net.kind, "pins": [f"{ref}.{pin}" for ref, pin in net.pins]} for net in plan.nets]
    return {"parts": parts, "nets": nets}


#: The columns of the connection list.
CONNECTION_COLUMNS = ("reference", "value", "side", "pin", "name", "role", "net")


def connection_rows(work: Work) -> list[dict[str, Any]]:
    """The connection list as rows, one for each pin."""
    return [
        {
            "reference": part["reference"], "value": part["value"], "side": part["side"], "pin": pin["number"],
            "name": pin["name"], "role": pin["role"], "net": pin["net"] or "",
        }
        for part in connections(work)["parts"]
        for pin in part["pins"]
    ]  # fmt: skip


def table_text(columns: Sequence[str], rows: Sequence[Mapping[str, Any]]) -> str:
    """Rows as a table with commas."""
    out = io.StringIO()
    table = csv.DictWriter(out, columns, lineterminator="\n")
    table.writeheader()
    table.writerows(rows)
    return out.getvalue()


def connection_file(work: Work, suffix: str) -> bytes:
    """The connection list as a file: JSON, or else a table."""
    if suffix.lower() == ".json":
        return json.dumps(connections(work), indent=1, ensure_ascii=False).encode()
    return table_text(CONNECTION_COLUMNS, connection_rows(work)).encode()


def pin_file(work: Work, suffix: str) -> bytes:
    """The pins of the controller as a file: a C header, or else a table."""
    return (pin_header(work) if suffix.lower() == ".h" else table_text(PIN_COLUMNS, pin_rows(work))).encode()


def pin_rows(work: Work) -> list[dict[str, Any]]:
    """The pins of the controller that are used, in the order of their numbers."""
    used = sorted(work.plan.pins, key=lambda one: int(one.number))
    return [
        {"pin": one.number, "name": one.name, "drives": one.drives, "at_start": one.at_start, "pwm": one.pwm} for one in used
    ]


def pin_header(work: Work) -> str:
    """The pins as a C header: a name for each, and its number in the controller's own table."""
    stem = re.sub(r"[^A-Z0-9]+", "_", work.board.name.upper()).strip("_") or "BOARD"
    lines = [f"/* Pins of “{work.board.name}”: {work.plan.controller or 'no controller'}. */", f"#ifndef {stem}_PINS_H"]
    lines += [f"#define {stem}_PINS_H", ""]
    for row in pin_rows(work):
        name = re.sub(r"[^A-Z0-9]+", "_", row["drives"].upper()).strip("_")
        lines.append(f"#define PIN_{name} {_own_number(row['name'], row['pin'])} /* {row['name']}, package pin {row['pin']} */")
    return "\n".join([*lines, "", f"#endif /* {stem}_PINS_H */", ""])


def _own_number(name: str, pin: str) -> str:
    found = re.match(r"P(\d+)", name)
    return found.group(1) if found else pin


def run_of(work: Work) -> RunTime | None:
    """How long the supply lasts, as the board is: one sum, wherever it is told."""
    run: RunTime | None = work.values["run"]
    return run


def power(work: Work) -> dict[str, Any]:
    """Run time with its curve, and currents, as `power --json` tells them."""
    run, plan = run_of(work), work.plan
    average = lit_share(work)
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
        "peak_a": plan.current_a * (peak_share(work.project.motion, work.lamps) if truly_shown(work) else 1.0),
        "standing_a": plan.standing_a,
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
    return average_share(motion, work.lamps) if truly_shown(work) and motion.pattern != "steady" else work.plan.average


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
        "period_s": drive.period_s, "current_a": drive.current_a,
    }  # fmt: skip


def supply_keys(work: Work) -> set[str]:
    """The keys of the supply that the chosen one goes by."""
    one = work.plan.supply
    keys = {
        "cells": len(one.bodies) > 1, "volts_v": one.spread is not None, "capacity_ah": bool(one.usual_ah), "regulator": True,
        "rail_v": bool(work.design.drive.regulator),
    }  # fmt: skip
    return {key for key, there in keys.items() if there}


def supply_values(work: Work) -> dict[str, Any]:
    """What the keys of the supply are now, those that were never told as they are usually."""
    plan, drive = work.plan, work.design.drive
    usual = plan.supply.volts[1] if plan.supply.volts is not None else 0.0
    capacity = drive.capacity_ah or plan.supply.usual_ah or plan.supply.capacity_ah
    rail = {"regulator": drive.regulator or NO_REGULATOR, "rail_v": rail_v(drive)}
    return {"cells": drive.cells, "volts_v": drive.volts or usual, "capacity_ah": capacity, **rail}


def plan_words(work: Work, group: str = "") -> str:
    """What a board is fed from and what that feeds, for the heading of the table of ways."""
    plan, (drive, leds) = work.plan, part_of(work, group)
    cells = f"{plan.cells} × {plan.supply.title}" if plan.cells > 1 else plan.supply.title
    whose = f" of “{short(group)}”" if group else ""
    return f"{len(leds)} LEDs{whose}, {show_si(drive.current_a, 'A')} each, {cells}"


def way_title(work: Work) -> str:
    """What the chosen way is called."""
    return method(work.plan.method).title


#: Supplies that are compared, each with its number of cells.
_COMPARED = (("coin-2032", 1), ("aaa-alkaline", 2), ("aaa-alkaline", 3), ("aa-alkaline", 2), ("aa-alkaline", 3), ("lipo", 1))


def other_cells(work: Work) -> list[tuple[str, float, str]]:
    """How long other cells would last, the longest first: what they are called, hours, and what stands in the way ("" for
    nothing). The one that is chosen is left out."""
    drive, out = work.design.drive, []
    for name, cells in _COMPARED:
        if (name, cells) == (work.plan.supply.name, work.plan.cells):
            continue
        plan = plan_drive(replace(drive, supply=name, cells=cells), work.leds, work.values["grids"])
        run = plan.hours(lit_share(work))
        stop = next((one.text for one in plan.findings if one.severity == "stop"), "")
        title = f"{cells} × {plan.supply.title}" if cells > 1 else plan.supply.title
        out.append((title, run.hours if run is not None and not stop else 0.0, stop))
    return sorted(out, key=lambda row: -row[1])


def heat_words(work: Work) -> str:
    """How much the board warms with all LEDs on."""
    watts = watts_of(work.plan)
    return f"{show(board_rise_k(watts, work.outline.region.area), 1)} K, {show_si(watts, 'W')}"


def start_words(work: Work) -> tuple[str, str]:
    """How long no LED is lit after power-on, and what holds counters at their start."""
    first = work.plan.first
    if first is None:
        return "–", "–"
    reset = first.reset
    held = "nothing to hold" if reset is None else f"{show_si(reset.ohm, 'Ω')}, {show_si(reset.farad, 'F')}"
    return show_si(first.dark_s, "s"), held


def need_rows() -> list[tuple[str, str, str]]:
    """What supplies may need: key, what it is called with its price, and what happens without it."""
    return [(key, f"{one.title}, {part(one.part).price or 0:.2f}", one.why) for key, one in needs().items()]
