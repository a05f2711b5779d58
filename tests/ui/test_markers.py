"""Time on the score in the window: strips that play several times, markers, a curve that is drawn."""

from __future__ import annotations

import pytest
from hand import Hand
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QInputDialog, QPushButton
from test_motion import drag, drawer, middle, motion, press, strips, until

from outlined_glow.core.project import Marker

__all__ = ["motion"]


def markers(hand: Hand) -> tuple[Marker, ...]:
    project = hand.window.session.project
    assert project is not None
    return project.motion.markers


def press_now(hand: Hand, text: str) -> None:
    """Press a link while it plays: the window is not at rest then."""
    [found] = [one for one in drawer(hand).findChildren(QPushButton) if one.text() == text]
    found.click()


def key(hand: Hand, one: Qt.Key) -> None:
    QTest.keyClick(hand.window.area.score, one)
    hand.settle()


def test_a_strip_plays_several_times_by_key_and_by_its_end(motion: Hand) -> None:
    press(motion, "Add a strip")
    score = motion.window.area.score
    key(motion, Qt.Key.Key_R)
    key(motion, Qt.Key.Key_R)
    [one] = strips(motion)
    assert (one.repeats, one.end_s) == (3, pytest.approx(3 * one.length_s))
    assert score.lanes.box(one).width() == pytest.approx(score.lanes.area.width() / 1.12, rel=0.01)
    drag(motion, middle(motion, 1, "end"), (-score.lanes.area.width() / 6, 0))
    [after] = strips(motion)
    assert after.repeats == 3
    assert after.length_s < 0.9 * one.length_s
    QTest.keyClick(motion.window.area.score, Qt.Key.Key_R, Qt.KeyboardModifier.ShiftModifier)
    motion.settle()
    assert strips(motion)[0].repeats == 2
    drawer(motion).strip.rows["repeats"].committed.emit(4)
    motion.settle()
    assert strips(motion)[0].repeats == 4


def test_markers_by_key_drag_and_in_their_card(motion: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    press(motion, "Add a strip")
    area, score = motion.window.area, motion.window.area.score
    score.scrubbed.emit(1.0)
    key(motion, Qt.Key.Key_P)
    assert markers(motion) == (Marker(name="mark 1", at_s=1.0),)
    flag = QPointF(score.lanes.x_of(1.0) + 3, score.lanes.area.top() - 6)
    score.scrubbed.emit(0.2)
    drag(motion, flag, (score.lanes.area.width() / 8, 0))
    [moved] = markers(motion)
    assert moved.at_s > 1.1
    assert score.time_s == pytest.approx(1.0, abs=0.01)
    drag(motion, QPointF(score.lanes.x_of(moved.at_s) + 3, score.lanes.area.top() - 6), (0, 0))
    assert markers(motion) == (moved,)
    area.score.scrubbed.emit(0.5)
    press(motion, "mark this moment")
    assert [one.name for one in markers(motion)] == ["mark 2", "mark 1"]
    monkeypatch.setattr(QInputDialog, "getText", lambda *args, **kwargs: ("dawn", True))
    press(motion, "name it…")
    assert markers(motion)[0] == Marker(name="dawn", at_s=0.5)
    card = drawer(motion).markers
    card.rows["at_s"].committed.emit(0.75)
    motion.settle()
    card.of.chosen.emit("dawn")
    assert score.time_s == pytest.approx(0.75)
    # The start of a strip is drawn to a marker.
    near = score.lanes.snapped(0.75 + 2 * score.lanes.span_s / score.lanes.area.width(), strips(motion)[0])
    assert near == pytest.approx(0.75)
    press(motion, "remove this marker")
    assert [one.name for one in markers(motion)] == ["mark 1"]


def test_a_curve_is_drawn_with_the_mouse_and_moved_with_keys(motion: Hand) -> None:
    press(motion, "Add a strip")
    card = drawer(motion).strip
    assert not card.curve.isVisibleTo(drawer(motion))
    card.way["pace"].chosen.emit("curve")
    motion.settle()
    curve = card.curve
    assert curve.isVisibleTo(drawer(motion))
    QTest.mouseClick(curve, Qt.MouseButton.LeftButton, pos=curve.spot_of((0.5, 0.8)).toPoint())
    motion.settle()
    assert len(strips(motion)[0].curve) == 3
    assert strips(motion)[0].curve[1] == pytest.approx((0.5, 0.8), abs=0.02)
    start = curve.spot_of(curve.points[1]).toPoint()
    QTest.mousePress(curve, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(curve, start + QPoint(12, 20))
    QTest.mouseRelease(curve, Qt.MouseButton.LeftButton, pos=start + QPoint(12, 20))
    motion.settle()
    x, y = strips(motion)[0].curve[1]
    assert x > 0.51
    assert y < 0.78
    QTest.keyClick(curve, Qt.Key.Key_Up)
    motion.settle()
    assert strips(motion)[0].curve[1][1] == pytest.approx(y + 0.05, abs=0.002)
    QTest.keyClick(curve, Qt.Key.Key_Delete)
    motion.settle()
    assert strips(motion)[0].curve == ((0.0, 0.0), (1.0, 1.0))
    QTest.keyClick(curve, Qt.Key.Key_Delete)  # the ends stay
    QTest.keyClick(curve, Qt.Key.Key_PageDown)
    QTest.keyClick(curve, Qt.Key.Key_Down)
    motion.settle()
    assert strips(motion)[0].curve == ((0.0, 0.0), (1.0, 0.95))


def test_scenes_have_signs_and_outlive_a_power_cut(motion: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    press(motion, "Add a strip")
    session, scenes, area = motion.window.session, drawer(motion).scenes, motion.window.area
    for at, name in enumerate(("day", "night")):
        session.edit("set-scene", {"name": name, "start_s": float(at), "length_s": 1.0})
    motion.settle()
    monkeypatch.setattr(QInputDialog, "getText", lambda *args, **kwargs: ("1,2", True))
    scenes.sign.chosen.emit("led")
    motion.settle()
    assert [one.leds for one in strips(motion) if one.sign_of] == [(1,), (2,)]
    assert scenes.sign.currentData() == "led"
    monkeypatch.setattr(QInputDialog, "getText", lambda *args, **kwargs: ("", False))
    scenes.sign.chosen.emit("colour")
    motion.settle()
    assert scenes.sign.currentData() == "led", "nothing was said of where"
    scenes.cut_rows["after"].chosen.emit("last")
    motion.settle()
    assert "keeps its number" in scenes.kept.text()
    session.edit("add-change", {"of": "day", "to": "night", "by": "time", "value": 0.05})
    motion.settle()
    area.toggle_play()
    until(lambda: scenes.now.text() == "night")
    press_now(motion, "cut the power")
    assert scenes.now.text() == "night"
    area.pause()
    scenes.cut_rows["after"].chosen.emit("first")
    motion.settle()
    area.toggle_play()
    until(lambda: scenes.now.text() == "night")
    press_now(motion, "cut the power")
    assert scenes.now.text() == "day"
    area.pause()
