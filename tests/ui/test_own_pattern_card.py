"""Cards of the motion: patterns of one's own; slow motion and the swung board."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from hand import Hand
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QLabel
from test_motion import drawer, motion, press, strips, until

__all__ = ["motion"]


def test_a_pattern_is_written_played_saved_and_brought(motion: Hand, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    session, card = motion.window.session, drawer(motion).patterns
    troubles: list[str] = []
    session.trouble.connect(troubles.append)
    assert not card.rows.rows["level"].isVisibleTo(drawer(motion))
    monkeypatch.setattr(QInputDialog, "getText", lambda *args, **kwargs: ("my glow", True))
    press(motion, "write a pattern…")
    assert session.project is not None
    assert session.project.motion.patterns[0].name == "my glow"
    motion.type_in(card.rows["level"], "phase * speed")
    motion.settle()
    assert "my glow" in troubles[-1], "it reads a number that it does not have"
    motion.type_in(card.rows["keys"], "speed=1:0:2")
    motion.type_in(card.rows["level"], "phase * speed")
    motion.settle()
    assert session.project.motion.patterns[0].level == "phase * speed"
    press(motion, "Add a strip")
    strip = drawer(motion).strip
    strip.rows["pattern"].chosen.emit("my glow")
    motion.settle()
    assert strips(motion)[0].pattern == "my glow"
    assert "speed" in strip._keys
    motion.type_in(strip.rows["shades"], "FF0000 0000FF")
    motion.settle()
    assert strips(motion)[0].palette == "FF0000 0000FF"
    assert strip.rows["shades"].text() == "FF0000 0000FF"
    press(motion, "remove this pattern")
    assert "played by strip 1" in troubles[-1]
    target = tmp_path / "glows.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *args, **kwargs: (str(target), ""))
    press(motion, "save them as a file…")
    content = json.loads(target.read_text())
    assert content["patterns"]["my glow"]["level"] == "phase * speed"
    content["patterns"]["other glow"] = {"level": "1 - phase"}
    target.write_text(json.dumps(content))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *args, **kwargs: (str(target), ""))
    press(motion, "bring patterns…")
    assert [one.name for one in session.project.motion.patterns] == ["my glow", "other glow"]
    card.of.chosen.emit("other glow")
    press(motion, "remove this pattern")
    assert [one.name for one in session.project.motion.patterns] == ["my glow"]


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
