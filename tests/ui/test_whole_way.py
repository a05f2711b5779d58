"""The whole way through the window: open, swatch, border, array, supply, play, night, export."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from hand import Hand
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from outlined_glow.core.order import prove_boards
from outlined_glow.core.project.storage import load


def test_from_a_picture_to_a_package(start: Hand, sign_file: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    window = start.window
    assert window.centre.currentWidget() is window.start
    assert window.ledger.cells["size"].value == "–"

    # A picture is chosen; its width was set on the start page.
    start.type_in(window.start.zone.width_field, "50")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(sign_file), ""))
    start.click(window.start.zone.choose)
    start.settle()
    assert window.centre.currentWidget() is window.area
    assert window.session.work.painted.size[0] == pytest.approx(50)
    assert window.ledger.cells["size"].value == "53.2 × 36.5 mm"
    assert window.ledger.cells["findings"].value.startswith("no stops")
    assert window.string.state("lights") == "dark"

    # Swatch: the metal becomes a window; the board shows it at once.
    window.area.bench.set_wipe(None)
    start.settle()
    ox, oy = window.session.work.board.origin
    spot = (10.0 - ox, 25.0 - oy)
    before = start.colour_at(*spot)
    drawer = window.drawer("artwork")
    start.choose(drawer.rows["D9B25A", "", "front"].choice, "raised")  # type: ignore[attr-defined]
    assert np.abs(start.colour_at(*spot) - before).max() > 60
    assert window.session.project.designs[0].artwork.chosen == {"D9B25A": "raised"}

    # Border, typed.
    start.key(Qt.Key.Key_3)
    shape = window.drawer("shape")
    assert window.drawer_stack.currentWidget() is shape
    start.type_in(shape.border, "3,5 mm")  # type: ignore[attr-defined]
    start.settle()
    assert window.ledger.cells["size"].value == "57.0 × 40.3 mm"

    # A ring of lights.
    window.show_stage("lights")
    lights = window.drawer("lights")
    lights.add_array("ring")  # type: ignore[attr-defined]
    start.settle()
    assert window.ledger.cells["leds"].value == "12"
    assert window.ledger.cells["findings"].value.startswith("1 stop") or "stops" in window.ledger.cells["findings"].value
    start.type_in(lights.fields["count"], "8")  # type: ignore[attr-defined]
    start.settle()
    assert len(window.session.work.leds) == 8
    assert window.string.state("order") == "broken"

    # The supply.
    window.show_stage("drive")
    drive = window.drawer("drive")
    start.choose(drive.supply_card.supply, "coin-2032")  # type: ignore[attr-defined]
    assert window.ledger.cells["runs"].value.endswith(" h")
    start.choose(drive.supply_card.supply, "usb")  # type: ignore[attr-defined]
    assert window.ledger.cells["runs"].value == "no limit on USB"

    # A pattern, played: the current now follows it.
    window.show_stage("motion")
    motion = window.drawer("motion")
    start.choose(motion.rows["pattern"], "breathe")  # type: ignore[attr-defined]
    assert "Preview only" in motion.truth.text()  # type: ignore[attr-defined]
    assert window.string.state("motion") == "half"
    window.area.bench.setFocus()
    start.key(Qt.Key.Key_Space)
    assert window.area.playing
    seen = set()
    for _ in range(12):
        QTest.qWait(80)
        seen.add(hash(bytes(window.area.bench.grab().toImage().bits().asarray(868 * 400))))  # type: ignore[union-attr]
    start.key(Qt.Key.Key_Space)
    assert not window.area.playing
    assert len(seen) > 3
    start.settle()

    # Night: darker, but for the lights.
    start.key(Qt.Key.Key_Home)
    start.settle()
    ox, oy = window.session.work.board.origin
    ink = (52 * 50 / 60 - ox, 36 * 50 / 60 - oy)
    day = start.colour_at(*ink)
    start.key(Qt.Key.Key_N)
    start.key(Qt.Key.Key_N)
    start.settle()
    assert window.area.sun.words() in ("night", "nightfall")
    assert (start.colour_at(*ink) <= day).all()
    led = window.session.work.board.lights[0]
    assert start.colour_at(led.x, led.y).max() > 200

    # Export the draft; the proof agrees; the folder is offered.
    target = tmp_path / "order"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    start.key(Qt.Key.Key_8)
    order = window.drawer("order")
    assert order.draft.isVisible()  # type: ignore[attr-defined]
    start.click(order.draft)  # type: ignore[attr-defined]
    start.settle(90)
    assert "agrees" in order.proof.text()  # type: ignore[attr-defined]
    assert order.open.isVisible()  # type: ignore[attr-defined]
    assert prove_boards(target, {"": window.session.work.board})[""].good

    # Undo everything, redo everything.
    history = window.session.history
    assert history is not None
    steps = len(history.steps)
    window.area.bench.setFocus()
    while history.can_undo():
        start.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    start.settle()
    assert window.ledger.cells["leds"].value == "0"
    assert window.ledger.cells["size"].value == "53.2 × 36.5 mm"
    for _ in range(steps):
        start.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    start.settle()
    assert window.ledger.cells["leds"].value == "8"


def drop(widget, path: Path) -> None:  # type: ignore[no-untyped-def]
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path))])
    event = QDropEvent(
        QPointF(20, 20), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    widget.dropEvent(event)


def test_a_picture_dropped_keeps_its_own_size_unless_a_width_was_said(start: Hand, tmp_path: Path) -> None:
    own = tmp_path / "own.svg"
    own.write_text('<svg xmlns="http://www.w3.org/2000/svg" width="42mm" viewBox="0 0 9 6"><rect width="9" height="6"/></svg>')
    icon = tmp_path / "icon.svg"
    icon.write_text('<svg xmlns="http://www.w3.org/2000/svg" width="24" viewBox="0 0 9 6"><rect width="9" height="6"/></svg>')
    field = start.window.start.zone.width_field
    for path, typed, wide in ((own, None, 42), (icon, None, 60), (own, "30", 30), (own, "", 42)):
        if typed == "":
            field.setFocus()
            field.selectAll()
            QTest.keyClick(field, Qt.Key.Key_Delete)
            QTest.keyClick(field, Qt.Key.Key_Return)
        elif typed is not None:
            start.type_in(field, typed)
        drop(start.window.start.zone, path)
        start.settle()
        assert start.window.session.work.painted.size[0] == pytest.approx(wide)
        assert not field.property("wrong")
        start.window.session.close_project()
        start.settle()


def test_a_picture_dropped_and_a_broken_one_refused(start: Hand, sign_file: Path, tmp_path: Path) -> None:
    bad = tmp_path / "broken.svg"
    bad.write_text("<svg><rect")
    drop(start.window.start.zone, bad)
    start.settle()
    assert start.window.centre.currentWidget() is start.window.start
    assert start.window.toast.isVisible()
    assert "broken.svg" in start.window.toast.text()
    drop(start.window.start.zone, sign_file)
    start.settle()
    assert start.window.centre.currentWidget() is start.window.area
    assert start.window.windowTitle().startswith("sign •")


def test_the_demo_opens_by_enter_and_is_taken_apart(start: Hand) -> None:
    window = start.window
    window.start.demos[0].setFocus()
    start.key(Qt.Key.Key_Return)
    start.settle()
    assert window.session.project.name == "Lamplighter moth"
    assert window.ledger.cells["leds"].value == "20"
    assert window.ledger.cells["findings"].value.startswith("no stops")
    assert not window.session.unsaved
    for key, stage in ((Qt.Key.Key_1, "brief"), (Qt.Key.Key_4, "lights"), (Qt.Key.Key_7, "motion"), (Qt.Key.Key_8, "order")):
        window.area.bench.setFocus()
        start.key(key)
        assert window.stage == stage
        assert window.drawer_stack.currentWidget() is window.drawer(stage)
    told = window.drawer("order").subtitle.text()
    assert told == window.ledger.cells["findings"].value == f"no stops · {len(window.session.findings)} more"


def test_handles_edit_live_and_a_drag_is_one_step(signed: Hand) -> None:
    window = signed.window
    window.show_stage("shape")
    shape = window.drawer("shape")
    shape.has_hole.click()  # type: ignore[attr-defined]
    signed.settle()
    assert len(window.session.work.board.holes) == 1
    steps = len(window.session.history.steps)  # type: ignore[union-attr]
    hole = window.session.work.board.holes[0]
    signed.drag(signed.screen(hole.x, hole.y), signed.screen(10, 36))
    signed.settle()
    moved = window.session.work.board.holes[0]
    assert (moved.x, moved.y) == (pytest.approx(10, abs=0.3), pytest.approx(36, abs=0.3))
    assert len(window.session.history.steps) == steps + 1  # type: ignore[union-attr]
    border = next(handle for handle in signed.bench.handles if handle.name == "border")
    spot = signed.bench.camera.to_screen(border.x, border.y)
    signed.drag(spot, spot + QPointF(2 * signed.bench.camera.zoom, 0))
    signed.settle()
    assert window.session.project.designs[0].shape.border_mm == pytest.approx(3.6, abs=0.2)
    assert len(window.session.history.steps) == steps + 2  # type: ignore[union-attr]


def test_arrays_are_dragged_and_picked(signed: Hand) -> None:
    window = signed.window
    window.show_stage("lights")
    lights = window.drawer("lights")
    lights.add_array("ring")  # type: ignore[attr-defined]
    signed.settle()
    lights.add_array("along")  # type: ignore[attr-defined]
    signed.settle()
    assert signed.bench.selected == "along"
    first = window.session.work.leds[0]
    ox, oy = window.session.work.board.origin
    signed.click_board(first.x - ox, first.y - oy)
    signed.settle()
    assert signed.bench.selected == "ring"
    assert lights.array == "ring"  # type: ignore[attr-defined]
    centre = next(handle for handle in signed.bench.handles if handle.name == "centre")
    spot = signed.bench.camera.to_screen(centre.x, centre.y)
    signed.drag(spot, spot + QPointF(30, 0))
    signed.settle()
    ring = next(one for one in window.session.project.designs[0].lights if one.name == "ring")
    assert ring.x_mm == pytest.approx(centre.x + 30 / signed.bench.camera.zoom, abs=0.3)
    signed.click(lights.remove)  # type: ignore[attr-defined]
    signed.settle()
    assert [one.name for one in window.session.project.designs[0].lights] == ["along"]


def test_the_wipe_shows_picture_and_board(signed: Hand) -> None:
    window = signed.window
    assert window.stage == "artwork"
    assert signed.bench.wipe == 0.5
    wiped = signed.see()
    seam = QPoint(signed.bench.width() // 2, 300)
    signed.drag(seam, QPoint(signed.bench.width() // 4, 300))
    signed.settle()
    assert signed.bench.wipe == pytest.approx(0.25, abs=0.01)
    assert np.abs(signed.see() - wiped).max() > 30
    window.drawer("artwork").wipe.click()  # type: ignore[attr-defined]
    assert signed.bench.wipe is None


def test_saving_and_opening_again(
    signed: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, open_window: Callable[..., Hand]
) -> None:
    window = signed.window
    target = tmp_path / "kept"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    assert window.session.unsaved
    signed.key(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert not window.session.unsaved
    path = tmp_path / "kept.oglow"
    assert load(path) == window.session.project
    window.session.edit("set-border", {"border_mm": 5.0})
    signed.settle()
    assert "•" in window.windowTitle()
    signed.key(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert load(path).designs[0].shape.border_mm == 5.0
    window.files.close()
    assert window.centre.currentWidget() is window.start
    assert window.begin.card.aside.text() == ""
    again = open_window(path=path)
    assert again.window.session.work.project == load(path)


@pytest.mark.parametrize(("answer", "closed"), [("Save", True), ("Discard changes", True), ("Cancel", False)])
def test_closing_with_unsaved_work_asks(
    signed: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, answer: str, closed: bool
) -> None:
    from PyQt6.QtCore import QTimer
    from PyQt6.QtWidgets import QApplication, QMessageBox, QPushButton

    path = tmp_path / "a.oglow"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))

    def press() -> None:
        box = QApplication.activeModalWidget()
        assert isinstance(box, QMessageBox)
        next(one for one in box.findChildren(QPushButton) if one.text() == answer).click()

    QTimer.singleShot(200, press)
    signed.window.files.close()
    assert (signed.window.session.project is None) == closed
    assert path.exists() == (answer == "Save")


def test_findings_lead_to_their_place(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    window = hand.window
    window.show_stage("order")
    order = window.drawer("order")
    finding = next(one for one in order.all.findings if one.x_mm is not None and one.code != "not-wired")  # type: ignore[attr-defined]
    order.show_place.emit(finding, 0)
    assert hand.bench.marks.here == pytest.approx((finding.x_mm, finding.y_mm), abs=0.01)
    hand.bench.zoom_by(30)
    hand.bench.camera = hand.bench.camera.moved(5000, 0)
    order.show_place.emit(finding, 0)
    spot = hand.screen(finding.x_mm, finding.y_mm)
    assert hand.bench.rect().contains(spot)
    window.session.edit("drive", {"method": "each"})
    hand.settle()
    wish = next(one for one in order.all.findings if one.code == "pattern-is-a-wish")  # type: ignore[attr-defined]
    remedy = wish.remedies[0]
    order.all.remedied.emit(remedy.edit, dict(remedy.values))  # type: ignore[attr-defined]
    hand.settle()
    assert window.session.project.motion.pattern == "steady"
    assert "pattern-is-a-wish" not in [one.code for one in order.all.findings]  # type: ignore[attr-defined]
    window.session.edit("unwire", {})
    hand.settle()
    hand.click(order.main)  # type: ignore[attr-defined]
    assert window.stage == "wiring"
    assert len(hand.bench.marks.places) == 20


def test_leaves_turning_over_and_measuring(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    window, leaves = hand.window, hand.window.area.leaves
    window.show_stage("shape")
    hand.settle()
    whole = hand.see()
    hand.click(leaves.leaves[2])
    hand.settle()
    assert leaves.hidden_layers == {"front copper"}
    assert np.abs(hand.see() - whole).mean() > 3
    leaves.pull(2)
    hand.settle()
    assert leaves.alone_layer == "front copper"
    assert leaves.leaves[2].accessibleName() == "front copper, hidden, alone"
    leaves.pull(2)
    leaves.hide_leaf(2)
    hand.settle()
    hand.bench.setFocus()
    hand.key(Qt.Key.Key_T)
    hand.settle()
    assert "back" in window.area.turn.text()
    led = window.session.work.board.lights[0]
    assert hand.screen(led.x, led.y).x() < hand.bench.width() / 2, "from behind, x runs to the left"
    hand.key(Qt.Key.Key_T)
    hand.settle()
    QTest.mouseMove(hand.bench, hand.screen(led.x, led.y))
    QTest.qWait(30)
    assert "LED 1" in hand.bench.readout
    QTest.mousePress(hand.bench, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, QPoint(200, 200))
    QTest.mouseMove(hand.bench, QPoint(300, 200))
    assert hand.bench._measure is not None
    QTest.mouseRelease(hand.bench, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, QPoint(300, 200))
    assert hand.bench._measure is None


def test_zoom_keeps_the_place_under_the_pointer_and_fit_brings_all_back(signed: Hand) -> None:
    bench = signed.bench
    signed.window.show_stage("shape")
    at = QPointF(400, 300)
    before = bench.camera.to_mm(at)
    bench.camera = bench.camera.zoomed(3.0, at)
    assert bench.camera.to_mm(at) == pytest.approx(before)
    signed.key(Qt.Key.Key_F)
    signed.settle()
    size = signed.window.session.work.board.size
    for x, y in ((0, 0), size):
        assert bench.rect().contains(signed.screen(x, y))


def test_both_themes_and_the_numbers_said_why(open_window: Callable[..., Hand]) -> None:
    hand = open_window("moth")
    window = hand.window
    window.show_stage("drive")
    drive = window.drawer("drive")
    from outlined_glow.core.workshop import why

    work = window.session.work
    for reason in (why.why_resistor(work, work.plan.branches[0]), why.why_current(work, work.plan.branches[0]),
                   why.why_run_time(work), why.why_price(work)):  # fmt: skip
        drive.why(reason)
        assert drive.why_card.isVisibleTo(drive)
        assert reason.source
        assert all(row.symbol or row.how for row in reason.rows)
    dusk = hand.see()
    hand.bench.setFocus()
    hand.key(Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    hand.settle()
    assert hand.see()[5, 400].sum() > dusk[5, 400].sum() + 300
    hand.key(Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    hand.settle()
