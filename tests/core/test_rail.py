"""The light that is left: against the run-time curve, by colour, and with what the copper takes."""

from __future__ import annotations

import numpy as np
import pytest
from plates import ROW, plate

from outlined_glow.core.drive.law import branch_current
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.workshop import Compiler, Work
from outlined_glow.core.workshop.drops import drops
from outlined_glow.core.workshop.rail import rail_of, rail_words


def coin() -> Work:
    return Compiler().on_demand(plate(ROW, ("set-supply", {"supply": "coin-2032"}), ("set-current", {"current_a": 0.001})))


@pytest.mark.parametrize("charge", [1.0, 0.7, 0.3, 0.0])
def test_alike_leds_follow_the_curve_of_the_run_time(charge: float) -> None:
    work = coin()
    run = work.plan.steady
    assert run is not None
    made = rail_of(work, charge, {})
    assert made.hours == pytest.approx((1 - charge) * run.hours)
    wanted = np.interp(made.hours or 0.0, run.curve_h, run.curve_light)
    assert made.mean == pytest.approx(wanted, abs=0.02)
    words = dict(rail_words(work, made))
    assert words["light of all LEDs"] == f"{100 * made.mean:.0f} %"
    assert "after" in words


def test_volts_that_an_led_loses_dim_it_as_the_law_says() -> None:
    work = coin()
    index = work.lamps.indices[2]
    branch = work.plan.branch_of(index)
    assert branch is not None
    made = rail_of(work, 1.0, {index: 0.1})
    now, full = (branch_current(made.supply_v - off, (branch.resistor_ohm or 0) + branch.ohm, branch.law) for off in (0.1, 0.0))
    assert made.shares[2, 0] / made.shares[0, 0] == pytest.approx(now / full, abs=0.02)
    assert made.worst == (index, pytest.approx(made.supply_v - 0.1))
    assert f"least volts: LED {index}" in dict(rail_words(work, made))


def pixels() -> Project:
    large = ("set-shape", {"base": "rectangle", "width_mm": 140.0, "height_mm": 30.0})
    line = (
        "line",
        {"array": "p", "x_mm": 22.0, "y_mm": 16.0, "count": 8, "pitch_mm": 14.0, "emitter": "pixel 5050 three colours"},
    )
    return plate(large, line, ("drive", {"method": "pixels", "supply": "usb", "current_a": 0.018}))


def test_pixels_turn_red_before_they_go_dark() -> None:
    work = Compiler().compile(pixels())
    far = work.lamps.indices[-1]
    red, _, blue = (work.lamps.light_names[-1].index(name) for name in ("red", "green", "blue"))
    made = rail_of(work, 1.0, {far: 2.2})
    assert made.hours is None, "USB does not run down"
    assert np.allclose(made.shares[0], 1.0)
    assert made.shares[-1, blue] < 0.5 < made.shares[-1, red]


def test_copper_of_a_wired_board_takes_more_from_what_is_farther() -> None:
    work = Compiler().compile(apply_edit(pixels(), "wire", {}))
    found = drops(work)
    assert set(found.lost) == set(work.lamps.indices)
    assert found.worst is not None
    assert found.worst[0] == max(found.lost, key=lambda one: found.lost[one])
    assert min(found.lost.values()) > 0
