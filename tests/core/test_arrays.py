"""Arrays of every kind: equal steps, filled regions, single LEDs of one's own, and the order of the chain."""

from __future__ import annotations

import itertools
import math
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.sparse.csgraph import minimum_spanning_tree
from scipy.spatial.distance import cdist
from shapely.geometry import Point, box

from outlined_glow.core import compiled
from outlined_glow.core.errors import Trouble
from outlined_glow.core.geometry.curves import through
from outlined_glow.core.geometry.scatter import scattered
from outlined_glow.core.lettering import text_region
from outlined_glow.core.lights import LightPaths, chain_of, place_leds, shortest
from outlined_glow.core.lights.kinds import KINDS, kind_of, spacing_of
from outlined_glow.core.lights.numbers import Numbers, with_numbers
from outlined_glow.core.lights.order import HOW
from outlined_glow.core.lights.shortest import shortest_path
from outlined_glow.core.project import (
    Arc,
    Array,
    Chain,
    Contour,
    Curve,
    Design,
    Fill,
    Grid,
    Line,
    Project,
    Ring,
    Shape,
    apply_edit,
)
from outlined_glow.core.workshop import Compiler, apply_numbered

PATHS = LightPaths(box(0, 0, 60, 40), 60, {"board": box(-2, -2, 62, 42), "FFAA00": Point(30, 20).buffer(10, 64)})


def spots_of(array: Array, paths: LightPaths = PATHS) -> np.ndarray[Any, Any]:
    return np.array(kind_of(array).spots(array, paths))


def steps(array: Array) -> np.ndarray[Any, Any]:
    return np.hypot(*np.diff(spots_of(array)[:, :2], axis=0).T)


@given(st.integers(2, 40), st.floats(1, 30), st.floats(-180, 180))
def test_a_line_takes_any_two_of_three(count: int, pitch: float, angle: float) -> None:
    by_both = Line(name="l", x_mm=3, y_mm=4, angle_deg=angle, count=count, pitch_mm=pitch, length_mm=None)
    length = pitch * (count - 1)
    by_length = Line(name="l", x_mm=3, y_mm=4, angle_deg=angle, count=count, pitch_mm=None, length_mm=length)
    by_pitch = Line(name="l", x_mm=3, y_mm=4, angle_deg=angle, count=None, pitch_mm=pitch, length_mm=length)
    for one in (by_length, by_pitch):
        assert spots_of(one) == pytest.approx(spots_of(by_both), abs=1e-6)
    assert steps(by_both) == pytest.approx(np.full(count - 1, pitch))
    assert spots_of(by_both)[:, :2].mean(axis=0) == pytest.approx((3, 4))
    assert spacing_of(by_length, PATHS) == {"count": count, "pitch_mm": pytest.approx(pitch), "length_mm": length}


def test_arcs_and_curves_have_the_lengths_of_known_curves() -> None:
    arc = Arc(name="a", x_mm=5, y_mm=5, diameter_mm=40, start_deg=200, sweep_deg=140, count=15)
    at = spots_of(arc)
    assert np.hypot(at[:, 0] - 5, at[:, 1] - 5) == pytest.approx(20)
    turn = np.unwrap(np.arctan2(at[:, 1] - 5, at[:, 0] - 5))
    assert np.diff(turn) == pytest.approx(np.full(14, -math.radians(10)))
    whole = Arc(name="a", x_mm=0, y_mm=0, diameter_mm=20, sweep_deg=360, count=None, pitch_mm=3)
    assert len(spots_of(whole)) == round(math.pi * 20 / 3), "on a closed way the steps are made equal"
    # A circle through points of it: its length, and that of each step, are those of the circle.
    a = np.linspace(0, 2 * np.pi, 24, endpoint=False)
    points = tuple(zip((15 * np.cos(a)).tolist(), (15 * np.sin(a)).tolist(), strict=True))
    curve = Curve(name="c", points=points, closed=True, count=30)
    assert shapely.LineString(through(np.array([*points, points[0]]), True)).length == pytest.approx(30 * math.pi, abs=0.01)
    reach = np.unwrap(np.arctan2(*spots_of(curve)[:, 1::-1].T)) * 15
    assert np.diff(reach) == pytest.approx(np.full(29, math.pi), abs=0.01)
    corner = Curve(name="c", points=((0, 0), (10, 0), (10, 10)), bent=False, count=None, pitch_mm=5)
    assert spots_of(corner)[:, :2] == pytest.approx(np.array([(0, 0), (5, 0), (10, 0), (10, 5), (10, 10)]), abs=1e-9)


