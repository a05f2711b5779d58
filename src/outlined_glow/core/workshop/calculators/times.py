"""Times: timers, oscillators, clocks, what a capacitor holds up, how fast pixels are told."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from ...drive.dimming import ambient_level, dimming_table
from ...drive.methods.pixels import IDLE_A, LATCH_S, frame_s
from ...drive.timing import (
    CAPACITORS_F,
    Astable,
    Spread,
    backup_years,
    best_two_speeds,
    clock_drift_s,
    distribution,
    hold_up_h,
    leaks,
    oscillator_hz,
    search_astable,
    spread_of,
)
from ...errors import Trouble
from ...project import Param
from .calculator import Calculator, Takes, count, needed, told


def _timer(r1_ohm: float, r2_ohm: float, c_f: float) -> dict[str, Any]:
    one = Astable(r1_ohm, r2_ohm, c_f)
    return {
        "high_s": one.high_s, "low_s": one.low_s, "period_s": one.period_s, "duty": one.duty, "first_high_s": one.first_high_s,
    }  # fmt: skip


def _timer_search(
    period_s: float, duty: float | None, series: str, capacitors_f: Sequence[float] | None, other_period_s: float | None = None
) -> dict[str, Any]:  # fmt: skip
    if other_period_s is not None:
        if duty is not None or capacitors_f or series != "E24":
            raise Trouble("timer-search of two periods goes by them alone; leave duty, series and capacitors_f away.")
        return _two_speeds(period_s, other_period_s)
    found = search_astable(period_s, duty, series, capacitors_f or CAPACITORS_F)
    best = found[0]
    low, high = spread_of(best)
    return {
        "r1_ohm": best.r1_ohm, "r2_ohm": best.r2_ohm, "c_f": best.c_f, "period_s": best.period_s, "duty": best.duty,
        "best_relative_error": abs(best.period_s / period_s - 1),
        "nine_in_ten_from_s": low, "nine_in_ten_to_s": high, "leakage": "will show" if leaks(best) else "no matter",
        "others": [[one.r1_ohm, one.r2_ohm, one.c_f] for one in found[1:]],
    }  # fmt: skip


def _two_speeds(period_s: float, other_period_s: float) -> dict[str, Any]:
    two = best_two_speeds(period_s, other_period_s)
    low, high = spread_of(two.slow)
    off = max(
        abs(one.period_s / wish - 1) for one, wish in zip((two.fast, two.slow), sorted((period_s, other_period_s)), strict=True)
    )
    return {
        "r1_ohm": two.fast.r1_ohm, "r2_ohm": two.fast.r2_ohm, "more_r2_ohm": two.more_ohm, "c_f": two.fast.c_f,
        "period_s": two.fast.period_s, "other_period_s": two.slow.period_s, "duty": two.fast.duty,
        "best_relative_error": off, "nine_in_ten_from_s": low, "nine_in_ten_to_s": high,
        "leakage": "will show" if leaks(two.slow) else "no matter", "others": [],
    }  # fmt: skip


def _timer_spread(answer: Mapping[str, Any]) -> Spread:
    return distribution(Astable(answer["r1_ohm"], answer["r2_ohm"] + answer.get("more_r2_ohm", 0.0), answer["c_f"]))


def _oscillator(r_ohm: float, c_f: float, stage: int) -> dict[str, Any]:
    hertz = oscillator_hz(r_ohm, c_f)
    return {"oscillator_hz": hertz, "output_hz": hertz / 2**stage, "period_s": 2**stage / hertz}


def _hold_up(farad: float, from_v: float, to_v: float, draw_a: float, leakage_a: float) -> dict[str, Any]:
    return {"hours": hold_up_h(farad, from_v, to_v, draw_a, leakage_a)}


def _backup_cell(capacity_ah: float, draw_a: float, lost_a_year: float) -> dict[str, Any]:
    return {"years": backup_years(capacity_ah, draw_a, lost_a_year)}


def _drift(ppm: float, days: float, temperature_c: float, crystal: bool) -> dict[str, Any]:
    return {"drift_s": clock_drift_s(ppm, days, temperature_c if crystal else 25.0)}


def _pixel_chain(count: int, bits: int, latch_s: float, channel_a: float, idle_a: float) -> dict[str, Any]:
    frame = frame_s(count * bits, latch_s)
    return {
        "frame_s": frame, "max_fps": 1 / frame, "full_white_a": count * (bits // 8 * channel_a + idle_a),
        "idle_a": count * idle_a,
    }  # fmt: skip


def _dimming(steps: int, bits: int, how: str, gamma: float, inverted: bool) -> dict[str, Any]:
    table = dimming_table(steps, bits, how, gamma, inverted)
    return {"levels": table, "different": len(set(table)), "most": 2**bits - 1}


def _ambient(reading: float, dark: float, bright: float, floor: float, ceiling: float, how: str) -> dict[str, Any]:
    return {"level": ambient_level(reading, dark, bright, floor, ceiling, how)}


TIMES: dict[str, Calculator] = {
    "timer": Calculator(
        "A timer of the 555 type that runs by itself: how long its output is high and low, and the first time.",
        "docs/domain.md, section 8",
        {"r1_ohm": needed("ohm", 1e9), "r2_ohm": needed("ohm", 1e9), "c_f": needed("F", 10, 1e-15)},
        {},
        _timer,
    ),
    "timer-search": Calculator(
        "Both resistors and the capacitor of a timer for a period, and for a duty or another period by a switch.",
        "docs/domain.md, section 8; IEC 60063",
        {
            "period_s": needed("s", 1e7, 1e-6),
            "duty": told("", 0.999, 0.5),
            "series": Param("choice", choices=("E6", "E12", "E24", "E48", "E96")),
            "capacitors_f": Param("list", "F", 1e-15, 10),
            "other_period_s": told("s", 1e7, 1e-6),
        },
        {"duty": None, "series": "E24", "capacitors_f": None, "other_period_s": None},
        _timer_search,
        Takes("drive", "period_s", "period_s", "the period"),
        _timer_spread,
    ),
    "oscillator": Calculator(
        "The oscillator of a ripple counter, and its output after so many halvings.",
        "docs/domain.md, section 5",
        {"r_ohm": needed("ohm", 1e9), "c_f": needed("F", 10, 1e-15), "stage": Param("count", "", 0, 64)},
        {"stage": 0},
        _oscillator,
        Takes("drive", "period_s", "period_s", "the period"),
    ),
    "hold-up": Calculator(
        "How long a capacitor feeds something, from one voltage to another.",
        "docs/domain.md, section 9",
        {
            "farad": needed("F", 1e5), "from_v": needed("V", 1000), "to_v": needed("V", 1000, 0), "draw_a": needed("A", 100, 0),
            "leakage_a": told("A", 100, 0),
        },
        {"leakage_a": 0.0},
        _hold_up,
    ),
    "backup-cell": Calculator(
        "How many years a cell keeps something going that draws little, while it loses a share of its charge each year.",
        "docs/domain.md, section 9",
        {"capacity_ah": needed("", 1e4), "draw_a": needed("A", 10), "lost_a_year": told("", 1, 0)},
        {"lost_a_year": 0.01},
        _backup_cell,
    ),
    "drift": Calculator(
        "How far a clock is off after some days; a crystal also by its temperature.",
        "docs/domain.md, section 8",
        {
            "ppm": needed("", 1e6, -1e6), "days": needed("", 1e5), "temperature_c": told("", 150, -60),
            "crystal": Param("flag"),
        },
        {"temperature_c": 25.0, "crystal": True},
        _drift,
    ),
    "pixel-chain": Calculator(
        "How fast a chain of one-wire pixels is told, and what it draws, full white and dark.",
        "docs/domain.md, section 6",
        {
            "count": count(), "bits": Param("count", "", 8, 64), "latch_s": told("s", 1, 0), "channel_a": told("A", 1),
            "idle_a": told("A", 1, 0),
        },
        {"bits": 24, "latch_s": LATCH_S, "channel_a": 0.012, "idle_a": IDLE_A},
        _pixel_chain,
    ),
    "dimming": Calculator(
        "Steps of dimming that look even, as whole numbers; inverted where the enable is active low.",
        "docs/domain.md, section 8; CIE 1976 lightness",
        {
            "steps": Param("count", "", 2, 4096, optional=False), "bits": Param("count", "", 1, 16, optional=False),
            "how": Param("choice", choices=("lightness", "gamma", "exponential")), "gamma": told("", 10, 0.1),
            "inverted": Param("flag"),
        },
        {"how": "lightness", "gamma": 2.2, "inverted": False},
        _dimming,
    ),
    "ambient": Calculator(
        "How bright by the reading of a light sensor, between a floor for the dark and a ceiling.",
        "docs/domain.md, section 8",
        {
            "reading": needed("", 1e9, 0), "dark": needed("", 1e9, 0), "bright": needed("", 1e9, 0),
            "floor": told("", 1, 0), "ceiling": told("", 1, 0), "how": Param("choice", choices=("logarithmic", "linear")),
        },
        {"floor": 0.05, "ceiling": 1.0, "how": "logarithmic"},
        _ambient,
    ),
}  # fmt: skip
