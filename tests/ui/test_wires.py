"""Wiring in the window: tracks are drawn, nets are seen, parts are dragged, a hand draws; and all of it can be taken back."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from hand import Hand
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from outlined_glow.core.project import Design
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.ui.drawers.wiring import WiringDrawer


@pytest.fixture
def wiring(lit: Hand) -> Hand:
    """A sign with six LEDs, its Wiring open, seen from behind."""
    lit.window.show_stage("wiring")
    lit.settle()
    lit.bench.turn_over()
    lit.settle()
    return lit


def drawer(hand: Hand) -> WiringDrawer:
    found = hand.window.drawer("wiring")
    assert isinstance(found, WiringDrawer)
    return found


def design(hand: Hand) -> Design:
    project = hand.window.session.project
    assert project is not None
    return project.board()


def part(hand: Hand, ref: str) -> Any:
    return next(one for one in hand.window.session.work.board.parts if one.ref == ref)


def point(hand: Hand, x: float, y: float) -> QPoint:
    """A place of the board frame on the bench."""
    return hand.bench.screen_of(x, y).toPoint()


def test_a_demo_opens_with_its_tracks_and_keeps_what_an_edit_leaves_right(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth", wired=True)
    session = hand.window.session
    before = set(session.work.board.wires.tracks)
    assert before
    assert not session.unsaved
    session.edit("add-words", {"text": "hi", "x_mm": 36.0, "y_mm": 4.0, "height_mm": 1.5, "appearance": "ink"})
    hand.settle()
    assert set(session.work.board.wires.tracks) == before
    session.edit("nudge", {"array": "fore wings", "place": (2,), "dx_mm": 0.3})
    hand.settle()
    after = set(session.work.board.wires.tracks)
    assert len(before & after) > 0.6 * len(before)
    assert not session.work.board.wires.unjoined
    session.undo()
    hand.settle()
    assert set(session.work.board.wires.tracks) == before


def test_another_project_in_the_window_has_the_tracks_of_its_own_file(open_window: Callable[..., Hand]) -> None:
    hand = open_window("frost-tags", wired=True)
    session = hand.window.session
    assert session.work.board.wires.tracks
    hand.window.files.open_demo("seed-room")
    hand.settle()
    alone = Compiler().compile(demo_project("seed-room"))
    assert session.project.name == alone.project.name
    assert session.work.values["routed"].laid == alone.values["routed"].laid
    assert session.making._compiler._copper["main"] is session.work.values["routed"]
    session.close_project()
    assert session.making._compiler._copper == {}


def test_tracks_are_drawn_and_removed_and_taken_back(wiring: Hand) -> None:
    one, session = drawer(wiring), wiring.window.session
    assert one.subtitle.text().endswith("no tracks yet")
    assert any(finding.code == "not-wired" for finding in session.findings)
    assert wiring.window.string.state("wiring") == "broken"
    wiring.click(one.draw)
    wiring.settle()
    assert session.work.board.wires.tracks
    many = one.joined.text().split(" of ")
    assert many[0] == many[1] != "0"
    assert not [finding for finding in session.findings if finding.severity == "stop"]
    assert wiring.window.string.state("wiring") == "lit"
    assert one.length.text().endswith(" mm")
    wiring.choose(one.rows["front"], "free")
    wiring.settle()
    assert design(wiring).wiring.front == "free"
    wiring.choose(one.rows["style"], "rounded")
    wiring.settle()
    assert any(len(track.points) > 8 for track in session.work.board.wires.tracks)
    session.undo()
    session.undo()
    wiring.settle()
    assert design(wiring).wiring.front == "few"
    wiring.click(one.remove)
    wiring.settle()
    assert not session.work.board.wires.tracks
    assert not one.remove.isEnabled()


def test_a_net_is_picked_in_the_list_and_on_the_bench(wiring: Hand) -> None:
    one, bench = drawer(wiring), wiring.bench
    wiring.click(one.draw)
    wiring.settle()
    names = [one._name(row) for row in range(one.nets.rowCount())]
    one.nets.selectRow(names.index("ground"))
    assert bench.wires.net == "ground"
    assert one.net_words.text().startswith("ground: joined.")
    plain = bench.grab().toImage()
    one.nets.clearSelection()
    bench.wires.take_net(None)
    wiring.settle()
    assert bench.grab().toImage() != plain
    track = max((t for t in wiring.window.session.work.board.wires.tracks if t.side == "back"), key=lambda t: t.length)
    middle = track.region.representative_point()
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=point(wiring, middle.x, middle.y))
    assert bench.wires.net is not None
    assert one.nets.item(one.nets.currentRow(), 0).toolTip().startswith(bench.wires.net)
    QTest.mouseMove(bench, point(wiring, middle.x, middle.y))
    assert bench.readout.endswith(bench.wires.net) or f", {bench.wires.net}, " in bench.readout
    before = {t for t in wiring.window.session.work.board.wires.tracks if t.net != bench.wires.net}
    wiring.click(one.again)
    wiring.settle()
    assert [(anew.net, anew.times) for anew in design(wiring).wiring.anew] == [(bench.wires.net, 1)]
    assert before & set(wiring.window.session.work.board.wires.tracks)
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=QPoint(100, 200))
    assert bench.wires.net is None


def test_a_part_is_dragged_turned_typed_and_let_go(wiring: Hand) -> None:
    one, bench, session = drawer(wiring), wiring.bench, wiring.window.session
    R = part(wiring, "R1")
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=point(wiring, R.x, R.y))
    assert bench.wires.part == "R1"
    assert one.part_card.isVisibleTo(one)
    assert [handle.name for handle in bench.handles] == ["part", "part turn"]
    spot, to = point(wiring, R.x, R.y), point(wiring, 9.0, 20.0)
    wiring.drag(spot, to)
    wiring.settle()
    [place] = design(wiring).wiring.places
    assert place.part == "R1"
    moved = part(wiring, "R1")
    assert (moved.x, moved.y) == pytest.approx((9.0, 20.0), abs=0.6)
    steps = len(session.history.steps) if hasattr(session.history, "steps") else None
    assert steps is None or steps >= 2
    wiring.type_in(one.place["angle_deg"], "45")
    wiring.settle()
    assert part(wiring, "R1").angle_deg % 360 == pytest.approx(45)
    one.place["lock"].click()
    wiring.settle()
    assert design(wiring).wiring.places[0].locked
    wiring.click(one.free)
    wiring.settle()
    assert design(wiring).wiring.places == ()
    assert not one.free.isVisibleTo(one)


def test_a_track_is_drawn_by_hand_and_removed(wiring: Hand) -> None:
    one, bench = drawer(wiring), wiring.bench
    pads = [pad for pad in wiring.window.session.work.board.pads if pad.side == "back" and pad.ref.startswith("R")]
    start = point(wiring, pads[0].x, pads[0].y)
    wiring.click(one.pencil)
    assert bench.draws_track
    wiring.drag(start, point(wiring, pads[0].x + 3.0, pads[0].y + 1.0))
    wiring.settle()
    [track] = design(wiring).wiring.tracks
    assert track.side == "back"
    ox, oy = wiring.window.session.work.board.origin
    assert track.points[0] == pytest.approx((pads[0].x + ox, pads[0].y + oy))
    assert not bench.draws_track
    wiring.click(one.pencil)
    wiring.drag(QPoint(130, 620), QPoint(160, 640))
    wiring.settle()
    assert len(design(wiring).wiring.tracks) == 1
    wiring.click(one.pencil)
    QTest.keyClick(bench, Qt.Key.Key_Escape)
    assert not bench.draws_track
    remove = next(row for row in one.hand_card.findChildren(QPushButton) if row.text().startswith("remove"))
    wiring.click(remove)
    wiring.settle()
    assert design(wiring).wiring.tracks == ()


def test_the_volts_lost_are_told_and_shown_on_the_board(wiring: Hand) -> None:
    one, bench = drawer(wiring), wiring.bench
    assert not one.drop_card.isVisibleTo(one)
    wiring.click(one.draw)
    wiring.settle()
    assert one.most.text().endswith(" mV")
    assert one.least.text().startswith("LED ")
    assert one.wider.text()
    plain = bench.grab().toImage()
    one.map.click()
    wiring.settle()
    assert bench.wires.drop["back"]
    assert bench.grab().toImage() != plain
    one.map.click()
    assert bench.wires.drop is None


def test_copper_is_poured_and_left_away(wiring: Hand) -> None:
    one = drawer(wiring)
    wiring.click(one.draw)
    wiring.settle()
    bare = wiring.window.session.work.board.layer("back copper").area
    wiring.choose(one.pours["ground", "back"], "hatched")
    wiring.settle()
    assert wiring.window.session.work.board.layer("back copper").area > 1.5 * bare
    assert [(pour.net, pour.side, pour.style) for pour in design(wiring).wiring.pours] == [("ground", "back", "hatched")]
    wiring.choose(one.pours["ground", "back"], "none")
    wiring.settle()
    assert wiring.window.session.work.board.layer("back copper").area == pytest.approx(bare)