def test_a_contour_is_followed_at_its_distance_at_equal_length() -> None:
    circle = Contour(name="c", path="FFAA00", inset_mm=2, count=16)
    at = spots_of(circle)
    assert np.hypot(at[:, 0] - 30, at[:, 1] - 20) == pytest.approx(8, abs=0.02)
    turn = np.unwrap(np.arctan2(at[:, 1] - 20, at[:, 0] - 30)) * 8
    assert np.diff(turn) == pytest.approx(np.full(15, -math.pi), abs=0.01)
    half = Contour(name="c", path="silhouette", inset_mm=3, start=0.75, end=0.25, count=5)
    line = PATHS.contours("silhouette").line(3)
    assert line is not None
    shares = [line.project(Point(x, y)) / line.length for x, y, _ in spots_of(half)]
    assert shares == pytest.approx([0.75, 0.875, 0.0, 0.125, 0.25], abs=1e-6), "past its top"
    assert len(spots_of(Contour(name="c", path="board", count=None, pitch_mm=4))) == round(2 * (58 + 38) / 4)
    assert kind_of(circle).spots(Contour(name="c", path="123456"), PATHS) == [], "a colour that is not there"


@pytest.mark.parametrize("layout", ["squares", "honeycomb", "scattered"])
def test_a_region_is_filled_and_nothing_stands_beyond_its_inset(layout: Any) -> None:
    fill = Fill(name="f", path="FFAA00", layout=layout, pitch_mm=2.5, inset_mm=1.5, angle_deg=17)
    at = spots_of(fill)[:, :2]
    assert np.hypot(*(at - (30, 20)).T).max() <= 8.5 + 1e-6
    apart = cdist(at, at) + 99 * np.eye(len(at))
    assert apart.min() >= 2.5 - 1e-6
    if layout != "scattered":
        assert apart.min(axis=1) == pytest.approx(np.full(len(at), 2.5))
        assert len(at) == pytest.approx(math.pi * 8.5**2 / (2.5**2 * (1 if layout == "squares" else math.sqrt(0.75))), rel=0.15)


@settings(deadline=None, max_examples=25)
@given(st.integers(1, 9999), st.floats(1.5, 12))
def test_scattered_points_are_apart_and_leave_no_gap(seed: int, pitch: float) -> None:
    region = shapely.union(box(0, 0, 30, 20), Point(30, 10).buffer(8)).difference(Point(12, 9).buffer(4))
    at = scattered(region, pitch, seed)
    assert np.array_equal(at, scattered(region, pitch, seed))
    if len(at) > 1:
        assert (cdist(at, at) + 99 * np.eye(len(at))).min() >= pitch * (1 - 1e-6)
    tried = np.random.default_rng(seed).random((20_000, 2)) * (40, 24) - (1, 2)
    tried = tried[shapely.contains_xy(region, tried[:, 0], tried[:, 1])]
    assert cdist(tried, at).min(axis=1).max() < pitch * (1 + 1e-6)


