"""Wiring: tracks, their check, pours, parts by hand; finished files are read by code that shares nothing with the core."""

from __future__ import annotations

import itertools
import math
import random
import re
from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString, Point, Polygon, box
from wired import faults

from outlined_glow import DEMOS
from outlined_glow.core import compiled
from outlined_glow.core.board.copper_findings import copper_findings
from outlined_glow.core.errors import Trouble
from outlined_glow.core.geometry.regions import EMPTY
from outlined_glow.core.order import make_package
from outlined_glow.core.order.proof.compare import prove_files
from outlined_glow.core.parts import PlacedPad, profile
from outlined_glow.core.parts.nets import Net
from outlined_glow.core.project import Finding, Project, apply_edit
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.watch import Watch
from outlined_glow.core.wiring.classes import NetClass, net_classes
from outlined_glow.core.wiring.continuity import continuity, shapes_of
from outlined_glow.core.wiring.copper import Track, Wires
from outlined_glow.core.wiring.flowing import flowing
from outlined_glow.core.wiring.grid import Grid, grid_over, offsets_within
from outlined_glow.core.wiring.kept import COPPER, copper_member, pack, unpack
from outlined_glow.core.wiring.maze import STEPS, claim, find_path
from outlined_glow.core.wiring.places import ArtPlaces, Places
from outlined_glow.core.wiring.room import rooms
from outlined_glow.core.wiring.router import Branch, NetWork, Router
from outlined_glow.core.workshop import Compiler, Work, apply_values, new_project
from outlined_glow.core.workshop.compile import with_kept
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.core.workshop.drops import drops
from outlined_glow.core.workshop.hand_track import Held, moved_stretch, taken_over
from outlined_glow.core.workshop.net_facts import net_facts
from outlined_glow.core.workshop.untangle import controller_ref, untangled

_STAMP = "2026-11-27T20:00:00Z"
PLATE = (
    b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 44 30" width="44mm" height="30mm">'
    b'<rect width="44" height="30" fill="#123222"/></svg>'
)


def plate(*edits: tuple[str, dict[str, Any]]) -> Project:
    """A plain board of 48 x 34 mm with what edits make of it."""
    project = new_project(PLATE, "plate.svg")
    for name, values in edits:
        project = apply_values(project, name, values, (0.0, 0.0))
    return project


ROW = ("line", {"array": "row", "x_mm": 22.0, "y_mm": 22.0, "count": 4, "pitch_mm": 6.0})


def files_of(work: Work) -> Mapping[str, bytes]:
    return make_package(work.board, 8, _STAMP).files


def codes(compiler: Compiler, work: Work) -> dict[str, Finding]:
    return {one.code: one for one in compiler.findings(work) if one.stage == "wiring"}


# -- the grid and the maze ------------------------------------------------------------------------------------------


@given(st.lists(st.tuples(st.integers(0, 900), st.integers(0, 700)), min_size=3, max_size=8))
def test_the_cells_in_a_region_are_those_a_geometry_library_finds(points: list[tuple[int, int]]) -> None:
    region = Polygon([(x / 100, y / 100) for x, y in points]).buffer(0).difference(box(3, 2, 4, 3.5))
    grid = grid_over((0.0, 0.0, 9.0, 7.0), 0.3)
    places = grid.places(np.arange(grid.cells, dtype=np.int32))
    inside = grid.within(region)
    far = shapely.distance(region.boundary, shapely.points(places)) > 1e-6
    assert (inside == shapely.contains_xy(region, *places.T))[far].all()


def test_a_vast_board_has_a_coarser_grid_on_the_same_multiples() -> None:
    fine, coarse = grid_over((-1.0, -1.0, 50.0, 40.0), 0.15), grid_over((0.0, 0.0, 400.0, 380.0), 0.15)
    assert fine.pitch == 0.15
    assert coarse.cells <= 1_600_000
    assert coarse.pitch / 0.15 == pytest.approx(round(coarse.pitch / 0.15))
    assert fine.x / 0.15 == pytest.approx(round(fine.x / 0.15))


