"""Nothing is lost in the window: the list of steps, recovery, locks, a file changed elsewhere."""

from __future__ import annotations

import json
import threading
from collections.abc import Callable
from pathlib import Path

import pytest
from hand import Hand
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication, QFileDialog, QMessageBox, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from outlined_glow.core.errors import Trouble
from outlined_glow.core.order import prove_boards
from outlined_glow.core.project.journal import left_behind, recover
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.workshop import apply_values
from outlined_glow.ui.recent import journal_folder, state_written, write_state


def answer(words: str, seen: list[str] | None = None) -> None:
    """Press a button of the question that is about to be asked."""

    def press() -> None:
        box = QApplication.activeModalWidget()
        if not isinstance(box, QMessageBox):
            QTimer.singleShot(50, press)
            return
        if seen is not None:
            seen.append(box.text())
        next(one for one in box.findChildren(QPushButton) if one.text() == words).click()

    QTimer.singleShot(50, press)


def killed(hand: Hand) -> None:
    """As if the window's process had been killed: its journal stays, its locks go."""
    session = hand.window.session
    assert session.backup.journal is not None
    session.backup.journal.flush()
    session.backup.journal.end()
    session.backup.journal = None
    session.release()


def test_every_step_is_listed_and_can_be_gone_to(signed: Hand) -> None:
    window = signed.window
    for border in (2.0, 3.0, 4.0):
        window.session.edit("set-border", {"border_mm": border})
    signed.key(Qt.Key.Key_H, Qt.KeyboardModifier.ControlModifier)
    steps = window.area.steps
    assert steps.isVisible()
    shown = [steps.list.item(row).text() for row in range(steps.list.count())]
    assert shown == list(window.session.history.steps)
    assert steps.list.currentRow() == 3
    signed.key(Qt.Key.Key_Up)
    signed.key(Qt.Key.Key_Up)
    signed.settle()
    assert window.session.project.designs[0].shape.border_mm == 2.0
    assert window.session.work.project is window.session.project
    assert steps.hint.text().startswith("2 taken back")
    signed.click(steps.list.viewport(), steps.list.visualItemRect(steps.list.item(3)).center())
    assert window.session.project.designs[0].shape.border_mm == 4.0
    window.session.edit("set-border", {"border_mm": 5.0})
    assert steps.list.count() == 5
    signed.key(Qt.Key.Key_Escape)
    assert not steps.isVisible()
    window.session.open_project(window.session.project, None)
    assert not steps.isVisible()


