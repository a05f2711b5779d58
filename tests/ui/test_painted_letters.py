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
