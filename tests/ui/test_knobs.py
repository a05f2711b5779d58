"""Knobs in the window: turned in the drawer, seen at once, kept when they are let go; what follows them."""

from __future__ import annotations

from pathlib import Path

import pytest
from examples import small_picture
from hand import Hand
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog
from test_motion import drawer, motion, press, strips, until

from outlined_glow.core.project import Feed
from outlined_glow.ui.drawers import films

__all__ = ["motion"]


def feed_of(hand: Hand) -> Feed:
    project = hand.window.session.project
    assert project is not None
    return project.motion.feeds[-1]


def test_a_knob_is_turned_and_what_follows_it_is_seen(motion: Hand) -> None:
    press(motion, "Add a strip")
    press(motion, "make a feed")
    feeds, card, area = drawer(motion).feeds, drawer(motion).strip, motion.window.area
    assert not feeds.knob.isVisibleTo(drawer(motion))
    feeds.rows["kind"].chosen.emit("knob")
    motion.settle()
    assert feeds.knob.isVisibleTo(drawer(motion))
    assert not feeds.rows.rows["period_s"].isVisibleTo(drawer(motion))
    area.score.choose(strips(motion)[0].number)
    card.dims.chosen.emit("tide")
    motion.settle()
    card.paced.chosen.emit("tide")
    motion.settle()
    assert dict(strips(motion)[0].bound) == {"level": "tide", "pace": "tide"}
    y = feeds.knob.height() // 2
    QTest.mousePress(feeds.knob, Qt.MouseButton.LeftButton, pos=QPoint(20, y))
    for x in (40, 60, feeds.knob.width() - 9):
        QTest.mouseMove(feeds.knob, QPoint(x, y))
    assert area.bench.by_hand is not None
    assert area.bench.by_hand.feeds[-1].at > 0.99
    assert feed_of(motion).at == 0.5, "it is still in the hand"
    QTest.mouseRelease(feeds.knob, Qt.MouseButton.LeftButton, pos=QPoint(feeds.knob.width() - 9, y))
    motion.settle()
    until(lambda: area.bench.by_hand is None)
    assert feed_of(motion).at == 1.0
    QTest.keyClick(feeds.knob, Qt.Key.Key_Left)
    motion.settle()
    assert feed_of(motion).at == 0.98
    feeds.rows["kind"].chosen.emit("encoder")
    motion.settle()
    feeds.rows["detents"].committed.emit(3)
    motion.settle()
    QTest.mouseClick(feeds.knob, Qt.MouseButton.LeftButton, pos=QPoint(feeds.knob.width() // 2 + 12, y))
    motion.settle()
    assert (feed_of(motion).detents, feed_of(motion).at) == (3, 0.5)


def test_a_knob_leads_from_scene_to_scene_while_it_is_turned(motion: Hand) -> None:
    session, area, feeds = motion.window.session, motion.window.area, drawer(motion).feeds
    for name, values in (
        ("add-strip", {"pattern": "steady", "length_s": 4.0}), ("set-feed", {"name": "mood", "kind": "knob", "at": 0.0}),
        ("set-scene", {"name": "calm", "length_s": 2.0}), ("set-scene", {"name": "wild", "start_s": 2.0, "length_s": 2.0}),
        ("add-change", {"of": "calm", "to": "wild", "by": "over", "feed": "mood", "value": 0.7}),
    ):  # fmt: skip
        assert session.edit(name, values)
    motion.settle()
    told: list[str] = []
    area.scene_changed.connect(told.append)
    area.toggle_play()
    until(lambda: "calm" in told)
    y, right = feeds.knob.height() // 2, feeds.knob.width() - 9
    QTest.mousePress(feeds.knob, Qt.MouseButton.LeftButton, pos=QPoint(20, y))
    QTest.mouseMove(feeds.knob, QPoint(right, y))
    until(lambda: told[-1] == "wild")
    QTest.mouseRelease(feeds.knob, Qt.MouseButton.LeftButton, pos=QPoint(right, y))
    motion.settle()
    until(lambda: area.bench.by_hand is None)
    told.clear()
    until(lambda: len(told) > 3)
    assert set(told) == {"wild"}, "it goes on where it is, though the knob is another one now"
    assert session.edit("set-scene", {"name": "calm", "length_s": 1.5})
    until(lambda: told[-1] == "calm")  # with other scenes it begins anew
    area.pause()


def test_how_a_value_is_read_is_told_and_a_colour_follows_it(motion: Hand) -> None:
    press(motion, "Add a strip")
    press(motion, "make a feed")
    feeds, card = drawer(motion).feeds, drawer(motion).strip
    assert not card._tinted_row.isVisibleTo(drawer(motion)), "there is no palette"
    card.rows["palette"].chosen.emit("rainbow")
    motion.settle()
    assert card._tinted_row.isVisibleTo(drawer(motion))
    card.tinted.chosen.emit("tide")
    for key, value in (("noise", 0.02), ("bits", 10), ("smooth_s", 1.5), ("dead_band", 0.2)):
        feeds.read_rows[key].committed.emit(value)
        motion.settle()
    one = feed_of(motion)
    assert (one.noise, one.bits, one.smooth_s, one.dead_band) == (0.02, 10, 1.5, 0.2)
    assert dict(strips(motion)[0].bound) == {"colour": "tide"}
    assert not feeds.read_rows.rows["timeout_s"].isVisibleTo(drawer(motion)), "only what is recorded can be too old"


def test_no_frame_takes_more_than_it_may(motion: Hand) -> None:
    press(motion, "Add a strip")
    card, score = drawer(motion), motion.window.area.score
    before = max(score._curve)
    assert not score._wanted
    assert not card.limit.rows["over"].isVisibleTo(card)
    work = motion.window.session.work
    assert work is not None
    card.limit["limit_a"].committed.emit(work.plan.current_a * before / 2)
    motion.settle()
    assert max(score._curve) < 0.51 * before
    assert max(score._wanted) == before
    assert card.limit.rows["over"].isVisibleTo(card)
    card.limit["over"].chosen.emit("clip")
    motion.settle()
    project = motion.window.session.project
    assert project is not None
    assert project.motion.over == "clip"


def test_the_light_that_is_left_is_shown_on_the_board(motion: Hand) -> None:
    window = motion.window
    window.session.edit("set-supply", {"supply": "coin-2032"})
    motion.settle()
    rail = drawer(motion).rail
    assert rail._charge_row.isVisibleTo(drawer(motion))
    assert window.area.bench.rail is None
    motion.click(rail.shown)
    until(lambda: window.area.bench.rail is not None)
    full = window.area.bench.rail.mean()
    QTest.mouseClick(rail.charge, Qt.MouseButton.LeftButton, pos=QPoint(12, rail.charge.height() // 2))
    assert window.area.bench.rail.mean() < 0.7 * full
    assert window.area.bench._request().rail is not None
    window.show_stage("lights")
    motion.settle()
    assert window.area.bench._request().rail is None, "it belongs to Motion"
    window.show_stage("motion")
    motion.settle()
    motion.click(rail.shown)
    assert window.area.bench.rail is None


def test_films_and_contact_sheets_are_written_and_slides_brought(
    motion: Hand, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    session = motion.window.session
    session.edit("set-purpose", {"distance_m": 0.1})
    session.edit("set-pattern", {"pattern": "blink", "period_s": 0.2})
    motion.settle()
    asked: list[str] = []
    monkeypatch.setattr(films, "ask", lambda host, words, answers: asked.append(words) or len(answers) - 1)
    target = tmp_path / "a.gif"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *args, **kwargs: (str(target), ""))
    press(motion, "write a film…")
    assert "flashes" in asked[0], "what is not safe is told before it is written"
    assert not target.exists()
    session.edit("set-pattern", {"pattern": "breathe", "period_s": 1.0})
    motion.settle()
    press(motion, "write a film…")
    until(target.exists, 60)
    with Image.open(target) as film:
        assert film.n_frames > 5  # type: ignore[attr-defined]
    target = tmp_path / "m.png"
    press(motion, "write a contact sheet…")
    until(target.exists, 60)
    for at in (1, 2):
        (tmp_path / f"s{at}.png").write_bytes(small_picture())
    names = [str(tmp_path / f"s{at}.png") for at in (2, 1)]
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *args, **kwargs: (names, ""))
    press(motion, "bring pictures in a row…")
    [strip] = strips(motion)
    assert strip.film.endswith("s1-2.png")
    assert dict(strip.keys) == {"fade": 0.3}


def test_a_sensor_dims_the_board_and_hunting_is_told(motion: Hand) -> None:
    press(motion, "Add a strip")
    ambient = drawer(motion).ambient
    assert not ambient.card.isVisibleTo(drawer(motion))
    press(motion, "make a feed")
    assert ambient.card.isVisibleTo(drawer(motion))
    ambient.feed.chosen.emit("tide")
    motion.settle()
    for key, value in (
        ("map", "linear"),
        ("bright_lx", 100.0),
        ("floor", 0.0),
        ("falls", True),
        ("own_lx", 200.0),
        ("smooth_s", 0.0),
    ):
        ambient.rows[key].committed.emit(value) if hasattr(ambient.rows[key], "committed") else None
        if key == "map":
            ambient.rows[key].chosen.emit(value)
        if key == "falls":
            motion.click(ambient.rows[key])
        motion.settle()
    project = motion.window.session.project
    assert project is not None
    one = project.motion.ambient
    assert (one.feed, one.map, one.bright_lx, one.falls, one.own_lx) == ("tide", "linear", 100.0, True, 200.0)
    assert ambient.now.text().endswith("%")
    until(lambda: any(one.code == "ambient-hunts" for one in motion.window.session.findings))
    ambient.feed.chosen.emit("none")
    motion.settle()
    assert not ambient.rows.rows["floor"].isVisibleTo(drawer(motion))


def test_a_score_is_softened_in_its_card(motion: Hand) -> None:
    session = motion.window.session
    session.edit("set-pattern", {"pattern": "blink", "period_s": 1.0})
    motion.settle()
    motion.type_in(drawer(motion).soft["soft_s"], "0.4")
    motion.settle()
    assert session.project is not None
    assert session.project.motion.soft_s == 0.4
    curve = motion.window.area.score._curve
    assert any(0.2 < value / max(curve) < 0.8 for value in curve), "the current goes over too"
