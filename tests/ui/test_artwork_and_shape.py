"""Pictures, tones, words, other colours, forms, features and limits, by a user's hand."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from drawings import SIGN
from hand import Hand
from pictures import badge, dxf, encoded, frame, hills
from PyQt6.QtCore import QMimeData, Qt, QUrl
from PyQt6.QtGui import QGuiApplication, QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QInputDialog, QMessageBox, QPushButton

from outlined_glow.core import workshop
from outlined_glow.core.artwork import painting
from outlined_glow.core.parts import profile, profile_text
from outlined_glow.core.project import Project
from outlined_glow.core.project.storage import save
from outlined_glow.core.workshop import Compiler


@pytest.fixture
def photo(tmp_path: Path) -> Path:
    path = tmp_path / "hills.png"
    path.write_bytes(encoded(hills(160)))
    return path


def answer(monkeypatch: pytest.MonkeyPatch, words: str) -> None:
    """Answer the next question by this button."""

    def press(box: QMessageBox) -> int:
        next(button for button in box.buttons() if button.text().replace("&", "") == words).click()
        return 0

    monkeypatch.setattr(QMessageBox, "exec", press)


def test_a_photograph_becomes_flat_colours_then_dots(open_window: Callable[..., Hand], photo: Path) -> None:
    hand = open_window(path=photo)
    window = hand.window
    window.show_stage("artwork")
    hand.settle()
    drawer = window.drawer("artwork")
    tones = drawer.tones  # type: ignore[attr-defined]
    assert not tones.isHidden()
    assert drawer.pictures.fine.text().startswith("2.67 dots/mm, coarse")  # type: ignore[attr-defined]
    hand.type_in(tones.keys["colours"], "3")
    hand.settle()
    assert len(window.session.work.art.chosen) <= 3
    hand.choose(tones.keys["how"], "screen")
    assert {one.word for one in window.session.work.art.chosen} <= {"mask", "raised", "metal", "ink"}
    assert tones.keys.rows["colours"].isHidden()
    assert "lines/cm" in tones.words.text()
    hand.choose(tones.keys["how"], "threshold")
    assert {one.colour for one in window.session.work.art.chosen} == {"000000", "FFFFFF"}


def test_the_even_ground_goes_by_its_remedy(open_window: Callable[..., Hand], tmp_path: Path) -> None:
    path = tmp_path / "badge.png"
    path.write_bytes(encoded(badge(200)))
    hand = open_window(path=path)
    found = {one.code: one for one in hand.window.session.findings}
    remedy = found["plain-ground"].remedies[0]
    hand.window.session.edit(remedy.edit, dict(remedy.values))
    hand.settle()
    assert "FFFFFF" not in {one.colour for one in hand.window.session.work.art.chosen}


def test_pictures_fall_on_the_bench_are_pasted_moved_turned_and_taken_away(
    signed: Hand, photo: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window, session = signed.window, signed.window.session
    window.show_stage("artwork")
    signed.settle()
    answer(monkeypatch, "Add it to this board")
    window.area.bench.dropped.emit(str(photo))
    signed.settle()
    assert [one.name for one in session.project.designs[0].artwork.pictures] == ["sign.svg", "hills.png"]
    card = window.drawer("artwork").pictures  # type: ignore[attr-defined]
    card.select(2)
    signed.settle()
    handles = {one.name: one for one in window.area.bench._handles}
    middle = window.area.bench.camera.to_screen(handles["picture"].x, handles["picture"].y)
    before = session.project.designs[0].artwork.pictures[1]
    signed.drag(middle, middle + type(middle)(60, -30))
    signed.settle()
    after = session.project.designs[0].artwork.pictures[1]
    assert after.x_mm > before.x_mm + 1
    assert after.y_mm > before.y_mm + 0.5
    signed.type_in(card.placed["angle_deg"], "30")
    signed.choose(card.placed["side"], "back")
    one = session.project.designs[0].artwork.pictures[1]
    assert (one.angle_deg, one.side) == (30.0, "back")
    assert session.work.board.layer("back copper").area + session.work.board.layer("back legend").area > 1
    card.remove_link.click()
    signed.settle()
    assert len(session.project.designs[0].artwork.pictures) == 1
    plate = tmp_path / "plate.dxf"
    plate.write_bytes(dxf(frame(0, 0, 50, 20)))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(plate), ""))
    card.add_link.click()
    signed.settle()
    assert session.project.designs[0].artwork.pictures[-1].name == "plate.dxf"
    mime = QMimeData()
    mime.setImageData(QImage.fromData(encoded(badge(60))))
    QGuiApplication.clipboard().setMimeData(mime)  # type: ignore[union-attr]
    signed.bench.setFocus()
    signed.key(Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    signed.settle()
    assert session.project.designs[0].artwork.pictures[-1].name == "pasted.png"
    QApplication.clipboard().clear()  # type: ignore[union-attr]


def test_a_pasted_drawing_begins_a_board_and_nothing_is_told(start: Hand) -> None:
    QGuiApplication.clipboard().setText("only words")  # type: ignore[union-attr]
    start.window.files.paste()
    start.settle()
    assert start.window.session.project is None
    assert "no picture" in start.window.toast.text()
    QGuiApplication.clipboard().setText(SIGN.decode())  # type: ignore[union-attr]
    start.window.files.paste()
    start.settle()
    assert start.window.session.work is not None
    QApplication.clipboard().clear()  # type: ignore[union-attr]


def test_a_file_on_the_clipboard_is_pasted_or_told_why_not(start: Hand, tmp_path: Path) -> None:
    (tmp_path / "sign.svg").write_bytes(SIGN)
    huge = tmp_path / "huge.svg"
    with huge.open("wb") as file:
        file.truncate(1 << 40)
    for path, told in ((tmp_path / "gone.svg", "cannot be read"), (tmp_path, "not a file"), (huge, "larger than")):
        mime = QMimeData()
        mime.setUrls([QUrl.fromLocalFile(str(path))])
        QApplication.clipboard().setMimeData(mime)  # type: ignore[union-attr]
        start.window.files.paste()
        start.settle()
        assert start.window.session.project is None
        assert told in start.window.toast.text()
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(tmp_path / "sign.svg"))])
    QApplication.clipboard().setMimeData(mime)  # type: ignore[union-attr]
    start.window.files.paste()
    start.settle()
    assert start.window.session.work is not None
    QApplication.clipboard().clear()  # type: ignore[union-attr]


def test_a_bad_picture_on_the_bench_changes_nothing(signed: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    bad = tmp_path / "bad.png"
    bad.write_bytes(b"\x89PNG\r\n\x1a\n" + bytes(90))
    before = signed.window.session.project
    answer(monkeypatch, "Add it to this board")
    signed.window.area.bench.dropped.emit(str(bad))
    signed.settle()
    assert signed.window.session.project is before
    assert "damaged" in signed.window.toast.text()


def test_words_are_added_typed_bent_dragged_and_proofread(signed: Hand) -> None:
    window = signed.window
    window.show_stage("artwork")
    signed.settle()
    card = window.drawer("artwork").words  # type: ignore[attr-defined]
    card._add()
    signed.settle()
    signed.type_in(card.text, "MOTH NIGHT")
    signed.choose(card.keys["appearance"], "metal")
    signed.choose(card.keys["bend"], "over")
    signed.type_in(card.keys["radius_mm"], "14")
    signed.settle()
    words = window.session.project.designs[0].artwork.words[0]
    assert (words.text, words.appearance, words.bend, words.radius_mm) == ("MOTH NIGHT", "metal", "over", 14.0)
    assert card._last[0] == ("MOTH NIGHT", 1)
    handle = next(one for one in window.area.bench._handles if one.name == "words 1")
    spot = window.area.bench.camera.to_screen(handle.x, handle.y)
    signed.drag(spot, spot + type(spot)(-50, 0))
    signed.settle()
    assert window.session.project.designs[0].artwork.words[0].x_mm < words.x_mm - 1
    signed.choose(card.keys["bend"], "edge")
    assert card.keys.rows["x_mm"].isHidden()
    handle = next(one for one in window.area.bench._handles if one.name == "words 1")
    spot, there = window.area.bench.camera.to_screen(handle.x, handle.y), window.area.bench.camera.to_screen(54.0, 20.0)
    signed.drag(spot, there)
    signed.settle()
    slid = window.session.project.designs[0].artwork.words[0]
    assert 0.2 < slid.share < 0.3, "a quarter round, clockwise"
    assert slid.inset_mm == pytest.approx(6.0, abs=0.3)
    card.remove_link.click()
    signed.settle()
    assert not window.session.project.designs[0].artwork.words


def test_other_colours_are_shown_sorted_and_put_on(signed: Hand) -> None:
    window = signed.window
    window.show_stage("artwork")
    signed.settle()
    card = window.drawer("artwork").other_colours  # type: ignore[attr-defined]
    card.look(window.session.work)
    signed.settle()
    far = [tile.other.difference for tile in card.tiles]
    assert len(far) == 6
    assert far[:5] == sorted(far[:5])
    assert any(tile.other.now for tile in card.tiles)
    card.more.click()
    signed.settle()
    assert len(card.tiles) == 90
    other = next(tile for tile in card.tiles if tile.other.stack.mask == "blue")
    signed.click(other)
    signed.settle()
    assert window.session.project.brief.stack.mask == "blue"


def test_the_difference_map_and_the_rehearsal(signed: Hand) -> None:
    window = signed.window
    window.show_stage("artwork")
    signed.settle()
    drawer, bench = window.drawer("artwork"), window.area.bench
    signed.choose(drawer.rows["D9B25A", "", "front"].choice, "mask")  # type: ignore[attr-defined]
    signed.choose(drawer.compare, "difference")  # type: ignore[attr-defined]
    bench.set_wipe(0.95)
    signed.settle()
    ox, oy = window.session.work.board.origin
    loud, calm = signed.colour_at(14 - ox, 30 - oy), signed.colour_at(20 - ox, 8 - oy)
    assert loud[0] > calm[0] + 60, "gold that became mask stands out"
    assert bench._differing()[0].colour == "D9B25A"
    bench.set_wipe(None)
    drawer.rehearse.click()  # type: ignore[attr-defined]
    seen = set()
    for _ in range(60):
        QTest.qWait(60)
        seen.add(bench.phase)
        if len(seen) > 2:
            break
    assert len(seen) > 2
    drawer.rehearse.click()  # type: ignore[attr-defined]
    signed.settle()
    assert bench.phase is None


def test_thin_places_are_looked_at_one_after_another_and_mended_here_or_everywhere(
    open_window: Callable[..., Hand], tmp_path: Path
) -> None:
    path = tmp_path / "thin.svg"
    lines = b'<path d="M6 20h40" stroke="#D9B25A" stroke-width=".1"/><path d="M6 24h40" stroke="#D9B25A" stroke-width=".12"/>'
    path.write_bytes(SIGN.replace(b"</svg>", lines + b"</svg>"))
    hand = open_window(path=path)
    session, bench = hand.window.session, hand.bench
    hand.window.show_stage("artwork")
    hand.settle()
    card = hand.window.drawer("artwork").places_card
    row = next(one for one in card.rows if "metal" in one.text())
    hand.click(row)
    places, widths = bench.marks.places, bench.marks.widths
    assert len(places) == 2 == len(widths)
    assert [round(width, 1) for width, _ in widths] == [0.1, 0.1]
    assert all(across == pytest.approx(90, abs=8) for _, across in widths)
    assert card.where.text().startswith("1 of 2")
    hand.click_board(*places[1])
    assert card.which == 1 == bench.marks.current
    hand.click(card.after)
    assert card.which == 0

    def press(words: str) -> None:
        hand.settle()
        next(one for one in card.findChildren(QPushButton) if one.text().startswith(words) and one.isVisible()).click()
        hand.settle()

    press("thicken")
    assert session.project.designs[0].artwork.mends[0].reach_mm < 1
    assert len(bench.marks.places) == 1, "the other one is still too thin"
    assert bench.marks.here == pytest.approx(places[1], abs=0.05)
    session.undo()
    hand.settle()
    hand.choose(card.spread, "all")
    press("thicken")
    assert "metal-too-thin" not in {one.code for one in session.findings}
    assert bench.marks.places == ()


def test_a_picture_is_added_without_holding_the_window(signed: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    """Where it lies follows from the first picture, which is read and taken apart for that."""
    where, real = [], painting.resolve

    def resolve(*given: Any, **named: Any) -> Any:
        where.append(threading.current_thread() is threading.main_thread())
        return real(*given, **named)

    monkeypatch.setattr(painting, "resolve", resolve)
    session, bringing = signed.window.session, signed.window.files.bringing
    bringing.picture("two.svg", SIGN)
    signed.settle()
    assert len(session.project.designs[0].artwork.pictures) == 2
    assert where
    assert not any(where)
    bringing.picture("three.svg", SIGN)
    session.edit("set-border", {"border_mm": 2.5})
    signed.settle()
    assert len(session.project.designs[0].artwork.pictures) == 3
    assert session.project.designs[0].shape.border_mm == 2.5


def test_a_picture_brought_to_no_project_is_left(start: Hand) -> None:
    """The project was closed while the file dialog stood open."""
    session, bringing, broke = start.window.session, start.window.files.bringing, []
    session.jobs.broke.connect(broke.append)
    bringing.picture("two.svg", SIGN)
    bringing.outline("two.svg", SIGN)
    start.settle()
    assert session.project is None
    assert broke == []


def test_a_picture_brought_to_a_project_lands_on_no_other(signed: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    session, opened, real = signed.window.session, threading.Event(), workshop.apply_values

    def late(*given: Any) -> Project:
        if threading.current_thread() is not threading.main_thread():
            opened.wait()
        return real(*given)

    monkeypatch.setattr(workshop, "apply_values", late)
    signed.window.files.bringing.picture("two.svg", SIGN)
    session.history.mark_saved()
    session.open_demo("frost-tags")
    while session.project.name != "Frost tag":
        QTest.qWait(20)
    opened.set()
    signed.settle()
    assert len(session.project.designs[0].artwork.pictures) == 1


def test_a_cut_too_narrow_is_listed_and_widened_in_the_shape(open_window: Callable[..., Hand], tmp_path: Path) -> None:
    path = tmp_path / "slit.svg"
    path.write_bytes(SIGN.replace(b"</svg>", b'<rect x="8" y="3" width="14" height=".4" fill="#119944"/></svg>'))
    hand = open_window(path=path)
    session = hand.window.session
    session.edit("set-appearance", {"colour": "119944", "appearance": "cut"})
    hand.window.show_stage("shape")
    hand.settle()
    card = hand.window.drawer("shape").places_card
    (row,) = [one for one in card.rows if "cut-out" in one.text()]
    assert row.text().startswith(" 0.40 mm  cut-out")
    hand.click(row)
    assert hand.bench.marks.widths
    next(one for one in card.findChildren(QPushButton) if "widen" in one.text()).click()
    hand.settle()
    assert "cut-too-narrow" not in {one.code for one in session.findings}


def test_forms_and_features_by_hand(signed: Hand) -> None:
    window = signed.window
    window.show_stage("shape")
    signed.settle()
    shape = window.drawer("shape")
    signed.choose(shape.base, "star")  # type: ignore[attr-defined]
    assert window.session.project.designs[0].shape.width_mm == pytest.approx(60, abs=0.2)
    signed.type_in(shape.keys["points"], "7")  # type: ignore[attr-defined]
    signed.settle()
    assert window.session.project.designs[0].shape.points == 7
    assert shape.keys.rows["colour"].isHidden()  # type: ignore[attr-defined]
    signed.choose(shape.base, "silhouette")  # type: ignore[attr-defined]
    features = shape.features  # type: ignore[attr-defined]
    features.bring("screw")
    signed.settle()
    signed.choose(features.keys["screw"], "M2")
    assert window.session.work.board.holes[0].diameter == 2.4
    handle = next(one for one in window.area.bench._handles if one.name == "feature 1")
    spot = window.area.bench.camera.to_screen(handle.x, handle.y)
    signed.drag(spot, spot + type(spot)(-130, 60))
    signed.settle()
    moved = window.session.project.designs[0].shape.features[0]
    assert moved.x_mm < handle.x - 3
    left = window.session.work.board.origin[0]
    assert (moved.x_mm - left) * 2 == pytest.approx(round((moved.x_mm - left) * 2), abs=0.01), "it goes by half millimetres"
    middle = left + window.session.work.board.size[0] / 2
    near = window.area.bench.camera.to_screen(middle, moved.y_mm) + type(spot)(4, 33)
    signed.drag(window.area.bench.camera.to_screen(moved.x_mm, moved.y_mm), near)
    signed.settle()
    assert window.session.project.designs[0].shape.features[0].x_mm == pytest.approx(middle, abs=0.001), "the middle caught it"
    assert window.area.bench._caught is None
    features.remove_link.click()
    signed.settle()
    assert not window.session.work.board.holes


def test_the_outline_of_another_board_is_taken_over(
    signed: Hand, moth: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = signed.window
    save(moth, tmp_path / "moth.oglow")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "moth.oglow"), ""))
    window.show_stage("shape")
    signed.settle()
    shape = window.drawer("shape")
    assert shape.base.findData("drawn") < 0, "nothing was taken over yet"  # type: ignore[attr-defined]
    signed.click(shape.take)  # type: ignore[attr-defined]
    signed.settle()
    assert window.session.work.board.size == pytest.approx((72.8, 56.28), abs=0.02)
    assert shape.subtitle.text().startswith("like moth")
    window.session.undo()
    signed.settle()
    assert window.session.project.designs[0].shape.base == "silhouette"
    assert list(window.session.project.members) == ["pictures/sign.svg"]
    (tmp_path / "moth.oglow").write_bytes(b"no project")
    signed.click(shape.take)  # type: ignore[attr-defined]
    signed.settle()
    assert "cannot be opened" in window.toast.text()
    assert window.session.project.designs[0].shape.base == "silhouette"


def test_limits_and_a_profile_of_ones_own(signed: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    window = signed.window
    window.show_stage("brief")
    signed.settle()
    brief = window.drawer("brief")
    signed.type_in(brief.limits.fields["width_mm"], "50")  # type: ignore[attr-defined]
    signed.settle()
    assert "larger-than-wished" in {one.code for one in window.session.findings}
    finish = brief.stack.choices["finish"]  # type: ignore[attr-defined]
    costs = {finish.itemData(at): finish.itemData(at, Qt.ItemDataRole.UserRole + 1) for at in range(finish.count())}
    assert (costs["gold"], costs["tin"]) == ("", "-14.00")
    signed.choose(finish, "tin")
    assert "not possible: lead-free soldering" in finish.means.text()
    assert finish.itemData(finish.findData("gold"), Qt.ItemDataRole.UserRole + 1) == "+14.00"
    field = brief.limits.fields["width_mm"]  # type: ignore[attr-defined]
    field.setFocus()
    field.selectAll()
    QTest.keyClick(field, Qt.Key.Key_Delete)
    QTest.keyClick(field, Qt.Key.Key_Return)
    signed.settle()
    assert window.session.project.brief.limits.width_mm is None
    monkeypatch.setattr(QInputDialog, "getText", lambda *_: ("Shed", True))
    brief.made.own._copy()  # type: ignore[attr-defined]
    signed.settle()
    assert window.session.project.brief.profile == "shed"
    signed.type_in(brief.made.own.value, "0.4")  # type: ignore[attr-defined]
    signed.settle()
    assert window.session.work.board.profile.track_mm == 0.4
    out = tmp_path / "out.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out), ""))
    brief.made.own._export()  # type: ignore[attr-defined]
    assert '"track_mm": 0.4' in out.read_text()
    before = window.session.project
    bad = tmp_path / "bad.json"
    bad.write_text(profile_text(profile("fine")).replace('"fine"', '"x"').replace('"gap_mm": 0.1', '"gap_mm": "narrow"'))
    brief.made.own.take(bad)  # type: ignore[attr-defined]
    signed.settle()
    assert window.session.project is before
    assert "gap_mm on line" in window.toast.text()
    assert np.isfinite(window.session.work.board.size).all()


def test_a_change_of_the_art_is_seen_before_it_is_cleaned_up(open_window: Callable[..., Hand]) -> None:
    """The picture on the bench follows at once; figures, findings and files wait for the true board."""
    hand = open_window("moth")
    session, bench = hand.window.session, hand.bench
    told: list[str] = []
    session.making.drawn.connect(lambda work, project: told.append("drawn"))
    bench.renders.board_arrived.connect(lambda: told.append("picture"))
    session.work_ready.connect(lambda work: told.append("made"))
    before = session.work
    session.edit("set-appearance", {"colour": "D9A441", "appearance": "ink"})
    hand.settle()
    assert told.index("drawn") < told.index("picture") < told.index("made"), told
    assert session.work is not before
    seen = hand.see()
    bench.redraw()
    hand.settle()
    assert (hand.see() == seen).all(), "what lies there now is the true board"


def test_a_wired_board_that_opens_is_seen_before_its_tracks_are_drawn(start: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    session, bench, pictured = start.window.session, start.bench, threading.Event()
    session.making._known = compiler = Compiler()
    compiled = compiler.compile
    # However busy the machine is, the tracks are not drawn before the picture without them is here.
    monkeypatch.setattr(compiler, "compile", lambda *values: pictured.wait(60) and compiled(*values))
    told: list[str] = []
    seen: list[tuple[Any, Any]] = []
    session.making.drawn.connect(lambda work, project: told.append("drawn"))
    session.work_ready.connect(lambda work: told.append("made"))

    def arrived() -> None:
        told.append("picture")
        seen.append((bench.camera, start.see()))
        pictured.set()

    bench.renders.board_arrived.connect(arrived)
    session.open_demo("paper-boat")
    start.settle()
    assert told.index("drawn") < told.index("picture") < told.index("made") < len(told) - 1, told
    assert bench.renders.first is None
    (camera, first), (now, made) = seen[0], seen[-1]
    assert camera == now, "the view stays as it is"
    alike = (np.abs(first.astype(int) - made).max(axis=2) < 3).mean()
    assert 0.5 < alike < 0.999, "the same board, with its tracks"
    # What of a project comes when it has been put away is not seen.
    work, project = session.work, session.project
    session.history.mark_saved()
    session.close_project()
    session.making.drawn.emit(work, project)
    assert bench.renders.first is None
    assert bench.renders.board is None
