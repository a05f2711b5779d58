"""Currents and how long they last: series resistors, run time, scans, charlieplexing, tubes."""

from __future__ import annotations

from typing import Any

from ...drive.law import LedLaw
from ...drive.resistor import series_resistor
from ...drive.supply.runtime import Load, run_time
from ...drive.tube import anode_resistor
from ...drive.turns import allowed_peak, charlieplex_pins
from ...errors import Trouble
from ...parts import supply
from ...project import Param
from .calculator import Calculator, Takes, count, needed, told


def _series_resistor(
    supply_v: float, forward_v: float, current_a: float, forward_a: float | None, count: int, series: str, choose: str
) -> dict[str, Any]:
    law = LedLaw(forward_v, forward_a if forward_a is not None else current_a)
    answer = series_resistor(supply_v, law, current_a, count, series, choose)
    return {
        "ideal_ohm": answer.ideal_ohm,
        "resistor_ohm": answer.resistor_ohm,
        "current_a": answer.current_a,
        "resistor_power_w": answer.power_w,
        "headroom_v": answer.headroom_v,
    }


def _run_time(
    cell: str, cells: int, capacity_ah: float | None, lights: int, forward_v: float, forward_a: float, resistor_ohm: float,
    light_fraction: float, duty: float,
) -> dict[str, Any]:  # fmt: skip
    source = supply(cell)
    if not (capacity_ah or source.capacity_ah):
        raise Trouble(f"run-time of {cell} needs capacity_ah.")
    load = Load(LedLaw(forward_v, forward_a), resistor_ohm, lights)
    answer = run_time(source, cells, (load,), capacity_ah=capacity_ah, light_fraction=light_fraction, duty=duty)
    return {
        "hours": answer.hours,
        "ended_by": answer.ended_by,
        "first_current_a": answer.first_current_a,
        "end_voltage_v": answer.end_volts,
    }


def _scan(rows: int, columns: int, average_a: float, continuous_a: float) -> dict[str, Any]:
    duty = 1 / rows
    return {
        "rows": rows,
        "duty": duty,
        "peak_a": average_a / duty,
        "allowed_peak_a": allowed_peak(continuous_a, duty),
        "row_switch_a": columns * average_a / duty,
        "pins": rows + columns,
    }


def _charlieplex(lights: int) -> dict[str, Any]:
    pins = charlieplex_pins(lights)
    return {"pins": pins, "capacity": pins * (pins - 1)}


def _tube(supply_v: float, hold_v: float, current_a: float) -> dict[str, Any]:
    ohm, watts = anode_resistor(supply_v, hold_v, current_a)
    return {"resistor_ohm": ohm, "resistor_power_w": watts}


CURRENTS: dict[str, Calculator] = {
    "series-resistor": Calculator(
        "The resistor before LEDs in series. Without a forward current the forward voltage holds at the target current.",
        "docs/domain.md, sections 3 and 4; IEC 60063",
        {
            "supply_v": needed("V", 1000),
            "forward_v": needed("V", 100),
            "current_a": needed("A", 10),
            "forward_a": told("A", 10),
            "count": count(100, optional=True),
            "series": Param("choice", choices=("E6", "E12", "E24", "E48", "E96")),
            "choose": Param("choice", choices=("at-most", "nearest")),
        },
        {"forward_a": None, "count": 1, "series": "E24", "choose": "at-most"},
        _series_resistor,
        Takes("drive", "current_a", "current_a", "the current"),
    ),
    "run-time": Calculator(
        "How long cells feed equal LED branches in parallel, and why it ends.",
        "docs/domain.md, section 9",
        {
            "cell": Param("choice", choices=("coin-2032", "aa-alkaline", "aaa-alkaline", "lipo"), optional=False),
            "forward_v": needed("V", 100),
            "forward_a": told("A", 10),
            "resistor_ohm": needed("ohm", 1e8, 0),
            "lights": count(optional=True),
            "cells": count(100, optional=True),
            "capacity_ah": told("", 1000),
            "light_fraction": told("", 0.99, 0.01),
            "duty": told("", 1, 1e-6),
        },
        {"forward_a": 0.02, "lights": 1, "cells": 1, "capacity_ah": None, "light_fraction": 0.5, "duty": 1.0},
        _run_time,
    ),
    "scan-matrix": Calculator(
        "A matrix whose rows take turns: the current while lit, what an LED bears then, and what a row switch carries.",
        "docs/domain.md, sections 3 and 5",
        {"rows": count(1000), "columns": count(1000), "average_a": needed("A", 10), "continuous_a": told("A", 10)},
        {"continuous_a": 0.02},
        _scan,
        Takes("drive", "rows", "rows", "the rows"),
    ),
    "charlieplex": Calculator(
        "How few pins drive so many LEDs, each between two of them.", "docs/domain.md, section 5", {"lights": count()}, {},
        _charlieplex,
    ),
    "tube": Calculator(
        "The resistor before the anode of a cold-cathode tube. Over 50 V: it can kill.",
        "docs/domain.md, section 11",
        {"supply_v": needed("V", 1000), "hold_v": needed("V", 1000), "current_a": needed("A", 1)},
        {},
        _tube,
    ),
}  # fmt: skip