@pytest.mark.parametrize("reach", [1.0, 1.5, 2.0, 2.3, 3.1])
def test_cells_that_are_kept_off_are_just_those_where_two_tracks_would_be_too_near(reach: float) -> None:
    closed = {tuple(one) for one in offsets_within(reach).tolist()}
    through = [LineString([(-dx, -dy), (0, 0), (dx, dy)]) for dx, dy in STEPS]
    for x in range(-5, 6):
        for y in range(-5, 6):
            others = [LineString([(x - dx, y - dy), (x, y), (x + dx, y + dy)]) for dx, dy in STEPS[:4]]
            open_ = (x, y) not in closed
            # Two tracks all of whose cells are open to one another are far enough apart.
            for one in through[:4]:
                for other in others:
                    cells = {(x + k * dx, y + k * dy) for dx, dy in STEPS[:4] for k in (-1, 0, 1)
                             if other.distance(Point(x + k * dx, y + k * dy)) < 1e-9}  # fmt: skip
                    if (
                        open_
                        and cells.isdisjoint(closed)
                        and all((a - b, c - d) not in closed for a, c in cells for b, d in ((0, 0), *_ends(one)))
                    ):
                        assert one.distance(other) >= reach - 1e-9


def _ends(line: LineString) -> list[tuple[int, int]]:
    return [(round(x), round(y)) for x, y in line.coords]


