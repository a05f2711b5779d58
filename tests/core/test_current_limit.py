"""Frames kept under a current and over what a power bank asks; dimmed by the light of the place."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec import structs
from plates import ROW, plate

from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion import levels
from outlined_glow.core.motion.ambient import dimmed, target_of, unsteady
from outlined_glow.core.motion.checks.currents import longest_under
from outlined_glow.core.motion.checks.findings import ambient_findings
from outlined_glow.core.motion.currents import played
from outlined_glow.core.motion.lamps import Lamps, plain_lamps
from outlined_glow.core.motion.limit import kept_under
from outlined_glow.core.motion.score import wanted_levels
from outlined_glow.core.project import Ambient, Feed, Motion, Project, apply_edit
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.motion_facts import frames_of

PIXEL = "pixel 5050 three colours"


def lamps_of(currents: Any) -> Lamps:
    each = np.array(currents, float)
    bare = plain_lamps(np.zeros((len(each), 2)), "g" * len(each))
    return replace(bare, currents=each, kinds=np.ones(each.shape, int), shades=np.full((*each.shape, 3), 255.0))


@given(st.integers(1, 6), st.integers(1, 8), st.integers(1, 3), st.integers(0, 10_000), st.floats(0.01, 1.2))
@settings(max_examples=80, deadline=None)
def test_no_frame_is_over_and_what_is_under_stays(frames: int, leds: int, lights: int, seed: int, share: float) -> None:
    dice = np.random.default_rng(seed)
    lamps = lamps_of(dice.uniform(0.001, 0.02, (leds, lights)))
    wanted = dice.uniform(0, 1, (frames, leds, lights))
    limit = share * lamps.full_a
    total = (wanted * lamps.currents).sum(axis=(1, 2))
    for over in ("dim", "clip"):
        got = kept_under(wanted, lamps, limit, over)
        now = (got * lamps.currents).sum(axis=(1, 2))
        assert np.allclose(now, np.minimum(total, limit), rtol=1e-6), "it takes all that it may"
        assert np.array_equal(got[total <= limit], wanted[total <= limit])
        assert (got <= wanted + 1e-12).all()
    dimmed = kept_under(wanted, lamps, limit, "dim")
    high = total > limit
    assert np.allclose(dimmed[high] * total[high, None, None], wanted[high] * limit), "colours stay"
    clipped = kept_under(wanted, lamps, limit, "clip")
    for was, is_ in zip(wanted[high], clipped[high], strict=True):
        assert np.allclose(is_[is_ < was - 1e-9], is_.max()), "only the brightest are clipped, to one level"


def wall(**pixels: Any) -> Project:
    large = ("set-shape", {"base": "rectangle", "width_mm": 120.0, "height_mm": 60.0})
    grid = ("grid", {"array": "p", "x_mm": 22.0, "y_mm": 16.0, "rows": 5, "columns": 10, "pitch_x_mm": 9.0, "pitch_y_mm": 9.0,
                     "emitter": PIXEL})  # fmt: skip
    return plate(large, grid, ("drive", {"method": "pixels", "supply": "usb", **pixels}))


def stops(project: Project) -> dict[str, Any]:
    compiler = Compiler()
    return {one.code: one for one in compiler.findings(compiler.compile(project))}


def test_a_limit_takes_the_stop_away_and_is_in_the_table() -> None:
    project = apply_edit(wall(current_a=0.016), "set-pattern", {"pattern": "breathe"})
    told = stops(project)["supply-over-current"]
    remedy = told.remedies[0]
    assert remedy.text.startswith("keep every frame under")
    kept = apply_edit(project, str(remedy.edit), dict(remedy.values))
    found = stops(kept)
    assert "supply-over-current" not in found
    assert found["supply-kept-under"].severity == "note"
    work = Compiler().compile(kept)
    table = frames_of(work)
    flows = (table.levels / 255) @ work.lamps.currents[np.argsort(work.lamps.chain)].ravel()
    assert flows.max() <= kept.motion.limit_a * 1.01
    assert flows.max() >= kept.motion.limit_a * 0.95
    assert played(kept.motion, work.lamps).peak < played(project.motion, work.lamps).peak
    assert np.array_equal(wanted_levels(kept.motion, work.lamps, [0.3]), levels(project.motion, work.lamps, [0.3]))
    high = apply_edit(kept, "set-limit", {"limit_a": 50.0})
    assert "supply-over-current" in stops(high), "a limit over what the supply gives helps nobody"
    both = apply_edit(kept, "second-source", {"supply": "aaa-alkaline", "cells": 3, "joined": "switch"})
    assert "AAA" in stops(both)["supply-over-current"].text, "what the one gives the other may not"
    lower = stops(both)["supply-over-current"].remedies[0]
    assert "supply-over-current" not in stops(apply_edit(both, str(lower.edit), dict(lower.values)))
    bare = apply_edit(plate(ROW), "set-limit", {"limit_a": 0.1})
    assert "supply-kept-under" not in stops(bare)


@pytest.mark.parametrize(
    ("row", "start", "length"),
    [("0110", 1, 2), ("1001", 3, 2), ("0000", 0, 0), ("1111", 0, float("inf")), ("1011101", 2, 3), ("110011", 4, 4)],
)
def test_quiet_stretches_are_found_over_the_end(row: str, start: float, length: float) -> None:
    quiet = np.array([one == "1" for one in row])
    assert longest_under(quiet, 1.0) == (start, length)


def test_a_power_bank_that_would_switch_off_is_told() -> None:
    def bank(dark_s: float) -> dict[str, Any]:
        project = apply_edit(wall(current_a=0.01), "set-supply", {"supply": "power-bank"})
        project = apply_edit(project, "set-limit", {"limit_a": 0.4})
        project = apply_edit(project, "add-strip", {"pattern": "steady", "length_s": 2.0})
        faint = {"pattern": "steady", "level": 0.001, "start_s": 2.0, "length_s": dark_s}
        return stops(apply_edit(project, "add-strip", faint))

    assert "power-bank-quiet" not in bank(9.0)
    told = bank(12.0)["power-bank-quiet"]
    assert "From 2.0 s on, for 12 s," in told.text
    assert Motion().limit_a == 0


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
