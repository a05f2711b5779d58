"""What copper carries and keeps apart; where LEDs lie, how even they are, tones and folds."""

from __future__ import annotations

import math
from typing import Any

from ...parts.copper import RHO_OHM_M, clearance_mm, rail_drops, track_current, track_resistance, track_width
from ...project import Param, Ring
from ...shape.folding import dihedral_deg, setback_mm
from .calculator import Calculator, count, needed, told

_LAYER = Param("choice", choices=("outer", "inner"))
_OUTER = {"copper_um": 35.0, "layer": "outer"}


def _clearance(volts: float, surface: str) -> dict[str, Any]:
    return {"clearance_mm": clearance_mm(volts, surface)}


def _track_width(current_a: float, rise_k: float, copper_um: float, layer: str) -> dict[str, Any]:
    return {"width_mm": track_width(current_a, rise_k, copper_um, layer)}


def _track_current(width_mm: float, rise_k: float, copper_um: float, layer: str) -> dict[str, Any]:
    return {"current_a": track_current(width_mm, rise_k, copper_um, layer)}


def _track_resistance(length_mm: float, width_mm: float, copper_um: float, temperature_c: float) -> dict[str, Any]:
    return {"resistance_ohm": track_resistance(length_mm, width_mm, copper_um, temperature_c)}


def _rail_drop(
    count: int, pitch_mm: float, width_mm: float, copper_um: float, pixel_a: float, feed: str, supply_v: float
) -> dict[str, Any]:
    there_and_back = 2 * track_resistance(pitch_mm, width_mm, copper_um, 20.0)
    worst = max(rail_drops(count, pixel_a, there_and_back, feed == "both-ends"))
    return {"worst_drop_v": worst, "worst_voltage_v": supply_v - worst}


def _ring(count: int, diameter_mm: float, start_deg: float, direction: str) -> dict[str, Any]:
    ring = Ring(name="ring", x_mm=0, y_mm=0, diameter_mm=diameter_mm, count=count, start_deg=start_deg, direction=direction)  # type: ignore[arg-type]
    from ...lights.kinds import ring_spots  # the other sums need no geometry

    x, y, angle = ring_spots(ring)[-1]
    pitch = diameter_mm * math.sin(math.pi / count)
    return {"pitch_mm": pitch, "last_x_mm": x, "last_y_mm": y, "last_angle_deg": angle % 360}


def _halftone(smallest_dot_mm: float, dots: int) -> dict[str, Any]:
    return {"ruling_per_cm": 10 / (smallest_dot_mm * math.sqrt(dots)), "tones": dots + 1}


def _fold(faces: int, slope_deg: float, thickness_mm: float) -> dict[str, Any]:
    angle = dihedral_deg(faces, slope_deg)
    return {"dihedral_deg": angle, "setback_mm": setback_mm(thickness_mm, angle)}


def _backlight(rows: int, columns: int, pitch_mm: float, distance_mm: float, half_angle_deg: float) -> dict[str, Any]:
    from ...board.backlight import uniformity  # the other sums need no arrays

    return {"uniformity": uniformity(rows, columns, pitch_mm, distance_mm, half_angle_deg)}


BOARDS: dict[str, Calculator] = {
    "clearance": Calculator(
        "How far apart conductors at a voltage must be. A distance that works, no safety insulation.",
        "docs/domain.md, section 11; IPC-2221B columns B2, B4, A6",
        {"volts": needed("", 500), "surface": Param("choice", choices=("uncoated", "coated", "leads"))},
        {"surface": "uncoated"},
        _clearance,
    ),
    "track-width": Calculator(
        "How wide a track must be for a current and a rise of temperature.",
        "docs/domain.md, section 7; IPC-2221",
        {"current_a": needed("A", 1000), "rise_k": needed("", 200), "copper_um": told("", 1000), "layer": _LAYER},
        _OUTER,
        _track_width,
    ),
    "track-current": Calculator(
        "What a track carries at a rise of temperature.",
        "docs/domain.md, section 7; IPC-2221",
        {"width_mm": needed("mm", 1000), "rise_k": needed("", 200), "copper_um": told("", 1000), "layer": _LAYER},
        _OUTER,
        _track_current,
    ),
    "track-resistance": Calculator(
        "The resistance of a track.",
        "docs/domain.md, section 7",
        {
            "length_mm": needed("mm", 1e6), "width_mm": needed("mm", 1000), "copper_um": told("", 1000),
            "temperature_c": told("", 300, -100),
        },
        {"copper_um": 35.0, "temperature_c": 20.0},
        _track_resistance,
    ),
    "rail-drop": Calculator(
        "How much of the supply is lost along a chain of pixels, fed at one end or at both.",
        f"docs/domain.md, sections 6 and 7; copper {RHO_OHM_M:.3g} ohm·m at 20 C",
        {
            "count": count(), "pitch_mm": needed("mm", 1e5), "width_mm": needed("mm", 1000), "copper_um": told("", 1000),
            "pixel_a": needed("A", 10), "feed": Param("choice", choices=("one-end", "both-ends")), "supply_v": told("V", 1000),
        },
        {"copper_um": 35.0, "feed": "one-end", "supply_v": 5.0},
        _rail_drop,
    ),
    "ring": Calculator(
        "LEDs on a circle about 0, 0: their distance and where the last one is.",
        "docs/domain.md, section 3; plane geometry",
        {
            "count": count(), "diameter_mm": needed("mm", 100_000), "start_deg": told("deg", 3600, -3600),
            "direction": Param("choice", choices=("clockwise", "counter-clockwise")),
        },
        {"start_deg": 90.0, "direction": "clockwise"},
        _ring,
    ),
    "halftone": Calculator(
        "The finest ruling and the tones of a screen whose cell has so many square dots.",
        "docs/domain.md, section 1",
        {"smallest_dot_mm": needed("mm", 10), "dots": count(10_000)},
        {},
        _halftone,
    ),
    "fold": Calculator(
        "The angle between faces that slope alike round a base, and how far each is set back.",
        "docs/domain.md, section 14",
        {
            "faces": Param("count", "", 3, 1000, optional=False), "slope_deg": needed("deg", 90),
            "thickness_mm": told("mm", 100, 0),
        },
        {"thickness_mm": 1.6},
        _fold,
    ),
    "backlight": Calculator(
        "How evenly a grid of LEDs lights a plane, half a pitch inside the outer ones.",
        "docs/domain.md, section 10",
        {
            "rows": count(200), "columns": count(200), "pitch_mm": needed("mm", 1000), "distance_mm": needed("mm", 10_000),
            "half_angle_deg": told("deg", 89, 1),
        },
        {"half_angle_deg": 60.0},
        _backlight,
    ),
}  # fmt: skip
