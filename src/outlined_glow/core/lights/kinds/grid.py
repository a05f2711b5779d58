"""Grids: LEDs in rows and columns, every other row moved by half a step where they are staggered."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ...project import Grid, Param
from .drawing import corner_to_corner
from .kind import (
    COUNT,
    MIDDLE,
    PITCH,
    PLACED,
    TURNED,
    Handle,
    Kind,
    LightPaths,
    Spot,
    Values,
    about_middle,
    in_the_middle,
    middle_handle,
)

#: More rows or columns than this no drag makes.
_MOST = 1024


def grid_spots(array: Grid, paths: LightPaths | None = None) -> list[Spot]:
    """Rows from the top, each from left to right, turned about the middle."""
    out = []
    for row in range(array.rows):
        moved = (0.25 if row % 2 else -0.25) if array.staggered and array.rows > 1 else 0.0
        for column in range(array.columns):
            dx = (column - (array.columns - 1) / 2 + moved) * array.pitch_x_mm
            dy = ((array.rows - 1) / 2 - row) * array.pitch_y_mm
            out.append((*about_middle(array, dx, dy), array.angle_deg))
    return out


def _handles(array: Grid, paths: LightPaths) -> list[Handle]:
    a = math.radians(array.angle_deg)
    # Half a step beyond the outer LEDs, which can be clicked themselves.
    half_w, half_h = array.columns / 2 * array.pitch_x_mm, array.rows / 2 * array.pitch_y_mm

    def across(x: float, y: float) -> tuple[float, float]:
        dx, dy = x - array.x_mm, y - array.y_mm
        return dx * math.cos(a) + dy * math.sin(a), -dx * math.sin(a) + dy * math.cos(a)

    def spread(x: float, y: float) -> Values:
        right, up = across(x, y)
        values: Values = {}
        if array.columns > 1:
            values["pitch_x_mm"] = round(max(0.2, 2 * right / array.columns), 2)
        if array.rows > 1:
            values["pitch_y_mm"] = round(max(0.2, 2 * up / array.rows), 2)
        return values

    def columns(x: float, y: float) -> Values:
        return {"columns": min(_MOST, max(1, round(2 * across(x, y)[0] / array.pitch_x_mm)))}

    def rows(x: float, y: float) -> Values:
        return {"rows": min(_MOST, max(1, round(-2 * across(x, y)[1] / array.pitch_y_mm)))}

    def turn(x: float, y: float) -> Values:
        return {"angle_deg": round(math.degrees(math.atan2(array.y_mm - y, array.x_mm - x)), 1)}

    out = middle_handle(array, paths)
    if array.rows * array.columns > 1:
        out.append(Handle("spacing", "drag the LEDs apart", *about_middle(array, half_w, half_h), spread))
    return [
        *out,
        Handle("columns", "drag for more or fewer columns", *about_middle(array, half_w, 0.0), columns),
        Handle("rows", "drag for more or fewer rows", *about_middle(array, 0.0, -half_h), rows),
        Handle("turn", "drag to turn the grid", *about_middle(array, -half_w - 0.5 * array.pitch_x_mm, 0.0), turn),
    ]


def _drawn(array: Grid, drawn: Sequence[tuple[float, float]]) -> Values:
    """Corner to corner: rows and columns are spread over that."""
    values, size = corner_to_corner(array, drawn)
    if size is None:
        return values
    for many, length, key in ((array.columns, size[0], "pitch_x_mm"), (array.rows, size[1], "pitch_y_mm")):
        if many > 1:
            values[key] = round(max(0.2, length / (many - 1)), 2)
    return {**values, "angle_deg": 0.0}


GRID = Kind(
    Grid,
    "grid",
    "A grid",
    "Grid “{array}”",
    "LEDs in rows and columns.",
    {
        "rows": COUNT(title="rows"),
        "columns": COUNT(title="columns"),
        "pitch_x_mm": PITCH(title="spacing in a row"),
        "pitch_y_mm": PITCH(title="spacing of rows"),
        "staggered": Param("flag", title="staggered"),
        **TURNED,
        **MIDDLE,
    },
    PLACED,
    grid_spots,
    _handles,
    in_the_middle,
    drawn=_drawn,
)
