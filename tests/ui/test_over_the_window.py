"""What stands over the window for a moment: failures, keys, settings, what is under way; and that all of it can be reached."""

from __future__ import annotations

import signal
import subprocess
import sys
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hand import Hand
from PyQt6.QtCore import QEvent, QPoint, Qt, QTimer
from PyQt6.QtGui import QTextLayout
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSlider,
    QApplication,
    QComboBox,
    QDialog,
    QLabel,
    QLineEdit,
    QMenu,
    QPlainTextEdit,
    QScrollArea,
    QWidget,
)

from outlined_glow.core.project import Project
from outlined_glow.core.project.storage import save
from outlined_glow.core.stages import stages
from outlined_glow.core.watch import Watch
from outlined_glow.report import hard_ends, watch_for_a_hard_end, went_well
from outlined_glow.ui.actions import shown_key
from outlined_glow.ui.app import _Reporter
from outlined_glow.ui.bench.canvas import Canvas
from outlined_glow.ui.drag_out import DragOut
from outlined_glow.ui.files import ask
from outlined_glow.ui.help.failure import Failure
from outlined_glow.ui.help.keys import KeySheet
from outlined_glow.ui.help.settings import Settings
from outlined_glow.ui.recent import read_state
from outlined_glow.ui.shell import MainWindow
from outlined_glow.ui.theme import theme, theme_for
from outlined_glow.ui.toast import Toast
from outlined_glow.ui.widgets import Card

#: Kinds of widgets whose role every reader of screens knows, and the bench, which is a drawing.
KNOWN = (QAbstractButton, QAbstractSlider, QAbstractItemView, QComboBox, QLineEdit, QPlainTextEdit, Canvas)


def answer_dialog(kind: type, look: Callable[[Any], None]) -> None:
    """Wait for the dialog that is about to open, look at it, and close it."""

    def find() -> None:
        found = QApplication.activeModalWidget()
        if not isinstance(found, kind):
            QTimer.singleShot(20, find)
            return
        try:
            look(found)
        finally:
            found.close()

    QTimer.singleShot(20, find)


def test_an_unexpected_error_is_told_and_the_window_goes_on(signed: Hand, home: Path) -> None:
    window, seen = signed.window, []

    def look(dialog: Failure) -> None:
        words = " ".join(one.text() for one in dialog.findChildren(QLabel))
        signed.click(dialog.read)
        signed.click(dialog.copy)
        seen.append((words, dialog.text.isVisible(), dialog.text.toPlainText()))

    answer_dialog(Failure, look)
    try:
        raise RuntimeError("a bug")
    except RuntimeError as error:
        _Reporter(window)(RuntimeError, error, error.__traceback__)
    words, open_, text = seen[0]
    assert "RuntimeError: a bug" in words
    assert "Your work is kept" in words
    assert open_
    assert "in test_an_unexpected_error" in text
    assert text == QApplication.clipboard().text()
    assert text == next((home / "state/outlined-glow/reports").glob("2*.txt")).read_text()
    assert window.session.edit("set-border", {"border_mm": 2.0})


def test_a_job_that_breaks_is_told_the_same_way(signed: Hand) -> None:
    seen: list[str] = []
    answer_dialog(Failure, lambda dialog: seen.append(dialog.text.toPlainText()))
    signed.window.jobs.submit("c", lambda cancelled: 1 / 0, seen.append, lambda words: None)
    signed.settle()
    QTest.qWait(100)
    assert "ZeroDivisionError" in seen[0]
    assert isinstance(signed.broke.pop(), ZeroDivisionError)


def test_a_hard_end_is_told_at_the_next_start(home: Path, open_window: Callable[..., Hand]) -> None:
    code = "import os; from outlined_glow.report import *; watch_for_a_hard_end(); os.kill(os.getpid(), {})"
    for number in (signal.SIGSEGV, signal.SIGKILL):
        subprocess.run([sys.executable, "-c", code.format(int(number))], check=False)
    hand = open_window()
    dialog = hand.window.findChild(Failure)
    assert dialog is not None
    assert "Segmentation fault" in dialog.text.toPlainText()
    dialog.close()
    assert len(list((home / "state/outlined-glow/reports").iterdir())) == 1
    watch_for_a_hard_end()
    went_well()
    assert hard_ends() == []


def test_the_sheet_of_keys_is_the_actions(start: Hand) -> None:
    seen: list[str] = []
    answer_dialog(KeySheet, lambda dialog: seen.extend(one.text() for one in dialog.findChildren(QLabel)))
    start.key(Qt.Key.Key_F1)
    for entry in start.window.actions_.entries:
        assert shown_key(entry.key) in seen
        assert entry.text.rstrip("…") in seen


