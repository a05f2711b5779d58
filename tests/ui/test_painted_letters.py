"""Letters painted in the window, and what the words then show."""

from __future__ import annotations

import pytest
from hand import Hand
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QInputDialog
from test_motion import drawer, motion, press

__all__ = ["motion"]


def test_a_letter_is_painted_with_mouse_and_keys_resized_and_removed(motion: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    session, card = motion.window.session, drawer(motion).glyphs
    assert session.project is not None
    assert not card.field.isVisibleTo(drawer(motion))
    troubles: list[str] = []
    session.trouble.connect(troubles.append)
    monkeypatch.setattr(QInputDialog, "getText", lambda *args, **kwargs: ("ab", True))
    press(motion, "paint a letter…")
    assert "One letter" in troubles[-1]
    monkeypatch.setattr(QInputDialog, "getText", lambda *args, **kwargs: ("♥", True))
    press(motion, "paint a letter…")
    [one] = session.project.motion.glyphs
    assert (one.letter, len(one.rows)) == ("♥", 7)
    field = card.field
    assert field.isVisibleTo(drawer(motion))
    before = field.rows
    # A drag over three pixels of a row is one step.
    steps = len(session.history.all_steps())
    row = 3
    QTest.mousePress(field, Qt.MouseButton.LeftButton, pos=field.spot_of(0, row).toPoint())
    for column in (1, 2):
        QTest.mouseMove(field, field.spot_of(column, row).toPoint())
    QTest.mouseRelease(field, Qt.MouseButton.LeftButton, pos=field.spot_of(2, row).toPoint())
    motion.settle()
    assert session.project.motion.glyphs[0].rows[row][:3] == "###"
    assert len(session.history.all_steps()) == steps + 1
    session.undo()
    motion.settle()
    assert field.rows == before
    field.setFocus()
    for key in (Qt.Key.Key_Up,) * 9 + (Qt.Key.Key_Left,) * 9 + (Qt.Key.Key_Right, Qt.Key.Key_Space):
        QTest.keyClick(field, key)
    motion.settle()
    assert session.project.motion.glyphs[0].rows[0][1] == "#"
    motion.type_in(card.wide, "8")
    motion.settle()
    assert len(session.project.motion.glyphs[0].rows[0]) == 8
    motion.type_in(card.high, "5")
    motion.settle()
    assert len(session.project.motion.glyphs[0].rows) == 5
    motion.click(card.remove)
    motion.settle()
    assert session.project.motion.glyphs == ()


def test_a_letter_is_painted_on_the_leds_of_the_board(motion: Hand) -> None:
    window, session = motion.window, motion.window.session
    assert session.work is not None
    x, y = (span / 2 for span in session.work.board.size)
    session.edit("grid", {"array": "matrix", "x_mm": x, "y_mm": y, "rows": 7, "columns": 6, "pitch_x_mm": 3, "pitch_y_mm": 3})
    session.edit("add-strip", {"pattern": "words", "text": "♥", "array": ("matrix",), "length_s": 2.0})
    drawer(motion).edit("set-glyph", letter="♥", rows="#.. ###")
    motion.settle()
    card, bench = drawer(motion).glyphs, window.area.bench
    motion.click(card.on_board)
    motion.settle()
    cells = bench.glyph.cells
    assert len(cells.rows) == 42
    spots = {
        (column, row): bench.screen_of(*place).toPoint()
        for place, column, row in zip(cells.places.tolist(), cells.columns.tolist(), cells.rows.tolist(), strict=True)
    }
    bright = bench.grab().toImage().pixelColor(spots[0, 0])
    dark = bench.grab().toImage().pixelColor(spots[2, 1])
    assert bright.lightness() > dark.lightness() + 60
    steps = len(session.history.all_steps())
    # A drag over LEDs lights what it goes over, beyond the letter too, and is one step.
    QTest.mousePress(bench, Qt.MouseButton.LeftButton, pos=spots[2, 1])
    for at in ((3, 1), (3, 2)):
        QTest.mouseMove(bench, spots[at])
    QTest.mouseRelease(bench, Qt.MouseButton.LeftButton, pos=spots[3, 2])
    motion.settle()
    assert session.project is not None
    assert session.project.motion.glyphs[0].rows == ("...#", "#.##", "###.")
    assert len(session.history.all_steps()) == steps + 1
    session.undo()
    motion.settle()
    assert bench.glyph.rows == ("#..", "###")
    bench.setFocus()
    QTest.keyClick(bench, Qt.Key.Key_Escape)
    motion.settle()
    assert not card.on_board.isChecked()
    view = bench.camera
    QTest.mousePress(bench, Qt.MouseButton.LeftButton, pos=spots[2, 1])
    QTest.mouseMove(bench, spots[3, 1])
    QTest.mouseRelease(bench, Qt.MouseButton.LeftButton, pos=spots[3, 1])
    assert bench.camera != view  # it moves the view again
    assert session.project.motion.glyphs[0].rows == ("#..", "###")
    drawer(motion).edit("remove-array", array="matrix")
    motion.settle()
    assert not card.on_board.isEnabled()
