"""Fill rules, painter's order, offsets, thin places."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.affinity import rotate
from shapely.geometry import Point, Polygon, box

from outlined_glow.core.geometry.along import run_beside
from outlined_glow.core.geometry.fill import fill, fill_each, winding
from outlined_glow.core.geometry.flatten import circle_points, flatten_cubics, flatten_each, quarter_segments
from outlined_glow.core.geometry.hidden import surely_hidden
from outlined_glow.core.geometry.narrow.places import narrow_gaps, thin_places, thinnest
from outlined_glow.core.geometry.narrow.thin import thin_pieces
from outlined_glow.core.geometry.near import Around, added_near, areas_in, cut_near
from outlined_glow.core.geometry.offset import closed, grow
from outlined_glow.core.geometry.overlap import count_overlaps, estimate_crossings
from outlined_glow.core.geometry.painters_order import resolve_painting
from outlined_glow.core.geometry.regions import (
    EMPTY,
    added,
    box_at,
    clean,
    common,
    disc,
    minus,
    polygons,
    region_of,
    rings,
    union,
    union_of_many,
)
from outlined_glow.core.geometry.valid import valid


def star() -> np.ndarray:
    angle = np.radians(90 + 144 * np.arange(5))
    return np.column_stack([np.cos(angle), np.sin(angle)])


def test_fill_rules_of_a_star() -> None:
    assert fill([star()], "nonzero").area == pytest.approx(1.12257, abs=1e-5)
    assert fill([star()], "evenodd").area == pytest.approx(0.77568, abs=1e-5)


def test_a_hole_needs_the_other_direction_under_nonzero() -> None:
    outer = np.array([[0, 0], [10, 0], [10, 10], [0, 10.0]])
    inner = np.array([[2, 2], [8, 2], [8, 8], [2, 8.0]])
    assert fill([outer, inner], "nonzero").area == pytest.approx(100)
    assert fill([outer, inner[::-1]], "nonzero").area == pytest.approx(64)
    assert fill([outer, inner], "evenodd").area == pytest.approx(64)


@given(st.lists(st.tuples(st.floats(-5, 5), st.floats(-5, 5)), min_size=3, max_size=9))
def test_winding_agrees_with_the_angle_swept(points: list[tuple[float, float]]) -> None:
    ring = np.array(points)
    spot = np.array([[0.1234, 0.0567]])
    if np.min(np.hypot(*(ring - spot).T)) < 1e-3 or Polygon(ring).boundary.distance(Point(spot[0])) < 1e-6:
        return
    to = ring - spot
    angle = np.arctan2(to[:, 1], to[:, 0])
    swept = (np.roll(angle, -1) - angle + math.pi) % (2 * math.pi) - math.pi
    assert winding(spot, [ring])[0] == round(float(swept.sum()) / (2 * math.pi))


def _worth(outlines: list[np.ndarray], rule: str, spots: np.ndarray) -> np.ndarray:
    turns = winding(spots, outlines)
    return np.asarray(turns % 2 != 0 if rule == "evenodd" else turns != 0)


corner = st.tuples(st.integers(-5, 5), st.integers(-5, 5))


@given(
    st.lists(st.tuples(st.lists(st.lists(corner, max_size=6), max_size=3), st.sampled_from(["nonzero", "evenodd"])), max_size=6)
)
def test_many_shapes_are_filled_at_once_as_their_points_are_wound(
    shapes: list[tuple[list[list[tuple[int, int]]], str]],
) -> None:
    drawn = [[np.array(ring, float).reshape(-1, 2) for ring in rings] for rings, _ in shapes]
    spots = np.array([(x + 0.37, y + 0.41) for x in range(-5, 5) for y in range(-5, 5)])
    for area, some, (_, rule) in zip(fill_each(drawn, [rule for _, rule in shapes]), drawn, shapes, strict=True):
        rings = [ring for ring in some if len(ring) >= 3]
        wanted = _worth(rings, rule, spots) if rings else np.zeros(len(spots), bool)
        sure = area.is_empty | (shapely.distance(shapely.boundary(area), shapely.points(spots)) > 1e-4)
        assert ((shapely.contains_xy(area, spots) == wanted) | ~sure).all()


#: Outlines that run back along themselves, almost: cut where they meet, they lost an area, or were refused.
BACK_AGAIN = {
    "a line there and back": [[[346, 321.57], [340.45, 356.07], [334.9, 390.57]]],
    "a spike without a width": [
        [[7.275347941783666, 34.78606401559585], [7.40756638857698, 34.78606401559585], [6.318125214946638, 32.114394992805735],
         [7.006735962338929, 33.80309562859846], [5.918226064466218, 33.619029124212794]],
    ],
    "corners that do not meet by the last digit": [
        [[-190.7824544699636, 44.93955748824903], [-292.42340677129687, 425.2372374978988],
         [-190.7824544699636, 44.93955748824902], [-256.330015356888, 44.93955748824902],
         [-277.350908151269, 44.93955748824902], [-304.2562833739737, 101.2225588718626],
         [-105.74167712568735, 192.90093985415936], [-105.74167712568736, 125.61641315599591]],
    ],
}  # fmt: skip


@pytest.mark.parametrize("name", BACK_AGAIN)
def test_nothing_is_lost_where_an_outline_runs_back_along_itself(name: str) -> None:
    outlines = [np.array(one) for one in BACK_AGAIN[name]]
    low, high = np.concatenate(outlines).min(axis=0), np.concatenate(outlines).max(axis=0)
    spots = np.random.default_rng(1).uniform(low, high, (900, 2))
    for rule in ("nonzero", "evenodd"):
        assert (shapely.contains_xy(fill(outlines, rule), spots) == _worth(outlines, rule, spots)).all()


@given(
    st.lists(
        st.lists(st.tuples(corner, st.sampled_from([0.0, 0.5, 1.0, 1.3])), min_size=3, max_size=9), min_size=1, max_size=3
    ),
    st.floats(0, 6),
    st.sampled_from(["nonzero", "evenodd"]),
)
def test_outlines_that_run_back_along_themselves_are_filled_as_they_are_wound(
    walks: list[list[tuple[tuple[int, int], float]]], angle: float, rule: str
) -> None:
    turn = np.array([[math.cos(angle), math.sin(angle)], [-math.sin(angle), math.cos(angle)]]) * 7.3
    outlines = []
    for walk in walks:
        points = [np.array(walk[0][0], float)]
        for to, back in walk[1:]:
            points.append(points[-1] + (points[-2] - points[-1]) * back if back and len(points) > 1 else np.array(to, float))
        outlines.append(np.array(points) @ turn + (0.1, 30.8))
    spots = np.random.default_rng(1).uniform(-60, 100, (300, 2))
    edges = shapely.MultiLineString([np.vstack([one, one[:1]]) for one in outlines])
    sure = shapely.distance(edges, shapely.points(spots)) > 1e-2
    area = fill(outlines, rule)
    assert area.is_valid
    assert ((shapely.contains_xy(area, spots) == _worth(outlines, rule, spots)) | ~sure).all()


boxes = st.lists(
    st.tuples(st.sampled_from("abc"), st.integers(0, 12), st.integers(0, 12), st.integers(1, 6), st.integers(1, 6)),
    min_size=1,
    max_size=9,
)


@given(boxes)
def test_painters_order_covers_everything_and_never_overlaps(rows: list[tuple[str, int, int, int, int]]) -> None:
    shapes = [(key, box(x, y, x + w, y + h)) for key, x, y, w, h in rows]
    regions = resolve_painting(shapes)
    painted = shapely.union_all([shape for _, shape in shapes])
    assert sum(region.area for region in regions.values()) == pytest.approx(painted.area, abs=0.01)
    for x in range(18):
        for y in range(18):
            spot = Point(x + 0.5, y + 0.5)
            top = next((key for key, shape in reversed(shapes) if shape.contains(spot)), None)
            assert [key for key, region in regions.items() if region.contains(spot)] == ([top] if top else [])


@given(st.floats(0.05, 40), st.floats(0.0005, 0.05))
def test_circles_stay_within_their_tolerance(radius: float, tolerance: float) -> None:
    if tolerance >= radius:
        return
    ring = circle_points(0, 0, radius, tolerance)
    middle = (ring + np.roll(ring, -1, axis=0)) / 2
    assert radius - np.hypot(*middle.T).min() <= tolerance * 1.001
    assert len(ring) == 4 * quarter_segments(radius, tolerance)


def test_a_flattened_curve_stays_within_its_tolerance() -> None:
    ends = [np.array(point, float) for point in ((0, 0), (0, 30), (40, 30), (40, 0))]
    back = [np.array(point, float) for point in ((40, 0), (0, 0), (0, 0))]
    curves = np.array([ends[1:], back])
    rough = flatten_cubics(ends[0], curves, 0.01)
    fine = flatten_cubics(ends[0], curves, 1e-6)
    line = shapely.LineString(rough)
    assert max(line.distance(Point(point)) for point in fine) <= 0.01
    assert len(rough) < len(fine)


@given(st.integers(0, 9999), st.lists(st.integers(0, 5), min_size=1, max_size=6))
def test_curves_of_many_paths_are_flattened_as_those_of_each_alone(seed: int, lengths: list[int]) -> None:
    dice = np.random.default_rng(seed)
    paths = [(dice.normal(size=2) * 9, dice.normal(size=(many, 3, 2)) * 9) for many in lengths]
    for start, curves in paths:
        for at in range(0, len(curves), 2):  # a straight one in between
            curves[at, :2] = (curves[at - 1, 2] if at else start), curves[at, 2]
    fine = dice.choice([1e-4, 0.01, 1.0], len(paths))
    for (start, curves), tolerance, points in zip(paths, fine, flatten_each(paths, fine), strict=True):
        assert np.array_equal(points, flatten_cubics(start, curves, tolerance))
        assert np.array_equal(points[0], start)
        assert np.array_equal(points[-1], curves[-1, 2] if len(curves) else start)


def test_offsets_and_booleans() -> None:
    square = box(0, 0, 10, 10)
    assert grow(square, 2, 0.001).area == pytest.approx(100 + 80 + math.pi * 4, abs=0.02)
    pierced = minus(square, box(4, 4, 6, 6))
    assert closed(pierced, 0.9).area == pytest.approx(100 - math.pi, abs=0.4)
    assert closed(pierced, 1.1).area == pytest.approx(100, abs=0.01)
    assert added(square, box(9, 0, 12, 1)).area == pytest.approx(102)
    apart = union([box(0, 0, 1, 1), box(5, 5, 6, 6)])
    assert minus(apart, box(5, 5, 5.5, 6)).area == pytest.approx(1.5)
    assert box_at(3, 4, 2, 1, 90).bounds == pytest.approx((2.5, 3, 3.5, 5))
    assert len(list(rings(minus(square, disc(5, 5, 1))))) == 2
    assert polygons(Point(0, 0).buffer(0)) == []


def test_a_thin_neck_and_a_hair_are_found_where_they_are() -> None:
    bell = union([box(0, 0, 4, 4), box(4, 1.95, 6, 2.05), box(6, 0, 10, 4)])
    places = thin_places(bell, 0.15)
    assert len(places) == 1
    assert (places[0].x, places[0].y) == (pytest.approx(5, abs=1), pytest.approx(2, abs=0.06))
    assert places[0].width == pytest.approx(0.1, abs=0.012)
    hair = union([box(0, 0, 4, 4), box(4, 2, 8, 2.1)])
    assert len(thin_places(hair, 0.15)) == 1
    assert not thin_places(hair, 0.08)
    assert thin_places(box(0, 0, 0.1, 5), 0.15)[0].width == pytest.approx(0.1, abs=0.01)


@given(st.floats(0, 179), st.floats(0.05, 0.12))
def test_a_stripe_is_measured_across_in_its_middle(turn_deg: float, width: float) -> None:
    stripe = rotate(box(-4, -width / 2, 4, width / 2), turn_deg, origin=(0, 0))
    (place,) = thin_places(stripe, 0.15)
    off = (place.across_deg - (turn_deg + 90) + 90) % 180 - 90
    assert abs(off) < 8
    assert math.hypot(place.x, place.y) < 2.5
    assert place.width == pytest.approx(width, abs=0.006)


@pytest.mark.parametrize("corner_deg", [30, 45, 60, 90])
def test_corners_of_thirty_degrees_and_more_are_no_thin_places(corner_deg: float) -> None:
    half = math.radians(corner_deg) / 2
    wedge = Polygon([(0, 0), (10, 10 * math.tan(half)), (10, -10 * math.tan(half))])
    assert not thin_places(wedge, 0.15)


def test_gaps_between_shapes() -> None:
    pair = union([box(0, 0, 4, 4), box(4.1, 0, 8, 4)])
    gaps = narrow_gaps(pair, 0.15)
    assert len(gaps) == 1
    assert gaps[0].width == pytest.approx(0.1, abs=0.015)
    assert not narrow_gaps(union([box(0, 0, 4, 4), box(4.2, 0, 8, 4)]), 0.15)


@given(st.floats(0.02, 0.3), st.floats(0.35, 3.0), st.floats(0, 360), st.sampled_from([(0.0, 0.0), (1.3, 0.7)]))
def test_a_gap_is_found_if_and_only_if_it_is_narrow(
    gap: float, long: float, turn_deg: float, aside: tuple[float, float]
) -> None:
    if abs(gap - 0.15) < 0.01:
        return
    plate = box(-3, -3, 3, 3).difference(box(-long / 2, -gap / 2, long / 2, gap / 2))
    for region in (plate, union([box(-long / 2, gap / 2, long / 2, 2), box(-2, -2, 2, -gap / 2)])):
        places = narrow_gaps(shapely.transform(rotate(region, turn_deg, origin=(0, 0)), lambda at: at + np.array(aside)), 0.15)
        assert len(places) == (gap < 0.15)
        for place in places:
            assert place.width == pytest.approx(gap, abs=0.015)
            assert math.hypot(place.x - aside[0], place.y - aside[1]) < long / 2 + 0.1


def test_gaps_among_thousands_of_corners_are_found_each_once() -> None:
    across, up = 30, 20
    dots = shapely.MultiPolygon([disc(0.7 * x, 0.7 * y, 0.3, 0.001) for x in range(across) for y in range(up)])
    assert shapely.get_num_coordinates(dots) > 12_000
    places = narrow_gaps(dots, 0.15)
    assert len(places) == across * (up - 1) + up * (across - 1)
    assert all(abs(place.width - 0.1) < 0.015 for place in places)


@given(st.floats(0.06, 1.2))
def test_the_thinnest_width_of_a_bar_is_its_width(width: float) -> None:
    assert thinnest(box(0, 0, 9, width)) == pytest.approx(width, abs=0.025)


@given(
    st.lists(
        st.tuples(
            st.sampled_from("abc"), st.floats(0, 20), st.floats(0, 20), st.floats(0.5, 8), st.floats(0, 6.3), st.floats(0.05, 3)
        ),
        min_size=2,
        max_size=12,
    ),
    st.floats(0.01, 30),
)
def test_regions_stay_valid_and_whole_when_moved_and_scaled(
    rows: list[tuple[str, float, float, float, float, float]], scale: float
) -> None:
    shapes = [
        (key, box_at(x, y, size, size * flat, math.degrees(turn)).union(disc(x + 0.3, y, size * flat / 2)))
        for key, x, y, size, turn, flat in rows
    ]
    regions = resolve_painting(shapes)
    painted = shapely.union_all([shape for _, shape in shapes])
    moved = [valid(shapely.transform(region, lambda p: (p - 3.3) * scale)) for region in regions.values()]
    assert all(region.is_valid for region in moved)
    assert sum(region.area for region in moved) == pytest.approx(painted.area * scale**2, rel=1e-6)


piles = st.lists(
    st.tuples(st.floats(0, 30), st.floats(0, 30), st.floats(1, 25), st.floats(0.3, 1), st.floats(0, 90)),
    min_size=6,
    max_size=40,
)


@given(piles)
def test_nothing_that_shows_is_ever_taken_for_hidden(rows: list[tuple[float, float, float, float, float]]) -> None:
    pile = np.array([box_at(x, y, size, size * flat, turn) for x, y, size, flat, turn in rows], dtype=object)
    for place in np.flatnonzero(surely_hidden(pile)):
        assert pile[place].difference(shapely.union_all(pile[place + 1 :])).area == pytest.approx(0, abs=1e-9)


def test_what_lies_under_a_large_shape_is_hidden() -> None:
    low = [disc(5 + at % 7, 5 + at % 5, 2) for at in range(40)]
    pile = np.array([*low, box(0, 0, 16, 14), disc(8, 7, 3)], dtype=object)
    assert surely_hidden(pile).tolist() == [True] * 40 + [False] * 2
    regions = resolve_painting([*(("low", shape) for shape in low), ("sheet", pile[-2]), ("top", pile[-1])])
    assert set(regions) == {"sheet", "top"}


def test_overlaps_and_crossings_are_counted_before_they_cost() -> None:
    row = np.array([box(at, 0, at + 1.5, 1) for at in range(50)], dtype=object)
    assert count_overlaps(row, 10**6) == 49
    assert count_overlaps(np.array([box(0, 0, 1, 1)] * 2000, dtype=object), 1000) > 1000
    turn = np.linspace(0, 2 * np.pi, 4000)
    assert estimate_crossings([np.column_stack([np.cos(turn), np.sin(turn)])]) == 0
    chance = np.random.default_rng(1).random((4000, 2))
    assert estimate_crossings([chance]) == pytest.approx(0.23 * 4000**2 / 2, rel=0.05)


@given(st.floats(0.0, 0.018), st.floats(0.5, 9))
def test_edges_that_run_beside_one_another_are_measured(gap: float, wide: float) -> None:
    upper, lower = box(0, gap, wide, 3), box(-1, -3, 12, 0)
    length, (x, y) = run_beside(upper.boundary, lower.boundary, 0.02)
    assert length == pytest.approx(wide, abs=0.2)
    assert 0 <= x <= wide
    assert y == pytest.approx(gap, abs=0.11)
    assert run_beside(upper.boundary, box(20, 0, 21, 1).boundary, 0.02)[0] == 0


NARROW = {
    "between two points": (Polygon([(0, 0), (2, 0.475), (4, 0), (4, 1), (2, 0.525), (0, 1)]), 0.15, 0.05),
    "a neck of blunt notches": (Polygon([(0, 0), (30, 19.4), (60, 0), (60, 40), (30, 20.8), (0, 40)]), 2.0, 1.4),
    "a tail that tapers": (
        union([box(-2, -2, 0, 2), Polygon([(-0.1, -0.07), (5, -0.025), (5, 0.025), (-0.1, 0.07)])]),
        0.15,
        0.05,
    ),
    "a stroke alone that tapers": (Polygon([(0, -0.06), (5, -0.02), (5, 0.02), (0, 0.06)]), 0.15, 0.04),
    "a ring off its middle": (minus(disc(0, 0, 2), disc(0, 0.03, 1.9)), 0.15, 0.07),
    "a web beside a tilted slot": (minus(box(0, 0, 40, 20), rotate(box(5, 1.5, 35, 3.5), 1.5)), 2.0, 1.1077),
    "a hole near an edge": (minus(box(0, 0, 20, 20), disc(3.8, 10, 3)), 2.0, 0.8),
}


@pytest.mark.parametrize("name", NARROW)
def test_a_tapered_place_is_as_wide_as_its_narrowest_point(name: str) -> None:
    region, rule, width = NARROW[name]
    places = thin_places(region, rule)
    assert places[0].width == pytest.approx(width, abs=0.02)
    assert region.buffer(0.02).contains(Point(places[0].x, places[0].y))


GAPS = {
    "two banks that part": (union([box(0, 0, 5, 2), Polygon([(0, 2.04), (5, 2.3), (5, 5), (0, 5)])]), 0.04),
    "a slot that narrows to its end": (minus(box(0, 0, 5, 5), Polygon([(1, 2.45), (5.1, 2.43), (5.1, 2.57), (1, 2.55)])), 0.10),
    "two points": (union([Polygon([(0, 0), (3, 1), (0, 2)]), Polygon([(3.06, 1), (6, 0), (6, 2)])]), 0.06),
    "a point and an edge": (union([Polygon([(0, 0), (3, 1), (0, 2)]), box(3.1, -2, 5, 4)]), 0.1),
    "two corners": (union([box(0, 0, 1, 1), box(1.05, 1.05, 2, 2)]), 0.0707),
}


@pytest.mark.parametrize("name", GAPS)
def test_a_gap_is_as_wide_as_its_narrowest_point(name: str) -> None:
    region, width = GAPS[name]
    assert narrow_gaps(region, 0.15)[0].width == pytest.approx(width, abs=0.02)


@settings(max_examples=60, deadline=None)
@given(st.floats(0.05, 1.9), st.floats(5, 80), st.floats(5, 80), st.floats(0, 180))
def test_any_hourglass_is_measured_at_its_waist(waist: float, above: float, below: float, turn: float) -> None:
    """Two notches of any opening, tip to tip: the waist is what is between the tips."""
    up, down = 10 * np.tan(np.radians(above)) + waist / 2, 10 * np.tan(np.radians(below)) + waist / 2
    glass = rotate(
        Polygon([(-10, -down), (0, -waist / 2), (10, -down), (10, up), (0, waist / 2), (-10, up)]), turn, origin=(0, 0)
    )
    place = min(thin_places(glass, 2.0), key=lambda one: np.hypot(one.x, one.y))
    assert place.width == pytest.approx(waist, abs=0.02)
    assert np.hypot(place.x, place.y) < 0.1


@settings(max_examples=60)
@given(st.integers(0, 10_000), st.integers(13, 60))
def test_booleans_with_something_small_are_those_of_the_whole(seed: int, holes: int) -> None:
    """A plate of many holes with islands in them, cut and joined with scattered pieces: same region, same pieces."""
    dice = np.random.default_rng(seed)
    spots = dice.uniform(4, 96, (holes, 2))
    sizes = dice.uniform(0.5, 4, holes)
    plate = minus(box(0, 0, 100, 100), union([Point(x, y).buffer(size) for (x, y), size in zip(spots, sizes, strict=True)]))
    islands = [Point(x, y).buffer(0.3) for x, y in spots[:8]]
    region = union([plate, *islands])
    small = union([box_at(x, y, 3, 1.5, 40) for x, y in dice.uniform(0, 100, (6, 2))] + [Point(*spots[0]).buffer(1.0)])
    for other in (small, box(99, 99, 103, 103), box(-1, 40, 101, 60), box(-1, -1, 101, 101)):
        cut, joined = cut_near(region, other), added_near(region, other)
        for near, plain in ((cut, minus(region, other)), (joined, union([region, other]))):
            assert near.is_valid
            assert near.symmetric_difference(plain).area < 1e-7
            assert len(polygons(near)) == len(polygons(plain))
    assert cut_near(region, EMPTY) is region
    assert added_near(EMPTY, small) is small


@settings(max_examples=25)
@given(st.integers(0, 9999), st.integers(2, 90), st.floats(2, 60))
def test_many_small_regions_are_joined_and_grown_as_any_others(seed: int, count: int, across: float) -> None:
    """Pads far apart, side by side and over one another: the same region as by one boolean, whatever lies alone."""
    chance = np.random.default_rng(seed)
    places = chance.random((count, 2)) * across
    sides, turns = chance.random(count), chance.random(count) * 180
    pads = [box_at(x, y, 0.5 + side, 0.8, turn) for (x, y), side, turn in zip(places, sides, turns, strict=True)]
    pads.append(box_at(*(places[0] + (0.0, 0.8)), 0.5, 0.8, 0.0))
    plain = union(pads)
    assert union_of_many(pads).symmetric_difference(plain).area < 1e-9
    assert union_of_many(pads).is_valid


@settings(max_examples=60)
@given(st.integers(0, 9999), st.integers(2, 90), st.floats(2, 60), st.sampled_from([-0.4, -0.1, -0.02, 0.02, 0.2, 0.6]))
def test_offsets_ring_by_ring_are_those_of_the_whole(seed: int, count: int, across: float, by: float) -> None:
    """Pieces, holes, and islands in holes, whose offsets meet, run out at the edge, close or vanish."""
    chance = np.random.default_rng(seed)
    plate = box(0, 0, across, 0.8 * across)
    for size, run in ((1.2, shapely.difference), (0.6, shapely.union), (0.2, shapely.difference)):
        rows = zip(*(chance.random((count, 2)) * across).T, chance.random(count) * 2 * size + 0.1, strict=True)
        shapes = [disc(x, y, r, 0.02) if r > size else box_at(x, y, 2 * r, r, 90 * x) for x, y, r in rows]
        plate = run(plate, shapely.union_all(shapes))
    made, whole = grow(plate, by), clean(shapely.buffer(plate, by, quad_segs=quarter_segments(abs(by))))
    assert made.is_valid
    assert made.symmetric_difference(whole).area < 1e-9 * across
    assert len(polygons(made)) == len(polygons(whole))
    assert all(shapely.get_num_coordinates(shapely.get_rings(made)) > 3)


def test_islands_in_the_holes_of_a_plate_are_grown_with_it() -> None:
    """A vast polygon and many small ones, none of which meet, or all of which do."""
    spots = [(2.0 * x + 1, 2.0 * y + 1) for x in range(9) for y in range(9)]
    plate = Polygon(box(0, 0, 18, 18).exterior, [disc(x, y, 0.8).exterior for x, y in spots])
    region = region_of([plate, *(disc(x, y, 0.5) for x, y in spots)])
    for by, count in ((0.05, 82), (0.2, 1), (-0.05, 82)):
        made, whole = grow(region, by), clean(shapely.buffer(region, by, quad_segs=quarter_segments(abs(by))))
        assert made.is_valid
        assert len(polygons(made)) == count
        assert made.symmetric_difference(whole).area < 1e-6


def test_crumbs_that_an_offset_leaves_beside_a_polygon_do_no_harm() -> None:
    """Arithmetic parts specks of nothing from this one when it is grown by 0.6 mm: as a part, and as a hole."""
    corners = [(0.1491, 0.0), (0.156424, -0.002297), (0.178395, -0.008381), (0.193127, -0.011801)]
    corners += [(0.000024, 0.008167), (0.126602, 0.007953), (0.13479, 0.004892)]
    odd = shapely.transform(Polygon(corners), lambda at: at + np.array([17.56028, 29.568078]))
    assert shapely.get_num_geometries(shapely.buffer(odd, 0.6, quad_segs=quarter_segments(0.6))) > 1
    many = [shapely.transform(odd, lambda at, x=x: at + np.array([5.0 * x, 0.0])) for x in range(14)]
    plate = box(10, 20, 100, 40)
    for region in (region_of(many), plate.difference(region_of(many))):
        for by in (0.6, -0.6):
            made, whole = grow(region, by), clean(shapely.buffer(region, by, quad_segs=quarter_segments(0.6)))
            assert made.symmetric_difference(whole).area < 1e-4
            assert made.is_valid


def test_polygons_of_many_holes_are_mended_as_any_others() -> None:
    """Of many holes one crosses itself, two overlap, and one reaches over the edge."""
    holes = [disc(x, y, 0.3, 0.02) for x in range(1, 9) for y in range(1, 6)]
    bow = Polygon([(3.2, 6.2), (4.4, 7.4), (4.4, 6.2), (3.2, 7.4)])
    odd = [bow, box(6, 6.2, 7, 7), box(6.5, 6.6, 7.5, 7.4), box(-0.5, 6, 0.5, 6.5)]
    broken = Polygon(box(0, 0, 9, 8).exterior, [one.exterior for one in holes + odd])
    whole = shapely.make_valid(broken, method="structure", keep_collapsed=False)
    mended = valid(broken)
    assert mended.is_valid
    assert mended.symmetric_difference(whole).area < 1e-12
    assert whole.area < 9 * 8 - 1
    assert valid(whole) is whole


@settings(max_examples=30)
@given(st.integers(0, 9999), st.integers(2, 60))
def test_the_area_that_lies_in_a_region_is_that_of_the_boolean(seed: int, count: int) -> None:
    chance = np.random.default_rng(seed)
    region = union([box(0, 0, 6, 8), box(7, 0, 9, 8)]).difference(
        shapely.union_all([disc(*at, 0.3) for at in chance.random((count, 2)) * 9])
    )
    small = np.array([box_at(*at, 0.7, 0.4, 30.0) for at in chance.random((40, 2)) * 10], dtype=object)
    assert areas_in(region, small) == pytest.approx(shapely.area(shapely.intersection(small, region)), abs=1e-12)


def _ragged(dice: random.Random, x: float) -> Polygon:
    """A star with short and long rays, an hourglass, a hair or a round, about (x, 0)."""
    kind = dice.choice(["star", "hourglass", "hair", "round"])
    if kind == "star":
        turns = np.sort(np.array([dice.random() for _ in range(dice.randint(5, 30))])) * 2 * math.pi
        rays = np.array([dice.uniform(0.05, 0.9) for _ in turns])
        return shapely.make_valid(Polygon(np.column_stack([x + rays * np.cos(turns), rays * np.sin(turns)])))
    if kind == "hourglass":
        waist = dice.uniform(0.02, 0.3)
        return Polygon(
            [(x - 0.6, -0.9), (x + 0.6, -0.9), (x + waist / 2, 0), (x + 0.6, 0.9), (x - 0.6, 0.9), (x - waist / 2, 0)]
        )
    if kind == "hair":
        return box(x - dice.uniform(0.02, 0.2), -0.9, x, 0.9)
    return Point(x, 0).buffer(dice.uniform(0.05, 0.9), quad_segs=dice.choice([4, 100]))


@given(st.integers(0, 9999), st.integers(1, 12))
def test_thin_pieces_of_many_parts_are_those_of_each_alone(seed: int, count: int) -> None:
    dice = random.Random(seed)
    parts = [part for at in range(count) for part in shapely.get_parts(_ragged(dice, 3.0 * at)) if part.geom_type == "Polygon"]
    alone = [piece.wkb for part in parts for piece in thin_pieces(part, 0.15)]
    assert [piece.wkb for piece in thin_pieces(region_of(parts), 0.15)] == alone
    # What is neither thin nor in the wide rest is at most a corner.
    for piece in thin_pieces(region_of(parts), 0.15):
        assert piece.buffer(-0.078).is_empty


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.tuples(st.integers(0, 30), st.integers(0, 30), st.integers(1, 9), st.booleans()), max_size=25),
    st.tuples(st.integers(-2, 30), st.integers(-2, 30), st.integers(1, 12), st.integers(1, 12)),
)
def test_what_is_about_a_place_is_there_the_whole_region(
    squares: list[tuple[int, int, int, bool]], at: tuple[int, int, int, int]
) -> None:
    region = shapely.Polygon()
    for x, y, side, joins in squares:
        square = shapely.box(x, y, x + side, y + side)
        region = region.union(square) if joins else region.difference(square)
    frame = shapely.box(at[0], at[1], at[0] + at[2], at[1] + at[3])
    here = Around(clean(region)).within(frame.bounds)
    assert shapely.is_valid(here)
    assert common(here, frame).symmetric_difference(common(clean(region), frame)).area < 1e-9