def test_settings_take_effect_at_once_and_last(signed: Hand) -> None:
    window = signed.window

    def look(dialog: Settings) -> None:
        signed.choose(dialog.look, "paper")
        assert theme().name == "paper"
        signed.choose(dialog.look, "desktop")
        assert theme().name == "dusk"
        signed.click(dialog.moving)
        signed.click(dialog.forget)

    answer_dialog(Settings, look)
    window.actions_.by_name["settings"].trigger()
    assert read_state()["still"] is True
    assert read_state()["recent"] == []
    window.area.bench.turn_over()
    assert not window.area.bench._flip.running


def test_the_board_turns_over_visibly(signed: Hand) -> None:
    bench = signed.window.area.bench
    front = signed.see()
    bench.turn_over()
    assert bench._flip.running
    QTest.qWait(60)
    narrow = signed.see()
    assert not np.array_equal(narrow, front)
    signed.settle()
    assert not bench._flip.running
    assert bench.camera.side == "back"


def test_the_desktops_own_look_is_followed(qapp: QApplication) -> None:
    class Desktop:
        def __init__(self, scheme: Qt.ColorScheme) -> None:
            self.scheme = scheme

        def styleHints(self) -> Desktop:
            return self

        def colorScheme(self) -> Qt.ColorScheme:
            return self.scheme

    said = [theme_for(Desktop(one), "desktop") for one in (Qt.ColorScheme.Light, Qt.ColorScheme.Dark, Qt.ColorScheme.Unknown)]
    assert said == ["paper", "dusk", "dusk"]
    assert theme_for(Desktop(Qt.ColorScheme.Light), "dusk") == "dusk"


def test_slow_reading_can_be_stopped(start: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, sign: Project) -> None:
    window, go = start.window, threading.Event()
    save(sign, tmp_path / "a.oglow")
    monkeypatch.setattr("outlined_glow.core.project.storage.load", lambda path: go.wait(20) and sign)
    window.files.open(tmp_path / "a.oglow")
    QTest.qWait(900)
    assert window.working.isVisible()
    assert window.working.words.text() == "reading…"
    assert (tmp_path / ".a.oglow.open").exists()
    start.key(Qt.Key.Key_Escape)
    go.set()
    start.settle()
    assert window.session.project is None
    assert not window.working.isVisible()
    assert not (tmp_path / ".a.oglow.open").exists()
    assert window.begin.state.text() == "nothing on the bench yet"


def test_opening_something_else_lets_go_of_the_first(
    start: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, sign: Project
) -> None:
    window, go = start.window, threading.Event()
    save(sign, tmp_path / "a.oglow")
    monkeypatch.setattr("outlined_glow.core.project.storage.load", lambda path: go.wait(20) and sign)
    window.files.open(tmp_path / "a.oglow")
    assert (tmp_path / ".a.oglow.open").exists()
    window.files.open_demo("moth")
    for thread in threading.enumerate():
        if thread.name == "lock let go":
            thread.join(5)
    assert not (tmp_path / ".a.oglow.open").exists()
    go.set()
    start.settle()
    assert window.session.project.name == "Lamplighter moth"


def test_a_side_that_never_comes_is_not_waited_for(signed: Hand) -> None:
    bench = signed.window.area.bench
    bench._flip.start(bench.renders.board, bench.renders.camera, 400.0)
    QTest.qWait(300)
    assert bench._flip.running
    QTest.qWait(700)
    assert not bench._flip.running


