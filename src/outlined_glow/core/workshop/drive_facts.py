"""What `plan`, `nets`, `pins` and `power` say, and the drive's drawer: ways side by side, connections, pins, run time."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from ..drive import RunTime
from ..drive.placement import led_parts
from ..drive.planner import Row, planned
from ..motion import average_share
from ..motion.pattern import peak_share
from ..parts import Part
from .compile import Work

_FACTORS = {"M": 1e6, "k": 1e3, "R": 1.0, "u": 1e-6, "n": 1e-9, "p": 1e-12}
#: What a pin of a part is used for, where the controller stands by its table.
PIN_COLUMNS = ("pin", "name", "drives", "at_start", "pwm")


def plan_rows(work: Work) -> Iterator[Row]:
    """Every way to drive the LEDs of a board."""
    return planned(work.design.drive, work.leds, work.values["grids"])


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


def truly_shown(work: Work) -> bool:
    """Whether the LEDs as they are driven can show the motion; otherwise it is a preview."""
    shown: bool = work.values["shown"]
    return shown


def lit_share(work: Work) -> float:
    """The share of the time that an LED is lit, on average: by its motion where that is shown, else by its circuit."""
    motion = work.project.motion
    return average_share(motion, work.lamps) if truly_shown(work) and motion.pattern != "steady" else work.plan.average
