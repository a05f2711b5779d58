"""How copper is drawn: poured, flowing, with teardrops."""

from __future__ import annotations

import json
import math
from dataclasses import replace
from typing import Any

import msgspec
import numpy as np
import pytest
import shapely
from plates import ROW, codes, etched_at_home, files_of, plate
from shapely.geometry import LineString, Point, box
from wired import faults

from outlined_glow.core.board.copper_findings import link_findings
from outlined_glow.core.geometry.regions import EMPTY
from outlined_glow.core.order.proof.compare import prove_files
from outlined_glow.core.parts import PlacedPart, part, profile, profile_text
from outlined_glow.core.parts.nets import Net
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.wiring import flowing as flows
from outlined_glow.core.wiring.classes import NetClass
from outlined_glow.core.wiring.copper import Link, Track, Wires
from outlined_glow.core.wiring.flowing import _KNOWN, flowing
from outlined_glow.core.wiring.flowing import _flowing as flowing_one
from outlined_glow.core.wiring.kept import copper_member, unpack
from outlined_glow.core.wiring.places import ArtPlaces, Places
from outlined_glow.core.wiring.pour import _bridges
from outlined_glow.core.wiring.room import rooms
from outlined_glow.core.wiring.route import route
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.core.workshop.kept import kept_of

NUDGE = {"array": "moon", "place": (1,), "dx_mm": 0.3}


@pytest.mark.parametrize("style", ["solid", "hatched"])
def test_a_pour_joins_its_net_and_keeps_off_the_rest(style: str) -> None:
    compiler = Compiler()
    work = compiler.compile(plate(ROW, ("wire", {}), ("pour", {"net": "ground", "style": style})))
    [pour] = [one for one in work.board.copper if one.owner == "pour"]
    bare = compiler.compile(plate(ROW, ("wire", {})))
    assert work.board.layer("back copper").area > 2 * bare.board.layer("back copper").area
    assert not {"net-short", "copper-too-near", "net-open"} & set(codes(compiler, work))
    assert faults(files_of(work), 0.15, 0.15) == []
    for piece in shapely.get_parts(pour.region):
        assert piece.buffer(-0.07).area > 0  # no sliver
    own = {pin for net in work.board.nets if net.name == "ground" for pin in net.pins}
    for pad in work.board.pads:
        if (pad.ref, pad.pin) in own and pad.side == "back":
            ring = pad.polygon.buffer(0.12).exterior.difference(pour.region.buffer(1e-6))
            assert ring.length > 0.4 * pad.polygon.length  # a thermal relief
    none = apply_edit(work.project, "pour", {"net": "ground", "style": "none"})
    assert compiler.compile(none).board.layer("back copper").area == pytest.approx(bare.board.layer("back copper").area)


def test_a_hatched_pour_is_made_whole_on_a_large_board() -> None:
    """Its thousands of holes are drawn in and grown one by one: a tear would cut off all that lies behind it."""
    large = ("set-shape", {"base": "rectangle", "width_mm": 90.0, "height_mm": 70.0})
    compiler = Compiler()
    work = compiler.compile(plate(ROW, large, ("wire", {}), ("pour", {"net": "ground", "style": "hatched"})))
    [pour] = [one.region for one in work.board.copper if one.owner == "pour"]
    left, bottom, right, top = pour.bounds
    assert right - left > 89
    assert top - bottom > 69
    assert 0.58 < pour.area / (90 * 70) < 0.7
    assert "pour-too-thin" not in codes(compiler, work)


