"""What hardware makes of light: bits that fit a turn, frames of pixels, filaments that lag, the first second of counters."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from plates import ROW, plate

from outlined_glow.core.drive.method import REFRESH_HZ
from outlined_glow.core.drive.methods import method
from outlined_glow.core.drive.methods.lamps import FILAMENT_LAG_S
from outlined_glow.core.drive.methods.pixels import frame_s
from outlined_glow.core.drive.shown import Asked, held, lagging, most_bits
from outlined_glow.core.motion.checks.tables import table_findings
from outlined_glow.core.motion.frames import table_of
from outlined_glow.core.project import Drive, apply_edit
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.core.workshop.motion_facts import first_step_words, start_of_groups, table_words


def asked(times: np.ndarray[Any, Any], at: Any, count: int = 1) -> Asked:
    return Asked(times, at(times), np.zeros(count, np.intp), 1, np.arange(count), at)


@pytest.mark.parametrize("bits", range(1, 9))
def test_bit_planes_shorter_than_a_step_are_refused(bits: int) -> None:
    turn_s = 1 / REFRESH_HZ
    shortest = turn_s / (2**bits - 1)
    assert most_bits(turn_s, shortest * 0.999) >= bits
    assert most_bits(turn_s, shortest * 1.001) <= max(1, bits - 1)


def test_long_chains_and_large_scans_have_fewer_bits() -> None:
    drive = Drive()
    for key, few, many in (("shift-register", 16, 400), ("sink", 16, 2000), ("scan", 64, 1024), ("charlieplex", 6, 200)):
        assert method(key).bits(drive, few) > method(key).bits(drive, many) >= 1
    # 1,024 registers of a bit each at 4 MHz take 256 us; 15 of them fit into 1/200 s.
    assert method("shift-register").bits(drive, 1024) == 4
    assert method("pixels").bits(drive, 1024) == 8


def test_a_filament_follows_a_step_as_an_exponential() -> None:
    def step(times: np.ndarray[Any, Any]) -> np.ndarray[Any, Any]:
        # Smooth enough for the few moments of the past that are looked at.
        return (1 / (1 + np.exp(-(times - 1.0) / 0.02)))[:, None, None]

    times = np.array([0.5, 1.0 + FILAMENT_LAG_S, 1.0 + 3 * FILAMENT_LAG_S, 3.0])
    found = lagging(asked(times, step), FILAMENT_LAG_S)[:, 0, 0]
    assert found == pytest.approx([0.0, 1 - math.exp(-1), 1 - math.exp(-3), 1.0], abs=0.06)
    slow = lambda times: np.clip(times, 0, 9)[:, None, None] / 9  # noqa: E731
    assert lagging(asked(np.array([5.0]), slow), 0.08)[0, 0, 0] == pytest.approx((5.0 - 0.08) / 9, abs=1e-6)


def test_pixels_hold_a_frame_until_the_next_one_has_come() -> None:
    length = frame_s(24 * 1024)
    assert 1 / length == pytest.approx(32.26, abs=0.01)
    ramp = lambda times: np.broadcast_to(times[:, None, None] / 10, (len(times), 1, 1))  # noqa: E731
    times = np.linspace(0, 1, 400)
    found = held(asked(times, ramp), length)[:, 0, 0] * 10
    assert len(np.unique(found)) == 33
    assert (times - found).min() >= -1e-9
    assert (times - found).max() < length


def test_a_table_has_the_bits_of_the_drive_and_says_so() -> None:
    project = plate(ROW, ("set-pattern", {"pattern": "breathe"}), ("drive", {"method": "shift-register"}))
    work = Compiler().compile(project)
    table = table_of(work.design.drive, work.project.motion, work.lamps)
    assert table.levels.max() == 2**table.bits - 1
    size, frame, told = table_words(work)
    assert told.startswith(f"{table.bits} bits")
    assert "bytes" in size
    assert frame.startswith(f"{work.lamps.count}")


def test_the_first_second_of_what_no_program_lights() -> None:
    project = apply_edit(plate(ROW), "drive", {"method": "counter-chaser", "period_s": 1.0})
    work = Compiler().compile(project)
    first, then = (float(word.split()[0]) for word in first_step_words(work).split(", then "))
    pace: Any = work.plan.pace
    # The first high charges from nothing: ln 3 in the place of ln 2 (DOMAIN 8).
    assert first - then == pytest.approx((math.log(3) - math.log(2)) * (pace.r1_ohm + pace.r2_ohm) * pace.c_f, abs=0.011)
    moth = apply_edit(demo_project("moth"), "unwire", {})
    loose = Compiler().compile(apply_edit(moth, "drive", {"method": "ripple", "reset": "none"}))
    assert set(start_of_groups(loose)) == set(loose.lamps.groups)
    assert all(row[-1][1] == "unknown" for row in start_of_groups(loose).values())
    assert first_step_words(loose) == ""
    assert start_of_groups(Compiler().compile(plate(ROW))) == {}


def test_data_that_takes_longer_than_a_frame_is_told() -> None:
    large = ("set-shape", {"base": "rectangle", "width_mm": 220.0, "height_mm": 220.0})
    grid = ("grid", {"array": "p", "x_mm": 22.0, "y_mm": 15.0, "rows": 26, "columns": 26, "pitch_x_mm": 8.0, "pitch_y_mm": 8.0,
                     "emitter": "pixel 5050 three colours"})  # fmt: skip
    project = plate(large, grid, ("drive", {"method": "pixels", "supply": "adapter", "current_a": 0.005}),
                    ("set-pattern", {"pattern": "breathe"}))  # fmt: skip
    compiler = Compiler()
    work = compiler.compile(project)
    hz = 1 / frame_s(24 * 676)
    found = table_findings(work.project.motion, work.lamps, work.design.drive, work.plan)
    told = next(one for one in found if one.code == "frames-too-fast")
    assert told.measured == pytest.approx(hz, abs=0.01)
    steady = apply_edit(project, "set-pattern", {"pattern": "steady"})
    assert not table_findings(steady.motion, work.lamps, work.design.drive, work.plan)