def test_digits_and_slots_stand_as_they_are_named() -> None:
    kind = KINDS["digits"]
    eight = kind.array(name="d", x_mm=10, y_mm=20, digits=1, per_segment=1, height_mm=10)  # type: ignore[call-arg]
    names = "abcdefg"
    at = {name: (round(x - 10, 6), round(y - 20, 6)) for name, (x, y, _) in zip(names, kind.spots(eight, PATHS), strict=True)}
    assert at == {
        "a": (0, 5), "b": (2.75, 2.5), "c": (2.75, -2.5), "d": (0, -5), "e": (-2.75, -2.5), "f": (-2.75, 2.5), "g": (0, 0),
    }  # fmt: skip
    leaning = kind.array(name="d", x_mm=0, y_mm=0, digits=3, segments="14", per_segment=4, slant_deg=10)  # type: ignore[call-arg]
    at_all = spots_of(leaning)
    assert len(at_all) == 3 * 14 * 4 == leaning.asked
    straight = spots_of(_with(leaning, {"slant_deg": 0.0}))
    assert at_all[:, 0] - straight[:, 0] == pytest.approx(math.tan(math.radians(10)) * straight[:, 1])
    apart = cdist(at_all[:, :2], at_all[:, :2]) + 99 * np.eye(len(at_all))
    assert apart.min() > 0.4, "no two LEDs at one place"
    slots = KINDS["slots"].array(name="s", x_mm=0, y_mm=0, slots=3, per_slot=5, pitch_mm=4, spacing_mm=7)  # type: ignore[call-arg]
    rows = spots_of(slots).reshape(3, 5, 3)
    assert rows[:, :, 1] == pytest.approx(np.array([[7] * 5, [0] * 5, [-7] * 5]))
    assert rows[0, :, 0] == pytest.approx(np.array([-8, -4, 0, 4, 8]))
    star = spots_of(_with(slots, {"layout": "round", "spacing_mm": 20.0})).reshape(3, 5, 3)
    assert np.hypot(star[..., 0], star[..., 1]) == pytest.approx(np.tile([12, 16, 20, 24, 28], (3, 1)))


def test_letters_cover_what_their_words_cover() -> None:
    kind = KINDS["letters"]
    word = kind.array(name="w", x_mm=30, y_mm=20, text="Ti", height_mm=18, pitch_mm=2, angle_deg=0)  # type: ignore[call-arg]
    at = spots_of(word)[:, :2] - (30, 20)
    region = text_region("Ti", 18, weight="bold")
    middle = np.array(region.bounds).reshape(2, 2).mean(axis=0)
    assert len(at) * 4 == pytest.approx(region.area, rel=0.15)
    assert all(region.distance(Point(*(spot + middle))) < 1 for spot in at)
    turned = spots_of(_with(word, {"angle_deg": 90.0}))[:, :2] - (30, 20)
    assert turned == pytest.approx(np.column_stack((-at[:, 1], at[:, 0])))
    assert kind.spots(_with(word, {"text": " "}), PATHS) == []


def test_an_uneven_pitch_is_said() -> None:
    """The contour is 192 mm long: 4 mm go into it, 4.1 mm do not."""
    for pitch, said in ((4.0, []), (4.1, ["are 4.09 mm apart, not 4.1 mm: so 47 of them go round evenly"])):
        leds, findings = place_leds((Contour(name="rim", path="board", count=None, pitch_mm=pitch),), PATHS)
        assert [one.severity for one in findings] == ["note"] * len(said)
        assert all(words in one.text for one, words in zip(findings, said, strict=True))
        assert len(leds) == round(192 / pitch)


def test_leds_face_along_outward_or_all_alike() -> None:
    ring = Ring(name="r", x_mm=0, y_mm=0, diameter_mm=20, count=8)
    for direction, facing, wanted in itertools.product(("clockwise", "counter-clockwise"), ("outward", "alike"), (0, 90)):
        one = Ring(name="r", x_mm=0, y_mm=0, count=8, direction=direction, facing=facing, turn_deg=wanted)  # type: ignore[arg-type]
        leds, _ = place_leds((one,), PATHS)
        for led in leds:
            out = math.degrees(math.atan2(led.y, led.x)) if facing == "outward" else 0
            assert math.cos(math.radians(led.angle_deg - out - wanted)) == pytest.approx(1)
    assert [led.angle_deg for led in place_leds((ring,), PATHS)[0]][:2] == [0, 315], "along it, as it always was"


