"""A stage that is added to the table has everything that a stage has."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path
from types import ModuleType

import pytest
from hand import Hand
from PyQt6.QtCore import Qt

from outlined_glow.cli.main import run
from outlined_glow.core import stages
from outlined_glow.core.project import Design, edits
from outlined_glow.core.project.edits import board_edit
from outlined_glow.ui.drawers.base import Drawer
from outlined_glow.ui.widgets import label

sys.path.insert(0, str(Path(__file__).parents[2] / "docs"))
import desktop as maker


def polish(design: Design) -> Design:
    """Rub the board until it shines."""
    return design


@pytest.fixture
def one_more(monkeypatch: pytest.MonkeyPatch) -> stages.Stage:
    """The stage “Polish”, with a drawer and an operation."""
    stage = stages.Stage(6, "polish", "Polish", "How it shines")
    rest = tuple(one for one in stages._EVERY if one.number != 6)
    monkeypatch.setattr(stages, "_EVERY", tuple(sorted((*rest, stage), key=lambda one: one.number)))

    class PolishDrawer(Drawer):
        """A drawer of one card."""

        def build(self) -> None:
            self.add_card("Shine").add(label("it shines"))

    module = ModuleType("outlined_glow.ui.drawers.polish")
    module.PolishDrawer = PolishDrawer  # type: ignore[attr-defined]
    monkeypatch.setitem(sys.modules, "outlined_glow.ui.drawers.polish", module)
    monkeypatch.setattr(polish, "__module__", "outlined_glow.core.polish.edits")
    monkeypatch.setattr(sys.modules["outlined_glow.core.project.edits"], "_EDITS", edits())
    board_edit("polish", "Polished")(polish)
    return stage


def test_it_hangs_on_the_string_opens_by_key_and_is_told_of_everywhere(
    one_more: stages.Stage, open_window: Callable[..., Hand], capsys: pytest.CaptureFixture[str]
) -> None:
    hand = open_window("seed-room")
    window = hand.window
    assert list(window.string.bulbs) == ["brief", "artwork", "shape", "lights", "drive", "polish", "motion", "order"]
    hand.key(Qt.Key.Key_6)
    assert window.stage == "polish"
    drawer = window.drawer("polish")
    assert drawer.isVisibleTo(window)
    assert drawer.title == "Polish"
    assert window.string.state("polish") == "lit"
    window.show_stage("order")
    hand.click(window.string.bulbs["polish"])
    assert window.stage == "polish"
    assert window.actions_.by_name["stage-polish"].text() == "Polish"
    assert window.session.edit("polish", {})
    assert run(["edit", "--list"]) == 0
    listed = capsys.readouterr().out
    assert "6 Polish\npolish: Rub the board until it shines.\n" in listed
    assert ".B 6 Polish\nHow it shines: polish.\n" in maker.manual_page()
