"""Lines as areas: every side as wide as it is, whatever way the line takes; caps, and dashes over the end of a closed line."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st

from outlined_glow.core.artwork.drawing import Stroke
from outlined_glow.core.artwork.stroke import stroke_area

SQUARE = np.array([[0, 0], [40, 0], [40, 40], [0, 40.0]])
corner = st.tuples(st.integers(0, 60), st.integers(0, 60))


@given(
    st.lists(st.tuples(corner, st.sampled_from([0.0, 0.0, 0.5, 1.0])), min_size=2, max_size=24),
    st.floats(0, 6), st.sampled_from([1.0, 8.0, 60.0]), st.booleans(), st.sampled_from(["round", "bevel", "miter"]),
)  # fmt: skip
@example([((0, 0), 0), ((40, 0), 0), ((40, 40), 0), ((0, 40), 0)], 4.0, 60.0, True, "round")
def test_a_line_is_as_wide_as_it_is_said(
    walk: list[tuple[tuple[int, int], float]], angle: float, width: float, closed: bool, join: str
) -> None:
    turn = np.array([[math.cos(angle), math.sin(angle)], [-math.sin(angle), math.cos(angle)]])
    points = [np.array(walk[0][0], float)]
    for to, back in walk[1:]:
        points.append(points[-1] + (points[-2] - points[-1]) * back if back and len(points) > 1 else np.array(to, float))
    line = np.array(points) @ turn
    area = stroke_area(line, closed, Stroke(width, "butt", join, 1.5), 0.01)
    ends = np.vstack([line, line[:1]]) if closed else line
    if not np.diff(ends, axis=0).any():
        return
    spots = np.random.default_rng(1).uniform(line.min(axis=0) - width, line.max(axis=0) + width, (300, 2))
    there = shapely.contains_xy(area, spots)
    begin, along = ends[:-1, None], np.diff(ends, axis=0)[:, None]
    length = np.maximum(np.hypot(along[..., 0], along[..., 1]), 1e-12)
    far = ((spots - begin) * along).sum(axis=2) / length
    off = np.abs((spots - begin)[..., 0] * along[..., 1] - (spots - begin)[..., 1] * along[..., 0]) / length
    beside = (off < width / 2 - 0.02) & (far > 0.02) & (far < length - 0.02)
    assert there[beside.any(axis=0)].all()
    reach = width / 2 * (1.5 if join == "miter" else 1.0) + 0.02
    assert not there[shapely.distance(shapely.LineString(ends), shapely.points(spots)) > reach].any()


@pytest.mark.parametrize(("cap", "filled"), [("butt", False), ("square", True)])
def test_a_line_that_comes_back_to_its_beginning_has_its_caps(cap: str, filled: bool) -> None:
    for line in (np.vstack([SQUARE, SQUARE[:1]]), np.vstack([SQUARE, np.linspace((0, 40), (0, 0), 30)[1:]])):
        area = stroke_area(line, False, Stroke(4, cap, "bevel"), 0.01)
        assert shapely.contains_xy(area, -1, -1) == filled
    closed = stroke_area(SQUARE, True, Stroke(4, cap, "miter"), 0.01)
    assert closed.area == pytest.approx(44**2 - 36**2)


def test_dashes_go_on_over_the_end_of_a_closed_line() -> None:
    def dashed(offset: float, join: str = "miter") -> float:
        return stroke_area(SQUARE, True, Stroke(4, "butt", join, 4, (10, 10), offset), 0.01).area

    assert dashed(0) == pytest.approx(8 * 40)
    # Now four of the eight go round a corner, the last one into the first: the mitre adds what their sides share within it.
    assert dashed(5) == pytest.approx(8 * 40)
    assert dashed(5, "bevel") == pytest.approx(8 * 40 - 4 * 2)
    whole = stroke_area(SQUARE, True, Stroke(4, "butt", "miter", 4, (500, 10)), 0.01)
    assert whole.area == pytest.approx(44**2 - 36**2)
