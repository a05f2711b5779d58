"""Lights in the window: LEDs taken in hand on the bench, the chain, how evenly they light."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from hand import Hand
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog, QLabel
from shapely.geometry import Point

from outlined_glow.core.parts import part_file
from outlined_glow.ui.help.library import LibraryDialog
from outlined_glow.ui.help.part_text import PartText

CTRL = Qt.KeyboardModifier.ControlModifier


@pytest.fixture
def lit(signed: Hand) -> Hand:
    """The plain sign with a grid of six, on Lights."""
    signed.window.session.edit("set-appearance", {"colour": "B5A766", "appearance": "mask"})
    signed.window.session.edit(
        "grid", {"array": "g", "x_mm": 20.0, "y_mm": 15.0, "rows": 2, "columns": 3, "pitch_x_mm": 8.0, "pitch_y_mm": 8.0}
    )
    signed.window.show_stage("lights")
    signed.settle()
    signed.bench.select("g")
    return signed


def leds(hand: Hand) -> dict[int, Any]:
    return {led.index: led for led in hand.window.session.work.board.lights}


def between(hand: Hand, one: int, other: int) -> tuple[float, float]:
    here, there = leds(hand)[one], leds(hand)[other]
    return (here.x + there.x) / 2, (here.y + there.y) / 2


def lasso(hand: Hand, *corners: tuple[float, float], back: bool = True) -> None:
    points = [hand.screen(x, y) for x, y in corners]
    points += [points[0] + QPoint(1, 1)] if back else []
    QTest.mousePress(hand.bench, Qt.MouseButton.LeftButton, CTRL, points[0])
    for point in points[1:]:
        QTest.mouseMove(hand.bench, point)
        QTest.qWait(15)
    QTest.mouseRelease(hand.bench, Qt.MouseButton.LeftButton, CTRL, points[-1])


def test_leds_drawn_round_are_in_hand_and_left_out(lit: Hand) -> None:
    drawer = lit.window.drawer("lights")
    before = leds(lit)
    # Round the two on the left; then one more by a click, which another click gives back.
    lasso(lit, (8, 7), (16, 7), (16, 23), (8, 23))
    assert lit.bench.picked == {("g", 1), ("g", 4)}
    assert drawer.hand.card.isVisible()
    assert "1, 4" in drawer.hand.words.text()
    spot = before[2]
    for wanted in ({("g", 1), ("g", 2), ("g", 4)}, {("g", 1), ("g", 4)}):
        QTest.mouseClick(lit.bench, Qt.MouseButton.LeftButton, CTRL, lit.screen(spot.x, spot.y))
        assert lit.bench.picked == wanted
    lit.click(drawer.hand.skip)
    lit.settle()
    assert sorted(leds(lit)) == [2, 3, 5, 6], "the others keep their numbers"
    assert not drawer.hand.card.isVisible()
    assert drawer.left_out.text() == "Bring back the 2 LEDs left out"
    lit.window.session.undo()
    lit.settle()
    assert leds(lit) == before
    lit.window.session.redo()
    lit.settle()
    lit.click(drawer.left_out)
    lit.settle()
    assert leds(lit) == before


def test_one_led_is_moved_turned_and_given_another_colour(lit: Hand) -> None:
    drawer = lit.window.drawer("lights")
    before = leds(lit)
    spot = before[3]
    lit.click_board(spot.x, spot.y)
    assert lit.bench.picked == {("g", 3)}
    [handle] = lit.bench.handles
    start = lit.bench.camera.to_screen(handle.x, handle.y)
    lit.drag(start, start + QPointF(2 * lit.bench.camera.zoom, 0))
    lit.settle()
    assert leds(lit)[3].x - spot.x == pytest.approx(2, abs=0.1)
    assert leds(lit)[2] == before[2]
    lit.click(drawer.hand.turn)
    lit.settle()
    assert leds(lit)[3].angle_deg == pytest.approx(spot.angle_deg + 90)
    lit.choose(drawer.hand.emitter.colour, "blue")
    lit.settle()
    assert leds(lit)[3].emitter == "0805 blue"
    assert {leds(lit)[at].emitter for at in (1, 2, 4, 5, 6)} == {"0805 amber"}
    lit.click(drawer.hand.plain)
    lit.settle()
    assert leds(lit)[3] == spot
    lit.click_board(1, 1)
    assert not lit.bench.picked, "beside all of them, none is in hand"


def test_the_chain_is_ordered_and_told(lit: Hand) -> None:
    drawer = lit.window.drawer("lights")
    assert drawer.chain.ends.text() == "1 and 6"
    lit.choose(drawer.chain.rows["how"], "serpentine")
    lit.settle()
    assert drawer.chain.ends.text() == "1 and 4"
    assert drawer.chain.length.text() == "40 mm"
    plain = lit.colour_at(*between(lit, 2, 3)).tolist()
    lit.click(drawer.chain.shown, QPoint(8, 8))
    assert lit.bench.shows_chain
    assert lit.colour_at(*between(lit, 2, 3)).tolist() != plain, "a line from LED to LED"
    lit.click(drawer.chain.rows["turned"], QPoint(8, 8))
    lit.settle()
    assert lit.window.session.work.values["chain"] == (4, 5, 6, 3, 2, 1)
    lit.choose(drawer.chain.rows["how"], "hand")
    lit.settle()
    assert lit.window.session.project.board().chain.leds == (4, 5, 6, 3, 2, 1), "as it was"
    lit.click(drawer.chain.paint, QPoint(8, 8))
    there = leds(lit)
    lasso(lit, *((there[at].x, there[at].y) for at in (3, 2, 5)), back=False)
    lit.settle()
    assert lit.window.session.project.board().chain.leds == (3, 2, 5, 4, 6, 1)
    lit.choose(drawer.chain.rows["how"], "rows")
    lit.settle()
    assert not lit.bench.paints_chain


def test_how_evenly_they_light_is_told_drawn_and_saved(lit: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    evenness = lit.window.drawer("lights").evenness
    assert evenness.even.text() != "–"
    assert evenness.picture.pixmap().width() > 200
    before = float(evenness.even.text())
    lit.type_in(evenness.distance, "40 mm")
    lit.settle()
    assert float(evenness.even.text()) > before
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "map.png"), ""))
    lit.click(evenness.save)
    assert (tmp_path / "map.png").read_bytes().startswith(b"\x89PNG")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "gone" / "map.png"), ""))
    lit.click(evenness.save)
    assert "gone" in lit.window.toast.text(), "what could not be written is said"
    lit.type_in(evenness.distance, "0")
    lit.settle()
    assert evenness.even.text() == "–"
    assert evenness.words.text() == "“distance from the LEDs” must be between 0.1 and 5000 mm, not 0.0."
    lit.type_in(evenness.distance, "40 mm")
    lit.choose(evenness.over, "window")
    lit.settle()
    assert evenness.even.text() == "–"
    assert evenness.words.text() == "This board has no window."
    lit.choose(evenness.over, "lights")
    lit.settle()
    assert float(evenness.even.text()) > 0.7
    lit.type_in(evenness.distance, "3 mm")
    lit.settle()
    assert "even: " in evenness.nearer.text()
    lit.click(evenness.nearer)
    lit.settle()
    assert len(lit.window.session.work.leds) > 6
    assert not evenness.nearer.isVisible()


def test_a_sheet_over_a_slot_is_lit(lit: Hand) -> None:
    """The rows are those of what the light falls on; LEDs that stand under no sheet are said."""
    evenness = lit.window.drawer("lights").evenness
    lit.choose(evenness.on, "sheet")
    lit.settle()
    assert evenness.words.text() == "No array stands under slots or in a line."
    lit.window.session.edit("slots", {"array": "s", "x_mm": 20.0, "y_mm": 15.0, "slots": 2, "per_slot": 4, "pitch_mm": 8.0})
    lit.settle()
    assert [evenness.slot.itemText(at) for at in range(evenness.slot.count())] == ["slot 1 of s", "slot 2 of s"]
    assert evenness.enters.text().endswith("%")
    assert evenness.reached.text().endswith("mm above its edge")
    assert not evenness.distance.isVisible()
    before = float(evenness.even.text())
    lit.type_in(evenness.start, "35 mm")
    lit.settle()
    assert float(evenness.even.text()) > before
    lit.choose(evenness.on, "ground")
    lit.settle()
    assert evenness.above.isVisible()
    assert not evenness.reached.isVisible()


def test_an_array_is_named_and_laid_twice(lit: Hand) -> None:
    drawer = lit.window.drawer("lights")
    lit.type_in(drawer.name, "stars")
    lit.settle()
    assert [one.name for one in lit.window.session.project.board().lights] == ["stars"]
    assert drawer.keys_card.title.text() == "stars"
    lit.click(drawer.twin)
    lit.settle()
    assert drawer.array == "stars 2"
    first, second = (leds(lit)[at] for at in (1, 7))
    assert (second.x - first.x, second.y - first.y) == (pytest.approx(3), pytest.approx(-3))
    lit.type_in(drawer.name, "stars")
    lit.settle()
    assert "already" in lit.window.toast.text()
    assert drawer.array == drawer.name.text() == "stars 2", "the name that is taken is not kept"


def test_every_kind_is_added_shown_and_removed(lit: Hand) -> None:
    drawer = lit.window.drawer("lights")
    for kind in ("arc", "line", "curve", "contour", "fill", "digits", "letters", "slots"):
        drawer.add_array(kind)
        lit.settle()
        assert drawer.array == kind
        assert drawer.keys_card.title.text() == kind
        assert len(leds(lit)) > 6
        if "count" in drawer.fields:
            lit.type_in(drawer.fields["pitch_mm"], "3.5 mm")
            lit.settle()
            assert drawer.fields["pitch_mm"].value == pytest.approx(3.5, abs=0.6)
        lit.click(drawer.remove)
        lit.settle()
        assert len(leds(lit)) == 6


def test_the_library_finds_copies_compares_and_brings_parts(lit: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    dialog = LibraryDialog(lit.window, lit.window.session, lit.window.files)
    dialog.show()
    QTest.keyClicks(dialog.search, "3 mm clear blue")
    assert (dialog.list.count(), dialog.name) == (1, "3 mm clear blue")
    assert dialog.count.text() == "1 part"
    assert not dialog.passport.isVisible()
    high = dialog.height()
    for many in ("digit 14.2 common anode red", "dots 8 x 8 row anode red", "bar of ten"):
        dialog.search.setText(many)
        lit.settle()
        assert dialog.name.startswith(many)
        assert dialog.height() == high <= 700, "it fits on the screen, however much is told"
    dialog.search.setText("3 mm clear blue")
    lit.click(dialog.copy)
    lit.settle()
    assert dialog.name == "my 3 mm clear blue"
    assert dialog.passport.isVisible()
    lit.choose(dialog.passport.pin1, "turned")
    assert dialog.passport.right.isVisible()
    before = lit.window.session.work.values["library"]
    lit.click(dialog.passport.right)
    lit.settle()
    after = lit.window.session.work.values["library"]
    pads = [one.part(dialog.name).pads[0].x_mm for one in (before, after)]
    assert pads == [-1.27, 1.27]
    lit.click(dialog.compare)
    dialog.search.setText("3 mm diffused blue")
    told = " ".join(one.text() for one in dialog.part_card.findChildren(QLabel))
    assert "my 3 mm clear blue: half as bright 15° off its axis" in told, "what differs stands beside it"
    assert "my 3 mm clear blue: 1 cathode, 2 anode" not in told
    lit.click(dialog.compare)
    dialog.search.setText("my 3 mm")
    text = PartText(dialog, lit.window.session, part_file(after.part(dialog.name)).decode())
    text.show()
    text.text.setPlainText(text.text.toPlainText().replace('"height_mm": 5.3', '"height_mm": "high"'))
    lit.press(text, "Take it")
    assert "wrong in line" in text.wrong.text()
    text.text.setPlainText(text.text.toPlainText().replace('"height_mm": "high"', '"height_mm": 6.5'))
    lit.press(text, "Take it")
    lit.settle()
    assert lit.window.session.work.values["library"].part("my 3 mm clear blue").height_mm == 6.5
    path = tmp_path / "lamp.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    lit.click(dialog.export)
    assert b"my 3 mm clear blue" in path.read_bytes()
    lit.click(dialog.remove)
    assert dialog.name != "my 3 mm clear blue"
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(path), ""))
    lit.press(dialog, "Add a part file…")
    lit.settle()
    dialog.search.setText("my 3")
    assert dialog.name == "my 3 mm clear blue"
    path.write_bytes(b"{")
    lit.press(dialog, "Add a part file…")
    assert "line 1" in lit.window.toast.text()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "x.pdf"), ""))
    lit.click(dialog.print)
    assert (tmp_path / "x.pdf").read_bytes().startswith(b"%PDF")
    dialog.close()
    lit.window.show_stage("lights")
    drawer = lit.window.drawer("lights")
    lit.choose(drawer.emitter.package, "my 3 mm clear blue")
    lit.settle()
    assert {led.emitter for led in leds(lit).values()} == {"my 3 mm clear blue"}
    assert any(one.code == "part-unproved" for one in lit.window.session.findings)


def array(hand: Hand, name: str) -> Any:
    return next(one for one in hand.window.session.design.lights if one.name == name)


@pytest.mark.parametrize(
    ("kind", "ends", "wanted"),
    [
        ("ring", ((20, 15), (28, 15)), {"x_mm": 20, "y_mm": 15, "diameter_mm": 16, "start_deg": 0}),
        ("line", ((6, 6), (6, 24)), {"x_mm": 6, "y_mm": 15, "length_mm": 18, "angle_deg": 90}),
        ("grid", ((5, 5), (35, 23)), {"x_mm": 20, "y_mm": 14, "pitch_x_mm": 10, "pitch_y_mm": 9}),
        ("letters", ((5, 5), (35, 17)), {"x_mm": 20, "y_mm": 11, "height_mm": 12}),
        ("single", ((9, 9), (12, 10)), {"x_mm": 12, "y_mm": 10}),
    ],
)
def test_a_new_array_is_drawn_where_it_shall_be(signed: Hand, kind: str, ends: Any, wanted: dict[str, float]) -> None:
    """One drag is one step of the history, in whole steps of half a millimetre; the next drag moves the view again."""
    signed.window.show_stage("lights")
    signed.settle()
    drawer = signed.window.drawer("lights")
    drawer.add_array(kind)
    signed.settle()
    assert "Drag on the board" in drawer.draw.text()
    steps = len(signed.window.session.history.steps)
    signed.drag(*(signed.screen(*end) for end in ends))
    signed.settle()
    drawn = array(signed, kind)
    ox, oy = signed.window.session.work.board.origin
    for key, value in wanted.items():
        there = getattr(drawn, key) - {"x_mm": ox, "y_mm": oy}.get(key, 0)
        assert there == pytest.approx(value, abs=0.6 if key != "angle_deg" else 3), key
    assert len(signed.window.session.history.steps) == steps + 1
    assert drawer.draw.text() == "Draw it on the board"
    signed.bench.draw(kind)
    signed.key(Qt.Key.Key_Escape)
    before = array(signed, kind)
    signed.drag(signed.screen(2, 2), signed.screen(8, 5))
    assert array(signed, kind) == before


def test_a_locked_array_stays_as_it_is(lit: Hand) -> None:
    drawer = lit.window.drawer("lights")
    assert {one.name for one in lit.bench.handles} == {"centre", "spacing", "columns", "rows", "turn"}
    lit.click(drawer.locked)
    lit.settle()
    assert array(lit, "g").locked
    assert not lit.bench.handles
    assert not drawer.remove.isEnabled()
    assert not lit.window.session.edit("grid", {"array": "g", "rows": 5})
    assert "is locked" in lit.window.toast.text()
    lit.click(drawer.locked)
    lit.settle()
    handle = next(one for one in lit.bench.handles if one.name == "columns")
    start = lit.bench.camera.to_screen(handle.x, handle.y)
    lit.drag(start, start + QPointF(8 * lit.bench.camera.zoom, 0))
    lit.settle()
    assert array(lit, "g").columns == 5


def test_leds_are_taken_by_kind_array_and_colour(lit: Hand) -> None:
    session, drawer = lit.window.session, lit.window.drawer("lights")
    session.edit("single", {"array": "one", "x_mm": 6.0, "y_mm": 27.0, "emitter": "0805 blue"})
    lit.settle()

    def pick(words: str) -> frozenset[tuple[str, int]]:
        lit.click(drawer.pick)
        [action] = [one for one in drawer.pick_menu.actions() if one.text() == words]
        action.trigger()
        drawer.pick_menu.close()
        return lit.bench.picked

    assert pick("every 0805 blue") == {("one", 1)}
    assert pick("all of “g”") == {("g", place) for place in range(1, 7)}
    art = session.work.art.chosen
    on = {one.colour: {("g", led.place) for led in session.work.leds
                       if led.array == "g" and one.region.contains(Point(led.x, led.y))} for one in art}  # fmt: skip
    colour = max(on, key=lambda key: len(on[key]))
    assert {one for one in pick(f"on the colour #{colour}") if one[0] == "g"} == on[colour]


def test_an_array_is_hidden_and_put_elsewhere_in_the_list(lit: Hand) -> None:
    session, drawer = lit.window.session, lit.window.drawer("lights")
    session.edit("single", {"array": "one", "x_mm": 6.0, "y_mm": 27.0})
    lit.settle()
    numbers = {led.array: led.index for led in session.work.leds}
    drawer.select("one")
    lit.click(drawer.earlier)
    lit.settle()
    assert [one.name for one in session.design.lights] == ["one", "g"]
    assert {led.array: led.index for led in session.work.leds} == numbers, "no LED gets another number"
    assert session.work.values["chain"][0] == numbers["one"]
    drawer.select("g")
    before = lit.see()
    lit.click(drawer.unseen, QPoint(8, 8))
    lit.settle()
    assert (lit.see() != before).any()
    spot = leds(lit)[2]
    lit.click_board(spot.x, spot.y)
    assert not lit.bench.picked
    lit.click(drawer.unseen, QPoint(8, 8))
    lit.click_board(spot.x, spot.y)
    assert lit.bench.picked == {("g", 2)}


def test_numbers_are_typed_beside_a_handle(lit: Hand) -> None:
    """A handle pressed twice, or Enter on the one that H chose, opens its numbers; places are those of the board."""
    bench = lit.bench
    handle = next(one for one in bench.handles if one.name == "spacing")
    at = bench.camera.to_screen(handle.x, handle.y).toPoint()
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseDClick(bench, Qt.MouseButton.LeftButton, pos=at)
    fields = bench.typed
    assert fields is not None
    assert fields.isVisible()
    assert fields.rows["pitch_x_mm"].value == pytest.approx(8.0)
    lit.type_in(fields.rows["pitch_x_mm"], "9.5 mm")
    lit.settle()
    assert array(lit, "g").pitch_x_mm == 9.5
    fields.close()
    bench.setFocus()
    QTest.keyClick(bench, Qt.Key.Key_H)
    QTest.keyClick(bench, Qt.Key.Key_Return)
    middle = bench.typed
    assert middle is not None
    assert middle is not fields
    assert middle.rows["x_mm"].value == pytest.approx(20.0)
    lit.type_in(middle.rows["x_mm"], "18 mm")
    lit.settle()
    ox, _ = lit.window.session.work.board.origin
    assert array(lit, "g").x_mm - ox == pytest.approx(18.0)
    middle.close()
