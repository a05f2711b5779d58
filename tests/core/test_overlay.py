"""Booleans that are looked over: rectangles turned by any angle, whose areas are known by multiplying."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st
from shapely.geometry import LineString, box
from shapely.geometry.base import BaseGeometry

from outlined_glow.core.geometry.overlay import each_as_one, overlay, overlay_each
from outlined_glow.core.geometry.regions import common, minus, union

Box = tuple[int, int, int, int]
place, size = st.integers(-100, 100), st.integers(5, 200)
boxes = st.tuples(place, place, size, size)
angles = st.floats(0, 6.3)


def turned(one: Box, angle: float) -> BaseGeometry:
    x, y, wide, high = one
    turn = np.array([[math.cos(angle), math.sin(angle)], [-math.sin(angle), math.cos(angle)]])
    return shapely.transform(box(x, y, x + wide, y + high), lambda points: points @ turn)


def shared(one: Box, other: Box) -> int:
    """The area that two have in common."""
    wide, high = (min(one[at] + one[at + 2], other[at] + other[at + 2]) - max(one[at], other[at]) for at in (0, 1))
    return max(0, wide) * max(0, high)


@given(boxes, boxes, angles)
@example((10, 20, 100, 120), (-70, -10, 180, 160), 2.980253847804255)
@example((100, 70, 110, 80), (50, 90, 90, 100), 5.403746885964059)
@example((-60, 30, 170, 120), (-40, -60, 150, 100), 4.328041401344435)
@example((-40, -20, 140, 80), (-40, -20, 140, 120), 2.367859350341808)
@example((90, -20, 170, 190), (70, -20, 30, 140), 0.4741676990410339)
def test_areas_are_what_they_are_by_multiplying(one: Box, other: Box, angle: float) -> None:
    a, b = turned(one, angle), turned(other, angle)
    whole, both = one[2] * one[3], shared(one, other)
    rest = minus(a, b)
    near = {"abs": 1e-3, "rel": 1e-6}
    assert rest.area == pytest.approx(whole - both, **near)
    assert common(a, b).area == pytest.approx(both, **near)
    assert union([a, b]).area == pytest.approx(whole + other[2] * other[3] - both, **near)
    # Now with edges that nearly lie on those of what they were cut along.
    assert union([rest, b]).area == pytest.approx(whole + other[2] * other[3] - both, **near)
    assert common(rest, b).area == pytest.approx(0, abs=1e-3)
    assert minus(rest, b).area == pytest.approx(whole - both, **near)
    assert minus(a, rest).area == pytest.approx(both, **near)
    assert union([rest, common(a, b)]).area == pytest.approx(whole, **near)


def test_no_more_comes_out_than_there_is() -> None:
    a, b, c = (turned(one, 5.483432954845133) for one in ((40, -90, 190, 130), (-10, 30, 90, 190), (20, 30, 120, 40)))
    more = minus(a, b)
    less = minus(more, c)
    assert (more.area, less.area) == pytest.approx((24300, 23700))
    assert common(less, more).area == pytest.approx(23700)


def test_one_that_goes_wrong_costs_the_others_nothing() -> None:
    turn = 2.980253847804255
    a, b = turned((10, 20, 100, 120), turn), turned((-70, -10, 180, 160), turn)
    square, corner = box(0, 0, 10, 10), box(5, 5, 15, 15)
    these, those = np.array([square, a, square]), np.array([corner, b, corner])
    found = overlay_each(shapely.difference, these, those)
    assert shapely.area(found) == pytest.approx([75, 0, 75], abs=1e-3)
    assert found[0].equals_exact(shapely.difference(square, corner), 0)
    assert overlay(shapely.intersection, LineString([(0, 0), (20, 0)]), square).length == 10


def test_a_union_that_gives_up_costs_the_others_nothing(monkeypatch: pytest.MonkeyPatch) -> None:
    library = shapely.disjoint_subset_union_all
    square, corner, far = box(0, 0, 10, 10), box(5.123456789, 5, 15, 15), box(90, 90, 95, 95)

    def gives_up(rows: np.ndarray, axis: int) -> np.ndarray:
        if any(far in row for row in rows.tolist()):
            raise shapely.GEOSException("it gave up")
        return library(rows, axis=axis)

    monkeypatch.setattr(shapely, "disjoint_subset_union_all", gives_up)
    found = each_as_one(np.array([[square, corner], [square, far]], dtype=object))
    assert found[0].equals_exact(library([square, corner]), 0)
    assert found[1].area == pytest.approx(125)


def test_points_on_an_edge_are_no_reason_to_do_it_anew() -> None:
    square, half = box(0, 0, 10, 10), box(5, -5, 20.1234567, 5)
    assert overlay(shapely.difference, square, half).equals_exact(shapely.difference(square, half), 0)


def test_what_is_made_anew_is_areas_alone(monkeypatch: pytest.MonkeyPatch) -> None:
    """A grid makes lines of what is narrower than it, and takes no areas with lines beside them."""
    left_over = shapely.GeometryCollection([box(0, 0, 4, 4), LineString([(6, 0), (9, 0)])])
    monkeypatch.setattr("outlined_glow.core.geometry.overlay._wrong", lambda run, these, *_: np.arange(len(these)))
    assert overlay(shapely.difference, left_over, box(2, -1, 5, 5)).equals(box(0, 0, 2, 4))
    narrow = box(0, 0, 4, 4).difference(box(1, 1, 3, 4 - 1e-8))
    parts = overlay(shapely.difference, narrow, box(-1, -1, 5, 1))
    assert {part.geom_type for part in shapely.get_parts(parts)} == {"Polygon"}
