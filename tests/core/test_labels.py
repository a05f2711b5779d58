"""Labels on the back: where they find their places, where they are put by hand, and what has no room there."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import pytest
import shapely
from plates import ROW, plate, without_tracks

from outlined_glow.core.board.labels import LabelSpot
from outlined_glow.core.errors import Trouble
from outlined_glow.core.lettering import text_region
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.workshop import Compiler, Work, apply_values

compiler = Compiler()


def spots(work: Work) -> Mapping[str, LabelSpot]:
    found: Mapping[str, LabelSpot] = work.values["label spots"]
    return found


def put(project: Project, **values: Any) -> Project:
    return apply_edit(project, "place-label", values)


def test_a_label_stands_where_it_was_put_and_others_make_way() -> None:
    project = plate(ROW)
    work = compiler.compile(project)
    before = spots(work)
    assert set(before) >= {"R1", "R2", "R3", "R4"}
    there = before["R2"]
    moved = compiler.compile(put(project, part="R1", x_mm=there.x, y_mm=there.y))
    now = spots(moved)
    assert now["R1"][:2] == (there.x, there.y)
    assert now["R1"].by_hand
    assert now["R2"][:2] != (there.x, there.y), "it makes way"
    # The ink lies there, in the board frame.
    ox, oy = moved.board.origin
    ink = moved.board.layers["back legend"]
    assert shapely.dwithin(ink, shapely.Point(there.x - ox, there.y - oy), 1.0)


def test_on_end_not_printed_and_freed() -> None:
    project = plate(ROW)
    base = spots(compiler.compile(project))["R1"]
    lying = compiler.compile(put(project, part="R1", x_mm=base.x, y_mm=base.y + 6.0))
    standing = compiler.compile(put(project, part="R1", x_mm=base.x, y_mm=base.y + 6.0, upright=True))
    assert spots(standing)["R1"].upright
    assert not spots(lying)["R1"].upright
    hidden = put(project, part="R1", printed=False)
    assert "R1" not in spots(compiler.compile(hidden))
    freed = apply_edit(hidden, "free-label", {"part": "R1"})
    assert spots(compiler.compile(freed)) == spots(compiler.compile(project))
    for wrong in ({"part": "R1"}, {"part": "R" * 13, "x_mm": 1.0, "y_mm": 1.0}):
        with pytest.raises(Trouble):
            put(project, **wrong)
    with pytest.raises(Trouble, match="not put by hand"):
        apply_edit(project, "free-label", {"part": "R9"})


def test_without_room_it_finds_its_place_and_that_is_told() -> None:
    project = plate(ROW)
    work = compiler.compile(project)
    part = next(one for one in work.board.parts if one.ref == "R2").moved(*work.board.origin)
    onto = put(project, part="R1", x_mm=part.x, y_mm=part.y)
    made = compiler.compile(onto)
    assert not spots(made)["R1"].by_hand
    [told] = [one for one in compiler.findings(made) if one.code == "label-without-room"]
    assert (told.x_mm, told.y_mm) == pytest.approx((part.x - work.board.origin[0], part.y - work.board.origin[1]))
    mended = apply_edit(onto, str(told.remedies[0].edit), dict(told.remedies[0].values))
    assert "label-without-room" not in {one.code for one in compiler.findings(compiler.compile(mended))}
    # Places are told in the board frame on the command line.
    typed = apply_values(project, "place-label", {"part": "R1", "x_mm": 3.0, "y_mm": 3.0}, work.board.origin)
    assert typed.designs[0].wiring.labels[0].x_mm == pytest.approx(3.0 + work.board.origin[0])


@pytest.mark.parametrize(("demo", "without", "nearer"), [("moth", 0, 0), ("tide-board", 3, 2), ("paper-boat", 3, 1)])
def test_nearly_every_part_has_a_label_to_which_it_is_the_nearest(demo: str, without: int, nearer: int) -> None:
    """Each label is read from its ink: the text whose area lies about its place."""
    work = compiler.compile(without_tracks(demo))
    behind = [part for part in work.board.parts if part.side == "back"]
    found, (ox, oy), ink = spots(work), work.board.origin, work.board.layer("back legend")
    assert len(behind) - len(found) <= without
    others = []
    for part in (one for one in behind if one.ref in found):
        spot = found[part.ref]
        frames = {}
        for text in (f"{part.ref} {part.value}", part.ref):
            word = text_region(text, 1.0, weight="bold")
            wide, high = (word.bounds[2] - word.bounds[0]) / 2, (word.bounds[3] - word.bounds[1]) / 2
            wide, high = (high, wide) if spot.upright else (wide, high)
            frame = shapely.box(spot.x - ox - wide, spot.y - oy - high, spot.x - ox + wide, spot.y - oy + high)
            if ink.intersection(frame).area == pytest.approx(word.area, abs=0.02):
                frames[text] = frame
        assert frames, part.ref
        frame = next(iter(frames.values()))
        nearest = min(behind, key=lambda one: one.court().distance(frame))
        others += [part.ref] if nearest.court().distance(frame) < part.court().distance(frame) - 1e-6 else []
    assert len(others) <= nearer, others


def test_parts_without_a_label_are_told_but_not_those_that_should_have_none() -> None:
    crowd = apply_values(plate(), "grid", {"array": "g", "x_mm": 20.0, "y_mm": 14.0, "rows": 4, "columns": 8,
                                           "pitch_x_mm": 3.0, "pitch_y_mm": 3.0}, (0, 0))  # fmt: skip

    def told(project: Project) -> set[tuple[float, float]]:
        work = compiler.compile(project)
        behind = {part.ref: (part.x, part.y) for part in work.board.parts if part.side == "back"}
        found = [one for one in compiler.findings(work) if one.code == "no-label"]
        places = {place for one in found for place in one.places}
        hidden = {one.part for one in project.board().wiring.labels if not one.printed}
        has_legend = work.board.profile.has_legend
        assert places == (
            {behind[ref] for ref in behind if ref not in spots(work) and ref not in hidden} if has_legend else set()
        )
        return places

    lacking = told(crowd)
    assert lacking
    behind = (part for part in compiler.compile(crowd).board.parts if part.side == "back")
    ref = next(part.ref for part in behind if (part.x, part.y) in lacking)
    assert lacking - told(put(crowd, part=ref, printed=False)), "it should have none"
    assert told(apply_edit(crowd, "set-profile", {"profile": "home-etch"})) == set()
    assert told(plate(ROW)) == set()