def test_an_led_of_its_own_keeps_its_number_and_leaves_the_others_theirs(sign: Project) -> None:
    project = apply_edit(sign, "grid", {"array": "g", "x_mm": 20.0, "y_mm": 15.0, "rows": 2, "columns": 3})
    before = {led.index: led for led in Compiler().on_demand(project).leds}
    project = apply_edit(project, "skip", {"array": "g", "place": (2, 5)})
    project = apply_edit(project, "nudge", {"array": "g", "place": (3,), "dx_mm": 0.5, "turn_deg": 90.0})
    project = apply_edit(project, "nudge", {"array": "g", "place": (3,), "dx_mm": 0.75})
    project = apply_edit(project, "retype", {"array": "g", "place": (4,), "emitter": "0805 blue"})
    work = Compiler().compile(project)
    after = {led.index: led for led in work.leds}
    assert set(before) - set(after) == {2, 5}
    assert after[1] == before[1]
    assert (after[3].x - before[3].x, after[3].angle_deg - before[3].angle_deg) == (pytest.approx(0.75), 90)
    assert after[4].emitter == "0805 blue"
    assert {part.ref for part in work.board.parts if part.ref[0] == "D"} == {"D1", "D3", "D4", "D6"}
    project = apply_edit(project, "as-array", {"array": "g", "place": (2, 3, 4, 5)})
    assert {led.index: led for led in Compiler().on_demand(project).leds} == before
    assert project.board().lights[0].changes == ()
    with pytest.raises(Trouble, match="no array “h”"):
        apply_edit(project, "skip", {"array": "h", "place": (1,)})


def numbered_leds(project: Project) -> tuple[dict[int, tuple[str, int]], Project]:
    """Who has which number, and the project that keeps them."""
    design = project.board()
    numbers = Numbers(design.lights, design.numbered)
    leds, _ = place_leds(design.lights, PATHS, None, numbers)
    assert len({led.index for led in leds}) == len(leds)
    kept = with_numbers(design, numbers.of_array)
    who = {led.index: (led.array, led.place) for led in leds}
    return who, project if kept is design else project.with_board(design, kept)


@given(st.lists(st.sampled_from(["more", "fewer", "new", "away", "skip", "again", "order"]), max_size=9))
def test_a_number_is_given_once(sign: Project, steps: list[str]) -> None:
    """Whatever is done, an LED that stays keeps its number, and none ever gets one that another had."""
    at = {"x_mm": 30.0, "y_mm": 20.0}
    project = apply_edit(sign, "ring", {"array": "r", "count": 4, "diameter_mm": 9.0, "mirrored": True, **at})
    project = apply_edit(project, "fill", {"array": "f", "path": "silhouette", "pitch_mm": 9.0})
    had: dict[int, tuple[str, int]] = {}
    for number, step in enumerate([*steps, "order"]):
        who, project = numbered_leds(project)
        assert all(had.setdefault(index, led) == led for index, led in who.items())
        there = [array.name for array in project.board().lights]
        edits: dict[str, tuple[str, dict[str, Any]]] = {
            "more": ("ring", {"array": "r", "count": 6 + number, **at}),
            "fewer": ("ring", {"array": "r", "count": 3, **at}),
            "new": ("line", {"array": f"l{number}", "count": 3, "length_mm": 8.0, **at}),
            "away": ("remove-array", {"array": "".join(there[-1:])}),
            "skip": ("skip", {"array": "".join(there[:1]), "place": (1,)}),
            "again": ("fill", {"array": "f", "path": "silhouette", "pitch_mm": 7.0 + number}),
            "order": ("order", {"how": "rows"}),
        }
        if there or step not in ("away", "skip"):
            name, values = edits[step]
            project = apply_edit(project, name, values)
    who, _ = numbered_leds(apply_edit(project, "renumber", {}))
    assert list(who) == sorted(who)