def _maze(run: Any, walls: set[int]) -> list[int]:
    """The path over a small maze of two layers from one corner to the other, by a function."""
    width, height = 12, 9
    size = 2 * width * height
    owner = np.full(size, -1, np.int32)
    owner[list(walls)] = -2
    marks, pieces = np.zeros(size, np.uint8), np.zeros(size, np.int32)
    start, goal = 0, size // 2 - 1
    owner[[start, goal]] = -1
    marks[[start, goal]], pieces[start], pieces[goal] = 2, 1, 2
    flat, none = np.zeros(size, np.int16), np.zeros(size, np.float32)
    sizes, box_ = np.array([width, height], np.int64), np.array([width - 1, height - 1] * 2, np.int64)
    prices = np.array([1.0, 2**0.5, 6.0, 0.2, 0.6, 0.5])
    seen, came, trunks = np.zeros(size, np.int32), np.zeros(size, np.int8), np.zeros(size, np.uint16)
    heap = np.zeros(4 * size, np.float32), np.zeros(4 * size, np.int32)
    path = np.zeros(size, np.int32)
    count = run(
        np.array([start], np.int32), 0, owner, flat, owner, flat, np.zeros(size // 2, np.uint8), none, none, marks, pieces,
        trunks, sizes, box_, prices, np.zeros(size, np.float32), seen, came, 1, *heap, path,
    )  # fmt: skip
    return path[:count].tolist()


@given(st.sets(st.integers(1, 106), max_size=60))
def test_compiled_and_plain_code_find_the_same_way(walls: set[int]) -> None:
    assert compiled.load()
    plain, fast = _maze(find_path.run, walls), _maze(find_path, walls)
    assert plain == fast
    for one, other in itertools.pairwise(plain):
        step = (
            abs(one % 108 % 12 - other % 108 % 12),
            abs(one % 108 // 12 - other % 108 // 12),
            abs(one // 108 - other // 108),
        )
        assert (step[2] == 1 and step[:2] == (0, 0)) or (step[2] == 0 and max(step[:2]) == 1)
    for a, b, c in zip(plain, plain[1:], plain[2:], strict=False):
        ways = [(q % 108 % 12 - p % 108 % 12, q % 108 // 12 - p % 108 // 12) for p, q in ((a, b), (b, c))]
        assert ways[0][0] * ways[1][0] + ways[0][1] * ways[1][1] >= 0  # no acute corner


def test_the_ground_of_a_pad_is_all_that_is_nearer_than_told() -> None:
    grid = Grid(0.0, 0.0, 0.1, 80, 60)
    for angle in (0.0, 0.4, 1.3):
        owner = np.full(grid.cells, -1, np.int32)
        claim(owner, grid.origin, grid.sizes, grid.pitch, 5, 4.0, 3.0, 0.8, 0.35, angle, 0.31, False)
        pad = shapely.affinity.rotate(box(3.2, 2.65, 4.8, 3.35), angle, origin=(4, 3), use_radians=True)
        far = shapely.distance(pad, shapely.points(grid.places(np.arange(grid.cells, dtype=np.int32))))
        assert ((owner == 5) == (far < 0.31))[abs(far - 0.31) > 1e-9].all()


# -- finished boards ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", DEMOS)
def test_a_demo_can_be_ordered_and_its_files_make_every_net(name: str) -> None:
    compiler = Compiler()
    work = compiler.compile(demo_project(name))
    assert not [one for one in compiler.findings(work) if one.severity == "stop"]
    assert "routed" not in codes(compiler, work)
    files = files_of(work)
    rules = work.board.profile
    assert faults(files, rules.gap_mm, rules.track_mm) == []
    proof = prove_files(files, name, work.board)
    assert proof.good, proof.differences[:3]
    facts = net_facts(work)
    assert {one["state"] for one in facts["nets"]} == {"joined"}
    assert facts["unjoined"] == []


def _made(seed: int) -> Project:
    """A board by chance: array, way, outline, profile, front, lines."""
    dice = random.Random(seed)
    where = {"array": "a", "x_mm": 22.0, "y_mm": 16.0}
    array = dice.choice([
        ("ring", {**where, "count": dice.randint(3, 9), "diameter_mm": dice.uniform(10, 22)}),
        ("grid", {**where, "rows": dice.randint(2, 3), "columns": dice.randint(2, 4), "pitch_x_mm": 6.0,
                  "pitch_y_mm": dice.uniform(4.5, 7)}),
        ("line", {**where, "count": dice.randint(2, 6), "pitch_mm": dice.uniform(4, 6)}),
    ])  # fmt: skip
    way = dice.choice(["each", "scan", "shift-register", "counter-chaser", "ripple", "pins", "strings", "charlieplex"])
    edits = [
        array,
        ("set-profile", {"profile": dice.choice(["standard", "standard", "fine"])}),
        ("drive", {"method": way, "supply": dice.choice(["usb", "usb", "coin-2032"]), "current_a": 0.003}),
        ("set-shape", {"base": dice.choice(["rectangle", "capsule", "circle"]), "width_mm": 52.0, "height_mm": 44.0}),
        ("wire", {"front": dice.choice(["clean", "few", "free"]), "style": dice.choice(["straight", "rounded", "flowing"]),
                  "teardrops": dice.random() < 0.5, "seed": seed}),
    ]  # fmt: skip
    if dice.random() < 0.4:
        pour = {"net": "ground", "style": dice.choice(["solid", "hatched"]), "vias_mm": dice.choice([0.0, 3.0, 1.5])}
        edits += [("pour", pour)] + ([("pour", {**pour, "side": "front"})] if dice.random() < 0.6 else [])
    return plate(*edits)


@pytest.mark.parametrize("first", range(0, 60, 6))
def test_boards_made_by_chance_have_no_open_short_or_gap_that_is_not_told(first: int) -> None:
    compiler = Compiler()
    for seed in range(first, first + 6):
        work = compiler.compile(_made(seed))
        told = {one.code for one in compiler.findings(work)}
        rules = work.board.profile
        found = faults(files_of(work), rules.gap_mm, rules.track_mm)
        opens = [one for one in found if one.startswith("open")]
        assert [one for one in found if one not in opens] == [], seed
        assert bool(opens) == ("net-open" in told), (seed, opens)
        assert len(opens) <= 1, (seed, opens)


def test_the_same_wish_gives_the_same_copper_and_another_seed_another() -> None:
    one, again = (Compiler().compile(_made(3)).board.wires for _ in range(2))
    assert one == again
    other = Compiler().compile(apply_edit(_made(3), "wire", {"seed": 99})).board.wires
    assert other.tracks != one.tracks


def test_tracks_end_in_the_middle_of_pads_and_turn_by_no_more_than_a_right_angle() -> None:
    work = Compiler().compile(plate(ROW, ("wire", {"front": "free"})))
    middles = {(round(pad.x, 3), round(pad.y, 3)) for pad in work.board.pads}
    middles |= {(round(via.x, 3), round(via.y, 3)) for via in work.board.wires.vias}
    places = {(round(x, 3), round(y, 3)) for one in work.board.wires.tracks for x, y in one.points[1:-1]}
    tracks = [LineString(one.points) for one in work.board.wires.tracks]
    for one, line in zip(work.board.wires.tracks, tracks, strict=True):
        for end in (one.points[0], one.points[-1]):
            joint = any(other is not line and other.distance(Point(end)) < 1e-6 for other in tracks)
            assert (round(end[0], 3), round(end[1], 3)) in middles | places or joint
        for a, b, c in zip(one.points[1:-1], one.points[2:-1], one.points[3:-1], strict=False):
            assert (b[0] - a[0]) * (c[0] - b[0]) + (b[1] - a[1]) * (c[1] - b[1]) >= -1e-9


def test_a_clean_front_has_stubs_and_a_free_one_more() -> None:
    grid = ("grid", {"array": "a", "x_mm": 22.0, "y_mm": 16.0, "rows": 3, "columns": 4, "pitch_x_mm": 6.0, "pitch_y_mm": 6.0})
    scan = ("drive", {"method": "scan", "supply": "usb", "current_a": 0.003})
    long = {}
    for front in ("clean", "few", "free"):
        work = Compiler().compile(plate(grid, scan, ("wire", {"front": front})))
        long[front] = sum(one.length for one in work.board.wires.tracks if one.side == "front")
        assert not work.board.wires.unjoined
    assert long["clean"] < long["free"]
    assert long["few"] < long["free"]


# -- damage is found --------------------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def wired() -> Work:
    return Compiler().compile(plate(ROW, ("wire", {})))


def _changed(files: Mapping[str, bytes], end: str, change: Any) -> dict[str, bytes]:
    return {name: change(data.decode()).encode() if name.endswith(end) else data for name, data in files.items()}


def _without_a_track(text: str) -> str:
    lines = text.splitlines()
    at = max(number for number, line in enumerate(lines) if line.endswith("D02*"))
    end = next(number for number in range(at + 1, len(lines)) if not lines[number].endswith("D01*"))
    return "\n".join(lines[:at] + lines[end:]) + "\n"


def _with_a_bridge(text: str) -> str:
    last = next(line for line in reversed(text.splitlines()) if line.endswith("D01*"))
    return text.replace("M02*", f"D{_track_tool(text)}*\n{last.replace('D01*', 'D02*')}\nX24000000Y20000000D01*\n"
                                "X4000000Y4000000D01*\nX40000000Y28000000D01*\nM02*")  # fmt: skip


def _track_tool(text: str) -> str:
    at = text.index("%TA.AperFunction,Conductor*%")
    return text[at:].split("%ADD")[1][:2]


def _mirrored(text: str) -> str:
    return re.sub(r"^X(-?\d+)(?=Y)", lambda found: f"X{48_000_000 - int(found[1])}", text, flags=re.MULTILINE)


DAMAGE = {
    "a track is cut": ("copper-back.gbr", _without_a_track),
    "a bridge": ("copper-back.gbr", _with_a_bridge),
    "a layer mirrored": ("copper-back.gbr", _mirrored),
    "vias lost": ("-plated.xnc", lambda text: "\n".join(one for one in text.splitlines() if not one.startswith("X")) + "\n"),
    "a net renamed": (".ipc", lambda text: text.replace("327ground        ", "327supply        ", 1)),
    "a pad elsewhere": (".ipc", lambda text: text.replace("X+0", "X+9", 1)),
    "no test file": (".ipc", lambda text: "327\n"),
}


@pytest.mark.parametrize("name", DAMAGE)
@pytest.mark.parametrize("with_board", [True, False])
def test_damaged_files_are_found_by_the_proof(wired: Work, name: str, with_board: bool) -> None:
    files = files_of(wired)
    assert prove_files(files, "good", wired.board).good
    end, change = DAMAGE[name]
    damaged = _changed(files, end, change)
    assert damaged != files
    proof = prove_files(damaged, name, wired.board if with_board else None)
    assert any(one.layer == "nets" for one in proof.differences), [one.text for one in proof.differences]


def test_holes_that_are_not_plated_join_nothing(wired: Work) -> None:
    files = dict(files_of(wired))
    plated = next(name for name in files if name.endswith("-plated.xnc"))
    bare = next(name for name in files if name.endswith("-unplated.xnc"))
    files[bare] = files[plated].replace(b"Plated,1,2,PTH", b"NonPlated,1,2,NPTH")
    files[plated] = b"\n".join(one for one in files[plated].split(b"\n") if not one.startswith(b"X"))
    texts = [one.text for one in prove_files(files, "bare", wired.board).differences]
    assert any("is open" in text for text in texts), texts
    assert any("unplated" in one for one in faults(files, 0.15, 0.15))


def _pad(ref: str, x: float, y: float, side: str = "back") -> PlacedPad:
    return PlacedPad(ref, "1", x, y, 1.0, 1.0, 0.0, side, box(x - 0.5, y - 0.5, x + 0.5, y + 0.5))


def test_continuity_is_what_shapes_make_and_nothing_else() -> None:
    pads = [_pad("A", 0, 0), _pad("B", 10, 0), _pad("C", 0, 5), _pad("D", 10, 5, "front"), _pad("E", 5, 9)]
    nets = {("A", "1"): "one", ("B", "1"): "one", ("C", "1"): "two", ("D", "1"): "two"}
    lower, upper = box(0, -0.1, 10, 0.1), box(0, 4.9, 10, 5.1)
    good = continuity(shapes_of(pads, [("back", lower), ("back", upper)]), [(10, 5, 0.3)], nets, 0.15)
    assert (good.opens, good.shorts, good.near) == ((), (), ())
    lost = continuity(shapes_of(pads, [("back", lower), ("back", upper)]), [], nets, 0.15)
    assert [one.net for one in lost.opens] == ["two"]
    cut = continuity(shapes_of(pads, [("back", box(0, -0.1, 4, 0.1)), ("back", upper)]), [(10, 5, 0.3)], nets, 0.15)
    assert [(one.net, len(one.groups)) for one in cut.opens] == [("one", 2)]
    across = continuity(
        shapes_of(pads, [("back", lower), ("back", upper), ("back", box(4, 0, 4.2, 5))]), [(10, 5, 0.3)], nets, 0.15
    )
    assert across.shorts[0].nets == ("one", "two")
    stray = continuity(shapes_of(pads, [("back", lower), ("back", box(1, 0.2, 9, 0.4))]), [], nets, 0.15)
    assert stray.near[0].gap == pytest.approx(0.1)
    wide = continuity(shapes_of(pads, [("back", lower), ("back", upper)]), [(10, 5, 0.3)], nets, 0.15, {"two": 5.0})
    assert {one.rule for one in wide.near} == {5.0}
    unused = continuity(shapes_of(pads, [("back", lower), ("back", box(4.9, 0, 5.1, 9))]), [], nets, 0.15)
    assert unused.shorts[0].nets == ("E.1 (not connected)", "one")


@given(st.integers(0, 10_000))
def test_components_are_those_of_the_union(seed: int) -> None:
    dice = random.Random(seed)
    boxes = [box(x, y, x + dice.uniform(0.2, 3), y + dice.uniform(0.2, 3))
             for x, y in ((dice.uniform(0, 12), dice.uniform(0, 12)) for _ in range(14))]  # fmt: skip
    pads = [PlacedPad(f"P{at}", "1", 0, 0, 1, 1, 0.0, "back", one) for at, one in enumerate(boxes)]
    nets = {(f"P{at}", "1"): "n" for at in range(len(boxes))}
    found = continuity(shapes_of(pads, []), [], nets, 0.01)
    many = len(shapely.get_parts(shapely.union_all(boxes)))
    assert (len(found.opens[0].groups) if found.opens else 1) == many


# -- what is kept -----------------------------------------------------------------------------------------------------


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


def test_classes_are_made_for_current_and_voltage(wired_moth: Project) -> None:
    from outlined_glow.core.parts.copper import track_current

    work = Compiler().compile(wired_moth)
    for name, one in net_classes(work.plan, profile("standard")).items():
        assert track_current(one.width, 10) >= one.current_a * 0.99, name
    tube = Compiler().compile(
        plate(("single", {"array": "t", "x_mm": 22.0, "y_mm": 16.0, "emitter": "digit tube on its socket"}),
              ("drive", {"method": "tube", "supply": "usb"}), ("wire", {}))
    )  # fmt: skip
    classes = tube.values["net classes"]
    assert classes["high voltage"].clearance == 1.25
    assert classes["ground"].clearance == 0.15


# -- pours, hands -----------------------------------------------------------------------------------------------------


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
    assert sharp["flowing"] < 0.35
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


def test_drawing_ends_with_what_there_is_when_somebody_has_enough() -> None:
    left = iter(range(10**6))
    compiler = Compiler()
    work = compiler.compile(_made(9), Watch(enough=lambda: next(left) > 8))
    assert work.values["routed"].stopped
    assert work.values["routed"].mark == ""
    rules = work.board.profile
    found = faults(files_of(work), rules.gap_mm, rules.track_mm)
    assert found
    assert all(one.startswith("open") for one in found)
    assert "stopped before" in net_facts(work)["unjoined"][0]["why"]
    assert compiler.compile(_made(9)) == work or compiler.compile(_made(9)).values["routed"].stopped
    compiler.go_on()
    whole = compiler.compile(_made(9))
    assert not whole.values["routed"].stopped
    assert faults(files_of(whole), rules.gap_mm, rules.track_mm) == []


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


def track_needs(amps: float) -> float:
    """The width of DOMAIN 7, worked by hand."""
    return float((amps / (0.048 * 10**0.44)) ** (1 / 0.725) * 25.4**2 / 35 / 1000)


def test_a_track_that_is_too_narrow_for_its_current_and_one_too_near_are_told() -> None:
    compiler = Compiler()
    many = ("grid", {"array": "a", "x_mm": 22.0, "y_mm": 15.0, "rows": 5, "columns": 9, "pitch_x_mm": 4.4, "pitch_y_mm": 4.6})
    strong = ("drive", {"method": "each", "supply": "bench", "volts_v": 5.0, "current_a": 0.02})
    way = ("track", {"net": "ground", "layer": "back", "points": ((3.0, 3.0), (40.0, 3.0)), "width_mm": 0.15})
    work = compiler.compile(plate(many, strong, way))
    needed = track_needs(work.plan.current_max_a)
    assert needed > 0.15
    warm = codes(compiler, work)["track-too-warm"]
    assert (warm.measured, warm.allowed) == (0.15, pytest.approx(needed, abs=0.001))
    alone = compiler.compile(plate(ROW))
    pad = next(pad for pad in alone.board.pads if pad.ref == "R1" and pad.pin == "1")
    ox, oy = alone.board.origin
    reach = max(pad.width, pad.height) / 2 + 0.09 + 0.1
    beside = tuple((pad.x + ox + dx, pad.y + oy + reach * 1.42) for dx in (-4.0, 4.0))
    near = ("track", {"net": "ground", "layer": "back", "points": beside, "width_mm": 0.2})
    for down in np.arange(0.0, 2.0, 0.05):
        points = tuple((x, y - down) for x, y in beside)
        found = codes(compiler, compiler.compile(plate(ROW, ("track", {**near[1], "points": points}))))
        if "copper-too-near" in found:
            one = found["copper-too-near"]
            assert one.measured is not None
            assert 0 < one.measured < one.allowed == 0.15
            return
    raise AssertionError("no track came too near")


# -- what else the finished layers tell -----------------------------------------------------------------------------------


def _told(work: Work, laid: Any = None, parts: Any = None, nets: Any = None) -> dict[str, Finding]:
    v = work.values
    stack = work.brief.stack
    found = copper_findings(laid or v["wired layers"], parts or v["parts"], nets or v["nets"], v["rules"], stack)
    return {one.code: one for one in found}


def test_a_pad_under_the_mask_and_a_sliver_of_a_pour_are_told() -> None:
    work = Compiler().compile(plate(ROW, ("wire", {}), ("pour", {"net": "ground"})))
    assert _told(work) == {}
    laid = work.values["wired layers"]
    pad = next(pad for pad in laid.pads if pad.side == "back")
    shut = laid.layers["back mask"].difference(pad.polygon.buffer(-0.2))
    found = _told(work, replace(laid, layers={**laid.layers, "back mask": shut}))
    assert found["pad-covered"].count == 1
    assert f"{pad.ref}.{pad.pin}" in found["pad-covered"].text
    sliver = replace(laid, copper=tuple(replace(one, region=one.region.difference(box(0, 14, 3.5, 26)).union(
        box(2.0, 13.9, 2.06, 26.1))) if one.owner == "pour" else one for one in laid.copper))  # fmt: skip
    assert _told(work, sliver)["pour-too-thin"].measured == pytest.approx(0.06, abs=0.02)


def test_a_web_of_mask_that_is_left_away_is_told() -> None:
    work = Compiler().compile(plate(ROW, ("wire", {})))
    laid = work.values["wired layers"]
    pad = next(pad for pad in laid.pads if pad.side == "back")
    beside = replace(pad, ref="X9", pin="1", x=pad.x + pad.width + 0.17, polygon=shapely.affinity.translate(
        pad.polygon, pad.polygon.bounds[2] - pad.polygon.bounds[0] + 0.17))  # fmt: skip
    found = _told(work, replace(laid, pads=(*laid.pads, beside)))["pad-web-too-narrow"]
    assert found.measured == pytest.approx(0.07, abs=0.005)
    assert found.severity == "note"


@pytest.mark.parametrize("emitter", ["1206 red", "digit 14.2 common anode red"])
def test_an_led_the_wrong_way_round_is_told(emitter: str) -> None:
    one = ("single", {"array": "a", "x_mm": 22.0, "y_mm": 15.0, "emitter": emitter})
    work = Compiler().compile(plate(one, ("wire", {})))
    assert "pin-on-wrong-net" not in _told(work)
    swap = {"supply": "ground", "ground": "supply"}
    reversed_ = tuple(replace(net, kind=swap.get(net.kind, net.kind)) for net in work.values["nets"])
    assert _told(work, nets=reversed_)["pin-on-wrong-net"].severity == "stop"


def test_a_part_that_lies_mirrored_in_the_files_is_found_by_the_proof() -> None:
    chip = ("drive", {"method": "shift-register", "supply": "usb", "current_a": 0.003})
    work = Compiler().compile(plate(ROW, chip, ("wire", {})))
    files = dict(files_of(work))
    assert prove_files(files, "plate", work.board).good
    U = next(part for part in work.board.parts if len(part.part.pins) > 8)
    other = replace(U, side="front" if U.side == "back" else "back")
    board = replace(work.board, parts=tuple(other if part is U else part for part in work.board.parts))
    told = [one.text for one in prove_files(files, "plate", board).differences if one.layer == "nets"]
    assert any(text.startswith(f"{U.ref} lies mirrored") for text in told)
    moved = replace(U, x=U.x + 0.5)
    board = replace(work.board, parts=tuple(moved if part is U else part for part in work.board.parts))
    told = [one.text for one in prove_files(files, "plate", board).differences if one.layer == "nets"]
    assert any("elsewhere than its land pattern" in text for text in told)


def test_copper_names_the_nets_pins_and_parts_of_its_pads() -> None:
    work = Compiler().compile(plate(ROW, ("wire", {})))
    text = next(data.decode() for name, data in files_of(work).items() if name.endswith("copper-back.gbr"))
    for pad in (pad for pad in work.board.pads if pad.side == "back"):
        assert f"%TO.P,{pad.ref},{pad.pin}*%\n%TO.C,{pad.ref}*%\n%TO.N,{pad.net or 'N/C'}*%" in text


# -- what cannot be ---------------------------------------------------------------------------------------------------


def test_no_room_ends_by_itself_with_a_list() -> None:
    tight = plate(
        ("grid", {"array": "a", "x_mm": 22.0, "y_mm": 15.0, "rows": 4, "columns": 5, "pitch_x_mm": 6.5, "pitch_y_mm": 5.5}),
        ("drive", {"method": "scan", "supply": "usb", "current_a": 0.001}),
        ("set-profile", {"profile": "home-etch"}), ("wire", {}),
    )  # fmt: skip
    compiler = Compiler()
    work = compiler.compile(tight)
    facts = net_facts(work)
    assert facts["unjoined"]
    assert {one["why"] for one in facts["unjoined"]} == {"no room"}
    assert {"net", "from", "to", "why", "remedies"} <= set(facts["unjoined"][0])
    assert codes(compiler, work)["net-open"].remedies
    assert "net-short" not in codes(compiler, work)


def _etched(emitter: str, way: str) -> Project:
    grid = {"array": "a", "x_mm": 22.0, "y_mm": 20.0, "rows": 3, "columns": 4, "pitch_x_mm": 12.0, "pitch_y_mm": 12.0}
    return plate(
        ("grid", {**grid, "emitter": emitter}),
        ("set-shape", {"base": "rectangle", "width_mm": 90.0, "height_mm": 80.0}),
        ("set-profile", {"profile": "home-etch"}),
        ("drive", {"method": way, "supply": "usb", "current_a": 0.003}), ("wire", {}),
    )  # fmt: skip


@pytest.mark.parametrize("way", ["each", "strings", "charlieplex"])
@pytest.mark.parametrize(("emitter", "over"), [("5 mm diffused red", True), ("1206 red", False)])
def test_boards_etched_at_home_have_wires_in_the_place_of_plated_holes(way: str, emitter: str, over: bool) -> None:
    compiler = Compiler()
    work = compiler.compile(_etched(emitter, way))
    files, links = files_of(work), work.board.wires.links
    assert faults(files, 0.4, 0.4) == []
    assert prove_files(files, "plate", work.board).good
    assert links
    assert [one.ref for one in links] == [f"W{number}" for number in range(1, len(links) + 1)]
    assert not any(hole.plated and hole.purpose == "wire link" for hole in work.board.holes)
    told = codes(compiler, work)["wire-links"]
    assert told.severity == "note"
    assert told.count == len(links)
    rows = net_facts(work)["links"]
    assert [(one["reference"], one["net"]) for one in rows] == [(one.ref, one.net) for one in links]
    for one, row in zip(links, rows, strict=True):
        ends = [(row[key]["x_mm"], row[key]["y_mm"]) for key in ("from", "to")]
        assert ends == [pytest.approx(spot, abs=1e-3) for spot in (one.start, one.end)]
        assert row["length_mm"] == pytest.approx(math.dist(one.start, one.end) + (2 if over else 1) * 1.6, abs=0.01)
        assert {row["from"]["side"], row["to"]["side"]} == ({"back"} if over else {"front", "back"})
    if over:  # one side alone is etched
        assert not [one for one in work.board.wires.tracks if one.side == "front"]
    # No part lies over a wire's hole.
    parts = [one for one in work.board.parts if not one.part.shines]
    assert all(not one.court().contains(Point(spot)) for one in parts for link in links for spot in (link.start, link.end))
    table = next(data.decode() for name, data in files.items() if name.endswith("wire-links.csv"))
    assert len(table.splitlines()) == 1 + len(links)
    lacking = dict(files)
    ipc = next(name for name in files if name.endswith(".ipc"))
    lacking[ipc] = b"\n".join(row for row in files[ipc].split(b"\n") if b"   W1    -" not in row)
    assert not prove_files(lacking, "plate", None).good
    lost = drops(work)
    assert any(one.worst_v > 0 for one in lost.nets.values())


def test_a_wide_track_that_ends_beside_a_small_pad_does_not_go_on_into_it() -> None:
    """A stretch that was widened ends a cell before the pad: only the narrow one beyond goes on to its middle."""
    work = Compiler().compile(_etched("5 mm diffused red", "charlieplex"))
    pads = {(round(pad.x, 3), round(pad.y, 3), pad.side): pad for pad in work.board.pads}
    ends = 0
    for one in work.board.wires.tracks:
        for x, y in (one.points[0], one.points[-1]):
            pad = pads.get((round(x, 3), round(y, 3), one.side))
            if pad is not None:
                ends += 1
                assert one.width <= min(pad.width, pad.height) + 1e-9
    assert ends > 20


def test_a_net_of_one_pin_and_a_board_without_leds_have_no_tracks() -> None:
    bare = Compiler().compile(plate(("wire", {}), ("pour", {"net": "ground"})))
    assert not bare.board.wires
    assert bare.board.layer("back copper").is_empty
    one = Net("alone", (("R1", "1"),))
    assert continuity([], [], dict.fromkeys(one.pins, "alone"), 0.15).opens == ()


def test_a_track_is_as_long_as_it_is() -> None:
    one = Track("n", "back", 0.5, ((0.0, 0.0), (3.0, 4.0), (3.0, 6.0)))
    assert one.length == 7.0
    assert one.region.area == pytest.approx(7 * 0.5 + math.pi / 16, abs=0.05)


def test_a_narrow_stretch_is_widened_where_there_is_room() -> None:
    grid = Grid(0.0, 0.0, 0.15, 60, 9)
    made = Router.__new__(Router)
    owner = np.full(2 * grid.cells, -1, np.int32)
    wide, row = owner.copy(), 4 * grid.width
    wide[row + 20 : row + 30] = -2  # a waist
    wide[row + 50 : row + 54] = -2
    made.ground = type("G", (), {"owner": [wide, owner]})()  # type: ignore[assignment]
    made._used = [np.zeros(2 * grid.cells, np.int16)] * 2
    net = NetWork("n", [0, 1], [], branches=[Branch(np.arange(row, row + 60, dtype=np.int32), 1)])
    made._numbers = {id(net): 0}
    made._widen(net)
    assert [(int(one.cells[0]) - row, int(one.cells[-1]) - row, one.kind) for one in net.branches] == [
        (0, 19, 0), (19, 30, 1), (30, 49, 0), (49, 59, 1),
    ]  # fmt: skip
    for one in net.branches:
        assert (np.diff(one.cells) == 1).all()
