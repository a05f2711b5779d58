"""Lights one pulse after another: what slow motion shows, and what a swung board draws."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from plates import plate

from outlined_glow.cli.main import run
from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion.instant import Pulses, instant_at, instant_levels, switched
from outlined_glow.core.motion.truth import real_levels
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.storage import save
from outlined_glow.core.workshop import Compiler, Work
from outlined_glow.core.workshop.moving_eye import pulses, swing, swing_facts

LARGE = ("set-shape", {"base": "rectangle", "width_mm": 70.0, "height_mm": 60.0})


def grid(method: str, rows: int = 3, columns: int = 4, **drive: Any) -> Project:
    where = {"array": "m", "x_mm": 8.0, "y_mm": 8.0, "pitch_x_mm": 6.0, "pitch_y_mm": 5.0, "emitter": "0805 red"}
    array = ("grid", {**where, "rows": rows, "columns": columns})
    return plate(LARGE, array, ("drive", {"method": method, "supply": "usb", "current_a": 0.001, **drive}))


def made(project: Project) -> Work:
    return Compiler().on_demand(project)


@given(st.floats(0, 1), st.floats(0.05, 1.0), st.floats(0, 0.999), st.floats(50, 500), st.floats(0, 9))
def test_the_mean_of_what_is_switched_is_the_level(level: float, part: float, begin: float, hz: float, start: float) -> None:
    one = Pulses(np.full((1, 1), hz), np.full((1, 1), begin), np.full((1, 1), part))
    times = start + (np.arange(4000) + 0.5) / 4000 / hz
    on = switched(np.full((4000, 1, 1), level), one, times)
    assert set(np.unique(on)) <= {0.0, 1.0}
    assert on.mean() == pytest.approx(level * part, abs=1e-3)
    steady = Pulses(np.zeros((1, 1)), np.zeros((1, 1)), np.ones((1, 1)))
    assert np.allclose(switched(np.full((9, 1, 1), level), steady, times[:9]), level)


def test_a_scan_lights_one_row_at_a_time_and_the_mean_is_a_row_of_all() -> None:
    work = made(grid("scan"))
    found = pulses(work)
    assert set(np.unique(found.hz)) == {200.0}
    assert sorted({round(one, 6) for one in found.begin.ravel().tolist()}) == [0, round(1 / 3, 6), round(2 / 3, 6)]
    times = (np.arange(600) + 0.5) / 600 / 200
    lit = instant_levels(work.design.drive, work.project.motion, work.lamps, found, times)[..., 0]
    rows = np.round(work.lamps.places[:, 1], 3)
    for frame in lit:
        assert len(set(rows[frame > 0].tolist())) <= 1, "never two rows together"
    assert lit.mean(axis=0) == pytest.approx(np.full(12, 1 / 3), abs=0.01)
    alone = pulses(made(grid("charlieplex", lit="one")))
    assert len(set(alone.begin.ravel().tolist())) == 12
    assert pulses(made(grid("each"))).slowest_hz == 0.0
    registers = pulses(made(grid("shift-register")))
    assert np.all(registers.part == 1.0)


def test_slow_motion_over_a_whole_turn_is_what_the_eye_sees() -> None:
    work = made(grid("shift-register"))
    found = pulses(work)
    motion = apply_edit(work.project, "set-pattern", {"pattern": "steady", "brightness": 0.4}).motion
    seen = instant_at(work.design.drive, motion, work.lamps, found, 0.0, 1 / 200)
    assert seen == pytest.approx(real_levels(work.design.drive, motion, work.lamps, [0.0])[0], abs=0.05)
    short = instant_at(work.design.drive, motion, work.lamps, found, 0.6 / 200, 0.01 / 200)
    assert not short.any(), "its pulse is over"


def test_what_is_swung_leaves_the_gaps_of_its_pulses() -> None:
    work = made(grid("scan", 1, 3))
    one = swing(work, 2.0, 0.0, 0.1)
    assert one.hz == 200.0
    assert one.gap_mm == pytest.approx(10.0)
    two = swing(work, 4.0, 90.0, 0.1)
    assert two.gap_mm == pytest.approx(20.0)
    assert two.picture.shape[0] > two.picture.shape[1], "it goes up"
    steady = swing(made(grid("each", 1, 3)), 2.0, 0.0, 0.1)
    assert steady.gap_mm is None
    facts = swing_facts(swing(made(grid("pins")), 3.0))
    assert facts["pitch_mm"] == pytest.approx(5.0)
    assert facts["column_s"] == pytest.approx(0.005 / 3.0, rel=1e-3)
    assert facts["needs_hz"] == pytest.approx(600.0, rel=1e-3)


def test_the_dashes_of_a_dimmed_light_are_as_long_as_its_pulse() -> None:
    lone = plate(
        LARGE, ("single", {"array": "one", "x_mm": 20.0, "y_mm": 20.0}), ("drive", {"method": "pins", "supply": "usb"})
    )
    for level in (0.25, 0.5):
        work = made(apply_edit(lone, "set-pattern", {"pattern": "steady", "brightness": level}))
        one = swing(work, 2.0, 0.0, 0.2)
        light = one.picture.max(axis=2).astype(float)
        line = light[np.argmax(light.sum(axis=1))]
        on = line > 0.6 * line.max()
        starts = np.flatnonzero(np.diff(on.astype(int)) == 1)
        assert np.diff(starts).mean() / one.px_per_mm == pytest.approx(10.0, abs=0.2)
        assert on[starts[0] : starts[-1]].mean() == pytest.approx(level, abs=0.12), "the light itself is some 1 mm wide"


def test_every_row_of_a_dim_scan_is_seen_however_long_it_is_swung() -> None:
    dim = apply_edit(grid("scan", 8, 2), "set-pattern", {"pattern": "steady", "brightness": 0.06})
    picture = swing(made(dim), 2.0, seconds=2.0).picture.max(axis=(1, 2)).astype(int)
    high = (picture[1:-1] > 120) & (picture[1:-1] >= picture[:-2]) & (picture[1:-1] > picture[2:])
    assert np.count_nonzero(high) == 8


def test_what_cannot_be_swung_is_told(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(Trouble, match="no LEDs"):
        swing(made(plate()), 2.0)
    with pytest.raises(Trouble, match="m/s"):
        swing(made(grid("scan")), 0.0)
    file, picture = tmp_path / "m.oglow", tmp_path / "m.png"
    save(grid("scan"), file)
    assert run(["swing", str(file), "-o", str(picture), "--speed", "1.5", "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["gap_mm"] == pytest.approx(7.5)
    with Image.open(picture) as image:
        assert image.width > image.height
    assert run(["swing", str(file), "--speed", "nan"]) == 2
    assert run(["swing", str(file), "--speed", "-1"]) == 2
    assert run(["swing", str(file)]) == 0
    assert "flashes are apart by" in capsys.readouterr().out
