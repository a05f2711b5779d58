"""Letters on the LEDs of a matrix: which pixel lies where, and what painting makes of it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from plates import plate

from outlined_glow.core.motion.glyph_cells import glyph_cells, is_lit, resized, with_pixel
from outlined_glow.core.motion.lamps import plain_lamps
from outlined_glow.core.motion.score import levels
from outlined_glow.core.project import Glyph, Motion, Strip
from outlined_glow.core.workshop import Compiler

_HEART = (".#.#.", "#####", "#####", ".###.", "..#..")


def square(columns: int, rows: int) -> np.ndarray:
    """Places of a matrix, left to right from the top."""
    return np.array([(4.0 * x, 4.0 * (rows - 1 - y)) for y in range(rows) for x in range(columns)])


def test_what_is_painted_on_an_led_is_what_that_led_shows() -> None:
    for columns, rows, font in ((9, 7, "plain-5x7"), (8, 9, "plain-5x7"), (12, 12, "plain-7x11"), (6, 6, "plain-3x5")):
        glyph = Glyph(letter="♥", rows=_HEART)
        lamps = replace(plain_lamps(square(columns, rows), ("g",) * (columns * rows)), glyphs=(glyph,))
        strip = Strip(number=1, pattern="words", text="♥", font=font, keys=(("speed", 0.0),), length_s=2.0)
        motion = Motion(score=(strip,), glyphs=(glyph,))
        shown = levels(motion, lamps, [0.5])[0, :, 0] > 0.5
        # It stands in the middle; painting has it at the left.
        first = (columns - 5) // 2
        cells = glyph_cells(motion, lamps, None)
        assert cells is not None
        lit = {(x - first, y) for x, y in cells_of_places(cells, lamps.places[shown])}
        assert lit == {(x, y) for x in range(5) for y in range(5) if is_lit(_HEART, x, y)}


def cells_of_places(cells: object, places: np.ndarray) -> list[tuple[int, int]]:
    found = [cells.nearest(x, y, 0.5) for x, y in places.tolist()]  # type: ignore[attr-defined]
    assert None not in found
    return found


def test_what_stands_in_no_rows_and_columns_is_not_painted_on() -> None:
    row = plain_lamps(square(9, 1), ("g",) * 9)
    assert glyph_cells(Motion(), row, None) is None
    assert glyph_cells(Motion(), plain_lamps(np.zeros((0, 2)), ()), None) is None
    cells = glyph_cells(Motion(), plain_lamps(square(4, 5), ("g",) * 20), None)
    assert cells is not None
    assert cells.nearest(100.0, 100.0, 3.0) is None
    assert cells.apart_mm == 4.0


_LETTERS = st.integers(1, 6).flatmap(lambda wide: st.lists(st.text("#.", min_size=wide, max_size=wide), min_size=1, max_size=6))


@given(_LETTERS, st.integers(0, 8), st.integers(0, 8), st.booleans())
def test_a_pixel_changes_and_no_other_one(rows: list[str], column: int, row: int, lit: bool) -> None:
    made = with_pixel(rows, column, row, lit)
    assert is_lit(made, column, row) == lit
    assert len({len(line) for line in made}) == 1
    for x in range(9):
        for y in range(9):
            if (x, y) != (column, row):
                assert is_lit(made, x, y) == is_lit(rows, x, y)


@given(_LETTERS, st.integers(1, 8), st.integers(1, 8))
def test_a_letter_of_another_size_keeps_its_lower_left(rows: list[str], wide: int, high: int) -> None:
    made = resized(rows, wide, high)
    assert len(made) == high
    assert all(len(line) == wide for line in made)
    for x in range(wide):
        for y in range(high):
            assert is_lit(made, x, y) == is_lit(rows, x, y)


def test_the_lights_of_a_dot_block_are_painted_on() -> None:
    project = plate(
        ("set-shape", {"base": "rectangle", "width_mm": 60.0, "height_mm": 60.0}),
        ("single", {"array": "b", "x_mm": 22.0, "y_mm": 15.0, "emitter": "dots 5 x 7 row anode red"}),
    )
    work = Compiler().compile(project)
    cells = glyph_cells(project.motion, work.lamps, None)
    assert cells is not None
    assert len(cells.rows) == 35
    middle = np.array([work.leds[0].x, work.leds[0].y]) - work.board.origin
    assert cells.places.min(axis=0) == pytest.approx(middle - np.array([4.8, 7.2]))
    x, y = middle.tolist()
    assert cells.nearest(x + 4.8, y + 7.2, 0.1) == (4, 6)