def test_work_of_a_killed_window_is_offered_with_its_picture(
    signed: Hand, tmp_path: Path, open_window: Callable[..., Hand]
) -> None:
    window = signed.window
    path = tmp_path / "sign.oglow"
    assert window.files.save_to(path)
    window.session.backup.pictured = -100.0
    for border in (2.0, 3.0):
        window.session.edit("set-border", {"border_mm": border})
    signed.settle()
    killed(signed)
    again = open_window()
    begin = again.window.begin
    assert begin.left.isVisible()
    [take] = [one for one in begin.findChildren(QPushButton) if one.accessibleName() == "Restore sign"]
    assert left_behind(journal_folder())[0].picture is not None
    again.click(take)
    again.settle()
    session = again.window.session
    assert session.project.designs[0].shape.border_mm == 3.0
    assert session.path == path
    assert session.unsaved
    assert "•" in again.window.windowTitle()
    again.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.project.designs[0].shape.border_mm == 2.0
    again.key(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert load(path).designs[0].shape.border_mm == 2.0
    again.window.files.close()
    assert not begin.left.isVisible()
    assert list(journal_folder().iterdir()) == []


def test_left_work_can_be_let_go(signed: Hand, open_window: Callable[..., Hand]) -> None:
    signed.window.session.edit("set-border", {"border_mm": 3.0})
    killed(signed)
    again = open_window()
    [drop] = [one for one in again.window.begin.findChildren(QPushButton) if one.accessibleName() == "Discard sign"]
    answer("Keep")
    again.click(drop)
    assert len(left_behind(journal_folder())) == 1
    answer("Delete")
    again.click(drop)
    assert left_behind(journal_folder()) == []
    assert not again.window.begin.left.isVisible()


@pytest.mark.parametrize(("choice", "border"), [("Restore them", 3.0), ("Open the saved file", 1.6), ("Cancel", None)])
def test_opening_a_file_with_newer_work_asks(
    signed: Hand, tmp_path: Path, open_window: Callable[..., Hand], choice: str, border: float | None
) -> None:
    path = tmp_path / "sign.oglow"
    assert signed.window.files.save_to(path)
    signed.window.session.edit("set-border", {"border_mm": 3.0})
    killed(signed)
    again = open_window()
    seen: list[str] = []
    answer(choice, seen)
    again.window.files.open(path)
    again.settle()
    assert seen == ["Unsaved changes to “sign.oglow” were recovered: 1 change, a moment old."]
    project = again.window.session.project
    assert (project.designs[0].shape.border_mm if project else None) == border


def test_a_file_open_in_another_window_opens_as_a_copy(signed: Hand, tmp_path: Path, open_window: Callable[..., Hand]) -> None:
    path = tmp_path / "sign.oglow"
    assert signed.window.files.save_to(path)
    other = open_window()
    seen: list[str] = []
    answer("Cancel", seen)
    other.window.files.open(path)
    other.settle()
    assert "is already open" in seen[0]
    assert other.window.session.project is None
    answer("Open a copy")
    other.window.files.open(path)
    other.settle()
    assert other.window.session.project.name == "sign copy"
    assert other.window.session.path is None
    assert not other.window.files.save_to(path), "the other window still has it"
    assert "another window" in other.window.toast.text()
    signed.window.files.open(path)
    signed.settle()
    assert signed.window.session.path == path, "the window that has it may open it again"
    signed.window.files.close()
    assert other.window.files.save_to(path)
    assert load(path).name == "sign copy"


@pytest.mark.parametrize("choice", ["Overwrite, keep a backup", "Cancel", "Save as…"])
def test_a_file_changed_elsewhere_is_not_saved_over_in_silence(
    signed: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, choice: str
) -> None:
    window = signed.window
    path, other = tmp_path / "sign.oglow", tmp_path / "mine.oglow"
    assert window.files.save_to(path)
    save(apply_values(load(path), "rename", {"name": "theirs"}, (0, 0)), path)
    window.session.edit("set-border", {"border_mm": 3.0})
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(other), ""))
    answer(choice)
    signed.key(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert load(path).name == ("sign" if choice == "Overwrite, keep a backup" else "theirs")
    assert other.exists() == (choice == "Save as…")
    if choice == "Overwrite, keep a backup":
        (tmp_path / "sign.oglow~").rename(tmp_path / "kept.oglow")
        assert load(tmp_path / "kept.oglow").name == "theirs"
    assert window.session.unsaved == (choice == "Cancel")


def test_a_journal_that_cannot_be_written_is_told(signed: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("in the way")
    monkeypatch.setattr("outlined_glow.ui.backup.journal_folder", lambda: blocked)
    signed.window.session.edit("set-border", {"border_mm": 3.0})
    signed.window.session.backup.journal.flush()
    signed.settle()
    assert "Save the project now" in signed.window.toast.text()
    signed.window.session.edit("set-border", {"border_mm": 4.0})
    signed.settle()
    assert signed.window.session.work.design.shape.border_mm == 4.0


def test_what_was_never_changed_leaves_no_journal(signed: Hand) -> None:
    session = signed.window.session
    session.history.mark_saved()
    session.edit("set-border", {"border_mm": 3.0})
    assert session.backup.journal is not None
    session.backup.journal.flush()
    assert len(list(journal_folder().iterdir())) == 1
    session.undo()
    for thread in threading.enumerate():
        if thread.name == "journal let go":
            thread.join(5)
    assert list(journal_folder().iterdir()) == []
    assert isinstance(signed.window.area.steps, QWidget)


def test_an_edit_that_leaves_no_board_is_taken_back_and_what_is_saved_opens(
    signed: Hand, tmp_path: Path, open_window: Callable[..., Hand]
) -> None:
    session = signed.window.session
    session.edit("set-border", {"border_mm": 3.0})
    signed.settle()
    session.edit("set-shape", {"base": "outline"})
    signed.settle()
    assert "taken back" in signed.window.toast.text()
    assert session.project.designs[0].shape.base == "silhouette"
    assert session.project is session.work.project
    path = tmp_path / "kept.oglow"
    assert signed.window.files.save_to(path)
    save(apply_values(load(path), "set-shape", {"base": "outline"}, (0, 0)), path)  # as an older version could
    signed.window.files.close()
    again = open_window()
    again.window.files.open(path)
    again.settle()
    assert again.window.session.project.designs[0].shape.base == "silhouette"
    assert "silhouette" in again.window.toast.text()
    assert again.window.session.unsaved


def test_work_left_behind_stays_until_its_board_stands(
    signed: Hand, open_window: Callable[..., Hand], monkeypatch: pytest.MonkeyPatch
) -> None:
    session = signed.window.session
    session.edit("set-border", {"border_mm": 3.0})
    session.backup.journal.flush()
    session.backup.journal.end()
    session.backup.journal = None
    session.history.mark_saved()
    signed.window.close()
    again = open_window()
    (left,) = left_behind(journal_folder())

    def never(project: object) -> None:
        raise Trouble("No board today.")

    with monkeypatch.context() as patch:
        patch.setattr("outlined_glow.core.workshop.rescue.makeable", never)
        patch.setattr("outlined_glow.core.workshop.Compiler.compile", lambda *_: never(None))
        again.window.files.take_up(left)
        again.settle()
    assert again.window.session.project is None
    found = left_behind(journal_folder())
    assert found, "nothing was let go of"
    assert recover(found[0]).project.designs[0].shape.border_mm == 3.0


def test_esc_goes_back_to_the_board_on_the_bench_whatever_left_it(signed: Hand) -> None:
    session = signed.window.session
    for border in (2.0, 3.0):
        session.edit("set-border", {"border_mm": border})
        signed.settle()
    place = session.history.place
    session.undo()
    session.stop()
    signed.settle()
    assert session.history.place == place
    assert session.work.design.shape.border_mm == 3.0


def test_a_package_is_of_the_project_as_it_is_now(signed: Hand, tmp_path: Path) -> None:
    session = signed.window.session
    signed.window.show_stage("order")
    session.edit("set-border", {"border_mm": 4.0})
    signed.window.drawer("order").export_to(tmp_path / "order.zip")
    signed.settle()
    assert prove_boards(tmp_path / "order.zip", {"": session.work.board})[""].good


def test_a_window_starts_whatever_its_own_files_hold(home: Path, open_window: Callable[..., Hand], tmp_path: Path) -> None:
    locked = tmp_path / "locked"
    locked.mkdir()
    loop = tmp_path / "loop"
    loop.symlink_to(loop)
    write_state(theme="dusk")
    assert state_written()
    state = next(home.rglob("window.json"))
    paths = [str(locked / "a.oglow"), str(loop / "b.oglow"), 5, None, "x\u0000y", ""]
    state.write_text(json.dumps({"recent": paths, "folder": 7, "geometry": [1], "theme": {}, "still": "yes"}))
    locked.chmod(0)
    try:
        hand = open_window()
        hand.settle()
        assert hand.window.isVisible()
        hand.window.begin.refresh()
    finally:
        locked.chmod(0o700)


def test_what_comes_after_closing_is_nobodys(signed: Hand, qtbot: QtBot) -> None:
    jobs = signed.window.jobs
    began, may_end, ended = threading.Event(), threading.Event(), threading.Event()

    def slow(cancelled: object) -> None:
        began.set()
        may_end.wait()
        ended.set()

    jobs.submit("slow", slow, lambda _: None, lambda _: None)
    qtbot.waitUntil(began.is_set)
    signed.window.session.history.mark_saved()
    signed.window.close()
    assert not ended.is_set(), "a worker deep in its work is not waited for: it ends only when it is let"
    jobs.submit("late", lambda cancelled: 1 / 0, lambda _: None, lambda _: None)
    may_end.set()
    assert ended.wait(60)
    qtbot.wait(100)


def test_the_board_can_be_renamed_and_a_why_asked_before_there_is_one(start: Hand, signed: Hand) -> None:
    signed.window.show_stage("brief")
    brief = signed.window.drawer("brief")
    signed.type_in(brief.use.name, "Night sign")
    assert signed.window.session.project.name == "Night sign"
    for stage, ask in (("lights", "_why_current"), ("drive", "_why_run"), ("brief", "why_price")):
        drawer = start.window.drawer(stage)
        getattr(drawer, ask)()
