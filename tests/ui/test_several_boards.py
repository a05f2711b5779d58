"""Several boards in the window: one lies on the bench, every edit is about it, findings of the others lead to them."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from hand import Hand
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QAbstractButton

from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.storage import load, save


def test_boards_are_added_named_looked_at_and_removed(open_window: Callable[..., Hand]) -> None:
    hand = open_window("seed-room")
    window, session = hand.window, hand.window.session
    window.show_stage("brief")
    boards = window.drawer("brief").boards
    assert not window.area.boards.isVisibleTo(window)
    assert boards.only.isVisibleTo(window)
    hand.press(boards, "add a board")
    hand.settle()
    assert session.boards == ("main", "board 2")
    assert session.work.design.name == "board 2"
    assert session.work.board.size == (50, 50)
    assert window.area.boards.isVisibleTo(window)
    assert window.area.boards.currentText() == "board 2"
    boards.name.setText("lid")
    boards.name.editingFinished.emit()
    hand.settle()
    assert session.boards == ("main", "lid")
    assert session.board == "lid"
    drawer = window.drawer("brief")
    for widget in boards.findChildren(QAbstractButton):
        assert widget.mapTo(drawer, QPoint(widget.width(), 0)).x() <= 316, "the card is no wider than its place"
    assert boards.width() <= 292
    session.edit("set-border", {"border_mm": 3.0})
    hand.settle()
    assert session.project.board("lid").shape.border_mm == 3.0
    assert session.project.board("main").shape.border_mm != 3.0
    window.area.boards.setCurrentIndex(0)
    window.area.boards.activated.emit(0)
    hand.settle()
    assert session.work.design.name == "main"
    assert session.work.leds
    session.show_board("lid")
    hand.settle()
    hand.press(boards, "remove")
    hand.settle()
    assert session.boards == ("main",)
    assert session.work.design.name == "main"
    session.undo()
    hand.settle()
    assert session.boards == ("main", "lid")


def test_a_board_is_made_of_its_own(open_window: Callable[..., Hand]) -> None:
    hand = open_window("seed-room")
    window, session = hand.window, hand.window.session
    window.show_stage("brief")
    boards = window.drawer("brief").boards
    hand.press(boards, "copy this board")
    hand.settle()
    assert len(session.work.leds) == len(session.project.designs[0].lights) or session.work.leds
    boards.own_stack.click()
    hand.settle()
    session.edit("set-stack", {"mask": "red"})
    hand.settle()
    assert session.work.board.stack.mask == "red"
    assert session.project.brief.stack.mask != "red"
    boards.own_stack.click()
    hand.settle()
    assert session.work.board.stack == session.project.brief.stack


def test_a_finding_of_another_board_brings_it_to_the_bench(
    open_window: Callable[..., Hand], sign: Project, tmp_path: Path
) -> None:
    project = apply_edit(sign, "add-board", {"name": "lid"})
    project = apply_edit(project, "ring", {"board": "lid", "array": "halo", "x_mm": 0.0, "y_mm": 0.0, "count": 4})
    save(project, tmp_path / "two.oglow")
    hand = open_window(path=tmp_path / "two.oglow")
    window, session = hand.window, hand.window.session
    assert session.board == "main"
    unwired = next(one for one in session.findings if one.code == "not-wired")
    assert unwired.board == "lid"
    assert window.string.state("order") == "broken"
    window.show_stage("order")
    window.show_place(unwired)
    hand.settle()
    assert session.board == "lid"
    assert window.area.bench.marks.places
    session.save(tmp_path / "two.oglow")
    assert load(tmp_path / "two.oglow") == session.project


def test_boards_plug_together_and_pins_are_compared_in_mirror(open_window: Callable[..., Hand]) -> None:
    hand = open_window("seed-room")
    window, session = hand.window, hand.window.session
    session.edit("add-board", {"name": "lid", "like": "main"})
    hand.settle()
    window.show_stage("wiring")
    one = window.drawer("wiring")
    card = one.plugs
    assert not card.remove.isVisibleTo(one)
    hand.click(card.add)
    hand.settle()
    assert session.work.design.drive.plugs[0].name == "plug 1"
    assert [part.part.kind for part in session.work.board.parts].count("plug") == 1
    hand.choose(card.rows["kind"], "socket")
    hand.settle()
    hand.type_in(card.rows["nets"], "ground, supply, none")
    hand.settle()
    assert session.work.design.drive.plugs[0].nets == ("ground", "supply", "")
    session.show_board("lid")
    hand.settle()
    hand.click(card.add)
    hand.settle()
    hand.type_in(card.rows["nets"], "supply, ground, none")
    hand.settle()
    hand.choose(card.onto, "main\nplug 1")
    hand.settle()
    assert session.work.design.drive.plugs[0].onto == "plug 1"
    assert "11 mm apart" in card.words.text()
    told = next(found for found in session.findings if found.code == "plug-nets-differ")
    assert told.board == "lid"
    session.edit(told.remedies[0].edit, dict(told.remedies[0].values))
    hand.settle()
    assert not [found for found in session.findings if found.code == "plug-nets-differ"]
    hand.click(card.remove)
    hand.settle()
    assert session.work.design.drive.plugs == ()
