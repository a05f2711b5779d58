"""Dimming by the light of the place: the map, its limits, and the board's own light on its sensor."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec import structs
from plates import ROW, plate

from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion import levels
from outlined_glow.core.motion.ambient import dimmed, target_of, unsteady
from outlined_glow.core.motion.checks.findings import ambient_findings
from outlined_glow.core.motion.currents import played
from outlined_glow.core.project import Ambient, Feed, Motion, apply_edit
from outlined_glow.core.workshop import Compiler

LUX = Feed(name="place", kind="knob", low=0.0, high=1000.0, at=0.5)


def motion(lx: float, **keys: Any) -> Motion:
    return Motion(feeds=(structs.replace(LUX, at=lx / 1000),), ambient=Ambient(feed="place", **keys))


def at_last(one: Motion) -> float:
    found = dimmed(one, np.array([60.0]))
    assert found is not None
    return float(found[0])


def test_the_map_goes_from_floor_to_ceiling() -> None:
    one = Ambient(feed="place", dark_lx=1, bright_lx=100, floor=0.1, ceiling=0.9)
    assert target_of(one, np.array([0.0, 1.0, 10.0, 100.0, 1e5])) == pytest.approx([0.1, 0.1, 0.5, 0.9, 0.9])
    line = structs.replace(one, map="linear")
    assert target_of(line, np.array([50.5])) == pytest.approx([0.5])
    assert target_of(structs.replace(one, falls=True), np.array([1.0, 100.0])) == pytest.approx([0.9, 0.1])


@given(st.floats(0, 1000), st.floats(0, 300), st.booleans(), st.sampled_from(["log", "linear"]), st.floats(0, 3))
def test_it_stays_between_floor_and_ceiling(lx: float, own: float, falls: bool, how: str, smooth: float) -> None:
    one = motion(lx, own_lx=own, falls=falls, map=how, floor=0.2, ceiling=0.8, smooth_s=smooth)
    found = dimmed(one, np.linspace(0, 50, 300))
    assert found is not None
    assert found.min() >= 0.2 - 1e-9
    assert found.max() <= 0.8 + 1e-9


def test_own_light_comes_to_where_map_and_light_agree() -> None:
    one = motion(20.0, own_lx=30.0, map="linear", dark_lx=1, bright_lx=1000, floor=0.0, ceiling=1.0, smooth_s=0.5)
    share = at_last(one)
    # By hand: share = (20 + 30 share - 1) / 999.
    assert share == pytest.approx(19 / (999 - 30), abs=0.002)
    assert unsteady(one.ambient) is None


def test_a_board_that_is_brighter_in_the_dark_hunts_and_a_slower_one_does_not() -> None:
    quick = motion(20.0, own_lx=200.0, map="linear", dark_lx=1, bright_lx=100, floor=0.0, falls=True, smooth_s=0.0)
    found = unsteady(quick.ambient)
    assert found is not None
    assert found.hunts > 0.5
    shares = dimmed(quick, np.arange(30, 31, 0.1))
    assert shares is not None
    assert shares.max() - shares.min() > 0.5, "it is seen"
    [told] = ambient_findings(quick)
    assert told.code == "ambient-hunts"
    slow = structs.replace(quick, ambient=structs.replace(quick.ambient, smooth_s=5.0))
    assert ambient_findings(slow) == []
    project = plate(ROW, ("set-feed", {"name": "place", "kind": "knob"}))
    keys = {"feed": "place", "own_lx": 200.0, "map": "linear", "bright_lx": 100.0, "floor": 0.0, "falls": True, "smooth_s": 0.0}
    bad = apply_edit(project, "set-ambient", keys)
    remedy = ambient_findings(bad.motion)[0].remedies[0]
    assert ambient_findings(apply_edit(bad, str(remedy.edit), dict(remedy.values)).motion) == []


@pytest.mark.parametrize("smooth_s", [0.0, 3.0, 60.0, 600.0])
def test_a_slow_board_is_waited_for(smooth_s: float) -> None:
    """However slowly it goes over: a trace of its own light does no harm; as much as the sensor tells apart does."""
    for falls in (False, True):
        assert unsteady(Ambient(feed="x", own_lx=0.1, smooth_s=smooth_s, falls=falls)) is None
    much = unsteady(Ambient(feed="x", own_lx=400.0, map="linear", dark_lx=10, bright_lx=100, floor=0.0, smooth_s=smooth_s))
    assert much is not None
    assert (much.hunts, much.sticks) == pytest.approx((0.0, 1.0), abs=0.01), "dark stays dark, and bright bright"


def test_a_board_that_lights_its_own_sensor_sticks() -> None:
    one = motion(5.0, own_lx=400.0, map="linear", dark_lx=10, bright_lx=100, floor=0.0, smooth_s=0.2)
    [told] = ambient_findings(one)
    assert told.code == "ambient-sticks"
    assert "keeps it bright or dark" in told.text
    assert ambient_findings(structs.replace(one, feeds=()))[0].code == "feed-lacking"


def test_all_that_plays_is_dimmed_and_so_is_the_current() -> None:
    project = plate(ROW, ("add-strip", {"pattern": "steady", "length_s": 4.0}),
                    ("set-feed", {"name": "place", "kind": "wave", "low": 1.0, "high": 1000.0, "period_s": 4.0}))  # fmt: skip
    lamps = Compiler().on_demand(project).lamps
    before = played(project.motion, lamps).average
    dim = apply_edit(project, "set-ambient", {"feed": "place", "floor": 0.0, "smooth_s": 0.0, "map": "linear"})
    assert levels(dim.motion, lamps, [0.0, 2.0])[:, 0, 0] == pytest.approx([0.0, 1.0], abs=0.01)
    assert played(dim.motion, lamps).average == pytest.approx(before / 2, rel=0.05)
    limited = apply_edit(dim, "set-limit", {"limit_a": lamps.full_a / 4})
    assert played(limited.motion, lamps).peak == pytest.approx(0.25)
    off = apply_edit(dim, "set-ambient", {"feed": "none"})
    assert played(off.motion, lamps).average == before
    for wrong in ({"feed": "gone"}, {"dark_lx": 5.0, "bright_lx": 4.0}):
        with pytest.raises(Trouble):
            apply_edit(project, "set-ambient", wrong)
