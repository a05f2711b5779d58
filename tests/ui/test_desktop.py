"""A citizen of the desktop: actions, keys, names, fields, messages, memory."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from pathlib import Path

import pytest
from hand import Hand
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QColor, QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLineEdit, QWidget
from pytestqt.qtbot import QtBot

from outlined_glow.core.errors import Trouble
from outlined_glow.core.project import edits
from outlined_glow.core.stages import stages
from outlined_glow.ui.bench.camera import Camera
from outlined_glow.ui.bench.rulers import steps
from outlined_glow.ui.bench.sun import SunSlider
from outlined_glow.ui.edit_fields import field_of
from outlined_glow.ui.fields import Choice, QuantityField, Switch
from outlined_glow.ui.jobs import Jobs
from outlined_glow.ui.recent import read_state, recent_files, remember_file, state_written, write_state
from outlined_glow.ui.theme import DUSK, PAPER, THEMES
from outlined_glow.ui.widgets import ElidedLabel


def test_every_action_has_words_a_tip_and_a_key_of_its_own(start: Hand) -> None:
    actions = start.window.actions_.by_name
    keys = [action.shortcut().toString() for action in actions.values()]
    assert all(keys)
    assert len(set(keys)) == len(keys)
    for action in actions.values():
        assert action.text()
        assert action.shortcut().toString() in action.toolTip() or "Ctrl" in action.toolTip() or "(" in action.toolTip()


def test_without_a_board_only_what_works_can_be_pressed(start: Hand) -> None:
    actions = start.window.actions_.by_name
    enabled = {name for name, action in actions.items() if action.isEnabled()}
    assert enabled == {"open", "paste", "quit", "night", "theme", "keys", "settings", "library", "calculators"}
    start.window.show_stage("lights")
    assert start.window.centre.currentWidget() is start.window.start
    before = start.window.start.sun.sun
    start.key(Qt.Key.Key_N)
    assert start.window.start.sun.sun != before


def focusable(root: QWidget) -> list[QWidget]:
    out = []
    for widget in root.findChildren(QWidget):
        if widget.isVisibleTo(root) and widget.focusPolicy() & Qt.FocusPolicy.TabFocus:
            out.append(widget)
    return out


def test_everything_one_can_reach_by_tab_has_a_name(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    nameless = []
    for stage in (None, *(one.key for one in stages())):
        if stage:
            hand.window.show_stage(stage)
            hand.settle()
        for widget in focusable(hand.window):
            text = widget.text() if isinstance(widget, QAbstractButton) else ""
            if not (widget.accessibleName() or text):
                nameless.append((stage, type(widget).__name__, widget.objectName()))
    assert nameless == []


def test_every_stage_has_a_bulb_a_drawer_and_a_key(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    string = hand.window.string
    for stage in stages():
        hand.click(string.bulbs[stage.key])
        assert hand.window.stage == stage.key
        assert hand.window.drawer(stage.key).title == stage.title
    assert string.bulbs["order"].accessibleName() == "8 Order: stops the order, open"
    string.bulbs["order"].setFocus()
    hand.key(Qt.Key.Key_Up)
    assert hand.window.stage == "motion"
    assert string.bulbs["motion"].hasFocus()


def test_no_drawer_is_wider_than_its_place_even_with_long_words(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    window = hand.window
    window.session.edit("rename", {"name": "Eine ausserordentlich lange Bezeichnung für ein kleines Abzeichen, 2. Fassung"})
    window.session.edit("single", {"array": "a name that goes on and on and does not want to end", "x_mm": 20.0, "y_mm": 20.0})
    hand.settle()
    for stage in (one.key for one in stages()):
        window.show_stage(stage)
        hand.settle()
        drawer = window.drawer(stage)
        assert drawer.width() == 320
        inner, viewport = drawer._scroll.widget(), drawer._scroll.viewport()
        assert inner.minimumSizeHint().width() <= viewport.width(), f"{stage}: a card is cut off"
        for widget in drawer.findChildren(QWidget):
            if widget.isVisibleTo(drawer) and isinstance(widget, QLineEdit | QComboBox | QAbstractButton):
                right = widget.mapTo(drawer, QPoint(widget.width(), 0)).x()
                assert right <= 316, (stage, widget.accessibleName())
    assert window.minimumWidth() <= 1280
    assert window.minimumHeight() <= 800


@pytest.mark.parametrize("demo", ["tide-board", "seed-room", "frost-tags", "paper-boat"])
def test_no_demo_makes_a_drawer_wider_than_its_place(open_window: Callable[..., Hand], demo: str) -> None:
    window = (hand := open_window(demo)).window
    for stage in (one.key for one in stages()):
        window.show_stage(stage)
        hand.settle()
        scroll = window.drawer(stage)._scroll
        assert scroll.widget().minimumSizeHint().width() <= scroll.viewport().width(), f"{stage}: a card is cut off"


def test_quantities_in_fields(qtbot) -> None:  # type: ignore[no-untyped-def]
    field = QuantityField("mA", "A", factor=1e-3, step=0.5)
    qtbot.addWidget(field)
    field.show()
    got: list[float] = []
    field.committed.connect(got.append)
    field.show_value(0.005)
    assert field.text() == "5"

    def write(text: str) -> None:
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)

    write("2,5")
    write("0.003 A")
    write("800u")
    assert got == [pytest.approx(0.0025), pytest.approx(0.003), pytest.approx(0.0008)]
    write("lots")
    assert len(got) == 3
    assert field.property("wrong") is True
    assert "lots" in field.toolTip()
    QTest.keyClick(field, Qt.Key.Key_Escape)
    assert field.property("wrong") is False
    QTest.keyClick(field, Qt.Key.Key_Up)
    assert got[-1] == pytest.approx(0.0013)
    QTest.keyClick(field, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    assert got[-1] == pytest.approx(0.00125)


def wheel(widget: QWidget, up: bool) -> None:
    at = QPointF(widget.rect().center())
    event = QWheelEvent(
        at, QPointF(widget.mapToGlobal(at.toPoint())), QPoint(), QPoint(0, 120 if up else -120), Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(widget, event)


def test_the_wheel_over_a_choice_changes_nothing(qtbot) -> None:  # type: ignore[no-untyped-def]
    choice = Choice([("a", "one"), ("b", "two")])
    qtbot.addWidget(choice)
    got: list[str] = []
    choice.chosen.connect(got.append)
    choice.show()
    wheel(choice, False)
    assert choice.currentData() == "a"
    choice.show_key("b")
    assert got == []
    switch = Switch("light")
    qtbot.addWidget(switch)
    switch.show()
    states: list[bool] = []
    switch.switched.connect(states.append)
    switch.setChecked(True)
    QTest.mouseClick(switch, Qt.MouseButton.LeftButton)
    assert states == [False]


def test_the_sun_by_mouse_wheel_and_key(qtbot) -> None:  # type: ignore[no-untyped-def]
    sun = SunSlider()
    qtbot.addWidget(sun)
    sun.show()
    assert sun.words() == "a clear day, noon"
    QTest.mouseClick(sun, Qt.MouseButton.LeftButton, pos=QPoint(sun.width() - 20, 17))
    assert sun.sun == 0
    assert sun.words() == "midnight"
    sun.setFocus()
    QTest.keyClick(sun, Qt.Key.Key_Left)
    assert sun.sun == pytest.approx(0.05)
    wheel(sun, True)
    assert sun.sun == pytest.approx(0.09)


def test_long_words_end_in_an_ellipsis_and_are_told_in_full(qtbot) -> None:  # type: ignore[no-untyped-def]
    words = ElidedLabel("a name that goes on and on")
    qtbot.addWidget(words)
    words.resize(60, 20)
    words.show()
    assert words.accessibleName() == words.toolTip() == "a name that goes on and on"
    assert words.minimumSizeHint().width() < 60
    words.grab()


def contrast(one: str, other: str) -> float:
    def luminance(colour: str) -> float:
        value = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in QColor("#" + colour).getRgbF()[:3]]
        return 0.2126 * value[0] + 0.7152 * value[1] + 0.0722 * value[2]

    a, b = sorted((luminance(one), luminance(other)), reverse=True)
    return (a + 0.05) / (b + 0.05)


@pytest.mark.parametrize("name", THEMES)
def test_every_text_can_be_read_on_every_ground(name: str) -> None:
    look = THEMES[name]
    for ground in ("window", "bench", "drawer", "card", "sunken"):
        for text in ("text", "quiet", "lamp", "sea", "warn", "honey", "note"):
            assert contrast(getattr(look, text), getattr(look, ground)) >= 4.5, (ground, text)
    assert contrast(look.window, look.lamp) >= 4.5
    assert DUSK.lamp != PAPER.lamp


def test_jobs_deliver_the_latest_and_drop_the_rest(qtbot) -> None:  # type: ignore[no-untyped-def]
    jobs = Jobs()
    got: list[object] = []
    here = threading.get_ident()
    seen: list[bool] = []

    def slow(cancelled: Callable[[], bool]) -> str:
        for _ in range(100):
            if cancelled():
                seen.append(True)
                break
            time.sleep(0.01)
        return "old"

    jobs.submit("a", slow, got.append, got.append)
    QTest.qWait(50)
    jobs.submit("a", lambda cancelled: "new", lambda result: got.append((result, threading.get_ident() == here)), got.append)
    qtbot.waitUntil(lambda: bool(got), timeout=5000)
    assert got == [("new", True)]
    qtbot.waitUntil(lambda: jobs._running == 0, timeout=5000)
    assert seen == [True]

    broken: list[object] = []
    jobs.broke.connect(broken.append)

    def fail(cancelled: object) -> None:
        raise Trouble("No board today.")

    def crash(cancelled: object) -> None:
        raise ZeroDivisionError

    jobs.submit("b", fail, got.append, lambda words: got.append(words))
    jobs.submit("c", crash, got.append, lambda words: got.append(words))
    qtbot.waitUntil(lambda: len(got) == 3, timeout=5000)
    assert "No board today." in got
    assert any("inside the program" in str(one) for one in got)
    assert [type(error) for error in broken] == [ZeroDivisionError]
    jobs.close()


def test_what_the_window_remembers(tmp_path: Path, home: Path) -> None:
    assert recent_files() == []
    paths = []
    for place in range(10):
        path = tmp_path / f"{place}.oglow"
        path.write_bytes(b"x")
        remember_file(path)
        paths.append(path)
    assert recent_files()[0] == paths[-1]
    assert len(recent_files()) == 8
    write_state(theme="paper")
    assert read_state()["theme"] == "paper"
    assert state_written()
    state = next(home.rglob("window.json"))
    state.write_text("{ broken")
    assert read_state() == {}


def test_recent_work_is_offered_with_its_picture(
    signed: Hand, tmp_path: Path, open_window: Callable[..., Hand], qtbot: QtBot
) -> None:
    path = tmp_path / "garden sign.oglow"
    assert signed.window.files.save_to(path)
    signed.window.files.close()
    again = open_window()

    def rows() -> list[QWidget]:
        every = again.window.begin.findChildren(QWidget)
        return [one for one in every if one.accessibleName() == "Open garden sign"]

    qtbot.waitUntil(lambda: len(rows()) == 1, timeout=5000)
    again.click(rows()[0])
    again.settle()
    assert again.window.session.path == path.resolve()
    assert not again.window.session.unsaved


def test_the_theme_is_remembered(start: Hand, open_window: Callable[..., Hand]) -> None:
    start.window.help.switch_theme()
    again = open_window()
    assert read_state()["theme"] == "paper"
    assert again.window.start.grab().toImage().pixelColor(5, 5).lightness() > 200
    again.window.help.switch_theme()


def test_wrong_edits_are_told_and_change_nothing(signed: Hand) -> None:
    window = signed.window
    project = window.session.project
    assert not window.session.edit("set-border", {"border_mm": -3.0})
    assert window.session.project is project
    assert "between 0 and 50" in window.toast.text()
    window.show_stage("shape")
    shape = window.drawer("shape")
    signed.type_in(shape.border, "900")  # type: ignore[attr-defined]
    assert window.session.project is project


def test_handles_can_be_moved_by_keys(signed: Hand) -> None:
    window = signed.window
    window.session.edit("single", {"array": "one", "x_mm": 30.0, "y_mm": 20.0})
    signed.settle()
    window.show_stage("lights")
    signed.settle()
    signed.bench.setFocus()
    signed.key(Qt.Key.Key_H)
    before = window.session.project.designs[0].lights[0]
    signed.key(Qt.Key.Key_Right)
    signed.settle()
    after = window.session.project.designs[0].lights[0]
    assert (after.x_mm - before.x_mm, after.y_mm - before.y_mm) == (pytest.approx(1), pytest.approx(0))
    signed.key(Qt.Key.Key_Up, Qt.KeyboardModifier.ControlModifier)
    signed.settle()
    assert window.session.project.designs[0].lights[0].y_mm == pytest.approx(before.y_mm + 0.1)


def test_the_space_bar_presses_what_has_the_focus_and_plays_elsewhere(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    window = hand.window
    window.show_stage("shape")
    shape = window.drawer("shape")
    shape.has_hole.setFocus()
    hand.key(Qt.Key.Key_Space)
    hand.settle()
    assert not window.area.playing
    assert window.session.project.designs[0].shape.hole is None
    cell = window.ledger.cells["leds"]
    cell.setFocus()
    hand.key(Qt.Key.Key_Space)
    assert window.stage == "lights"
    hand.bench.setFocus()
    hand.key(Qt.Key.Key_Space)
    assert window.area.playing
    window.area.stop()


def test_a_picture_that_makes_no_board_is_put_away_again(start: Hand, tmp_path: Path) -> None:
    path = tmp_path / "nothing.svg"
    path.write_text('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="5" height="5" fill="none"/></svg>')
    start.window.files.open(path)
    start.settle()
    assert start.window.centre.currentWidget() is start.window.start
    assert "nothing.svg" in start.window.toast.text()
    assert start.window.session.project is None


def test_another_project_may_be_opened_while_the_last_is_still_looked_over(
    open_window: Callable[..., Hand], sign_file: Path
) -> None:
    hand = open_window()
    window = hand.window
    told: list[str] = []
    window.session.trouble.connect(told.append)
    window.session.work_ready.connect(lambda work: window.files.open(sign_file) if work.leds else None)
    window.files.open_demo("moth")
    hand.settle()
    assert window.session.project.name == "sign"
    assert window.session.work.project is window.session.project
    assert window.ledger.cells["findings"].value.startswith("no stops")
    assert window.string.state("order") == "lit"
    assert told == []


def test_an_edit_that_leaves_no_board_can_be_taken_back(signed: Hand) -> None:
    window = signed.window
    board = window.session.work.board
    for colour in ("121212", "D9B25A", "F4F2EC", "B5A766", "1D1B1A"):
        window.session.edit("set-appearance", {"colour": colour, "appearance": "cut"})
    window.session.edit("set-border", {"border_mm": 0.0})
    signed.settle()
    assert "The board would be" in window.toast.text()
    assert window.session.work is not None
    while window.session.history.can_undo():
        window.session.undo()
    signed.settle()
    assert window.session.work.board.size == board.size


def test_cameras() -> None:
    camera = Camera(10, 20, 8, "front", 800, 600)
    assert camera.to_mm(camera.to_screen(13.5, 22.25)) == pytest.approx((13.5, 22.25))
    back = Camera(10, 20, 8, "back", 800, 600)
    assert back.to_screen(11, 20).x() < 400
    assert back.moved(80, 0).x == pytest.approx(20)
    fitted = camera.fitted(0, 0, 50, 20, (10, 20, 30, 40))
    for corner in ((0, 0), (50, 20)):
        spot = fitted.to_screen(*corner)
        assert 9.9 <= spot.x() <= 770.1
        assert 19.9 <= spot.y() <= 560.1
    for zoom in (1.5, 7, 33, 120, 400):
        major, minor = steps(zoom)
        assert 60 <= major * zoom <= 160
        assert round(major / minor) in (4, 5, 10)


def test_scrubbing_the_score(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    window = hand.window
    window.show_stage("motion")
    hand.settle()
    score = window.area.score
    assert score.isVisible()
    assert not window.area.leaves.isVisible()
    QTest.mouseClick(score, Qt.MouseButton.LeftButton, pos=QPoint(score._left + (score.width() - score._left - 20) // 2, 80))
    hand.settle()
    assert window.area.bench.time_s == pytest.approx(4.96, abs=0.1)
    now = window.ledger.cells["now"].value
    assert now.endswith("mA")
    assert now != window.ledger.cells["average"].value
    score.setFocus()
    hand.key(Qt.Key.Key_Right)
    assert window.area.bench.time_s == pytest.approx(4.96 + 9.92 / 60, abs=0.1)
    window.area.stop()
    assert window.area.bench.time_s is None


def test_fields_take_what_the_command_line_takes(start: Hand) -> None:
    """Every key with a title: the words of a choice, and a number in the same units, which steps never lead out of range."""
    seen = 0
    for name, edit in edits().items():
        for key, param in edit.params.items():
            if not param.title or param.kind in ("names", "colour", "path"):
                continue
            field, taken = field_of(param), []
            seen += 1
            if param.kind == "flag":
                field.switched.connect(taken.append)
                field.click()
                assert taken == [True], (name, key)
            elif param.kind == "text":
                field.committed.connect(taken.append)
                QTest.keyClicks(field, "two words")
                QTest.keyClick(field, Qt.Key.Key_Return)
                assert param.check(key, taken.pop()) == "two words", (name, key)
            elif param.kind == "list":
                field.committed.connect(taken.append)
                QTest.keyClicks(field, "2k2, 47")
                QTest.keyClick(field, Qt.Key.Key_Return)
                assert param.check(key, taken.pop()) == (2200.0, 47.0), (name, key)
            elif param.kind == "choice":
                words = tuple(field.itemData(at) for at in range(field.count()))
                assert words == param.options(), (name, key)
            else:
                field.committed.connect(taken.append)
                field.show_value(param.high)
                QTest.keyClick(field, Qt.Key.Key_Up)
                assert field.value == param.high, (name, key)
                assert not taken, (name, key)
                field.show_value(param.low)
                QTest.keyClick(field, Qt.Key.Key_Up)
                stepped = param.check(key, taken.pop())
                assert stepped > param.low, (name, key)
                field.setText(f"{field.text()} {field.unit}")
                field.setModified(True)
                QTest.keyClick(field, Qt.Key.Key_Return)
                given = param.parse(key, f"{stepped:g}{param.unit}", False)
                assert taken, (name, key, field.text(), field.toolTip())
                assert taken.pop() == pytest.approx(given, rel=1e-3), (name, key)
    assert seen > 60
