"""Arrays to single LEDs, in the picture frame, in the order of the chain."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from shapely.geometry import Point
from shapely.geometry.base import BaseGeometry

from ..geometry.contours import Contours, direction_deg
from ..geometry.regions import filled
from ..parts import emitter
from ..project import Along, Array, Finding, Grid, Ring, Single

Spot = tuple[float, float, float]  # x, y, angle_deg


@dataclass(frozen=True)
class Led:
    """One LED: index from 1, place, angle (0: cathode toward −x), side, emitter, group, and its array."""

    index: int
    x: float
    y: float
    angle_deg: float
    side: str
    emitter: str
    group: str
    array: str


def place_leds(
    arrays: tuple[Array, ...], silhouette: BaseGeometry, size: tuple[float, float]
) -> tuple[tuple[Led, ...], tuple[Finding, ...]]:
    """Every LED of every array; mirrored arrays repeat across the vertical middle of the picture."""
    leds: list[Led] = []
    findings: list[Finding] = []
    contour = Contours(silhouette, size[0] / 2)
    for array in arrays:
        spots = _SPOTS[type(array)](array, contour)
        if not spots:
            findings.append(_no_room(array))
            continue
        one = emitter(array.emitter)
        side = "back" if one.reverse else "front"
        names = array.groups or (array.name,)
        for share, spot in _with_mirror(spots, array.mirrored, size[0]):
            group = names[min(len(names) - 1, share * len(names) // len(spots))]
            x, y, angle = spot
            leds.append(Led(len(leds) + 1, x, y, angle % 360, side, array.emitter, group, array.name))
    return tuple(leds), tuple(findings)


def along_spots(array: Along, contours: Contours) -> list[Spot]:
    """Equal arc lengths from start to end."""
    line = contours.line(array.inset_mm)
    if line is None:
        return []
    shares = np.linspace(array.start, array.end, array.count) if array.count > 1 else np.array([array.start])
    out = []
    for share in shares:
        at = float(share) * line.length
        here = line.interpolate(at)
        out.append((here.x, here.y, direction_deg(line, at)))
    return out


def ring_spots(array: Ring, contours: Contours | None = None) -> list[Spot]:
    """Equal angles from `start_deg`, each LED along the circle."""
    turn = -1 if array.direction == "clockwise" else 1
    out = []
    for place in range(array.count):
        angle = array.start_deg + turn * 360 * place / array.count
        a = math.radians(angle)
        radius = array.diameter_mm / 2
        out.append((array.x_mm + radius * math.cos(a), array.y_mm + radius * math.sin(a), angle + turn * 90))
    return out


def grid_spots(array: Grid, contours: Contours | None = None) -> list[Spot]:
    """Rows from the top, each from left to right, turned about the middle."""
    a = math.radians(array.angle_deg)
    out = []
    for row in range(array.rows):
        for column in range(array.columns):
            dx = (column - (array.columns - 1) / 2) * array.pitch_x_mm
            dy = ((array.rows - 1) / 2 - row) * array.pitch_y_mm
            x = array.x_mm + dx * math.cos(a) - dy * math.sin(a)
            y = array.y_mm + dx * math.sin(a) + dy * math.cos(a)
            out.append((x, y, array.angle_deg))
    return out


def single_spots(array: Single, contours: Contours | None = None) -> list[Spot]:
    """The one place."""
    return [(array.x_mm, array.y_mm, array.angle_deg)]


_SPOTS: dict[type, Callable[..., list[Spot]]] = {
    Along: along_spots,
    Ring: ring_spots,
    Grid: grid_spots,
    Single: single_spots,
}


def _with_mirror(spots: list[Spot], mirrored: bool, width: float) -> list[tuple[int, Spot]]:
    """Each spot with its place in the array, then the mirrored ones that do not fall on another."""
    out = list(enumerate(spots))
    if mirrored:
        for share, (x, y, angle) in enumerate(spots):
            there = (width - x, y, 180 - angle)
            if all(math.hypot(there[0] - one[0], there[1] - one[1]) > 0.05 for one in spots):
                out.append((share, there))
    return out


def _no_room(array: Array) -> Finding:
    return Finding(
        "array-without-room",
        "stop",
        "lights",
        f"The array “{array.name}” does not fit that far in from the silhouette; set it in less.",
    )


def share_at(silhouette: BaseGeometry, width: float, inset: float, x: float, y: float) -> float | None:
    """Where along the contour (0..1) a place of the picture frame is nearest to; None without a contour."""
    line = Contours(silhouette, width / 2).line(inset)
    return None if line is None else float(line.project(Point(x, y)) / line.length)


def inset_at(silhouette: BaseGeometry, x: float, y: float) -> float:
    """How far in from the silhouette's edge a place of the picture frame is, mm; 0 outside."""
    body = filled(silhouette)
    point = Point(x, y)
    return float(body.boundary.distance(point)) if body.contains(point) else 0.0


def knobs(array: Array, silhouette: BaseGeometry, width: float) -> dict[str, tuple[float, float]]:
    """Places (picture frame) by which an array can be taken hold of, by name."""
    if isinstance(array, Ring):
        a = math.radians(array.start_deg)
        edge = (array.x_mm + array.diameter_mm / 2 * math.cos(a), array.y_mm + array.diameter_mm / 2 * math.sin(a))
        return {"centre": (array.x_mm, array.y_mm), "radius": edge}
    if isinstance(array, Grid | Single):
        return {"centre": (array.x_mm, array.y_mm)}
    if isinstance(array, Along):
        line = Contours(silhouette, width / 2).line(array.inset_mm)
        if line is None:
            return {}
        middle = (array.start + array.end) / 2
        shares = {"start": array.start, "end": array.end, "inset": middle}
        spots = {name: line.interpolate(share * line.length) for name, share in shares.items()}
        return {name: (spot.x, spot.y) for name, spot in spots.items()}
    return {}
