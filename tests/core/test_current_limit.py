"""Frames kept under a current, and passages that are too quiet for a power bank."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from plates import ROW, plate

from outlined_glow.core.motion import levels
from outlined_glow.core.motion.checks.currents import longest_under
from outlined_glow.core.motion.currents import played
from outlined_glow.core.motion.lamps import Lamps, plain_lamps
from outlined_glow.core.motion.limit import kept_under
from outlined_glow.core.motion.score import wanted_levels
from outlined_glow.core.project import Motion, Project, apply_edit
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
