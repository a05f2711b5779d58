"""Wiring in the window: tracks are drawn, nets are seen, parts are dragged, a hand draws; and all of it can be taken back."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from hand import Hand
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from outlined_glow.core.project import Design
from outlined_glow.core.workshop import Compiler, net_lens, untangle
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
    assert len(before & after) > 0.9 * len(before)
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
    assert session.making._compiler._made["main"].copper.mark == alone.values["routed"].mark
    session.close_project()
    assert session.making._compiler._made == {}


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
    assert bench.readout.startswith(f"{bench.wires.net}: track ")
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
    assert one.part.card.isVisibleTo(one)
    assert [handle.name for handle in bench.handles] == ["part", "part turn", "label"]
    spot, to = point(wiring, R.x, R.y), point(wiring, 9.0, 20.0)
    wiring.drag(spot, to)
    wiring.settle()
    [place] = design(wiring).wiring.places
    assert place.part == "R1"
    moved = part(wiring, "R1")
    assert (moved.x, moved.y) == pytest.approx((9.0, 20.0), abs=0.6)
    steps = len(session.history.steps) if hasattr(session.history, "steps") else None
    assert steps is None or steps >= 2
    wiring.type_in(one.part.place["angle_deg"], "45")
    wiring.settle()
    assert part(wiring, "R1").angle_deg % 360 == pytest.approx(45)
    one.part.place["lock"].click()
    wiring.settle()
    assert design(wiring).wiring.places[0].locked
    wiring.click(one.part.free)
    wiring.settle()
    assert design(wiring).wiring.places == ()
    assert not one.part.free.isVisibleTo(one)


def test_a_track_is_drawn_by_hand_and_removed(wiring: Hand) -> None:
    one, bench = drawer(wiring), wiring.bench
    pads = [pad for pad in wiring.window.session.work.board.pads if pad.side == "back" and pad.ref.startswith("R")]
    start = point(wiring, pads[0].x, pads[0].y)
    wiring.click(one.hand.track)
    assert bench.wires.draws
    wiring.drag(start, point(wiring, pads[0].x + 3.0, pads[0].y + 1.0))
    wiring.settle()
    [track] = design(wiring).wiring.tracks
    assert track.side == "back"
    ox, oy = wiring.window.session.work.board.origin
    assert track.points[0] == pytest.approx((pads[0].x + ox, pads[0].y + oy))
    assert not bench.wires.draws
    wiring.click(one.hand.track)
    wiring.drag(QPoint(130, 620), QPoint(160, 640))
    wiring.settle()
    assert len(design(wiring).wiring.tracks) == 1
    wiring.click(one.hand.track)
    QTest.keyClick(bench, Qt.Key.Key_Escape)
    assert not bench.wires.draws
    remove = next(row for row in one.hand.card.findChildren(QPushButton) if row.text().startswith("remove"))
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
    assert not one.stitch_rows["ground"].isVisibleTo(one)
    wiring.choose(one.pours["ground", "front"], "solid")
    wiring.settle()
    assert one.stitch_rows["ground"].isVisibleTo(one)
    vias = len(wiring.window.session.work.board.wires.vias)
    wiring.type_in(one.stitches["ground"], "3")
    wiring.settle()
    assert [pour.vias_mm for pour in design(wiring).wiring.pours] == [3.0, 3.0]
    # The front is raised art nearly all over: there is little room for the net but in that.
    few = len(wiring.window.session.work.board.wires.vias)
    assert few > vias
    wiring.choose(one.arts["ground", "front"], "join")
    wiring.settle()
    assert len(wiring.window.session.work.board.wires.vias) > few
    assert not [finding for finding in wiring.window.session.findings if finding.code in ("net-short", "copper-too-near")]
    wiring.choose(one.pours["ground", "front"], "none")
    wiring.settle()
    wiring.choose(one.pours["ground", "back"], "none")
    wiring.settle()
    assert wiring.window.session.work.board.layer("back copper").area == pytest.approx(bare)


def drawn(hand: Hand) -> Any:
    hand.click(drawer(hand).draw)
    hand.settle()
    return hand.window.session.work.board.wires.tracks


def take_track(hand: Hand, track: Any) -> None:
    """Click a track away from pads."""
    x, y = max(zip(track.points, track.points[1:], strict=False), key=lambda two: math.dist(*two))
    middle = point(hand, (x[0] + y[0]) / 2, (x[1] + y[1]) / 2)
    QTest.mouseClick(hand.bench, Qt.MouseButton.LeftButton, pos=middle)


def test_a_made_track_is_taken_over_moved_and_widened(wiring: Hand) -> None:
    one, bench, session = drawer(wiring), wiring.bench, wiring.window.session
    longest = max((t for t in drawn(wiring) if t.side == "back"), key=lambda t: t.length)
    take_track(wiring, longest)
    assert one.track.card.isVisibleTo(one)
    assert one.track.card.aside.text() == longest.net
    assert bench.wires.track.number is None
    assert bench.handles == []
    assert not one.track.remove.isVisibleTo(one)
    wiring.click(one.track.take)
    wiring.settle()
    [mine] = design(wiring).wiring.tracks
    assert (mine.net, mine.side, mine.width_mm) == (longest.net, "back", longest.width)
    assert bench.wires.track.number == 1
    assert not session.work.board.wires.unjoined
    names = [handle.name for handle in bench.handles]
    assert names[:2] == ["track end A", "track end B"]
    handle = max((h for h in bench.handles if h.name.startswith("stretch")), key=lambda h: h.name)
    ox, oy = session.work.board.origin
    spot = point(wiring, handle.x - ox, handle.y - oy)
    before = mine.points
    wiring.drag(spot, spot + QPoint(0, 12))
    wiring.settle()
    [moved] = design(wiring).wiring.tracks
    assert moved.points != before
    assert (moved.points[0], moved.points[-1]) == (before[0], before[-1])
    session.undo()
    wiring.settle()
    assert design(wiring).wiring.tracks[0].points == before
    wiring.type_in(one.track.rows["width_mm"], "0.6")
    wiring.settle()
    assert design(wiring).wiring.tracks[0].width_mm == 0.6
    assert session.work.board.wires.tracks[0].width == 0.6
    assert bench.wires.track.track.width == 0.6
    wiring.click(one.track.remove)
    wiring.settle()
    assert design(wiring).wiring.tracks == ()
    assert not one.track.card.isVisibleTo(one)


def test_locked_tracks_stay_and_an_area_is_drawn_anew(wiring: Hand) -> None:
    one, bench, session = drawer(wiring), wiring.bench, wiring.window.session
    tracks = drawn(wiring)
    one.nets.selectRow([one._name(row) for row in range(one.nets.rowCount())].index("ground"))
    assert one.lock_row.isVisibleTo(one)
    one.lock.click()
    wiring.settle()
    assert design(wiring).wiring.locked == ("ground",)
    ground = {t for t in tracks if t.net == "ground"}
    wiring.type_in(one.rows["seed"], "5")
    wiring.settle()
    assert ground <= set(session.work.board.wires.tracks)
    assert not session.work.board.wires.unjoined
    one.lock.click()
    wiring.settle()
    assert design(wiring).wiring.locked == ()
    wiring.click(one.hand.area)
    assert one.hand.area.text().startswith("drag round")
    # The sign is some 60 mm wide: its left third.
    corners = [point(wiring, *spot) for spot in ((1.0, 1.0), (20.0, 1.0), (20.0, 24.0), (1.0, 24.0))]
    QTest.mousePress(bench, Qt.MouseButton.LeftButton, pos=corners[0])
    for corner in corners[1:]:
        QTest.mouseMove(bench, corner)
        QTest.qWait(20)
    assert bench.grab()
    QTest.mouseRelease(bench, Qt.MouseButton.LeftButton, pos=corners[-1])
    wiring.settle()
    assert len(design(wiring).wiring.areas) == 1
    assert not bench.wires.draws
    assert not session.work.board.wires.unjoined
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier, corners[0])
    wiring.settle()
    assert len(design(wiring).wiring.areas) == 1


def test_two_parts_change_places_in_one_step(wiring: Hand) -> None:
    one, bench, session = drawer(wiring), wiring.bench, wiring.window.session
    a, b = part(wiring, "R1"), part(wiring, "R2")
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=point(wiring, a.x, a.y))
    steps = len(session.history.all_steps())
    wiring.choose(one.part.swap, "R2")
    wiring.settle()
    assert len(session.history.all_steps()) == steps + 1
    now = part(wiring, "R1"), part(wiring, "R2")
    assert (now[0].x, now[0].y) == pytest.approx((b.x, b.y), abs=1e-3)
    assert (now[1].x, now[1].y) == pytest.approx((a.x, a.y), abs=1e-3)
    assert session.history.all_steps()[-1].words == "Swap R1 and R2"
    session.undo()
    wiring.settle()
    assert design(wiring).wiring.places == ()


def test_a_dragged_part_shows_where_its_pins_are_drawn_to(wiring: Hand) -> None:
    bench = wiring.bench
    R = part(wiring, "R1")
    spot = point(wiring, R.x, R.y)
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=spot)
    QTest.mousePress(bench, Qt.MouseButton.LeftButton, pos=spot)
    QTest.mouseMove(bench, spot + QPoint(40, 10))
    held = bench._grabbed
    assert held is not None
    assert held.name == "part"
    work = wiring.window.session.work
    lines = net_lens.pulls(work, "R1", held.x, held.y)
    assert len(lines) == 2
    seen = bench.grab().toImage()
    bench._grabbed = None
    assert bench.grab().toImage() != seen
    bench._grabbed = held
    QTest.mouseRelease(bench, Qt.MouseButton.LeftButton, pos=spot + QPoint(40, 10))
    wiring.settle()


def test_drawing_is_stopped_with_what_is_there_and_gone_on_with(wiring: Hand) -> None:
    one, session, working = drawer(wiring), wiring.window.session, wiring.window.working
    told = session.making.progressed
    told.connect(lambda share, words: session.making.take_what_there_is() if words == "drawing the tracks" else None)
    wiring.click(one.draw)
    wiring.settle()
    assert session.work.values["routed"].stopped
    assert "stopped" in next(finding.text for finding in session.findings if finding.code == "net-open")
    told.disconnect()
    told.connect(working.progress)
    wiring.click(one.draw)
    wiring.settle()
    assert not session.work.values["routed"].stopped
    assert not session.work.board.wires.unjoined


def test_a_lead_is_told_of_and_its_sheet_written(wiring: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    one = drawer(wiring)
    wiring.click(one.draw)
    wiring.settle()
    card = one.leads
    assert card.begin.isVisibleTo(one)
    assert not card.save.isVisibleTo(one)
    assert card.of.currentData().startswith("J")
    wiring.click(card.begin)
    wiring.settle()
    [lead] = design(wiring).wiring.leads
    assert lead.part == card.of.currentData()
    wiring.type_in(card.rows["length_mm"], "1.2 m")
    wiring.settle()
    assert design(wiring).wiring.leads[0].length_mm == 1200.0
    assert card.figures["drop"].text().endswith(" mV")
    assert not card.rows.rows["gender"].isVisibleTo(one)
    wiring.choose(card.rows["connector"], "locking 2.0")
    wiring.settle()
    assert card.rows.rows["gender"].isVisibleTo(one)
    wiring.choose(card.rows["held"], "glue")
    wiring.settle()
    assert not [finding for finding in wiring.window.session.findings if finding.code == "lead-on-its-joints"]
    made = card._window.files
    monkeypatch.setattr(made, "write", lambda title, name, kinds, run: (tmp_path / name).write_bytes(run(tmp_path / name)))
    wiring.click(card.save)
    assert (tmp_path / "leads.pdf").read_bytes().startswith(b"%PDF")
    wiring.click(card.remove)
    wiring.settle()
    assert design(wiring).wiring.leads == ()


def test_pins_are_untangled_in_one_step(wiring: Hand) -> None:
    one, bench, session = drawer(wiring), wiring.bench, wiring.window.session
    session.edit("drive", {"method": "pins", "supply": "usb"})
    wiring.settle()
    chip = next(part for part in session.work.board.parts if part.part.kind in ("controller", "module"))
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=point(wiring, chip.x, chip.y))
    assert bench.wires.part == chip.ref
    assert one.part.untangle.isVisibleTo(one)
    steps = len(session.history.all_steps())
    found = untangle.untangled(session.work)
    wiring.click(one.part.untangle)
    wiring.settle()
    assert len(session.history.all_steps()) == steps + (found is not None)
    wiring.click(one.part.untangle)
    wiring.settle()
    assert untangle.untangled(session.work) is None or len(session.history.all_steps()) > steps + 1
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=point(wiring, part(wiring, "R1").x, part(wiring, "R1").y))
    assert not one.part.untangle.isVisibleTo(one)


def test_wires_in_the_place_of_plated_holes_are_counted_and_seen(wiring: Hand) -> None:
    one, session = drawer(wiring), wiring.window.session
    wiring.click(one.draw)
    wiring.settle()
    row = one.links.parentWidget()
    assert row is not None
    assert not row.isVisibleTo(one)
    session.edit("set-profile", {"profile": "home-etch"})
    wiring.settle()
    links = session.work.board.wires.links
    assert links
    assert row.isVisibleTo(one)
    assert (one.links.text(), one.vias.text()) == (str(len(links)), "–")
    plain = wiring.bench.grab().toImage()
    wiring.window.show_stage("drive")
    wiring.settle()
    assert wiring.bench.grab().toImage() != plain
    assert any(finding.code == "wire-links" for finding in session.findings)


def test_drive_tells_what_its_tracks_leave_of_the_supply(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth", wired=True)
    hand.window.show_stage("drive")
    hand.settle()
    least = hand.window.drawer("drive").least
    assert least.isVisibleTo(hand.window)
    assert re.fullmatch(r"LED \d+: \d\.\d\d V", least.text())
    volts = float(least.text().split()[-2])
    assert 0.9 * hand.window.session.work.plan.supply_v < volts <= hand.window.session.work.plan.supply_v
    hand.window.session.edit("unwire", {})
    hand.settle()
    assert not least.isVisibleTo(hand.window)


def test_a_label_is_dragged_set_on_end_hidden_and_freed(wiring: Hand) -> None:
    one, bench = drawer(wiring), wiring.bench
    R = part(wiring, "R1")
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=point(wiring, R.x, R.y))
    held = next(handle for handle in bench.handles if handle.name == "label")
    ox, oy = wiring.window.session.work.board.origin
    start = point(wiring, held.x - ox, held.y - oy)
    wiring.drag(start, start + QPoint(0, -70))
    wiring.settle()
    [label] = design(wiring).wiring.labels
    assert label.part == "R1"
    assert label.y_mm > held.y + 1
    assert next(handle for handle in bench.handles if handle.name == "label").y == pytest.approx(label.y_mm, abs=0.01)
    wiring.click(one.part.label["upright"])
    wiring.settle()
    assert design(wiring).wiring.labels[0].upright
    wiring.click(one.part.label["printed"])
    wiring.settle()
    assert not design(wiring).wiring.labels[0].printed
    assert "label" not in [handle.name for handle in bench.handles]
    wiring.click(one.part.label["printed"])
    wiring.settle()
    assert design(wiring).wiring.labels == ()
    assert "label" in [handle.name for handle in bench.handles]
    assert not one.part.free_label.isVisibleTo(one)


def test_outputs_of_registers_are_untangled(wiring: Hand) -> None:
    one, bench, session = drawer(wiring), wiring.bench, wiring.window.session
    session.edit("drive", {"method": "shift-register", "supply": "usb"})
    wiring.settle()
    keys = [str(led.index) for led in session.work.leds]
    session.edit("order-outputs", {"outputs": (*keys[::2], *keys[1::2])})
    wiring.settle()
    found = untangle.untangled(session.work)
    chip = next(part for part in session.work.board.parts if part.ref in untangle.register_refs(session.work))
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=point(wiring, chip.x, chip.y))
    assert bench.wires.part == chip.ref
    assert one.part.untangle.isVisibleTo(one)
    wiring.click(one.part.untangle)
    wiring.settle()
    outputs = design(wiring).drive.outputs
    assert found is not None
    assert outputs == dict(found.edits)["order-outputs"]["outputs"]
    assert sorted(outputs) == sorted(keys)


def test_gates_of_a_level_shifter_are_untangled(wiring: Hand) -> None:
    one, bench, session = drawer(wiring), wiring.bench, wiring.window.session
    session.edit("drive", {"method": "shift-register", "supply": "usb", "controller": "32-bit 3.3 V module"})
    wiring.settle()
    session.edit("order-gates", {"gates": ("registers enable", "registers data", "registers storage clock")})
    wiring.settle()
    chip = next(part for part in session.work.board.parts if part.part.name.startswith("level shifter"))
    there = net_lens.as_placed(chip, chip)
    session.edit("place-part", {**there, "angle_deg": (chip.angle_deg + 180) % 360, "lock": True})
    wiring.settle()
    before = session.work.design.drive.gates
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=point(wiring, chip.x, chip.y))
    assert bench.wires.part == chip.ref
    wiring.click(one.part.untangle)
    wiring.settle()
    assert session.work.design.drive.gates != before
    assert {net.name for net in session.work.board.nets} >= {"registers data", "registers data, shifted"}
