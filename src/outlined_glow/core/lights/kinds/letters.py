"""Words of LEDs: on a square grid, where the letters cover enough of a cell."""

from __future__ import annotations

import numpy as np
import shapely

from ... import lettering
from ...geometry.prepared import prepared
from ...geometry.regions import box_at
from ...project import Letters, Param
from .drawing import as_high_as_drawn
from .kind import (
    MIDDLE,
    PITCH,
    PLACED,
    TURNED,
    Handle,
    Kind,
    LightPaths,
    Size,
    Spot,
    Values,
    about_middle,
    height_handle,
    in_the_middle,
    middle_handle,
)

#: An LED stands where letters cover so much of its cell.
_COVERED = 0.45


def letters_spots(array: Letters, paths: LightPaths | None = None) -> list[Spot]:
    """Row by row from the top, each from left to right, about the middle of the words."""
    words = lettering.text_region(array.text, array.height_mm, weight="bold")
    if words.is_empty:
        return []
    pitch = array.pitch_mm
    x0, y0, x1, y1 = words.bounds
    columns, rows = max(1, round((x1 - x0) / pitch)), max(1, round((y1 - y0) / pitch))
    x, y = np.meshgrid(np.arange(columns) - (columns - 1) / 2, (rows - 1) / 2 - np.arange(rows))
    at = np.column_stack((x.ravel() * pitch + (x0 + x1) / 2, y.ravel() * pitch + (y0 + y1) / 2))
    words = prepared(words)
    cells = np.array([box_at(cx, cy, pitch, pitch) for cx, cy in at])
    near = shapely.intersects(words, cells)
    share = np.zeros(len(at))
    share[near] = shapely.area(shapely.intersection(words, cells[near])) / pitch**2
    kept = at[share >= _COVERED] - ((x0 + x1) / 2, (y0 + y1) / 2)
    return [(*about_middle(array, float(dx), float(dy)), array.angle_deg) for dx, dy in kept]


def _begins(size: Size) -> Values:
    high = size[1]
    return {**in_the_middle(size), "text": "glow", "height_mm": round(high * 0.35, 1), "pitch_mm": round(high * 0.035, 2)}


def _handles(array: Letters, paths: LightPaths) -> list[Handle]:
    return [*middle_handle(array, paths), height_handle(array, "drag how high the letters are")]


LETTERS = Kind(
    Letters,
    "letters",
    "Letters",
    "Letters “{array}”",
    "Words of LEDs on a square grid: at nine LEDs to the height of a capital every letter can be told.",
    {
        "text": Param("text", title="words"),
        "height_mm": Param("quantity", "mm", 2, 500, title="capital height"),
        "pitch_mm": PITCH(title="spacing"),
        **TURNED,
        **MIDDLE,
    },
    (*PLACED, "text"),
    letters_spots,
    _handles,
    _begins,
    drawn=as_high_as_drawn,
    no_room="on its grid; space its LEDs nearer, or make its letters higher",
)
