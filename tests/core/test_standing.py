"""Parts of a wired board stay where they stand: a part that moves tears its tracks up."""

from __future__ import annotations

import json
from typing import Any

import pytest

from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.wiring.kept import copper_member, pack, unpack
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.core.workshop.kept import kept_of, with_kept
from outlined_glow.core.workshop.work import Work


def places(work: Work) -> dict[str, tuple[float, float, float, str]]:
    """Where parts are in the picture, by reference."""
    ox, oy = work.board.origin
    return {one.ref: (round(one.x + ox, 6), round(one.y + oy, 6), one.angle_deg, one.side) for one in work.board.parts}


def moved(one: Work, other: Work) -> set[str]:
    a, b = places(one), places(other)
    return {ref for ref in a if b.get(ref) != a[ref]}


def tracks(work: Work) -> set[Any]:
    return {(one.net, one.side, one.points) for one in work.values["routed"].wires.tracks}


def nudged(project: Project, at: int, by: float = 0.4) -> Project:
    return apply_edit(project, "nudge", {"array": project.designs[0].lights[0].name, "place": (at,), "dx_mm": by})


@pytest.fixture
def compiler(wired_moth: Project) -> Compiler:
    """One that made the moth."""
    one = Compiler()
    one.compile(wired_moth)
    return one


@pytest.fixture(scope="module")
def whole(wired_moth: Project) -> Work:
    return Compiler().compile(wired_moth)


@pytest.mark.parametrize("at", [1, 3, 9])
def test_a_nudged_led_moves_only_what_serves_it(compiler: Compiler, whole: Work, wired_moth: Project, at: int) -> None:
    work = compiler.compile(nudged(wired_moth, at))
    [led] = {ref for ref in moved(whole, work) if ref.startswith("D")}
    served = {one.ref for one in whole.board.parts if f"D{one.led}" == led}
    assert moved(whole, work) <= served
    assert len(tracks(whole) & tracks(work)) > 0.9 * len(tracks(whole))
    assert not work.values["wires"].unjoined
    back = compiler.compile(wired_moth)
    assert (places(back), tracks(back)) == (places(whole), tracks(whole)), "a step back is exact"


def test_without_tracks_parts_are_where_they_would_be_from_nothing(
    compiler: Compiler, whole: Work, wired_moth: Project
) -> None:
    """What a board without tracks looks like depends on nothing that was."""
    once = nudged(apply_edit(wired_moth, "unwire", {}), 3)
    assert places(compiler.compile(once)) == places(Compiler().compile(once))
    assert moved(whole, compiler.compile(once)) > moved(whole, compiler.compile(nudged(wired_moth, 3)))
    seeded = nudged(apply_edit(wired_moth, "wire", {"seed": 7}), 3)
    assert places(compiler.compile(seeded)) == places(compiler.compile(once)), "tracks of another kind: all is placed anew"


def test_they_stand_there_still_in_a_project_that_was_kept(compiler: Compiler, whole: Work, wired_moth: Project) -> None:
    once = nudged(wired_moth, 3)
    kept = with_kept(once, [compiler.compile(once)])
    assert places(Compiler().compile(kept)) == places(compiler.compile(once))
    again = nudged(kept, 3, 0.2)
    assert moved(Compiler().compile(again), compiler.compile(once)) <= {"D3", "R3"}


def test_one_that_has_no_room_any_more_finds_another_place(compiler: Compiler, whole: Work, wired_moth: Project) -> None:
    x, y, _, _ = places(whole)["C1"]
    other = apply_edit(wired_moth, "place-part", {"part": "R22", "x_mm": x, "y_mm": y, "angle_deg": 0.0})
    work = compiler.compile(other)
    assert moved(whole, work) == {"R22", "C1"}
    courts = {one.ref: one.court() for one in work.board.parts}
    assert not any(courts["C1"].intersects(court) for ref, court in courts.items() if ref != "C1" and not ref.startswith("D"))
    freed = compiler.compile(apply_edit(other, "free-part", {"part": "R22"}))
    assert places(freed)["R22"] != (x, y, 0.0, "back"), "what was put somewhere by hand does not stay there once it is free"


def test_what_belongs_to_the_edge_goes_with_it() -> None:
    tags = demo_project("frost-tags")
    compiler = Compiler()
    compiler.compile(tags)
    wider = apply_edit(tags, "set-border", {"border_mm": 5.0})
    made, plain = compiler.compile(wider), Compiler().compile(apply_edit(wider, "unwire", {}))
    assert places(made)["J1"] == places(plain)["J1"]
    assert "J1" in moved(compiler.compile(tags), made)
    assert "J1" not in {one.ref for one in made.values["standing"]} >= {"J2"}


@pytest.mark.parametrize(
    "row",
    [["C1"], ["C1", "c", ["a"], 1, 2, 3, "above"], ["C1", "c", ["a"], float("nan"), 2, 3, "back"],
     ["C1", "c", [1], 1, 2, 3, "back"], ["C1", "c", ["a"], 1e9, 2, 3, "back"], 7, "C1"],
)  # fmt: skip
def test_where_they_stand_is_kept_and_read_with_care(whole: Work, row: Any) -> None:
    data = kept_of(whole)[copper_member(whole.design.name)]
    read = unpack(data)
    assert read is not None
    assert unpack(pack(read)) == read
    assert {one.ref for one in read.stood} >= {"Q1", "F1", "SW1", "U1"}
    content = json.loads(data)
    assert unpack(json.dumps({**content, "stood": [row]}).encode()) is None
    content.pop("stood")
    older = unpack(json.dumps(content).encode())
    assert older is not None
    assert (older.stood, older.laid) == ((), read.laid)
