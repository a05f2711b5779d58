"""The real window, as `run_window` makes it."""

from __future__ import annotations

import gc
from collections import deque
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from hand import Hand
from met import watch_window
from plates import without_tracks
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from outlined_glow.core.workshop import Compiler, demos
from outlined_glow.ui import core_door, making
from outlined_glow.ui.app import make_window
from outlined_glow.ui.making import Making
from outlined_glow.ui.shell import MainWindow

watch_window()
#: What the first window that opened a demo or a file made of it: those that open the same begin from that. By pass.
_BOARDS: dict[str, deque[Any]] = {}
_FINDINGS: dict[str, deque[Any]] = {}
_opened: set[Any] = set()


def _compiler(one: Making) -> Compiler:
    if one._known is None:
        one._known = Compiler()
        for memory, kept in ((one._known.memory, _BOARDS), (one._known.checked, _FINDINGS)):
            memory._known = {name: deque(rows) for name, rows in kept.items()}
    return one._known


Making._compiler = property(_compiler)  # type: ignore[assignment]
# What is loaded now is there to stay, and is looked through no more. Frozen later, what a closed window leaves behind would
# stay too, for all of the run: some 40 MB each.
core_door.warm()
gc.freeze = lambda: None
#: The findings wait until a hand rests: those of the tests rest sooner.
making._FINDINGS_AFTER_MS = 40


def _keep(one: Making, opened: Any) -> None:
    """Keep what the first window made of what it opened."""
    if opened in _opened or one._known is None:
        return
    _opened.add(opened)
    for memory, kept in ((one._known.memory, _BOARDS), (one._known.checked, _FINDINGS)):
        for name, rows in memory._known.items():
            kept.setdefault(name, deque(maxlen=8)).extendleft(tuple(rows)[:2])


@pytest.fixture
def open_window(qapp: QApplication) -> Iterator[Callable[..., Hand]]:
    """Opens windows and closes them without questions; demos come without their tracks unless `wired`."""
    windows: list[MainWindow] = []
    hands: list[Hand] = []

    def make(demo: str = "", path: Path | None = None, wired: bool = False) -> Hand:
        with pytest.MonkeyPatch.context() as patched:
            if not wired:
                patched.setattr(demos, "demo_project", without_tracks)
            return opened(demo, path)

    def opened(demo: str, path: Path | None) -> Hand:
        window = make_window(qapp, demo, str(path) if path else "")
        window.resize(1280, 800)
        windows.append(window)
        hand = Hand(window)
        hands.append(hand)
        QTest.qWaitForWindowExposed(window)
        window.activateWindow()
        hand.settle()
        _keep(window.session.making, demo or (path.read_bytes() if path and path.is_file() else None))
        return hand

    yield make
    for window in windows:
        if window.session.history is not None:
            window.session.history.mark_saved()
        window.close()
        window.deleteLater()
    QTest.qWait(20)
    assert [error for hand in hands for error in hand.broke] == [], "work in the background failed"


@pytest.fixture
def start(open_window: Callable[..., Hand]) -> Hand:
    """The window with nothing on the bench."""
    return open_window()


@pytest.fixture
def signed(open_window: Callable[..., Hand], sign_file: Path) -> Hand:
    """The window with the plain sign."""
    return open_window(path=sign_file)


@pytest.fixture
def lit(signed: Hand) -> Hand:
    """The sign with six LEDs, on Drive."""
    session = signed.window.session
    session.edit("set-appearance", {"colour": "B5A766", "appearance": "mask"})
    session.edit("grid", {"array": "g", "x_mm": 20.0, "y_mm": 15.0, "rows": 2, "columns": 3, "pitch_x_mm": 8.0})
    signed.window.show_stage("drive")
    signed.settle()
    return signed
