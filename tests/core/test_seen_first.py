"""A board that is seen before its tracks are drawn: quick, with what is right still, and without a trace afterwards."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import pytest
import shapely
from plates import plate

from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.workshop import Compiler, apply_values
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.core.workshop.work import Work

_RING = {"array": "a", "x_mm": 22.0, "y_mm": 15.0, "count": 10, "diameter_mm": 22.0}


@pytest.fixture(scope="module")
def wired() -> Project:
    return plate(("ring", _RING), ("drive", {"method": "each", "supply": "usb"}), ("wire", {}))


def moved(project: Project, work: Work, ref: str, by: float) -> Project:
    """A part put elsewhere by hand."""
    part = next(one for one in work.board.parts if one.ref == ref)
    ox, oy = work.board.origin
    place = {"part": ref, "x_mm": part.x + ox + by, "y_mm": part.y + oy, "angle_deg": part.angle_deg % 360}
    return apply_edit(project, "place-part", place)


def tracks(work: Work) -> set[Any]:
    return set(work.values["wires"].tracks)


def test_what_nothing_moved_away_from_is_seen_and_the_rest_is_drawn_then(wired: Project) -> None:
    compiler = Compiler()
    before = compiler.compile(wired)
    assert compiler.seen_first(wired) is None
    project = moved(wired, before, "R5", 1.0)
    seen = compiler.seen_first(project)
    assert seen is not None
    runs = compiler.memory.runs["routed"]
    left = [(pad.net, (pad.x, pad.y)) for pad in before.board.pads if pad.ref == "R5"]
    for net, spot in left:
        ending = [one for one in tracks(before) if one.net == net and any(math.dist(end, spot) < 1e-3 for end in one.points)]
        assert ending
        assert not tracks(seen) & set(ending)
    assert {one.net for one in tracks(seen)} >= {one.net for one in tracks(before)} - {net for net, _ in left}
    assert tracks(seen) < tracks(before)
    assert {part.ref: (part.x, part.y) for part in seen.board.parts}["R5"] != {
        part.ref: (part.x, part.y) for part in before.board.parts
    }["R5"]
    assert compiler.memory.runs["routed"] == runs
    after = compiler.compile(project)
    assert compiler.memory.runs["routed"] == runs + 1
    assert {one.net for one in tracks(after)} == {one.net for one in tracks(before)}
    assert compiler.seen_first(project) is None, "it is known now"


def test_what_was_seen_first_changes_nothing_of_what_is_made(wired: Project) -> None:
    """Edit by edit, one compiler that shows boards first and one that does not make the same of them."""
    seeing, plain = Compiler(), Compiler()
    project, works = wired, (seeing.compile(wired), plain.compile(wired))
    steps: list[Any] = [
        lambda: moved(project, works[1], "R3", 0.7),
        lambda: apply_values(project, "set-current", {"current_a": 0.004}, (0, 0)),
        lambda: apply_values(project, "set-border", {"border_mm": 1.4}, (0, 0)),
        lambda: apply_values(project, "skip", {"array": "a", "place": (4,)}, (0, 0)),
        lambda: apply_values(project, "wire", {"style": "rounded"}, (0, 0)),
        lambda: wired,
    ]
    shown = 0
    for step in steps:
        project = step()
        shown += seeing.seen_first(project) is not None
        works = seeing.compile(project), plain.compile(project)
        mine, other = (work.board for work in works)
        assert tracks(works[0]) == tracks(works[1])
        for name, region in other.layers.items():
            assert mine.layers[name].equals_exact(region, 0.0), name
        assert seeing.findings(works[0]) == plain.findings(works[1])
    assert shown >= 3


def test_a_board_without_tracks_or_with_few_pins_is_made_at_once(wired: Project) -> None:
    compiler = Compiler()
    bare = apply_edit(wired, "unwire", {})
    assert compiler.seen_first(bare) is None
    compiler.compile(bare)
    assert compiler.seen_first(apply_values(bare, "set-border", {"border_mm": 2.0}, (0, 0))) is None
    few = plate(("ring", {**_RING, "count": 3}), ("drive", {"method": "each", "supply": "usb"}), ("wire", {}))
    compiler = Compiler()
    assert compiler.seen_first(few) is None
    work = compiler.compile(few)
    assert compiler.seen_first(moved(few, work, "R2", 1.0)) is None


def test_many_leds_are_seen_before_the_art_gives_way_to_them_and_their_labels_are_arranged() -> None:
    grid = {"array": "a", "x_mm": 22.0, "y_mm": 15.0, "rows": 12, "columns": 18, "pitch_x_mm": 2.3, "pitch_y_mm": 2.3}
    project = plate(("grid", {**grid, "emitter": "pixel 2020 four colours"}), ("drive", {"method": "pixels", "supply": "usb"}))
    compiler = Compiler()
    before = compiler.compile(project)
    runs = dict(compiler.memory.runs)
    moved = apply_values(project, "nudge", {"array": "a", "place": (100,), "dx_mm": 0.2}, (0, 0))
    seen = compiler.seen_first(moved)
    assert seen is not None
    assert [light.x for light in seen.board.lights] != [light.x for light in before.board.lights]
    for name in ("art round pads", "wired layers", "back words"):
        assert compiler.memory.runs[name] == runs[name], name
    made, fresh = compiler.compile(moved), Compiler().compile(moved)
    for name, region in fresh.board.layers.items():
        assert made.board.layers[name].equals_exact(region, 0.0), name
    assert compiler.seen_first(moved) is None, "it is known now"


def test_new_text_is_seen_as_it_is_drawn_and_cleaned_up_then() -> None:
    project = apply_edit(demo_project("seed-room"), "set-words", {"number": 1, "text": "a line of small words"})
    compiler = Compiler()
    before = compiler.compile(demo_project("seed-room")).board.layers["front legend"]
    seen = compiler.seen_first(project)
    assert seen is not None
    assert compiler.memory.runs["front text cleaned"] == 1, "that of before"
    made = compiler.compile(project)
    assert compiler.memory.runs["front text cleaned"] == 2
    ink, drawn = (work.board.layers["front legend"] for work in (made, seen))
    assert drawn.symmetric_difference(ink).area < 0.2 * before.symmetric_difference(ink).area
    assert compiler.seen_first(project) is None, "it is known now"
    assert made.board.layers == Compiler().compile(project).board.layers


def test_figures_alone_leave_the_copper_as_it_is_and_a_part_what_it_does_not_touch(wired_moth: Project) -> None:
    compiler = Compiler()
    before = compiler.compile(wired_moth)
    figures = compiler.seen_first(apply_edit(wired_moth, "set-current", {"current_a": 0.004}))
    for side in ("front", "back"):
        assert figures is not None
        assert figures.board.layer(f"{side} copper") is before.board.layer(f"{side} copper")
    for project in (
        moved(wired_moth, before, "R22", 2.0),
        apply_edit(wired_moth, "nudge", {"array": "fore wings", "place": (3,), "dx_mm": 0.4}),
    ):
        seen = compiler.seen_first(project)
        assert seen is not None
        for side in ("front", "back"):
            layer, was = seen.board.layer(f"{side} copper"), before.board.layer(f"{side} copper")
            whole = shapely.union_all([one.region for one in seen.board.copper if one.side == side])
            assert layer.symmetric_difference(whole).area < 1e-9
            stay = {part.wkb for part in shapely.get_parts(layer)} & {part.wkb for part in shapely.get_parts(was)}
            assert len(stay) > 0.6 * len(shapely.get_parts(was)), "to the last bit"


def test_lands_that_come_where_nothing_was_are_seen_and_a_board_that_loses_all_is_bare(wired: Project) -> None:
    compiler = Compiler()
    before = compiler.compile(wired)
    more = compiler.seen_first(apply_edit(wired, "single", {"array": "one", "x_mm": 22.0, "y_mm": 15.0}))
    assert more is not None
    layer, was = more.board.layer("front copper"), before.board.layer("front copper")
    assert layer.difference(was).area > 0.5, "the lands of the LED"
    assert was.difference(layer).area < 1e-9
    none = apply_edit(apply_edit(wired, "remove-array", {"array": "a"}), "unwire", {})
    seen = compiler.seen_first(none) or compiler.compile(none)
    assert not seen.board.parts


def test_leds_on_one_another_are_seen_as_one_piece_of_copper() -> None:
    """A board in the middle of an edit may be wrong; its picture is still that of what is there."""
    row = {"array": "a", "x_mm": 22.0, "y_mm": 15.0, "rows": 1, "columns": 8, "pitch_x_mm": 2.0, "pitch_y_mm": 2.0}
    project = plate(("grid", row), ("drive", {"method": "each", "supply": "usb"}), ("wire", {"front": "free"}))
    project = apply_edit(project, "pour", {"side": "back", "net": "ground"})
    compiler = Compiler()
    compiler.compile(project)
    seen = compiler.seen_first(apply_values(project, "set-border", {"border_mm": 3.0}, (0, 0)))
    assert seen is not None
    lands = [one.region for one in seen.board.copper if one.side == "front"]
    layer = seen.board.layer("front copper")
    assert layer.is_valid
    assert layer.symmetric_difference(shapely.union_all(lands)).area < 1e-9


def test_corners_that_a_boolean_moved_by_a_hair_lose_no_copper(wired: Project) -> None:
    compiler = Compiler()
    before = compiler.compile(wired)
    made = compiler._made[before.design.name]
    hair = {name: layer.buffer(-1e-9, join_style="mitre") for name, layer in made.layers.layers.items() if "copper" in name}
    moved_by_a_hair = replace(made.layers, layers={**made.layers.layers, **hair})
    compiler._made[before.design.name] = made._replace(layers=moved_by_a_hair)
    seen = compiler.seen_first(moved(wired, before, "R5", 1.0))
    assert seen is not None
    for side in ("front", "back"):
        pieces = shapely.union_all([one.region for one in seen.board.copper if one.side == side])
        assert seen.board.layer(f"{side} copper").symmetric_difference(pieces).area < 1e-5


def test_a_wired_board_that_was_never_made_is_seen_without_its_tracks(wired: Project) -> None:
    compiler = Compiler()
    seen = compiler.seen_first(wired)
    assert seen is not None
    assert not tracks(seen)
    assert "routed" not in compiler.memory.runs
    made = compiler.compile(wired)
    assert made.board.layers == Compiler().compile(wired).board.layers
    lands = shapely.union_all([pad.polygon for pad in seen.board.pads if pad.side == "front"])
    assert seen.board.layer("front copper").covers(lands.buffer(-1e-6))
    assert seen.board.layer("front legend").equals(made.board.layer("front legend"))
    renamed = apply_edit(wired, "rename-board", {"board": made.design.name, "name": "another"})
    assert compiler.seen_first(renamed) is None, "it is known under another name"
