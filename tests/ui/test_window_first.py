"""Background work waits while the window builds something, and never longer than it must."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
import shapely
from hand import Hand
from PyQt6.QtCore import QEventLoop, Qt, QTimer
from PyQt6.QtWidgets import QApplication

from outlined_glow.core.geometry.overlay import overlay
from outlined_glow.core.watch import Watch, give_way
from outlined_glow.ui import shell
from outlined_glow.ui.jobs import Jobs
from outlined_glow.ui.widgets import button
from outlined_glow.ui.window_first import window_first


@pytest.fixture
def jobs(qtbot) -> Iterator[Jobs]:  # type: ignore[no-untyped-def]
    jobs = Jobs()
    yield jobs
    jobs.close()


@pytest.fixture
def counted(jobs: Jobs, qtbot) -> list[int]:  # type: ignore[no-untyped-def]
    """How far two workers are that count without end and give way."""
    far = [0, 0]

    def count(place: int) -> Callable[[Callable[[], bool]], None]:
        def run(cancelled: Callable[[], bool]) -> None:
            while True:
                far[place] += 1
                give_way()

        return run

    for place in range(2):
        jobs.submit(f"count {place}", count(place), lambda _: None, lambda _: None)
    qtbot.waitUntil(lambda: all(far), timeout=5000)
    return far


def _turn_of_the_loop(ms: int = 60) -> None:
    loop = QEventLoop()
    QTimer.singleShot(ms, loop.quit)
    loop.exec()


def test_workers_wait_while_the_window_builds(counted: list[int], qtbot) -> None:  # type: ignore[no-untyped-def]
    seen: list[int] = []

    def build() -> None:
        time.sleep(0.05)  # both come to a place where they wait
        seen.append(sum(counted))
        time.sleep(0.1)
        seen.append(sum(counted))

    one = button("Build", build)
    qtbot.addWidget(one)
    one.click()
    assert seen[0] == seen[1]
    _turn_of_the_loop()
    assert sum(counted) > seen[1], "they go on once the window is idle"


def test_a_window_that_never_ends_is_waited_for_a_second_at_most(counted: list[int]) -> None:
    window_first()
    time.sleep(0.05)
    still = sum(counted)
    time.sleep(0.1)
    assert sum(counted) == still
    for _ in range(500):
        time.sleep(0.01)
        if sum(counted) > still:
            break
    assert sum(counted) > still


def test_work_that_nobody_waits_for_ends_at_the_next_place_where_it_gives_way(jobs: Jobs, qtbot) -> None:  # type: ignore[no-untyped-def]
    """Also where it was given no watch of its own: within a boolean of the geometry."""
    begun, ended = threading.Event(), threading.Event()

    def run(cancelled: Callable[[], bool]) -> None:
        try:
            while True:
                overlay(shapely.union, shapely.box(0, 0, 2, 2), shapely.box(1, 1, 3, 3))
                begun.set()
        finally:
            ended.set()

    told: list[object] = []
    jobs.broke.connect(told.append)
    jobs.submit("endless", run, told.append, told.append)
    assert begun.wait(5)
    jobs.cancel("endless")
    assert ended.wait(5)
    _turn_of_the_loop()
    assert told == []


def test_work_of_the_command_line_waits_for_nobody() -> None:
    window_first()
    begun = time.monotonic()
    for share in range(100):
        Watch().at(share / 100)
        give_way()
    assert time.monotonic() - begun < 0.9


def test_a_step_before_the_first_board_stands_leaves_the_stage_as_it_is(open_window: Callable[..., Hand]) -> None:
    hand = open_window()
    window, session = hand.window, hand.window.session
    window.files.open_demo("frost-tags")
    while session.project is None:
        _turn_of_the_loop(5)
    assert session.work is None
    assert window.stage == "artwork"
    window.show_stage("shape")
    session.edit("rename", {"name": "evening tags"})
    assert session.work is None
    assert window.stage == "shape"
    session.undo()
    assert session.work is None
    assert window.stage == "shape"
    hand.settle()
    assert session.work is not None
    assert window.stage == "shape"
    window.files.open_demo("frost-tags")
    hand.settle()
    assert window.stage == "artwork", "another project begins with its picture"


def test_drawers_are_made_ahead_while_nothing_goes_on(  # type: ignore[no-untyped-def]
    start: Hand, monkeypatch: pytest.MonkeyPatch, sign_file: Path, qtbot
) -> None:
    window, pressed = start.window, [Qt.MouseButton.LeftButton]
    monkeypatch.setattr(shell, "_QUIET_MS", 10)
    monkeypatch.setattr(shell, "_NEXT_MS", 10)
    monkeypatch.setattr(QApplication, "mouseButtons", lambda: pressed[0])
    window.files.open(sign_file)
    start.settle()
    _turn_of_the_loop(100)
    assert set(window.drawers) == {"artwork"}, "a hand is at work"
    pressed[0] = Qt.MouseButton.NoButton
    qtbot.waitUntil(lambda: set(window.drawers) == set(window.stages), timeout=20000)
    assert window.drawer_stack.currentWidget() is window.drawers["artwork"]
    made = dict(window.drawers)
    window.show_stage("motion")
    assert window.drawers == made