def test_pours_of_both_sides_are_joined_by_vias_that_lie_in_both() -> None:
    pours = [("pour", {"net": "ground", "side": side, "vias_mm": 4.0}) for side in ("front", "back")]
    compiler = Compiler()
    work = compiler.compile(plate(ROW, ("wire", {}), *pours))
    plain = compiler.compile(
        plate(ROW, ("wire", {}), ("pour", {"net": "ground"}), ("pour", {"net": "ground", "side": "front"}))
    )
    more = set(work.board.wires.vias) - set(plain.board.wires.vias)
    assert len(more) > 20
    ground = {one.side: one.region.buffer(1e-6) for one in work.board.copper if one.owner == "pour"}
    for via in more:
        assert via.net == "ground"
        assert all(region.contains(via.region) for region in ground.values())
    for via in more:
        assert min(math.dist((via.x, via.y), (one.x, one.y)) for one in more if one is not via) >= 4.0 - 1e-6
    assert faults(files_of(work), 0.15, 0.15) == []
    assert not [one for one in compiler.findings(work) if one.stage == "wiring" and one.severity == "stop"]


def test_raised_art_joins_a_pour_on_purpose_alone() -> None:
    raised = ("set-appearance", {"colour": "123222", "appearance": "raised"})
    compiler = Compiler()
    for art, pieces in (("leave", 0), ("join", 1)):
        pours = [("pour", {"net": "ground", "side": side, "vias_mm": 4.0, "art": art}) for side in ("front", "back")]
        work = compiler.compile(plate(raised, ROW, ("wire", {}), *pours))
        files = files_of(work)
        assert faults(files, 0.15, 0.15) == []
        assert prove_files(files, "plate", work.board).good
        assert not {"net-short", "net-open", "copper-too-near"} & set(codes(compiler, work))
        joined = [one for one in work.board.copper if one.owner == "pour" and one.side == "front"]
        assert len(joined) == pieces
        own = work.board.art_copper("front")
        assert own.area > 900  # what was raised stays raised
        assert all(one.region.intersects(own) for one in joined)


@pytest.mark.parametrize("gap", [0.1, 0.127, 0.2, 0.4])
def test_copper_is_as_far_apart_as_any_fabricator_needs(gap: float) -> None:
    """Arcs are chords inside their circles: what tracks, pads and pours keep off is a little more than the gap."""
    rules = {**json.loads(profile_text(profile("standard"))), "name": "mine", "gap_mm": gap, "track_mm": 0.12}
    take = ("take-profile", {"file": PictureFile("mine.json", json.dumps(rules).encode())})
    raised, pour = (
        ("set-appearance", {"colour": "123222", "appearance": "raised"}),
        ("pour", {"net": "ground", "side": "front"}),
    )
    compiler = Compiler()
    work = compiler.compile(plate(raised, take, ROW, ("wire", {"front": "free"}), pour))
    assert "copper-too-near" not in codes(compiler, work)
    assert faults(files_of(work), gap, 0.12) == []


def test_no_bridge_to_a_pour_crosses_what_it_keeps_off() -> None:
    pad = PlacedPart("R1", part("resistor 0805"), "", 0.0, 0.0, 0.0, "back").pads()[0]
    _, bottom, right, top = pad.polygon.bounds
    room, beside = pad.polygon.buffer(9), box(right + 0.1, bottom - 1, right + 0.15, top + 1)
    far = [_bridges(pad, room, away, profile("standard"), 0.2).bounds[2] for away in ([], [beside])]
    assert far[0] > right + 0.2
    assert far[1] < right + 0.1


def _turns(points: Any) -> list[float]:
    """By how much a way turns at each of its corners, degrees."""
    steps = np.diff(np.array(points), axis=0)
    headings = np.degrees(np.arctan2(steps[:, 1], steps[:, 0]))
    return np.abs((np.diff(headings) + 180) % 360 - 180).tolist()


