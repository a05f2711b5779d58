"""Grids: LEDs in rows and columns."""

from __future__ import annotations

from ...project import Grid
from .kind import COUNT, MIDDLE, PITCH, PLACED, TURNED, Kind, LightPaths, Spot, about_middle, in_the_middle, middle_handle


def grid_spots(array: Grid, paths: LightPaths | None = None) -> list[Spot]:
    """Rows from the top, each from left to right, turned about the middle."""
    out = []
    for row in range(array.rows):
        for column in range(array.columns):
            dx = (column - (array.columns - 1) / 2) * array.pitch_x_mm
            dy = ((array.rows - 1) / 2 - row) * array.pitch_y_mm
            out.append((*about_middle(array, dx, dy), array.angle_deg))
    return out


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
        **TURNED,
        **MIDDLE,
    },
    PLACED,
    grid_spots,
    middle_handle,
    in_the_middle,
)