def test_numbers_are_kept_from_edit_to_edit(sign: Project) -> None:
    compiler = Compiler()
    project = apply_edit(sign, "ring", {"array": "r", "x_mm": 20.0, "y_mm": 15.0, "count": 4, "diameter_mm": 9.0})
    project = apply_edit(project, "single", {"array": "s", "x_mm": 9.0, "y_mm": 9.0})
    for name, values in (("ring", {"array": "r", "count": 6}), ("remove-array", {"array": "r"})):
        work = compiler.compile(project)
        assert [led.index for led in work.leds if led.array == "s"] == [5]
        project = apply_numbered(project, (work,), name, values, (0.0, 0.0))
    work = compiler.compile(project)
    assert [led.index for led in work.leds] == [5]
    assert {one.ref for one in work.board.parts} >= {"D5", "R5"}
    assert apply_numbered(project, (work,), "order", {"how": "along"}, (0.0, 0.0)) is project, "nothing was changed"


def test_a_new_array_and_a_changed_one_keep_what_was_not_named(sign: Project) -> None:
    def line(values: dict[str, Any], project: Project = sign) -> Project:
        return apply_edit(project, "line", {"array": "l", **values})

    placed = {"x_mm": 20.0, "y_mm": 15.0}
    one = line({**placed, "count": 5, "pitch_mm": 3.0})
    assert spacing_of(one.board().lights[0], PATHS) == {"count": 5, "pitch_mm": 3, "length_mm": 12}
    for values, wanted in (
        ({"count": 7}, (7, 3, 18)), ({"length_mm": 24.0}, (5, 6, 24)), ({"pitch_mm": 2.0}, (5, 2, 8)),
        ({"count": 4, "length_mm": 9.0}, (4, 3, 9)), ({"pitch_mm": 4.0, "length_mm": 21.0}, (6, 4, 20)),
        ({"angle_deg": 30.0}, (5, 3, 12)),
    ):  # fmt: skip
        assert tuple(spacing_of(line(values, one).board().lights[0], PATHS).values()) == wanted, values
    with pytest.raises(Trouble, match="Give two of"):
        line({**placed, "count": 5, "pitch_mm": 3.0, "length_mm": 40.0})


@pytest.mark.parametrize("tag", sorted(set(KINDS) - {"fill"}))
def test_a_second_array_lies_beside_the_first(sign: Project, tag: str) -> None:
    needs = {"x_mm": 20.0, "y_mm": 15.0, "diameter_mm": 12.0, "text": "i", "height_mm": 9.0, "length_mm": 12.0,
             "points": ((5.0, 5.0), (25.0, 9.0))}  # fmt: skip
    one = apply_edit(sign, tag, {"array": "a", **{key: needs[key] for key in KINDS[tag].needed if key in needs}})
    two = apply_edit(one, "duplicate-array", {"array": "a", "name": "b", "dx_mm": 3.1, "dy_mm": -1.7})
    work = Compiler().compile(two)
    first, second = (np.array([(led.x, led.y) for led in work.leds if led.array == name]).reshape(-1, 2) for name in "ab")
    assert len(first) > 0
    assert not len(second) or cdist(first, second).min() > 0.05
    if len(first) == len(second) and not hasattr(two.board().lights[0], "inset_mm"):
        assert second - first == pytest.approx(np.tile([3.1, -1.7], (len(first), 1)))


def test_what_cannot_be_placed_is_a_stop() -> None:
    for array, code in (
        (Fill(name="f", pitch_mm=0.2, inset_mm=0.1), "too-many-leds"), (Fill(name="f", inset_mm=40), "array-without-room"),
        (Contour(name="c", path="FFAA00", count=60, pitch_mm=3), "array-without-room"),
        (Curve(name="c", points=((1, 1), (1, 1))), "array-without-room"),
        (Contour(name="c", path="board", count=None, pitch_mm=0.01), "too-many-leds"),
    ):  # fmt: skip
        leds, [finding] = place_leds((array,), PATHS)
        assert not leds
        assert (finding.code, finding.severity) == (code, "stop")
    _, [finding] = place_leds((Contour(name="c", path="123456", count=2),), PATHS)
    assert "“123456”, which the picture does not have" in finding.text