def test_flowing_tracks_turn_softly_and_join_what_straight_ones_join(wired_moth: Project) -> None:
    compiler = Compiler()
    straight = compiler.compile(apply_edit(wired_moth, "wire", {"style": "straight"}))
    work = compiler.compile(apply_edit(wired_moth, "wire", {"style": "flowing"}))
    assert work.values["routed"].laid == straight.values["routed"].laid
    sharp = {}
    for name, board in (("flowing", work.board), ("straight", straight.board)):
        lands = shapely.union_all([*(pad.polygon for pad in board.pads), *(via.region for via in board.wires.vias)])
        turned = [
            turn
            for one in board.wires.tracks
            for turn, corner in zip(_turns(one.points), one.points[1:-1], strict=True)
            if not shapely.dwithin(lands, Point(corner), 0.05)
        ]
        sharp[name] = sum(turn for turn in turned if turn > 20) / sum(turned)
    assert sharp["straight"] > 0.9
    assert sharp["flowing"] < 0.45
    pairs = zip(straight.board.wires.tracks, work.board.wires.tracks, strict=True)
    assert all(math.dist(a.points[0], b.points[0]) + math.dist(a.points[-1], b.points[-1]) < 1e-6 for a, b in pairs)
    assert not [one for one in compiler.findings(work) if one.stage == "wiring" and one.severity != "note"]


def test_a_flowing_track_runs_alongside_a_contour() -> None:
    """A disc of metal in the way of a long track: the track keeps about the same distance from it all along."""
    art = ArtPlaces(box(-30, -30, 30, 30), {"front": EMPTY, "back": Point(0, 0).buffer(12, quad_segs=64)},
                    {"front": EMPTY, "back": EMPTY}, EMPTY)  # fmt: skip
    rules = profile("standard")
    net = Net("n", (("A", "1"), ("B", "1")), "signal")
    classes = {"n": NetClass(0.3, 0.15, 0.15, 0.01)}
    way = ((-20.0, 0.0), (-14.0, 6.0), (-6.0, 14.0), (6.0, 14.0), (14.0, 6.0), (20.0, 0.0))
    wires = Wires((Track("n", "back", 0.3, way),))
    soft = flowing(wires, art, rooms(wires, {}, [net], Places(art, (), ()), classes, rules)).tracks[0]

    def apart(points: Any) -> float:
        line = LineString(points)
        far = [line.interpolate(at / 100, normalized=True).distance(art.hard["back"]) for at in range(30, 71)]
        return max(far) - min(far)

    assert apart(soft.points) < 0.5 * apart(way)
    assert max(_turns(soft.points)) < 20
    assert soft.region.distance(art.hard["back"]) >= 0.15


def test_teardrops_widen_tracks_at_their_lands_alone() -> None:
    compiler = Compiler()
    plain = compiler.compile(plate(ROW, ("wire", {})))
    work = compiler.compile(plate(ROW, ("wire", {"teardrops": True})))
    assert work.board.wires.tracks == plain.board.wires.tracks
    tears = work.board.wires.tears
    assert len(tears) > 10
    lands = [(pad.side, pad.net, pad.polygon) for pad in work.board.pads]
    lands += [(side, via.net, via.region) for via in work.board.wires.vias for side in ("front", "back")]
    for tear in tears:
        assert any((side, net) == (tear.side, tear.net) and land.intersects(tear.region) for side, net, land in lands)
        assert tear.region.area > 0.01
    assert work.board.layer("back copper").area > plain.board.layer("back copper").area
    assert faults(files_of(work), 0.15, 0.15) == []
    assert prove_files(files_of(work), "plate", work.board).good


def test_what_is_remembered_of_flowing_tracks_is_what_they_would_be(wired_moth: Project) -> None:
    """A part is moved back and forth: the tracks are those that are drawn with nothing remembered."""
    compiler = Compiler()
    work = compiler.compile(wired_moth)
    part = next(one for one in work.board.parts if one.ref == "R3")
    x, y = part.x + work.board.origin[0], part.y + work.board.origin[1]
    moved = compiler.compile(apply_edit(wired_moth, "place-part", {"part": "R3", "x_mm": x + 1.0, "y_mm": y}))
    v = moved.values
    assert any(one.ways for one in _KNOWN)
    _KNOWN.clear()
    again = route(v["in the way"], v["nets"], v["net classes"], v["rules"], v["wish"], replace(v["routed"], ways=()))
    assert again.wires == v["routed"].wires


