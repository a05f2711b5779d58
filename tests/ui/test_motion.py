"""The score in the window: strips are added, dragged, stretched, changed by keys, given LEDs, played and written."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from examples import small_picture
from hand import Hand
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QPushButton

from outlined_glow.core.project import Strip
from outlined_glow.ui.drawers.contact_button import ContactButton
from outlined_glow.ui.drawers.motion import MotionDrawer

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def motion(lit: Hand) -> Hand:
    """A sign with six LEDs, its Motion open."""
    lit.window.show_stage("motion")
    lit.settle()
    return lit


def drawer(hand: Hand) -> MotionDrawer:
    found = hand.window.drawer("motion")
    assert isinstance(found, MotionDrawer)
    return found


def strips(hand: Hand) -> tuple[Strip, ...]:
    project = hand.window.session.project
    assert project is not None
    return project.motion.score


def until(true: Callable[[], bool], seconds: float = 20.0) -> None:
    """Wait until something is so: how long that takes, a busy machine decides."""
    end = time.monotonic() + seconds
    while not true():
        assert time.monotonic() < end, "it never came"
        QTest.qWait(20)


def press(hand: Hand, text: str) -> None:
    """Press a button or a link of the drawer."""
    [found] = [one for one in drawer(hand).findChildren(QPushButton) if one.text() == text and one.isVisibleTo(drawer(hand))]
    found.click()
    hand.settle()


def middle(hand: Hand, number: int, part: str = "all") -> QPointF:
    """A place of a strip on the score."""
    box = hand.window.area.score.lanes.box(next(one for one in strips(hand) if one.number == number))
    x = {"all": box.center().x(), "end": box.right() - 2, "start": box.left() + 2}[part]
    return QPointF(x, box.center().y())


def drag(hand: Hand, start: QPointF, way: tuple[float, float]) -> None:
    score = hand.window.area.score
    QTest.mousePress(score, Qt.MouseButton.LeftButton, pos=start.toPoint())
    for step in range(1, 7):
        QTest.mouseMove(score, (start + QPointF(*way) * (step / 6)).toPoint())
    QTest.mouseRelease(score, Qt.MouseButton.LeftButton, pos=(start + QPointF(*way)).toPoint())
    hand.settle()


def test_a_strip_is_added_and_its_fields_change_it(motion: Hand) -> None:
    card = drawer(motion).strip
    assert not card.plays.isVisibleTo(drawer(motion))
    press(motion, "Add a strip")
    [one] = strips(motion)
    assert motion.window.area.score.strip == one.number == 1
    assert card.plays.isVisibleTo(drawer(motion))
    motion.choose(card.rows["pattern"], "wave")
    motion.type_in(card.rows["length_s"], "6 s")
    motion.type_in(card.rows["level"], "50 %")
    motion.type_in(card._keys["waves"], "3")
    motion.choose(card.way["along"], "line")
    motion.type_in(card.way["angle_deg"], "30")
    motion.type_in(card.rows["colour"], "ffa000")
    motion.choose(card.rows["palette"], "sea")
    [one] = strips(motion)
    assert (one.pattern, one.length_s, one.level, one.along, one.angle_deg) == ("wave", 6.0, 0.5, "line", 30.0)
    assert (one.keys, one.colour, one.palette) == ((("waves", 3.0),), "FFA000", "sea")
    assert "6 LEDs, along a line" in card.words.text()
    motion.type_in(card.leds, "1-3, 5")
    assert strips(motion)[0].leds == (1, 2, 3, 5)
    card.on.setFocus()
    motion.settle()
    card.show_work(motion.window.session.work)
    assert card.leds.text() == "1-3,5"
    motion.choose(card.on, "")
    assert strips(motion)[0].leds == ()


def test_a_strip_is_dragged_stretched_and_moved_to_another_row_each_one_step(motion: Hand) -> None:
    edit = motion.window.session.edit
    edit("add-strip", {"pattern": "chase", "length_s": 4.0})
    edit("add-strip", {"pattern": "wave", "length_s": 8.0, "start_s": 0.0})
    motion.settle()
    score, steps = motion.window.area.score, len(motion.window.session.history.steps)
    lanes = score.lanes
    second = lanes.x_of(1.0) - lanes.x_of(0.0)
    drag(motion, middle(motion, 1), (2.02 * second, 0))
    assert strips(motion)[0].start_s == pytest.approx(2.0, abs=0.11)
    assert len(motion.window.session.history.steps) == steps + 1
    second = lanes.x_of(1.0) - lanes.x_of(0.0)
    drag(motion, middle(motion, 1, "end"), (1.99 * second, 0))
    assert strips(motion)[0].end_s == 8.0, "it snaps to the end of the other strip"
    drag(motion, middle(motion, 1, "start"), (-0.9 * second, 0))
    assert strips(motion)[0].start_s == pytest.approx(1.1, abs=0.15)
    assert strips(motion)[0].end_s == pytest.approx(8.0, abs=1e-6)
    drag(motion, middle(motion, 2), (0, lanes.area.height() / 2))
    assert strips(motion)[1].row == 2, "the other row is taken at that time"
    edit("set-strip", {"number": 2, "length_s": 1.0})
    motion.settle()
    drag(motion, middle(motion, 1), (0, -lanes.area.height() / 2))
    assert strips(motion)[0].row == 2
    motion.window.session.undo()
    motion.settle()
    before = motion.window.session.project
    drag(motion, middle(motion, 1), (0, 0))
    assert motion.window.session.project is before, "a press alone changes nothing"
    drag(motion, middle(motion, 1), (-5000, 0))
    assert strips(motion)[0].start_s == 0.0


def test_keys_change_the_strip_in_hand(motion: Hand) -> None:
    press(motion, "Add a strip")
    score = motion.window.area.score
    score.setFocus()
    for key, modifier in ((Qt.Key.Key_Right, CTRL), (Qt.Key.Key_Right, SHIFT), (Qt.Key.Key_M, Qt.KeyboardModifier.NoModifier)):
        QTest.keyClick(score, key, modifier)
        motion.settle()
    [one] = strips(motion)
    beat = one.start_s
    assert beat > 0
    assert one.length_s > 2.0
    assert one.muted
    QTest.keyClick(score, Qt.Key.Key_Left, CTRL)
    motion.settle()
    assert strips(motion)[0].start_s == 0
    QTest.keyClick(score, Qt.Key.Key_D)
    motion.settle()
    assert [one.number for one in strips(motion)] == [1, 2]
    score.scrubbed.emit(1.0)
    QTest.keyClick(score, Qt.Key.Key_S)
    motion.settle()
    assert [(one.number, one.start_s) for one in strips(motion)][:2] == [(1, 0.0), (3, 1.0)]
    QTest.keyClick(score, Qt.Key.Key_Down)
    assert score.strip != 1
    QTest.keyClick(score, Qt.Key.Key_Delete)
    motion.settle()
    assert len(strips(motion)) == 2
    assert score.strip == 0
    press(motion, "twice as slow")
    assert strips(motion)[-1].period_s == 4.0
    press(motion, "clear the score")
    assert strips(motion) == ()


def test_the_links_of_a_strip_do_what_they_say(motion: Hand) -> None:
    press(motion, "Add a strip")
    press(motion, "copy it")
    press(motion, "mute it")
    assert strips(motion)[0].muted
    press(motion, "play it again")
    assert not strips(motion)[0].muted
    motion.window.area.score.scrubbed.emit(0.5)
    press(motion, "split it here")
    assert len(strips(motion)) == 3
    press(motion, "remove it")
    assert len(strips(motion)) == 2


def test_leds_drawn_round_on_the_bench_are_those_of_the_strip(motion: Hand) -> None:
    press(motion, "Add a strip")
    before = motion.see()
    work = motion.window.session.work
    led = work.leds[2]
    spot = motion.bench.camera.to_screen(led.x, led.y).toPoint()
    QTest.mouseClick(motion.bench, Qt.MouseButton.LeftButton, CTRL, spot)
    motion.settle()
    assert strips(motion)[0].leds == (led.index,)
    assert not np.array_equal(before, motion.see()), "the others have no number any more"


def test_the_bench_shows_what_is_wanted_or_what_the_leds_can_do(motion: Hand) -> None:
    motion.window.session.edit("set-pattern", {"pattern": "chase", "period_s": 6.0})
    motion.settle()
    motion.window.area.sun.set_sun(0.0)
    motion.window.area.score.scrubbed.emit(0.1)
    motion.settle()
    wanted = motion.see()
    drawer(motion).real.click()
    motion.settle()
    real = motion.see()
    assert real.mean() > wanted.mean() + 0.2, "one resistor each lights all of them"
    drawer(motion).real.click()
    motion.settle()
    assert np.abs(motion.see().astype(int) - wanted).max() <= 1


def test_flashes_are_bars_and_a_press_goes_there(motion: Hand) -> None:
    motion.window.session.edit("add-strip", {"pattern": "steady", "length_s": 3.0})
    motion.window.session.edit("add-strip", {"pattern": "blink", "period_s": 0.2, "start_s": 3.0, "length_s": 3.0})
    motion.settle()
    assert "flashes in the worst second; 3 are allowed" in drawer(motion).flash.text()
    bars = drawer(motion).bars
    assert len(bars._seconds) == 6
    assert max(bars._seconds[1:3]) < 3 < bars._seconds[4]
    motion.click(bars, QPoint(int(bars.width() * 4.5 / 6), 20))
    assert motion.bench.time_s == pytest.approx(4.0)
    bars.setFocus()
    motion.key(Qt.Key.Key_Return)
    assert motion.bench.time_s is not None
    assert 2.5 < motion.bench.time_s < 6.0


def test_a_table_is_written_from_the_window(motion: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    target = tmp_path / "levels.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *given, **named: (str(target), ""))
    press(motion, "Write a table…")
    assert target.read_text().startswith("# fps 50, bits 8, channels 1\n")


def test_a_score_that_lost_its_leds_and_a_long_one_are_shown(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    window: Any = hand.window
    window.show_stage("motion")
    for at in range(9):
        window.session.edit("add-strip", {"pattern": "flame", "start_s": 600.0 * at / 9, "length_s": 650.0, "group": ("gone",)})
    hand.settle()
    score = window.area.score
    assert score.height() > 214
    assert window.area.bench.bottom_margin == score.height()
    assert 3 < len(score.lanes.ticks()) < 9
    assert not score.lanes._picture(strips(hand)[0]).lit
    window.session.edit("clear-score", {})
    hand.settle()
    assert score.height() == 214


def test_words_and_what_follows_a_feed_are_set_in_the_window(
    motion: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    card, feeds = drawer(motion).strip, drawer(motion).feeds
    press(motion, "Add a strip")
    assert not card.rows["text"].isVisibleTo(drawer(motion))
    motion.choose(card.rows["pattern"], "gauge")
    press(motion, "make a feed")
    motion.type_in(feeds.rows["high"], "5")
    motion.settle()
    project = motion.window.session.project
    assert project is not None
    assert (project.motion.feeds[0].name, project.motion.feeds[0].high) == ("tide", 5.0)
    motion.window.area.score.scrubbed.emit(0.5)
    motion.settle()
    assert 0.4 <= float(feeds.now.text()) <= 5.0
    motion.choose(card.moves, "tide")
    motion.choose(card.dims, "tide")
    assert strips(motion)[0].bound == (("level", "tide"), ("value", "tide"))
    motion.choose(card.dims, "none")
    assert strips(motion)[0].bound == (("value", "tide"),)
    motion.choose(card.rows["pattern"], "words")
    assert card.rows["text"].isVisibleTo(drawer(motion))
    motion.type_in(card.rows["text"], "{tide:.1f}")
    motion.choose(card.rows["font"], "small-3x5")
    assert (strips(motion)[0].text, strips(motion)[0].font) == ("{tide:.1f}", "small-3x5")
    file = tmp_path / "water.csv"
    file.write_text("0,1\n5,2\n")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *given, **named: (str(file), ""))
    press(motion, "read one from a file…")
    project = motion.window.session.project
    assert project is not None
    assert [one.kind for one in project.motion.feeds] == ["tide", "recorded"]
    press_first = feeds.remove
    press_first.click()
    motion.settle()
    project = motion.window.session.project
    assert project is not None
    assert [one.name for one in project.motion.feeds] == ["tide"]


def asked(monkeypatch: pytest.MonkeyPatch, name: str) -> None:
    """Answer the next question for a name."""
    monkeypatch.setattr(QInputDialog, "getText", lambda *given, **named: (name, True))


def test_scenes_are_made_and_a_press_leads_from_one_to_another(motion: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    session, cards = motion.window.session, drawer(motion).scenes
    session.edit("add-strip", {"pattern": "steady", "length_s": 4.0})
    session.edit("add-strip", {"pattern": "steady", "level": 0.05, "start_s": 4.0, "length_s": 4.0})
    motion.settle()
    for name, start in (("bright", "0"), ("dim", "4")):
        asked(monkeypatch, name)
        press(motion, "make a scene…")
        motion.type_in(cards.scene_rows["start_s"], start)
        motion.type_in(cards.scene_rows["length_s"], "4")
        motion.settle()
    asked(monkeypatch, "key")
    press(motion, "add a button…")
    motion.type_in(cards.button_rows["long_s"], "0.3")
    motion.settle()
    for start, end, by in (("bright", "dim", "short"), ("dim", "bright", "long"), ("any", "off", "double")):
        motion.choose(cards.start, start)
        motion.choose(cards.end, end)
        motion.choose(cards.by, by)
        press(motion, "add this change")
    project = session.project
    assert project is not None
    assert [(one.of, one.to, one.by, one.button) for one in project.motion.changes] == [
        ("bright", "dim", "short", "key"), ("dim", "bright", "long", "key"), ("", "", "double", "key"),
    ]  # fmt: skip
    [contact] = drawer(motion).findChildren(ContactButton)
    assert cards.map.isVisibleTo(drawer(motion))
    motion.click(cards.map, QPoint(cards.map.width() // 2, 3 + 15))
    assert cards.of.currentData() == "bright"
    motion.click(cards.map, QPoint(cards.map.width() // 2, 3 + 45))
    assert cards.of.currentData() == "dim"
    motion.window.area.sun.set_sun(0.0)
    seen: list[str] = []
    motion.window.area.scene_changed.connect(seen.append)
    motion.window.area.toggle_play()
    until(lambda: seen[-1:] == ["bright"])
    QTest.mouseClick(contact, Qt.MouseButton.LeftButton)
    until(lambda: seen[-1] == "dim")
    QTest.mousePress(contact, Qt.MouseButton.LeftButton)
    until(lambda: seen[-1] == "bright")  # a long press counts as soon as it is long enough
    QTest.mouseRelease(contact, Qt.MouseButton.LeftButton)
    QTest.qWait(100)
    assert seen[-1] == "bright", "its end is no short one"
    QTest.mouseClick(contact, Qt.MouseButton.LeftButton)
    QTest.mouseClick(contact, Qt.MouseButton.LeftButton)
    until(lambda: seen[-1] == "off")
    assert motion.bench.dark
    motion.window.area.stop()
    motion.settle()
    assert not motion.bench.dark


def test_scenes_buttons_and_changes_are_renamed_and_removed(motion: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    session, cards = motion.window.session, drawer(motion).scenes
    session.edit("add-strip", {"pattern": "steady", "length_s": 4.0})
    session.edit("set-scene", {"name": "one"})
    session.edit("add-button", {"name": "key"})
    session.edit("add-change", {"of": "one", "to": "off", "by": "short"})
    motion.settle()
    asked(monkeypatch, "two")
    press(motion, "rename it…")
    project = session.project
    assert project is not None
    assert project.motion.changes[0].of == "two"
    motion.choose(cards.scene_rows["then"], "hold")
    press(motion, "two → off: a short press of key")
    press(motion, "remove this button")
    press(motion, "remove this scene")
    project = session.project
    assert project is not None
    assert (project.motion.scenes, project.motion.buttons, project.motion.changes) == ((), (), ())


def test_a_picture_is_brought_from_the_window(motion: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    file = tmp_path / "dots.png"
    file.write_bytes(small_picture())
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *given, **named: (str(file), ""))
    press(motion, "bring a picture or film…")
    [one] = strips(motion)
    assert (one.pattern, one.length_s) == ("picture", 5.0)
    assert motion.window.area.score.lanes._picture(one).image.width() > 0


def test_what_the_leds_can_do_is_taken_in_one_step(motion: Hand) -> None:
    motion.window.session.edit("add-strip", {"pattern": "wave", "length_s": 4.0})
    motion.settle()
    steps = len(motion.window.session.history.steps)
    near = drawer(motion).near
    assert near.isVisibleTo(drawer(motion))
    assert "steady" in drawer(motion).near_words.text()
    assert "% of it" in drawer(motion).near_words.text()
    near.click()
    motion.settle()
    assert strips(motion) == ()
    assert len(motion.window.session.history.steps) == steps + 1
    project = motion.window.session.project
    assert project is not None
    assert project.motion.is_steady
    assert not near.isVisibleTo(drawer(motion))


def test_a_stretch_is_played_again_and_again(motion: Hand) -> None:
    motion.window.session.edit("add-strip", {"pattern": "chase", "length_s": 10.0})
    motion.settle()
    area, score = motion.window.area, motion.window.area.score
    y = int(score.lanes.area.center().y())
    start, end = (QPoint(int(score.lanes.x_of(at)), y) for at in (4.0, 4.4))
    QTest.mousePress(score, Qt.MouseButton.LeftButton, SHIFT, start)
    QTest.mouseMove(score, end)
    QTest.mouseRelease(score, Qt.MouseButton.LeftButton, SHIFT, end)
    assert score.loop == (pytest.approx(4.0, abs=0.05), pytest.approx(4.4, abs=0.05))
    area.toggle_play()
    seen: list[float] = []
    until(lambda: seen.append(motion.bench.time_s or 0.0) or len({round(one, 2) for one in seen if one}) > 5)
    area.pause()
    assert all(3.9 <= one <= 4.5 for one in seen if one)
    QTest.mouseClick(score, Qt.MouseButton.LeftButton, SHIFT, start)
    assert score.loop is None
    QTest.mousePress(score, Qt.MouseButton.LeftButton, SHIFT, start)
    QTest.mouseMove(score, end)
    QTest.mouseRelease(score, Qt.MouseButton.LeftButton, SHIFT, end)
    motion.window.session.edit("set-strip", {"number": 1, "length_s": 2.0})
    motion.settle()
    assert score.loop is None, "it is no longer there"
