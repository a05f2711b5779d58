"""Strips that play several times, drawn curves, the way along the edge, markers; splitting and stretching."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec import structs
from plates import plate

from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion import levels
from outlined_glow.core.motion.edits.strips import curve_of
from outlined_glow.core.motion.lamps import plain_lamps
from outlined_glow.core.motion.score import curve_at
from outlined_glow.core.motion.way import way_of
from outlined_glow.core.project import Marker, Motion, Project, Strip, apply_edit

ROW = plain_lamps(np.column_stack([3.0 * np.arange(7), np.zeros(7)]), "g" * 7)
TIMES = np.linspace(0, 11.99, 400)


def scored(*strips: dict[str, Any]) -> Project:
    project = plate()
    for one in strips:
        project = apply_edit(project, "add-strip", one)
    return project


@given(st.integers(1, 5), st.floats(0.3, 2.0), st.floats(0.1, 3.0), st.sampled_from(["chase", "breathe", "twinkle", "fill"]))
@settings(max_examples=25, deadline=None)
def test_a_strip_that_plays_several_times_is_so_many_strips(many: int, length: float, period: float, pattern: str) -> None:
    one = Strip(number=1, pattern=pattern, start_s=0.5, length_s=length, period_s=period, repeats=many, fade_in_s=0.1)
    each = tuple(structs.replace(one, number=at + 1, repeats=1, start_s=0.5 + at * length) for at in range(many))
    times = np.linspace(0, 0.5 + many * length, 90, endpoint=False) + 1e-4
    other = Motion(score=each)
    assert np.isclose(other.seconds, Motion(score=(one,)).seconds)
    assert np.allclose(levels(Motion(score=(one,)), ROW, times), levels(other, ROW, times), atol=1e-6)


@pytest.mark.parametrize("at_s", [1.0, 3.0, 4.0, 4.7, 6.999, 8.99])
def test_a_strip_that_plays_several_times_is_split_into_what_it_was(at_s: float) -> None:
    project = scored({"pattern": "steady", "start_s": 1.0 - 0.5, "length_s": 1.5, "repeats": 6, "fade_in_s": 0.0})
    before = levels(project.motion, ROW, TIMES)
    split = apply_edit(project, "split-strip", {"number": 1, "at_s": at_s})
    assert np.array_equal(levels(split.motion, ROW, TIMES), before)
    assert sum(one.length_s * one.repeats for one in split.motion.score) == pytest.approx(9.0)
    assert any(abs(one.start_s - at_s) < 1e-9 for one in split.motion.score)
    assert len({one.number for one in split.motion.score}) == len(split.motion.score)


def test_curves_as_they_are_drawn() -> None:
    shares = np.linspace(0, 1, 50)
    assert np.allclose(curve_at(((0.0, 0.0), (1.0, 1.0)), shares), shares)
    bent = curve_at(curve_of("0,0 1,1 0.5,0.9"), shares)
    assert (np.diff(bent) >= 0).all()
    assert curve_at(curve_of("0,0 0.5,0.9 1,1"), [0.5])[0] == pytest.approx(0.9)
    one = Strip(number=1, pattern="one at a time", length_s=1.0, period_s=1.0, pace="curve", curve=curve_of("0,0 0.5,0 1,1"))
    lit = levels(Motion(score=(one,)), ROW, [0.1, 0.4, 0.999])[..., 0].argmax(axis=1)
    assert lit.tolist() == [0, 0, 6]
    for wrong in ("0,0", "0,0 1", "0,0 2,1", "0.1,0 1,1", "0,0 0.5,0 0.5,1 1,1", "x,y z,w", "0,nan 1,1"):
        with pytest.raises(Trouble):
            curve_of(wrong)
    assert curve_of("none") == ()


def test_along_the_edge_of_the_board() -> None:
    edge = shapely.LinearRing([(20, 30), (0, 30), (0, 0), (40, 0), (40, 30)])
    places = np.array([[30.0, 29.0], [1.0, 15.0], [20.0, 1.0], [39.0, 15.0], [10.0, 29.0]])
    lamps = replace(plain_lamps(places, "g" * 5), edge=edge)
    way = way_of(Strip(number=1, along="edge"), lamps)
    # Anticlockwise from the highest point: up and left, left, below, right, up and right.
    assert way.place.tolist() == [4, 1, 2, 3, 0]
    assert np.allclose(way.share, np.array([130, 35, 70, 105, 10]) / 140)
    assert way_of(Strip(number=1, along="edge", backwards=True), lamps).place.tolist() == [0, 3, 2, 1, 4]
    assert way_of(Strip(number=1, along="edge"), ROW).count == 1


def test_markers_are_set_moved_named_and_go_with_the_score() -> None:
    project = scored({"pattern": "chase", "length_s": 4.0})
    for name, at_s in (("b", 3.0), ("a", 1.0)):
        project = apply_edit(project, "set-marker", {"name": name, "at_s": at_s})
    assert project.motion.markers == (Marker(name="a", at_s=1.0), Marker(name="b", at_s=3.0))
    project = apply_edit(project, "set-marker", {"name": "a", "called": "start"})
    assert project.motion.markers[0] == Marker(name="start", at_s=1.0)
    project = apply_edit(project, "set-scene", {"name": "all", "start_s": 2.0, "length_s": 1.0})
    slow = apply_edit(project, "stretch-score", {"by": 2.0}).motion
    assert [one.at_s for one in slow.markers] == [2.0, 6.0]
    assert (slow.scenes[0].start_s, slow.scenes[0].length_s) == (4.0, 2.0)
    for wrong in ({"name": "x", "called": "y"}, {"name": "b", "called": "start"}, {"name": "x" * 41}):
        with pytest.raises(Trouble):
            apply_edit(project, "set-marker", wrong)
    with pytest.raises(Trouble, match="no marker"):
        apply_edit(project, "remove-marker", {"name": "a"})
    assert len(apply_edit(project, "remove-marker", {"name": "b"}).motion.markers) == 1


def test_a_curve_in_any_order_and_a_score_of_days_do_no_harm() -> None:
    assert curve_at(((1.0, 1.0), (0.5, 0.2), (0.5, 0.4), (0.0, 0.0)), [0.5])[0] == pytest.approx(0.4)
    assert curve_at(((0.5, 0.2), (0.5, 0.4)), [0.3])[0] == 0.3
    assert Motion(score=(Strip(number=1, length_s=7200.0, repeats=1000),)).seconds == 7200.0


def test_what_switches_goes_over_and_what_is_steady_stays() -> None:
    one = Strip(number=1, pattern="blink", length_s=4.0, period_s=2.0)
    sharp, soft = Motion(score=(one,)), Motion(score=(one,), soft_s=0.4)
    times = np.arange(0, 4, 0.01)
    before, after = (levels(motion, ROW, times)[:, 0, 0] for motion in (sharp, soft))
    assert set(before.tolist()) == {0.0, 1.0}
    # By hand: the mean of a step over 0.4 s rises evenly for as long; the mean of all stays.
    assert after[np.searchsorted(times, 1.0)] == pytest.approx(0.5, abs=0.06)
    assert after[np.searchsorted(times, 1.1)] == pytest.approx(0.25, abs=0.06)
    assert np.abs(np.diff(after)).max() < 0.1
    assert after.mean() == pytest.approx(before.mean(), abs=0.01)
    steady = Strip(number=1, pattern="steady", length_s=4.0, level=0.6)
    assert levels(Motion(score=(steady,), soft_s=1.0), ROW, times) == pytest.approx(0.6)
    project = apply_edit(scored({"pattern": "blink"}), "soften-score", {"soft_s": 0.2})
    assert project.motion.soft_s == 0.2
    with pytest.raises(Trouble):
        apply_edit(project, "soften-score", {"soft_s": 3.0})