def test_digits_are_as_high_as_they_are_far(sign: Project) -> None:
    project = apply_edit(sign, "digits", {"array": "d", "x_mm": 30.0, "y_mm": 20.0, "digits": 1, "height_mm": 8.0})
    project = apply_edit(project, "set-purpose", {"distance_m": 2.0})
    compiler = Compiler()
    [finding] = [one for one in compiler.findings(compiler.compile(project)) if one.code == "digits-too-small"]
    assert "8 mm high. Seen from 2 m they should be 10 mm" in finding.text
    [remedy] = finding.remedies
    assert remedy.edit is not None
    better = apply_edit(project, remedy.edit, dict(remedy.values))
    assert "digits-too-small" not in {one.code for one in compiler.findings(compiler.compile(better))}


# -- the chain ------------------------------------------------------------------------------------------------------


def orders(array: Array, how: Any) -> list[int]:
    leds, _ = place_leds((array,), PATHS)
    return list(chain_of(leds, Chain(how=how)))


def test_every_order_of_a_grid() -> None:
    grid = Grid(name="g", x_mm=30, y_mm=20, rows=3, columns=4, pitch_x_mm=5, pitch_y_mm=9)
    rows = [[1, 2, 3, 4], [5, 6, 7, 8], [9, 10, 11, 12]]
    assert orders(grid, "along") == orders(grid, "rows") == [*rows[0], *rows[1], *rows[2]]
    assert orders(grid, "serpentine") == rows[0] + rows[1][::-1] + rows[2]
    assert orders(grid, "columns") == [1, 5, 9, 2, 6, 10, 3, 7, 11, 4, 8, 12]
    assert orders(grid, "spiral") == [1, 2, 3, 4, 8, 12, 11, 10, 9, 5, 6, 7]
    ring = Ring(name="r", x_mm=30, y_mm=20, count=6, start_deg=0)
    assert orders(ring, "angle") == [6, 1, 2, 3, 4, 5] or orders(ring, "angle")[0] in (5, 6)
    leds, _ = place_leds((grid,), PATHS)
    assert chain_of(leds, Chain(how="rows", turned=True)) == tuple(range(12, 0, -1))
    assert chain_of(leds, Chain(how="hand", leds=(7, 3, 99, 7)))[:3] == (7, 3, 1), "the others behind, in their order"


@pytest.mark.parametrize("how", sorted(HOW))
@pytest.mark.parametrize("count", [1, 2, 3, 57])
def test_every_order_has_every_led_once(how: str, count: int) -> None:
    places = np.random.default_rng(count).random((count, 2)) * 40
    assert sorted(HOW[how](places).tolist()) == list(range(count))
    line = np.column_stack((np.arange(count), np.zeros(count)))
    assert sorted(HOW[how](line).tolist()) == list(range(count)), "all in one row"


def length(places: np.ndarray[Any, Any], order: Any) -> float:
    return float(np.hypot(*np.diff(places[list(order)], axis=0).T).sum())


@settings(deadline=None, max_examples=20)
@given(st.integers(3, 7), st.integers(0, 10_000))
def test_the_shortest_way_past_a_few_is_the_best_of_all(count: int, seed: int) -> None:
    places = np.random.default_rng(seed).random((count, 2)) * 30
    best = min(length(places, order) for order in itertools.permutations(range(count)))
    assert length(places, shortest_path(places)) <= best * (1 + 1e-9)


