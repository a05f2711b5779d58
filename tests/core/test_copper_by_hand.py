"""Copper that stays: what edits and files keep, and what hands draw, lock, place and have drawn anew."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from plates import ROW, codes, files_of, plate
from shapely.geometry import LineString, Point, box
from wired import faults

from outlined_glow.core.errors import Trouble
from outlined_glow.core.project import apply_edit
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.wiring.kept import COPPER, copper_member, pack, unpack
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.hand_track import Held, moved_stretch, taken_over
from outlined_glow.core.workshop.kept import with_kept
from outlined_glow.core.workshop.untangle import controller_ref, untangled


def test_an_edit_elsewhere_keeps_the_tracks_and_a_file_keeps_them_too(tmp_path: Path) -> None:
    compiler = Compiler()
    first = compiler.compile(plate(ROW, ("wire", {})))
    before = set(first.board.wires.tracks)
    R = next(part for part in first.board.parts if part.ref == "R2")
    moved = {
        "part": "R2",
        "x_mm": R.x + first.board.origin[0] + 0.6,
        "y_mm": R.y + first.board.origin[1],
        "angle_deg": R.angle_deg,
    }
    after = compiler.compile(apply_edit(first.project, "place-part", moved))
    own = {net.name for net in first.board.nets if any(ref == "R2" for ref, _ in net.pins)}
    there = next(part for part in after.board.parts if part.ref == "R2").court(0.4)
    own |= {one.net for one in before if one.region.intersects(there)}
    assert {one.net for one in before - set(after.board.wires.tracks)} <= own
    assert before & set(after.board.wires.tracks)
    assert not after.board.wires.unjoined
    kept = with_kept(after.project, (after,))
    save(kept, tmp_path / "a.oglow")
    opened = Compiler().compile(load(tmp_path / "a.oglow"))
    assert opened.board.wires == after.board.wires
    renamed = apply_edit(plate(ROW, ("wire", {})), "rename-board", {"board": "main", "name": "lid"})
    assert Compiler().compile(renamed).board.wires.tracks


def test_damaged_copper_in_a_file_is_made_anew() -> None:
    work = Compiler().compile(plate(ROW, ("wire", {})))
    data = pack(work.values["routed"])
    assert unpack(data) is not None
    for wrong in (
        b"",
        b"{}",
        data[:-40],
        data.replace(b'"format":1', b'"format":9'),
        data.replace(b'"pitch_mm":0.15', b'"pitch_mm":-1'),
        b'{"format":1,"pitch_mm":0.15,"wish":"","mark":"","branches":[["ground",0.3,[0,0,0,5,3,0],0]],"unjoined":[]}',
        b'{"format":1,"pitch_mm":0.15,"wish":"","mark":"","branches":[["ground",0.3,[0,0,7,5,5,7],0]],"unjoined":[]}',
    ):
        assert unpack(wrong) is None
        member = {copper_member("main"): wrong}
        project = with_kept(work.project, (work,))
        import msgspec

        broken = msgspec.structs.replace(project, members={**project.members, **member})
        assert not Compiler().compile(broken).board.wires.unjoined
    assert all(name.startswith(COPPER) for name in (copper_member("main"), copper_member("ü / ..")))


def test_a_net_is_drawn_anew_and_others_stay() -> None:
    compiler = Compiler()
    work = compiler.compile(plate(ROW, ("wire", {})))
    again = compiler.compile(apply_edit(work.project, "rewire", {"net": "ground"}))
    assert {one.net for one in set(work.board.wires.tracks) ^ set(again.board.wires.tracks)} <= {"ground"}
    only = Compiler().compile(plate(ROW, ("wire", {"nets": ("ground",)})))
    assert {one.net for one in only.board.wires.tracks} == {"ground"}
    assert "net-open" in codes(Compiler(), only)


def test_locked_tracks_stay_whatever_comes_and_others_make_way() -> None:
    compiler = Compiler()
    work = compiler.compile(plate(ROW, ("wire", {})))
    locked = apply_edit(work.project, "lock-net", {"net": "supply"})
    mine = {one for one in compiler.compile(locked).board.wires.tracks if one.net == "supply"}
    for edit in (("wire", {"seed": 8}), ("wire", {"front": "free"}), ("rewire", {"net": "supply"})):
        after = compiler.compile(apply_edit(locked, *edit))
        there = {one for one in after.board.wires.tracks if one.net == "supply"}
        assert there >= mine, edit
        assert not after.board.wires.unjoined
        assert faults(files_of(after), 0.15, 0.15) == []
    with pytest.raises(Trouble, match="not locked"):
        apply_edit(work.project, "lock-net", {"net": "supply", "lock": False})


def test_a_track_that_is_taken_over_by_hand_takes_the_place_of_the_made_one() -> None:
    compiler = Compiler()
    work = compiler.compile(plate(ROW, ("wire", {"seed": 4})))
    whole = sum(one.length for one in work.board.wires.tracks)
    for track in work.board.wires.tracks[::5]:
        over = apply_edit(work.project, "track", taken_over(Held(track.moved(*work.board.origin))))
        compiler.compile(work.project)
        after = compiler.compile(over)
        assert sum(one.length for one in after.board.wires.tracks) == pytest.approx(whole, abs=0.5)
        assert not after.board.wires.unjoined
        assert faults(files_of(after), 0.15, 0.15) == []


@pytest.mark.parametrize("way", ["scan", "pins"])
def test_pins_of_a_controller_change_places_for_shorter_ways(way: str) -> None:
    grid = {"array": "a", "x_mm": 22.0, "y_mm": 16.0, "rows": 3, "columns": 4, "pitch_x_mm": 6.0, "pitch_y_mm": 6.0}
    project = plate(("grid", grid), ("drive", {"method": way, "supply": "usb", "current_a": 0.003}), ("wire", {}))
    work = Compiler().compile(project)
    found = untangled(work)
    assert found is not None
    assert found.after_mm < found.before_mm
    # No exchange of two pins of the same kind makes it shorter still: asked by trying all of them.
    after = project
    for edit in found.edits:
        after = apply_edit(after, *edit)
    lands = {pad.pin: (pad.x, pad.y) for pad in work.board.pads if pad.ref == controller_ref(work)}
    given = {values["net"]: values["pin"] for _, values in found.edits}
    now = {use.drives: given.get(use.drives, use.number) for use in work.plan.pins}
    others = {
        net.name: [(pad.x, pad.y) for pad in work.board.pads
                   if (pad.ref, pad.pin) in net.pins and pad.ref != controller_ref(work)]
        for net in work.board.nets
    }  # fmt: skip

    def whole(pins: Mapping[str, str]) -> float:
        return sum(min(math.dist(lands[pin], spot) for spot in others[net]) for net, pin in pins.items() if others.get(net))

    same = {use.drives: (use.pwm, use.at_start) for use in work.plan.pins}
    for one, other in itertools.combinations(now, 2):
        if same[one] == same[other]:
            assert whole({**now, one: now[other], other: now[one]}) >= whole(now) - 1e-6
    made = Compiler().compile(after)
    assert {use.drives: use.number for use in made.plan.pins} == now
    assert not made.board.wires.unjoined
    assert not [one for one in Compiler().findings(made) if one.severity == "stop"]


def test_locked_copper_that_shorts_is_told() -> None:
    """A part is put onto a locked track: it ends by itself, with what is wrong."""
    compiler = Compiler()
    work = compiler.compile(plate(ROW, ("wire", {})))
    locked = apply_edit(work.project, "lock-net", {"net": "supply"})
    track = max(
        (one for one in work.board.wires.tracks if one.net == "supply" and one.side == "back"), key=lambda one: one.length
    )
    x, y = LineString(track.points).interpolate(0.5, normalized=True).coords[0]
    ox, oy = work.board.origin
    place = {"part": "R1", "x_mm": x + ox, "y_mm": y + oy, "angle_deg": 45.0, "lock": True}
    compiler.compile(locked)
    after = compiler.compile(apply_edit(locked, "place-part", place))
    assert {"net-short", "copper-too-near", "net-open"} & set(codes(compiler, after))


def test_an_area_is_drawn_anew_and_the_rest_stays() -> None:
    compiler = Compiler()
    work = compiler.compile(plate(ROW, ("wire", {"seed": 3})))
    left = box(-100, -100, work.board.size[0] / 2, 100)
    ox, oy = work.board.origin
    corners = tuple((x + ox, y + oy) for x, y in left.exterior.coords[:-1])
    after = compiler.compile(apply_edit(work.project, "rewire", {"area": corners}))
    before, now = (made.values["routed"] for made in (work, after))
    inside = box(-100, -100, ox + work.board.size[0] / 2, 100)
    outside = {one.corners for one in before.laid if not one.line(before.pitch).intersects(inside)}
    assert len(outside) > 3
    assert len(outside & {one.corners for one in now.laid}) > 0.8 * len(outside)
    assert {one.corners for one in before.laid} != {one.corners for one in now.laid}
    assert {one.areas for one in after.values["routed"].laid} == {1}
    assert not after.board.wires.unjoined
    for values in ({}, {"net": "ground", "area": corners}, {"area": corners[:2]}):
        with pytest.raises(Trouble):
            apply_edit(work.project, "rewire", values)


@given(
    st.lists(st.tuples(st.integers(-40, 40), st.integers(-40, 40)), min_size=2, max_size=7, unique=True),
    st.integers(0, 5), st.integers(-50, 50), st.integers(-50, 50),
)  # fmt: skip
def test_a_stretch_that_is_moved_runs_through_the_place_and_the_ends_stay(
    corners: list[tuple[int, int]], at: int, x: int, y: int
) -> None:
    points = tuple((float(a), float(b)) for a, b in corners)
    at = min(at, len(points) - 2)
    moved = moved_stretch(points, at, float(x), float(y))
    assert (moved[0], moved[-1]) == (points[0], points[-1])
    assert all(math.dist(a, b) > 1e-6 for a, b in itertools.pairwise(moved))
    (ax, ay), (bx, by) = points[at], points[at + 1]
    way = np.array([bx - ax, by - ay]) / math.dist(points[at], points[at + 1])
    if abs((x - ax) * way[1] - (y - ay) * way[0]) > 1e-6:
        off = [abs((x - px) * way[1] - (y - py) * way[0]) for px, py in moved]
        assert sum(one < 1e-3 for one in off) >= 2  # two of its corners lie on the line through the place


def test_a_part_placed_by_hand_stays_while_it_fits_and_is_told_when_not() -> None:
    compiler = Compiler()
    place = ("place-part", {"part": "R1", "x_mm": 8.0, "y_mm": 8.0, "angle_deg": 30.0})
    work = compiler.compile(plate(ROW, place, ("set-current", {"current_a": 0.004})))
    R = next(part for part in work.board.parts if part.ref == "R1")
    assert (R.x + work.board.origin[0], R.y + work.board.origin[1], R.angle_deg) == pytest.approx((8.0, 8.0, 30.0))
    off = compiler.compile(plate(ROW, ("place-part", {**place[1], "x_mm": 200.0})))
    assert "part-moved" in codes(compiler, off)
    [remedy] = codes(compiler, off)["part-moved"].remedies
    assert remedy.edit is not None
    assert "part-moved" not in codes(compiler, compiler.compile(apply_edit(off.project, remedy.edit, dict(remedy.values))))
    onto = {"part": "R2", "x_mm": 8.0, "y_mm": 8.0, "lock": True}
    over = compiler.compile(plate(ROW, ("place-part", {**place[1], "lock": True}), ("place-part", onto)))
    assert "parts-overlap" in {one.code for one in compiler.findings(over)}
    hole = ("add-feature", {"kind": "hole", "x_mm": 8.0, "y_mm": 8.0})
    for edits in (
        [("place-part", {**place[1], "x_mm": 200.0, "lock": True})],
        [("place-part", {**place[1], "lock": True}), hole],
    ):
        beyond = compiler.compile(plate(ROW, *edits))
        [told] = [one for one in compiler.findings(beyond) if one.code == "part-outside"]
        assert "R1" in told.text
        freed = apply_edit(beyond.project, str(told.remedies[0].edit), dict(told.remedies[0].values))
        assert "part-outside" not in {one.code for one in compiler.findings(compiler.compile(freed))}
    front = compiler.compile(plate(ROW, ("place-part", {**place[1], "side": "front"}), ("wire", {})))
    assert next(part for part in front.board.parts if part.ref == "R1").side == "front"
    assert not front.board.wires.unjoined


def test_tracks_by_hand_are_part_of_their_nets() -> None:
    compiler = Compiler()
    alone = compiler.compile(plate(ROW))
    net = next(net for net in alone.board.nets if net.name == "ground")
    spots = [(pad.x + alone.board.origin[0], pad.y + alone.board.origin[1], pad.side) for pin in net.pins
             for pad in alone.board.pads if (pad.ref, pad.pin) == pin]  # fmt: skip
    front = [spot for spot in spots if spot[2] == "front"]
    (x, y), (x1, y1) = front[0][:2], front[1][:2]
    way = ((x, y), (x, y + 2.0), (x1, y1 + 2.0), (x1, y1))
    drawn = ("track", {"net": "ground", "layer": "front", "points": way, "width_mm": 0.4})
    below = ("track", {"net": "ground", "layer": "back", "points": ((x1, y1), (x1 + 1.5, y1 - 4.0)), "width_mm": 0.4})
    only = compiler.compile(plate(ROW, drawn, below))
    assert [via.by_hand for via in only.board.wires.vias] == [True]
    assert {"net-open", "track-ends"} <= set(codes(compiler, only))
    both = compiler.compile(plate(ROW, drawn, ("wire", {})))
    assert not both.board.wires.unjoined
    assert any(one.by_hand for one in both.board.wires.tracks)
    assert faults(files_of(both), 0.15, 0.15) == []
    stray = ("track", {"net": "supply", "layer": "front", "points": ((x, y), (x1, y1)), "width_mm": 0.1})
    shorted = codes(compiler, compiler.compile(plate(ROW, stray, ("wire", {}))))
    assert {"net-short", "track-too-thin"} <= set(shorted)
    nobody = ("track", {"net": "nothing", "layer": "back", "points": ((4.0, 4.0), (9.0, 4.0))})
    assert "net-unknown" in codes(compiler, compiler.compile(plate(ROW, nobody, ("wire", {}))))
    gone = plate(ROW, ("lock-net", {"net": "clock"}), ("wire", {}))
    told = codes(compiler, compiler.compile(gone))["lock-without-net"]
    forgotten = apply_edit(gone, str(told.remedies[0].edit), dict(told.remedies[0].values))
    assert "lock-without-net" not in codes(compiler, compiler.compile(forgotten))
    absent = ("place-part", {"part": "R99", "x_mm": 4.0, "y_mm": 4.0})
    told = next(one for one in compiler.findings(compiler.compile(plate(ROW, absent))) if one.code == "part-unknown")
    assert "“R99”" in told.text
    label = plate(ROW, ("place-label", {"part": "R99", "x_mm": 4.0, "y_mm": 4.0}))
    named = codes(compiler, compiler.compile(label))["part-unknown"]
    assert "“R99”, whose label was placed" in named.text
    freed = apply_edit(label, str(named.remedies[0].edit), dict(named.remedies[0].values))
    assert "part-unknown" not in codes(compiler, compiler.compile(freed))
    forgotten = compiler.compile(apply_edit(plate(ROW, absent), told.remedies[0].edit or "", dict(told.remedies[0].values)))
    assert "part-unknown" not in codes(compiler, forgotten)


@pytest.mark.parametrize(
    ("points", "off"),
    [
        (((20.0, 20.0), (30.0, 20.0)), False),
        (((20.0, 20.0), (20.0, -30.0)), True),
        (((200.0, 200.0), (210.0, 200.0)), True),
        (((20.0, -1.4), (26.0, -1.4)), True),
    ],
)
def test_a_track_that_leaves_the_board_is_told(points: tuple[tuple[float, float], ...], off: bool) -> None:
    """Also one that lies beside it altogether, as after the board was made smaller: the rest is wired as ever."""
    compiler = Compiler()
    drawn = ("track", {"net": "ground", "layer": "back", "points": points, "width_mm": 0.4})
    work = compiler.compile(plate(ROW, ("wire", {}), drawn))
    found = codes(compiler, work)
    assert ("track-off-board" in found) == off
    assert {one.net for one in work.board.wires.unjoined} <= {"ground"}
    if off:
        told = found["track-off-board"]
        board = box(0, 0, *work.board.size)
        assert told.severity == "stop"
        assert all(not board.buffer(-0.25).contains(Point(spot)) for spot in told.places)


def test_a_track_over_a_peg_hole_of_a_part_is_told() -> None:
    compiler = Compiler()
    through = ("line", {**ROW[1], "emitter": "1206 reverse-mount, through a hole amber"})
    alone = compiler.compile(plate(through, ("wire", {})))
    part, hole = next((part, hole) for part in alone.board.parts for hole in part.part.holes)
    x, y = part.at(hole.x_mm, hole.y_mm) + np.array(alone.board.origin)
    across = ("track", {"net": "ground", "layer": "front", "points": ((x - 2, y), (x + 2, y)), "width_mm": 0.3})
    found = codes(compiler, compiler.compile(apply_edit(alone.project, *across)))
    assert found["track-off-board"].places[0] == pytest.approx((x - alone.board.origin[0], y - alone.board.origin[1]), abs=1.0)
