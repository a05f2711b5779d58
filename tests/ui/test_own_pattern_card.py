"""Patterns of one's own in the window: written, changed, played, brought, saved, removed."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from hand import Hand
from PyQt6.QtWidgets import QFileDialog, QInputDialog
from test_motion import drawer, motion, press, strips

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
