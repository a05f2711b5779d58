"""A letter on the LEDs of a board: which of its pixels each LED shows, and what it becomes where one is painted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..project import Motion, Strip
from .lamps import Lamps
from .pixel_font import font_for
from .score import way_over
from .written import matrix

#: A letter has at most so many rows and columns.
MOST = 32


@dataclass(frozen=True, eq=False)
class GlyphCells:
    """The LEDs of a matrix that can show a letter: their places (n, 2), mm in the board frame; the column of each, from 0 at
    the left; its row, from 0 at the lowest one of the font."""

    places: NDArray[np.float64]
    columns: NDArray[np.intp]
    rows: NDArray[np.intp]

    @cached_property
    def apart_mm(self) -> float:
        """How far the nearest of its LEDs are from one another."""
        from scipy.spatial import cKDTree  # only who paints loads it

        return float(cKDTree(self.places).query(self.places, 2)[0][:, 1].min()) if len(self.places) > 1 else 1.0

    def nearest(self, x_mm: float, y_mm: float, within_mm: float) -> tuple[int, int] | None:
        """The column and the row of the LED nearest to a place, None where none lies `within_mm`."""
        far = np.hypot(self.places[:, 0] - x_mm, self.places[:, 1] - y_mm)
        at = int(far.argmin())
        return (int(self.columns[at]), int(self.rows[at])) if far[at] <= within_mm else None


def glyph_cells(motion: Motion, lamps: Lamps, strip: Strip | None) -> GlyphCells | None:
    """The matrix that letters are painted on: that of the strip in hand, else of the first strip of words, else all LEDs; None
    where they stand in no rows and columns."""
    words = [one for one in (strip, *motion.score) if one is not None and one.pattern == "words"]
    shown = words[0] if words else Strip(number=1)
    leds = way_over(shown, lamps).rows
    if not len(leds):
        return None
    row, column, rows, columns, (at, light) = matrix(lamps, leds)
    if rows < 2 or columns < 2:
        return None
    height = font_for(shown.font, rows, motion.glyphs).height
    lowest = max(0, (rows - height) // 2) + height - 1
    cells: dict[tuple[int, int], tuple[float, float]] = {}
    for x, up, led, one in zip(column.tolist(), (lowest - row).tolist(), at.tolist(), light.tolist(), strict=True):
        number = leds[led]
        block = len(lamps.light_names[number]) > 4
        if 0 <= up < MOST and x < MOST:
            cells[x, up] = tuple((lamps.light_places[number, one] if block else lamps.places[number]).tolist())
    if not cells:
        return None
    keys = np.array(list(cells), np.intp)
    return GlyphCells(np.array(list(cells.values()), float), keys[:, 0], keys[:, 1])


def resized(rows: Sequence[str], wide: int, high: int) -> tuple[str, ...]:
    """A letter in so many columns and rows: those are added, or cut off, at the right and at the top."""
    kept = [row[:wide].ljust(wide, ".") for row in rows[max(0, len(rows) - high) :]]
    return ("." * wide,) * (high - len(kept)) + tuple(kept)


def with_pixel(rows: Sequence[str], column: int, row: int, lit: bool) -> tuple[str, ...]:
    """A letter with a pixel lit or dark, its row from 0 at the lowest; a lit one beyond its edge makes it larger."""
    wide, high = max(map(len, rows), default=0), len(rows)
    if column >= wide or row >= high:
        if not lit:
            return tuple(rows)
        rows = resized(rows, max(wide, column + 1), max(high, row + 1))
    at = len(rows) - 1 - row
    line = rows[at]
    return (*rows[:at], line[:column] + ("#" if lit else ".") + line[column + 1 :], *rows[at + 1 :])


def is_lit(rows: Sequence[str], column: int, row: int) -> bool:
    """Whether a pixel of a letter is lit, its row from 0 at the lowest; beyond its edge all is dark."""
    return row < len(rows) and column < len(rows[-1 - row]) and rows[-1 - row][column] == "#"
