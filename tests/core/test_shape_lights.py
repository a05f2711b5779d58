"""Outline, hanging hole, islands; arrays of LEDs."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon, box
from shapely.geometry.base import BaseGeometry

from outlined_glow.core.artwork import Painted
from outlined_glow.core.errors import Trouble
from outlined_glow.core.geometry.regions import EMPTY, disc, minus, union
from outlined_glow.core.lights.kinds import LightPaths, along_spots, inset_at, kind_of, ring_spots, share_at
from outlined_glow.core.lights.place import place_leds
from outlined_glow.core.parts import Profile, profile
from outlined_glow.core.project import Along, Array, Finding, Grid, Hole, Project, Ring, Shape, Single
from outlined_glow.core.shape import Outline, base_of, make_outline
from outlined_glow.core.shape.findings import limit_findings, neck_findings

STANDARD = profile("standard")
BARE = Project(name="bare", edited="2026-11-25T12:00:00Z")


def outlined(silhouette: BaseGeometry, cut: BaseGeometry, shape: Shape, rules: Profile) -> Outline:
    """The outline of a picture that paints just this."""
    return make_outline(base_of(Painted((), (1.0, 1.0), silhouette, ()), shape, EMPTY), cut, shape, rules)


def test_a_border_grows_all_round_and_the_origin_tells_where() -> None:
    outline = outlined(box(0, 0, 40, 30), EMPTY, Shape(border_mm=2), STANDARD)
    assert outline.size == pytest.approx((44, 34))
    assert outline.origin == pytest.approx((-2, -2))
    assert outline.region.area == pytest.approx(40 * 30 + 2 * 2 * 70 + math.pi * 4, abs=0.1)


def test_holes_of_the_picture_are_filled_unless_kept() -> None:
    plate = minus(box(0, 0, 40, 30), disc(20, 15, 8))
    assert len(outlined(plate, EMPTY, Shape(border_mm=1), STANDARD).region.interiors) == 0
    kept = outlined(plate, EMPTY, Shape(border_mm=1, keep_holes=True), STANDARD).region
    assert Polygon(kept.interiors[0]).area == pytest.approx(math.pi * 49, rel=0.01)


def test_inside_corners_are_rounded_to_the_cutter() -> None:
    notch = minus(box(0, 0, 40, 30), box(18, 20, 22, 30))
    region = outlined(notch, EMPTY, Shape(border_mm=0), STANDARD).region
    corner = Point(18.05, 20.05)
    assert region.contains(corner)
    assert not region.contains(Point(20, 20.5))


def test_a_cut_out_colour_becomes_a_hole_although_holes_are_filled() -> None:
    cut = box(15, 10, 25, 20)
    region = outlined(box(0, 0, 40, 30), cut, Shape(border_mm=1), STANDARD).region
    assert len(region.interiors) == 1
    assert 95 < Polygon(region.interiors[0]).area <= 100


def unchanged(one: Outline) -> Callable[[Shape], Outline]:
    """As if no other shape changed anything."""
    return lambda shape: one


def test_loose_islands_are_told_with_their_place() -> None:
    outline = outlined(union([box(0, 0, 40, 30), box(60, 10, 70, 20)]), EMPTY, Shape(border_mm=1), STANDARD)
    assert [finding.code for finding in outline.findings] == ["loose-island"]
    finding = outline.findings[0]
    assert finding.severity == "stop"
    assert 59 < (finding.x_mm or 0) < 71
    assert finding.measured == pytest.approx(18, abs=0.1)


def test_everything_cut_away_is_refused() -> None:
    with pytest.raises(Trouble):
        outlined(box(0, 0, 4, 4), box(-10, -10, 14, 14), Shape(border_mm=1), STANDARD)


@given(st.floats(1.0, 6.0), st.floats(14, 60), st.floats(14, 60))
def test_the_hanging_hole_keeps_its_neck(diameter: float, width: float, height: float) -> None:
    outline = outlined(box(0, 0, width, height), EMPTY, Shape(border_mm=1, hole=Hole(diameter)), STANDARD)
    hole = outline.holes[0]
    edge = outline.region.exterior.distance(Point(hole.x, hole.y)) - diameter / 2
    assert edge == pytest.approx(STANDARD.neck_mm, abs=0.03)
    assert not outline.lug
    assert hole.x == pytest.approx(width / 2, abs=0.01)
    # Highest: as near to the upper edge as the neck allows.
    assert height + 1 - hole.y == pytest.approx(diameter / 2 + STANDARD.neck_mm, abs=0.03)


def test_a_hole_without_room_gets_a_lug() -> None:
    outline = outlined(box(0, 0, 60, 3), EMPTY, Shape(border_mm=0.5, hole=Hole(2.5)), STANDARD)
    assert outline.lug
    hole = outline.holes[0]
    assert outline.region.contains(disc(hole.x, hole.y, hole.diameter / 2 + STANDARD.neck_mm - 0.05))
    assert outline.size[1] > 5


def test_a_hole_put_by_hand_stays_there() -> None:
    outline = outlined(box(0, 0, 40, 30), EMPTY, Shape(border_mm=1, hole=Hole(3, 5.0, 25.0)), STANDARD)
    assert (outline.holes[0].x, outline.holes[0].y) == (5.0, 25.0)
    assert outline.cleared.area == pytest.approx(math.pi * 1.8**2, rel=0.01)


def shape_checks(outline: Outline) -> list[Finding]:
    """What the shape stage finds about an outline that no other shape changes."""
    necks = neck_findings(outline, Shape(), STANDARD, unchanged(outline))
    return [*necks, *limit_findings(outline, BARE.brief, Shape(), (), STANDARD)]


def test_findings_of_shape() -> None:
    bell = union([box(0, 0, 15, 15), box(15, 7, 25, 8), box(25, 0, 40, 15)])
    outline = outlined(bell, EMPTY, Shape(border_mm=0.2), STANDARD)
    codes = {finding.code: finding for finding in shape_checks(outline)}
    assert codes["neck-too-narrow"].measured == pytest.approx(1.4, abs=0.1)
    long = outlined(box(0, 0, 125, 60), EMPTY, Shape(border_mm=0), STANDARD)
    codes = {finding.code: finding for finding in shape_checks(long)}
    assert "5.0 mm" in codes["over-price-step"].text
    huge = outlined(box(0, 0, 500, 60), EMPTY, Shape(border_mm=0), STANDARD)
    assert "side-out-of-range" in {finding.code for finding in shape_checks(huge)}


def test_a_ring_runs_clockwise_from_the_top() -> None:
    spots = ring_spots(Ring(name="r", x_mm=10, y_mm=20, diameter_mm=20, count=4))
    assert [(round(x, 6), round(y, 6)) for x, y, _ in spots] == [(10, 30), (20, 20), (10, 10), (0, 20)]
    back = ring_spots(Ring(name="r", x_mm=0, y_mm=0, count=4, diameter_mm=20, direction="counter-clockwise"))
    assert back[1][0] == pytest.approx(-10)


def test_grids_singles_mirrors_groups_and_indices() -> None:
    arrays = (
        Grid(name="g", x_mm=20, y_mm=20, rows=2, columns=3, pitch_x_mm=5, pitch_y_mm=4, groups=("a", "b")),
        Single(name="s", x_mm=4, y_mm=5, mirrored=True, emitter="1206 reverse-mount red"),
        Single(name="m", x_mm=20, y_mm=9, mirrored=True),
    )
    leds, findings = place_leds(arrays, LightPaths(box(0, 0, 40, 30), 40))
    assert not findings
    assert [led.index for led in leds] == list(range(1, 10))
    assert [(led.x, led.y) for led in leds[:3]] == [(15, 22), (20, 22), (25, 22)]
    assert [led.group for led in leds[:6]] == ["a"] * 3 + ["b"] * 3
    assert [(led.x, led.side, led.group) for led in leds[6:8]] == [(4, "back", "s"), (36, "back", "s")]
    # One on the middle has no mirror image of its own.
    assert [led.array for led in leds].count("m") == 1


def test_along_keeps_equal_steps_and_its_distance() -> None:
    body = box(0, 0, 60, 40)
    paths = LightPaths(body, 60)
    spots = along_spots(Along(name="a", count=9, inset_mm=3, start=0.05, end=0.45), paths)
    line = paths.contours("silhouette").line(3)
    assert line is not None
    at = [line.project(Point(x, y)) for x, y, _ in spots]
    steps = [b - a for a, b in itertools.pairwise(at)]
    assert max(steps) - min(steps) < 0.01
    assert all(body.boundary.distance(Point(x, y)) == pytest.approx(3, abs=0.01) for x, y, _ in spots)
    assert spots[0][0] > 30
    assert spots[0][1] == pytest.approx(37, abs=0.01)


def test_handles_give_back_what_made_them() -> None:
    body = box(0, 0, 60, 40)
    array = Along(name="a", count=5, inset_mm=4, start=0.1, end=0.3)
    ground = LightPaths(body, 60)

    def held(one: Array) -> dict[str, tuple[float, float]]:
        return {held.name: (held.x, held.y) for held in kind_of(one).handles(one, ground)}

    assert share_at(ground, 4, *held(array)["start"]) == pytest.approx(0.1, abs=1e-6)
    assert share_at(ground, 4, *held(array)["end"]) == pytest.approx(0.3, abs=1e-6)
    assert inset_at(body, *held(array)["inset"]) == pytest.approx(4, abs=1e-6)
    assert held(Ring(name="r", x_mm=3, y_mm=4, diameter_mm=10))["radius"] == pytest.approx((3, 9))


def test_an_array_without_room_is_a_stop() -> None:
    leds, findings = place_leds((Along(name="a", inset_mm=30),), LightPaths(box(0, 0, 40, 30), 40))
    assert not leds
    assert findings[0].code == "array-without-room"
    assert findings[0].severity == "stop"
