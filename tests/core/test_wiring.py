"""Wiring: the grid, the maze and the router, and the tracks they make."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import Any

import numpy as np
import pytest
import scipy.sparse
import shapely
from hypothesis import given
from hypothesis import strategies as st
from plates import ROW, codes, etched_at_home, files_of, made_by_chance, plate
from shapely.geometry import LineString, Point, Polygon, box
from wired import faults

from outlined_glow.core import compiled
from outlined_glow.core.parts import profile
from outlined_glow.core.parts.nets import Net
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.watch import Watch
from outlined_glow.core.wiring.branches import Branch, NetWork
from outlined_glow.core.wiring.classes import net_classes
from outlined_glow.core.wiring.continuity import continuity
from outlined_glow.core.wiring.copper import Track
from outlined_glow.core.wiring.grid import Grid, grid_over, offsets_within
from outlined_glow.core.wiring.maze import STEPS, _left, claim, find_path, walled_in
from outlined_glow.core.wiring.router import Router
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.net_facts import net_facts


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


_WIDE, _HIGH = 12, 9
_LAYER = _WIDE * _HIGH


def _maze(
    run: Any, walls: set[int], goals: Sequence[int] = (_LAYER - 1,), in_front: float = 0.0, looked: int = 10_000
) -> list[int]:
    """The path over a small maze of two layers from one corner to the nearest of some cells, by a function."""
    size = 2 * _LAYER
    owner = np.full(size, -1, np.int32)
    owner[list(walls)] = -2
    marks, pieces = np.zeros(size, np.uint8), np.zeros(size, np.int32)
    ends = np.array([0, *goals])
    owner[ends], marks[ends], pieces[ends] = -1, 2, np.arange(len(ends)) + 1
    flat, none, dear = np.zeros(size, np.int16), np.zeros(size, np.float32), np.zeros(size, np.float32)
    dear[:_LAYER] = in_front
    spots = [(goal % _LAYER % _WIDE, goal % _LAYER // _WIDE) for goal in goals]
    boxes = np.array([(*spot, *spot, 1 + goal // _LAYER) for spot, goal in zip(spots, goals, strict=True)], np.int64)
    prices = np.array([1.0, 2**0.5, 6.0, 0.2, 0.6, 0.5, 1.0 + in_front, 1.0])
    seen, came, trunks = np.zeros(size, np.int32), np.zeros(size, np.int8), np.zeros(size, np.uint16)
    heap = np.zeros(4 * size, np.float32), np.zeros(4 * size, np.int32)
    path, costs = np.zeros(size, np.int32), np.zeros(size, np.float32)
    way = owner, flat, owner, flat, np.zeros(_LAYER, np.uint8)
    sizes = np.array([_WIDE, _HIGH], np.int64)

    def look(waiting: int, most: int) -> int:
        return int(run(
            np.array([0], np.int32), 0, *way, dear, none, marks, pieces, trunks, sizes, boxes, prices, costs, seen, came, 1,
            *heap, path, waiting, most,
        ))  # fmt: skip

    count = look(0, looked)
    if count < 0:
        flood = walled_in if run is find_path else walled_in.run
        closed = flood(0, 1, *way, marks, pieces, sizes, boxes, prices, 1, np.zeros(size, np.int32), path)
        count = 0 if closed else look(-count, 10**9)
    return path[:count].tolist()


def _steps(in_front: float) -> scipy.sparse.coo_array:
    """What each step of that maze without walls costs, as a graph."""
    ends, prices = [], []
    for cell in range(2 * _LAYER):
        x, y, layer = cell % _LAYER % _WIDE, cell % _LAYER // _WIDE, cell // _LAYER
        ends.append((cell, (cell + _LAYER) % (2 * _LAYER)))
        prices.append(6.0)
        for dx, dy in STEPS:
            there = layer * _LAYER + (y + dy) * _WIDE + x + dx
            if 0 <= x + dx < _WIDE and 0 <= y + dy < _HIGH:
                ends.append((cell, there))
                prices.append((2**0.5 if dx and dy else 1.0) * (1.0 if layer else 1.0 + in_front))
    return scipy.sparse.coo_array((prices, np.array(ends).T), shape=(2 * _LAYER, 2 * _LAYER))


@given(st.lists(st.integers(0, 2 * _LAYER - 1), min_size=1, max_size=5, unique=True), st.sampled_from([0.0, 0.1, 2.0]))
def test_what_is_left_of_a_way_is_never_more_than_it_costs(goals: list[int], in_front: float) -> None:
    """By Dijkstra's search of a general library; and no step brings a way nearer than it costs, so that a cell is done once."""
    steps = _steps(in_front)
    least = scipy.sparse.csgraph.dijkstra(steps.tocsr(), indices=goals).min(axis=0)
    boxes = np.array([(*2 * (goal % _LAYER % _WIDE, goal % _LAYER // _WIDE), 1 + goal // _LAYER) for goal in goals])
    prices = np.array([1.0, 2**0.5, 6.0, 0.2, 0.6, 0.5, 1.0 + in_front, 1.0])
    spots = [(cell % _LAYER % _WIDE, cell % _LAYER // _WIDE, cell // _LAYER) for cell in range(2 * _LAYER)]
    left = np.array([_left(*spot, boxes, prices) for spot in spots])
    assert (left <= least + 1e-6).all()
    assert (left[goals] == 0).all()
    ends, others = steps.coords
    assert (left[ends] <= steps.data + left[others] + 1e-6).all()


@given(
    st.sets(st.integers(1, _LAYER - 2), max_size=60),
    st.lists(st.integers(1, 2 * _LAYER - 1), min_size=1, max_size=4, unique=True),
    st.sampled_from([0.0, 2.0]),
)
def test_compiled_and_plain_code_find_the_same_way(walls: set[int], goals: list[int], in_front: float) -> None:
    assert compiled.load()
    plain, fast = (_maze(run, walls, goals, in_front) for run in (find_path.run, find_path))
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


@given(
    st.sets(st.integers(1, 2 * _LAYER - 1), min_size=60, max_size=150),
    st.lists(st.integers(1, 2 * _LAYER - 1), min_size=1, max_size=3, unique=True),
    st.integers(1, 12),
)
def test_a_search_gives_up_early_only_where_there_is_no_way(walls: set[int], goals: list[int], looked: int) -> None:
    for run in (find_path.run, find_path):
        assert _maze(run, walls, goals, looked=looked) == _maze(run, walls, goals)


def test_the_ground_of_a_pad_is_all_that_is_nearer_than_told() -> None:
    grid = Grid(0.0, 0.0, 0.1, 80, 60)
    for angle in (0.0, 0.4, 1.3):
        owner = np.full(grid.cells, -1, np.int32)
        claim(owner, grid.origin, grid.sizes, grid.pitch, 5, 4.0, 3.0, 0.8, 0.35, angle, 0.31, False)
        pad = shapely.affinity.rotate(box(3.2, 2.65, 4.8, 3.35), angle, origin=(4, 3), use_radians=True)
        far = shapely.distance(pad, shapely.points(grid.places(np.arange(grid.cells, dtype=np.int32))))
        assert ((owner == 5) == (far < 0.31))[abs(far - 0.31) > 1e-9].all()


def test_the_same_wish_gives_the_same_copper_and_another_seed_another() -> None:
    one, again = (Compiler().compile(made_by_chance(3)).board.wires for _ in range(2))
    assert one == again
    other = Compiler().compile(apply_edit(made_by_chance(3), "wire", {"seed": 99})).board.wires
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


def test_classes_are_made_for_current_and_voltage(wired_moth: Project) -> None:
    from outlined_glow.core.parts.copper import track_current

    work = Compiler().compile(wired_moth)
    for name, one in net_classes(work.plan, profile("standard"), work.values["current ways"]).items():
        assert track_current(one.width, 10) >= one.current_a * 0.99, name
    tube = Compiler().compile(
        plate(("single", {"array": "t", "x_mm": 22.0, "y_mm": 16.0, "emitter": "digit tube on its socket"}),
              ("drive", {"method": "tube", "supply": "usb"}), ("wire", {}))
    )  # fmt: skip
    classes = tube.values["net classes"]
    assert classes["high voltage"].clearance == 1.25
    assert classes["ground"].clearance == 0.15


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


def test_a_wide_track_that_ends_beside_a_small_pad_does_not_go_on_into_it() -> None:
    """A stretch that was widened ends a cell before the pad: only the narrow one beyond goes on to its middle."""
    work = Compiler().compile(etched_at_home("5 mm diffused red", "charlieplex"))
    pads = {(round(pad.x, 3), round(pad.y, 3), pad.side): pad for pad in work.board.pads}
    ends = 0
    for one in work.board.wires.tracks:
        for x, y in (one.points[0], one.points[-1]):
            pad = pads.get((round(x, 3), round(y, 3), one.side))
            if pad is not None:
                ends += 1
                assert one.width <= min(pad.width, pad.height) + 1e-9
    assert ends > 20


def test_drawing_ends_with_what_there_is_when_somebody_has_enough() -> None:
    left = iter(range(10**6))
    compiler = Compiler()
    work = compiler.compile(plate(ROW, ("wire", {})), Watch(enough=lambda: next(left) > 3))
    assert work.values["routed"].stopped
    assert work.values["routed"].mark == ""
    rules = work.board.profile
    found = faults(files_of(work), rules.gap_mm, rules.track_mm)
    assert found
    assert all(one.startswith("open") for one in found)
    assert "stopped before" in net_facts(work)["unjoined"][0]["why"]
    assert (
        compiler.compile(plate(ROW, ("wire", {}))) == work
        or compiler.compile(plate(ROW, ("wire", {}))).values["routed"].stopped
    )
    compiler.go_on()
    whole = compiler.compile(plate(ROW, ("wire", {})))
    assert not whole.values["routed"].stopped
    assert faults(files_of(whole), rules.gap_mm, rules.track_mm) == []