def test_the_shortest_way_past_many_is_little_longer_than_their_tree(monkeypatch: pytest.MonkeyPatch) -> None:
    places = scattered(box(0, 0, 100, 100), 3.8, 3)[:500]
    monkeypatch.setattr(shortest._improve, "_made", None)
    order = shortest_path(places)
    tree = minimum_spanning_tree(cdist(places, places)).sum()
    assert len(places) == 500
    assert length(places, order) <= 1.12 * tree
    assert compiled.load()
    assert np.array_equal(order, shortest_path(places)), "the same by plain code and compiled"


def test_handles_of_every_kind_give_back_what_made_them() -> None:
    values = {"x_mm": 30.0, "y_mm": 20.0, "text": "i", "points": ((10.0, 10.0), (30.0, 25.0), (50.0, 12.0))}
    for kind in KINDS.values():
        array = kind.array(name="a", **{key: values[key] for key in kind.needed})
        for handle in kind.handles(array, PATHS):
            changed = handle.drag(handle.x, handle.y)
            assert changed is not None
            again = {one.name: (one.x, one.y) for one in kind.handles(_with(array, changed), PATHS)}
            assert again[handle.name] == pytest.approx((handle.x, handle.y), abs=0.02), (kind.tag, handle.name)


def _with(array: Array, changed: dict[str, Any]) -> Array:
    import msgspec

    return msgspec.structs.replace(array, **changed)


@given(st.integers(1, 9), st.floats(-20, 20), st.floats(-15, 15), st.integers(2, 8))
def test_copies_lie_evenly_round_the_middle(count: int, x: float, y: float, copies: int) -> None:
    """Each is turned about the middle of the picture by its share of the circle; what lies in the middle lies there once."""
    array = Line(name="l", x_mm=30 + x, y_mm=20 + y, length_mm=5.0, count=count, copies=copies)
    leds, findings = place_leds((array,), PATHS)
    assert not findings
    away = np.array([led.x - 30 + 1j * (led.y - 20) for led in leds])
    first = away[:count]
    kept = np.abs(first) > 0.05
    assert len(leds) == count + (copies - 1) * kept.sum()
    for copy in range(1, copies):
        begin = count + (copy - 1) * int(kept.sum())
        turned = away[begin : begin + int(kept.sum())]
        assert turned == pytest.approx(first[kept] * np.exp(2j * np.pi * copy / copies))
    assert [led.index for led in leds] == list(range(1, len(leds) + 1))


def test_where_data_comes_in_and_ends_is_printed_behind() -> None:
    """Read with its own eyes: the ink about each end of the chain is the word, mirrored; plain LEDs get none."""
    plate = Project(
        name="", edited="2026-01-01T00:00:00Z", designs=(Design(shape=Shape(base="rectangle", width_mm=70, height_mm=50)),)
    )
    pixels = {"array": "a", "x_mm": 35.0, "y_mm": 25.0, "rows": 3, "columns": 4, "pitch_x_mm": 15.0, "pitch_y_mm": 15.0}
    for emitter, turned in (("pixel 2020 three colours", False), ("pixel 2020 three colours", True), ("0805 amber", False)):
        project = apply_edit(plate, "grid", {**pixels, "emitter": emitter})
        project = apply_edit(project, "order", {"how": "serpentine", "turned": turned})
        work = Compiler().compile(project)
        led = {one.index: one for one in work.leds}
        first, last = (led[work.values["chain"][at]] for at in (0, -1))
        dx, dy = work.board.origin
        printed = work.board.layer("back legend")
        for word, end in (("start", first), ("end", last)):
            wanted = shapely.transform(text_region(word, 1.0, weight="bold"), lambda at: at * (-1, 1))
            ink = shapely.intersection(printed, box(end.x - dx - 3, end.y - dy - 3, end.x - dx + 3, end.y - dy + 3))
            if emitter == "0805 amber":
                assert ink.area != pytest.approx(wanted.area, abs=0.01)
                continue
            assert ink.area == pytest.approx(wanted.area, abs=0.01)
            move = np.subtract(ink.bounds[:2], wanted.bounds[:2])
            assert shapely.symmetric_difference(shapely.transform(wanted, move.__add__), ink).area < 0.02, word