def test_a_step_that_takes_too_long_can_be_taken_back(signed: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    window, go = signed.window, threading.Event()
    compiler = window.session.making._compiler
    made = compiler.compile
    reached = threading.Event()

    def slow(project: object, watch: Watch, board: str | None = None) -> object:
        if reached.wait(1.2):
            watch.part(0.2, 0.6, "taking the picture apart").at(0.5)
        return go.wait(20) and made(project, watch, board)

    monkeypatch.setattr(compiler, "compile", slow)
    window.session.edit("set-border", {"border_mm": 2.5})
    QTest.qWait(900)
    assert window.working.words.text().startswith("making the board")
    reached.set()
    QTest.qWait(500)
    assert window.working.words.text() == "taking the picture apart, 49%"  # a board to be seen first has had its share
    assert not window.working.keep.isVisible()
    window.session.making.progressed.emit(0.5, "drawing the tracks")
    QTest.qWait(300)
    assert window.working.keep.isVisible()
    board, camera = window.session.work.board, signed.bench.camera
    lowest = camera.to_screen(*board.origin).y()
    assert lowest - 1 <= window.working.y() <= signed.bench.height() - window.working.height(), "it hides nothing of the board"
    signed.click(window.working.keep)
    assert window.session.making._enough.is_set()
    signed.click(window.working.stop)
    assert window.session.project.designs[0].shape.border_mm != 2.5
    go.set()
    signed.settle()
    assert not window.working.isVisible()


# -- everything can be reached, has a name and a role, and shows that it has the focus ---------------------------------


def reachable(root: QWidget) -> list[QWidget]:
    """What Tab stops at."""
    stops = [one for one in root.findChildren(QWidget) if one.focusPolicy() & Qt.FocusPolicy.TabFocus]
    return [one for one in stops if one.isVisible() and one.isEnabled() and not one.focusProxy()]


def picture(widget: QWidget) -> bytes:
    """What is seen of a widget and a little round it."""
    window = widget.window()
    corner = widget.mapTo(window, QPoint(0, 0))
    image = window.grab(widget.rect().translated(corner).adjusted(-4, -4, 4, 4)).toImage()
    bits = image.constBits()
    if bits is None:  # scrolled out of the window
        return b""
    bits.setsize(image.sizeInBytes())
    return bytes(bits)


def walk(screen: str, root: QWidget) -> list[str]:
    """What is wrong with the things on a screen."""
    wrong = []
    QTest.qWait(60)
    root.window().activateWindow()
    assert QTest.qWaitForWindowActive(root.window())
    for one in reachable(root):
        for area in root.findChildren(QScrollArea):
            if area.isAncestorOf(one):
                area.ensureWidgetVisible(one)
        what = f"{screen}: {type(one).__name__} “{one.accessibleName()}”"
        text = one.text() if isinstance(one, QAbstractButton) else ""
        if not (one.accessibleName() or text):
            wrong.append(f"{what} has no name")
        if not isinstance(one, KNOWN):
            wrong.append(f"{what} has no role")
        other = next((two for two in reachable(root) if two is not one), one)
        other.setFocus(Qt.FocusReason.TabFocusReason)
        before = picture(one)
        one.setFocus(Qt.FocusReason.TabFocusReason)
        if other is not one and picture(one) == before:
            wrong.append(f"{what} does not show its focus")
    return wrong


def test_every_screen_can_be_walked(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    window = hand.window
    wrong: list[str] = []
    for stage in (one.key for one in stages()):
        window.show_stage(stage)
        hand.settle()
        wrong += walk(stage, window)
    window.area.toggle_steps()
    wrong += walk("steps", window.area.steps)
    answer_dialog(KeySheet, lambda dialog: wrong.extend(walk("keys", dialog)))
    window.help.show_keys(window.actions_.entries)
    hand.settle()
    answer_dialog(Settings, lambda dialog: wrong.extend(walk("settings", dialog)))
    window.help.show_settings()
    hand.settle()
    answer_dialog(Failure, lambda dialog: (dialog.read.click(), wrong.extend(walk("failure", dialog))))
    window.show_failure(ValueError("no"))
    window.session.close_project()
    hand.settle()
    wrong += walk("start", window)
    assert not wrong, "\n".join(wrong)


def test_a_written_package_can_be_dragged_out_or_copied(open_window: Callable[..., Hand], tmp_path: Path) -> None:
    hand = open_window("moth")
    window = hand.window
    window.show_stage("order")
    order = window.drawer("order")
    order.export_to(tmp_path / "order.zip")
    hand.settle()
    dragged: list[list[str]] = []
    file: DragOut = order.file
    assert file.isVisible()
    file._drag = lambda: dragged.append([url.toLocalFile() for url in file.mime().urls()])  # type: ignore[method-assign]
    middle = file.rect().center()
    QTest.mousePress(file, Qt.MouseButton.LeftButton, pos=middle)
    QTest.mouseMove(file, middle + QPoint(30, 4))
    QTest.mouseRelease(file, Qt.MouseButton.LeftButton, pos=middle + QPoint(30, 4))
    assert dragged == [[str(tmp_path / "order.zip")]]
    file.setFocus()
    hand.key(Qt.Key.Key_Return)
    clipboard = QApplication.clipboard()
    assert [url.toLocalFile() for url in clipboard.mimeData().urls()] == [str(tmp_path / "order.zip")]
    assert "copied" in window.toast.text()


def cards_in_view(window: MainWindow, stage: str) -> list[Card]:
    drawer = window.drawer(stage)
    return [card for card in drawer.findChildren(Card) if card.isVisibleTo(drawer)]


def test_the_window_answers_between_the_cards_that_take_a_theme(open_window: Callable[..., Hand]) -> None:
    hand = open_window("seed-room")
    window = hand.window
    window.help.use_look("dusk")
    window.show_stage("lights")
    hand.settle()
    every = cards_in_view(window, "lights")
    before = every[0].styleSheet()
    window.help.use_look("paper")
    followed: list[int] = []
    for _ in range(60):
        QApplication.processEvents()
        followed.append(sum(card.styleSheet() != before for card in every))
        QTest.qWait(2)
    assert followed[-1] == len(every)
    assert len(set(followed)) > 3, "card by card, not all in one turn"
    window.help.use_look("dusk")
    window.show_stage("brief")  # before its turn came
    hand.settle()
    QTest.qWait(100)
    assert {card.styleSheet() for card in cards_in_view(window, "brief")} == {before}


def test_a_theme_reaches_what_is_out_of_view_and_what_is_opened_later(open_window: Callable[..., Hand]) -> None:
    hand = open_window("seed-room")
    window = hand.window
    window.help.use_look("dusk")
    for stage in ("lights", "artwork"):
        window.show_stage(stage)
        hand.settle()
    window.help.use_look("paper")
    hand.settle()
    ground = theme().colour("drawer")
    seen: list[int] = []
    for stage in ("lights", "brief", "artwork"):
        window.show_stage(stage)
        hand.settle()
        picture = window.drawer(stage).grab().toImage()
        assert picture.pixelColor(5, picture.height() - 4) == ground
        for card in cards_in_view(window, stage):
            assert card.grab().toImage().pixelColor(6, card.height() // 2) == theme().colour("card"), card.accessibleName()
    answer_dialog(Settings, lambda dialog: seen.append(dialog.grab().toImage().pixelColor(4, 4).lightness()))
    window.help.show_settings()
    assert abs(seen[0] - theme().colour("window").lightness()) < 6
    bench = window.area.grab().toImage()
    assert bench.pixelColor(bench.width() - 60, 130) == theme().colour("bench")


def test_a_stage_out_of_view_shows_the_board_of_now_when_it_is_opened(open_window: Callable[..., Hand]) -> None:
    hand = open_window("seed-room")
    window = hand.window
    hand.settle()
    window.show_stage("brief")
    hand.settle()
    window.show_stage("shape")
    before = window.drawers["brief"].subtitle.text()
    assert window.session.edit("set-pieces", {"pieces": 77})
    hand.settle()
    assert window.drawers["brief"].subtitle.text() == before
    window.show_stage("brief")
    assert "77" in " ".join(one.text() for one in window.drawers["brief"].findChildren(QLineEdit))


def _left(window: QWidget) -> int:
    """How many widgets a window has, once none of them is going any more."""
    before, now = -1, 0
    while now != before:
        QTest.qWait(60)
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        before, now = now, len(window.findChildren(QWidget))
    return now


def test_what_stood_over_the_window_leaves_nothing_behind(signed: Hand) -> None:
    """Dialogs, questions and menus are gone with their widgets: a long day does not make the window slow."""
    window, counts = signed.window, []
    for key in (*window.stages, "lights"):
        window.show_stage(key)  # none is made ahead meanwhile
    signed.settle()

    def shut() -> None:
        for one in QApplication.topLevelWidgets():
            if isinstance(one, QDialog | QMenu) and one.isVisible():
                one.close()

    for _ in range(3):
        for run in (
            lambda: window.help.show_library(window.files), lambda: window.help.show_keys(window.actions_.entries),
            window.help.show_settings, lambda: ask(window, "Well?", ("Yes", "No")), window.drawer("lights")._add_menu,
        ):  # fmt: skip
            QTimer.singleShot(60, shut)
            run()
            QTest.qWait(90)
        counts.append(_left(window))
    assert counts[1] == counts[2], counts


def test_a_number_stays_on_the_line_of_its_unit(start: Hand) -> None:
    """A sentence over the bench, as narrow as it takes to part the two, is as high as one with the unit's line full."""
    toast = Toast(start.window)
    toast.say("a web of 0.13 mm")
    narrow = toast.fontMetrics().horizontalAdvance("a web of 0.13") + 2 * 18 + 2
    apart = toast.fontMetrics().horizontalAdvance("a web of") + 2 * 18 + 2
    assert toast.text() == "a web of 0.13 mm"
    toast.setFixedWidth(narrow)
    assert words_of_lines(toast) == ["a web of ", "0.13\N{NO-BREAK SPACE}mm"]
    toast.setFixedWidth(apart)
    assert words_of_lines(toast)[-1] == "0.13\N{NO-BREAK SPACE}mm"


def words_of_lines(label: QLabel) -> list[str]:
    """The lines that Qt breaks the text of a label into."""
    layout = QTextLayout(QLabel.text(label), label.font())
    layout.beginLayout()
    lines = []
    while (line := layout.createLine()).isValid():
        line.setLineWidth(label.contentsRect().width())
        lines.append(layout.text()[line.textStart() : line.textStart() + line.textLength()])
    layout.endLayout()
    return lines