def _with_copper(project: Project, **changed: Any) -> Project:
    """A project whose file keeps other copper."""
    member = copper_member(project.designs[0].name)
    content = {**json.loads(project.members[member]), **changed}
    return msgspec.structs.replace(project, members={**project.members, member: json.dumps(content).encode()})


def test_tracks_flow_as_the_file_keeps_them_and_as_they_would_from_nothing(monkeypatch: pytest.MonkeyPatch) -> None:
    boat = demo_project("paper-boat")
    drawn = Compiler().compile(_with_copper(boat, ways=[])).board
    after = [drawn.wires, Compiler().compile(apply_edit(_with_copper(boat, ways=[]), "nudge", NUDGE)).board.wires]
    asked: list[Track] = []
    monkeypatch.setattr(flows, "_flowing", lambda track, *rest: asked.append(track) or flowing_one(track, *rest))
    compiler = Compiler()
    kept = compiler.compile(boat)
    assert not asked
    # An edit draws again only what it reaches.
    nudged = compiler.compile(apply_edit(boat, "nudge", NUDGE)).board
    assert len(asked) < len(kept.board.wires.tracks) / 2
    assert [kept.board.wires, nudged.wires] == after
    assert unpack(kept_of(kept)[copper_member("main")]).ways == tuple(one.points for one in kept.values["routed"].wires.tracks)


@pytest.mark.parametrize(
    "changed",
    [{"flow": 0}, {"ways": [[0.0, 0.0, 9.0, 9.0]]}, {"ways": [[1.0]]}, {"ways": [["a", 1, 2, 3]]}, {"ways": [[1e99] * 4]},
     {"ways": 7}, {"ways": [[float("nan")] * 4] * 78}, {"ways": [[0.0, 0.0, 9.0, 9.0]] * 78}],
)  # fmt: skip
def test_ways_that_are_none_are_drawn_anew(changed: dict[str, Any]) -> None:
    boat = demo_project("paper-boat")
    assert len(Compiler().compile(boat).board.wires.tracks) == 78
    damaged = _with_copper(boat, **changed)
    assert Compiler().compile(damaged).board.wires == Compiler().compile(boat).board.wires
    # The branches are not searched for again.
    kept, read = (unpack(one.members[copper_member("main")]) for one in (boat, damaged))
    assert kept.laid == read.laid != ()


def test_a_wire_over_the_front_that_lies_across_a_part_is_told() -> None:
    lamp = PlacedPart("D1", part("led 0805"), "0805 amber", 10.0, 10.0, 0.0, "front", 1)
    behind = PlacedPart("D2", part("led 0805"), "0805 amber", 10.0, 20.0, 0.0, "back", 2)
    over = Link("W1", "row", (5.0, 10.0), (15.0, 10.0), "back")
    beside = Link("W2", "row", (5.0, 14.0), (15.0, 14.0), "back")
    under = Link("W3", "row", (5.0, 20.0), (15.0, 20.0), "back")
    through = Link("W4", "row", (10.0, 10.0), (10.0, 10.0))
    [found] = link_findings(Wires(links=(over, beside, under, through)), (lamp, behind))
    assert (found.code, found.count) == ("link-over-part", 1)
    assert "W1 lies across D1" in found.text
    assert link_findings(Wires(links=(beside, under, through)), (lamp, behind)) == []
    compiler = Compiler()
    work = compiler.compile(etched_at_home("3 mm diffused amber", "scan"))
    crossed = sum(
        LineString([one.start, one.end]).intersects(each.court())
        for one in work.board.wires.links if one.side for each in work.board.parts if each.side == "front"
    )  # fmt: skip
    assert ("link-over-part" in codes(compiler, work)) == (crossed > 0)
