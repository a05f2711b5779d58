"""The sums on their own: `calc NAME key=value …`. To add one: a function and its keys in `CALCULATORS`."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from ..drive.law import LedLaw
from ..drive.resistor import series_resistor
from ..drive.runtime import Load, run_time
from ..errors import Trouble
from ..parts import supply
from ..project import Param, Ring


@dataclass(frozen=True)
class Calculator:
    """Keys with their types, defaults (None: needed, or optional as `about` says) and the source of the formula."""

    about: str
    source: str
    params: Mapping[str, Param]
    defaults: Mapping[str, Any]
    run: Callable[..., dict[str, Any]]


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


def _ring(count: int, diameter_mm: float, start_deg: float, direction: str) -> dict[str, Any]:
    ring = Ring(name="ring", x_mm=0, y_mm=0, diameter_mm=diameter_mm, count=count, start_deg=start_deg, direction=direction)  # type: ignore[arg-type]
    from ..lights.kinds import ring_spots  # the other sums need no geometry

    x, y, angle = ring_spots(ring)[-1]
    pitch = diameter_mm * math.sin(math.pi / count)
    return {"pitch_mm": pitch, "last_x_mm": x, "last_y_mm": y, "last_angle_deg": angle % 360}


_POSITIVE = 1e-12
CALCULATORS: dict[str, Calculator] = {
    "series-resistor": Calculator(
        "The resistor before LEDs in series. Without forward_a the forward voltage holds at the target current.",
        "docs/domain.md, sections 3 and 4; IEC 60063",
        {
            "supply_v": Param("quantity", "V", _POSITIVE, 1000, optional=False),
            "forward_v": Param("quantity", "V", _POSITIVE, 100, optional=False),
            "current_a": Param("quantity", "A", _POSITIVE, 10, optional=False),
            "forward_a": Param("quantity", "A", _POSITIVE, 10),
            "count": Param("count", "", 1, 100),
            "series": Param("choice", choices=("E6", "E12", "E24", "E48", "E96")),
            "choose": Param("choice", choices=("at-most", "nearest")),
        },
        {"forward_a": None, "count": 1, "series": "E24", "choose": "at-most"},
        _series_resistor,
    ),
    "run-time": Calculator(
        "How long cells feed equal LED branches in parallel, and why it ends.",
        "docs/domain.md, section 9",
        {
            "cell": Param("choice", choices=("coin-2032", "aa-alkaline", "aaa-alkaline", "lipo"), optional=False),
            "forward_v": Param("quantity", "V", _POSITIVE, 100, optional=False),
            "forward_a": Param("quantity", "A", _POSITIVE, 10),
            "resistor_ohm": Param("quantity", "ohm", 0, 1e8, optional=False),
            "lights": Param("count", "", 1, 100_000),
            "cells": Param("count", "", 1, 100),
            "capacity_ah": Param("quantity", "", _POSITIVE, 1000),
            "light_fraction": Param("quantity", "", 0.01, 0.99),
            "duty": Param("quantity", "", 1e-6, 1),
        },
        {"forward_a": 0.02, "lights": 1, "cells": 1, "capacity_ah": None, "light_fraction": 0.5, "duty": 1.0},
        _run_time,
    ),
    "ring": Calculator(
        "LEDs on a circle about 0, 0: their distance and where the last one is.",
        "docs/domain.md, section 3; plane geometry",
        {
            "count": Param("count", "", 1, 100_000, optional=False),
            "diameter_mm": Param("quantity", "mm", _POSITIVE, 100_000, optional=False),
            "start_deg": Param("quantity", "deg", -3600, 3600),
            "direction": Param("choice", choices=("clockwise", "counter-clockwise")),
        },
        {"start_deg": 90.0, "direction": "clockwise"},
        _ring,
    ),
}


def calculate(name: str, words: Iterable[str]) -> dict[str, Any]:
    """Run a calculator on `key=value` words; `Trouble` for what it does not know."""
    one = CALCULATORS.get(name)
    if one is None:
        raise Trouble(f"There is no calculator “{name}”; there are {', '.join(CALCULATORS)}.")
    values = dict(one.defaults)
    given: set[str] = set()
    for word in words:
        key, equals, text = word.partition("=")
        full, written_unit = _key(name, one, key)
        if not equals or full in given:
            raise Trouble(f"“{word}” is not key=value, or is given twice.")
        given.add(full)
        values[full] = one.params[full].parse(full, text, written_unit)
    missing = [key for key, param in one.params.items() if not param.optional and key not in given]
    if missing:
        raise Trouble(f"{name} needs {', '.join(missing)}.")
    return one.run(**values)


def _key(name: str, one: Calculator, word: str) -> tuple[str, bool]:
    if word in one.params:
        return word, False
    for key, param in one.params.items():
        if param.unit and key == f"{word}_{param.unit.lower()}":
            return key, True
    raise Trouble(f"{name} has no key “{word}”; its keys are {', '.join(one.params)}.")
