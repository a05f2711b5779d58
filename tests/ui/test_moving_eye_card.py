"""Slow motion and the swung board in the window."""

from __future__ import annotations

from pathlib import Path

import pytest
from hand import Hand
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QLabel
from test_motion import drawer, motion, press, until

__all__ = ["motion"]


def words_of(hand: Hand) -> str:
    return " ".join(one.text() for one in drawer(hand).eye.card.findChildren(QLabel))


def test_a_board_is_swung_and_played_slowly(motion: Hand, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    session, area, eye = motion.window.session, motion.window.area, drawer(motion).eye
    session.edit("drive", {"method": "shift-register", "supply": "usb"})
    motion.settle()
    until(lambda: not eye.picture.pixmap().isNull())
    until(lambda: "10 mm" in words_of(motion))
    assert "200 Hz" in words_of(motion)
    motion.type_in(eye.speed, "4")
    until(lambda: "20 mm" in words_of(motion))
    until(lambda: not [one for one in eye.card.findChildren(QLabel) if one.width() > drawer(motion).width()])
    motion.choose(eye.slower, "100")
    assert area.bench.span_s == pytest.approx(0.00033)
    motion.settle()
    area.toggle_play()
    began = area.bench.time_s or 0.0
    QTest.qWait(400)
    assert 0 < (area.bench.time_s or 0.0) - began < 0.05, "a hundred times slower"
    motion.choose(eye.slower, "1")
    assert area.bench.span_s is None
    began = area.bench.time_s or 0.0
    QTest.qWait(400)
    assert session.project is not None
    assert ((area.bench.time_s or 0.0) - began) % session.project.motion.seconds > 0.1
    area.stop()
    target = tmp_path / "swung.png"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *args, **kwargs: (str(target), ""))
    press(motion, "save the picture…")
    until(target.exists)
    assert target.read_bytes().startswith(b"\x89PNG")
