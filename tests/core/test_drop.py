"""Volts lost in copper, the ways of the currents that lose them, and the light that is left: by sums by hand, and on boards."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from plates import ROW, plate
from shapely.geometry import Point, box
from test_drive_ways import some

from outlined_glow.cli.main import run
from outlined_glow.core.drive import plan_drive
from outlined_glow.core.drive.carriers import turns_of
from outlined_glow.core.drive.law import branch_current
from outlined_glow.core.drive.net_currents import net_currents
from outlined_glow.core.parts import PlacedPad
from outlined_glow.core.parts.copper import rail_drops, track_current
from outlined_glow.core.project import Drive, Project, apply_edit
from outlined_glow.core.project.storage import save
from outlined_glow.core.wiring.copper import Track, Via
from outlined_glow.core.wiring.drop import SHEET_OHM, drop_of, rise_of
from outlined_glow.core.workshop import Compiler, Work
from outlined_glow.core.workshop.drops import colour_of, drop_facts, drop_picture, drop_words, drops
from outlined_glow.core.workshop.rail import rail_of, rail_words

#: Ohm of a square: resistance of copper over 35 um.
SQUARE = 1.72e-8 / 35e-6


def pad(ref: str, x: float, y: float, size: float = 0.2, side: str = "back", round_: bool = False) -> PlacedPad:
    shape = (
        Point(x, y).buffer(size / 2, quad_segs=64) if round_ else box(x - size / 2, y - size / 2, x + size / 2, y + size / 2)
    )
    return PlacedPad(ref, "1", x, y, size, size, 0.0, side, shape, round_)


def track(*points: tuple[float, float], width: float = 0.5, side: str = "back") -> Track:
    return Track("n", side, width, points)


def test_a_ladder_loses_what_the_sum_says() -> None:
    pads = [pad(f"P{at}", 10.0 * at, 0.0) for at in range(6)]
    taken = {(f"P{at}", "1"): 0.02 for at in range(1, 6)}
    found = drop_of(pads, [track((0.0, 0.0), (50.0, 0.0))], [], {}, taken, ("P0", "1"), 1.6, 18)
    segment = SQUARE * 10.0 / 0.5
    wanted = rail_drops(5, 0.02, segment / 1)
    for at, volts in enumerate(wanted, 1):
        assert found.pins[f"P{at}", "1"] == pytest.approx(volts, rel=0.01)
    assert found.hottest is not None
    assert found.hottest.current_a == pytest.approx(0.1, rel=1e-6)


def test_two_ways_share_and_a_joint_in_the_middle_of_a_track_counts() -> None:
    pads = [pad("A", 0, 0), pad("B", 20, 0), pad("C", 10, 8)]
    both = [track((0.0, 0.0), (20.0, 0.0)), track((0.0, 0.0), (0.0, -10.0), (20.0, -10.0), (20.0, 0.0))]
    one, other = SQUARE * 20 / 0.5, SQUARE * 40 / 0.5
    found = drop_of(pads, both, [], {}, {("B", "1"): 1.0}, ("A", "1"), 1.6, 18)
    assert found.pins["B", "1"] == pytest.approx(one * other / (one + other), rel=0.01)
    joint = [track((0.0, 0.0), (20.0, 0.0)), track((10.0, 8.0), (10.0, 0.0))]
    found = drop_of(pads, joint, [], {}, {("C", "1"): 1.0}, ("A", "1"), 1.6, 18)
    assert found.pins["C", "1"] == pytest.approx(SQUARE * (10 + 8) / 0.5, rel=0.02)
    assert found.pins["B", "1"] == pytest.approx(SQUARE * 10 / 0.5, rel=0.02)


@pytest.mark.parametrize(("tracks", "long_mm"), [
    ([track((0, 0), (20, 0)), track((10, 8), (10, -5))], 18),
    ([track((0, 0), (20, 0)), track((10, 8), (10, 0.4))], 17.6),
    ([track((0, 0), (20, 0)), track((0, 0), (20, 0), width=0.25), track((10, 0), (10, 8))], 18),
    ([track((0, 0), (9, 8.05), (20, 8.05), (20, 0))], math.hypot(9, 8.05) + 1),
], ids=["crossed", "ends beside", "twice on one another", "run over"])  # fmt: skip
def test_copper_that_touches_is_joined(tracks: list[Track], long_mm: float) -> None:
    """Tracks that cross, one that ends in the copper of another, two that lie on one another, one that runs over a pad."""
    pads = [pad("A", 0, 0), pad("B", 20, 0), pad("C", 10, 8)]
    found = drop_of(pads, tracks, [], {}, {("C", "1"): 1.0}, ("A", "1"), 1.6, 18)
    assert found.pins["C", "1"] == pytest.approx(SQUARE * long_mm / 0.5, rel=0.02)


def test_a_via_in_a_pad_and_a_track_in_a_pour_are_joined() -> None:
    pads = [pad("A", 0, 0, 1.0, "front"), pad("B", 10, 0)]
    via, barrel = Via("n", 0.2, 0.0, 0.3, 0.6), 1.72e-8 * 1.6e-3 / (math.pi * 0.3e-3 * 18e-6)
    found = drop_of(pads, [track((0.2, 0.0), (10.0, 0.0))], [via], {}, {("B", "1"): 1.0}, ("A", "1"), 1.6, 18)
    assert found.pins["B", "1"] == pytest.approx(SQUARE * 9.8 / 0.5 + barrel, rel=0.01)
    far = [pad("A", 0, 0), pad("B", 40, 0)]
    pour = {"back": box(5, -15, 35, 15)}
    found = drop_of(far, [track((0, 0), (40, 0))], [], pour, {("B", "1"): 1.0}, ("A", "1"), 1.6, 18)
    alone = SQUARE * 10 / 0.5
    assert alone < found.pins["B", "1"] < alone + 3 * SQUARE, "the pour is as wide as it is long, entered at a point"


def test_a_via_is_its_barrel() -> None:
    pads = [pad("A", 0, 0), pad("B", 10, 0, side="front")]
    via = Via("n", 5.0, 0.0, 0.3, 0.6)
    both = [track((0.0, 0.0), (5.0, 0.0)), track((5.0, 0.0), (10.0, 0.0), side="front")]
    found = drop_of(pads, both, [via], {}, {("B", "1"): 1.0}, ("A", "1"), 1.6, 18)
    barrel = 1.72e-8 * 1.6e-3 / (math.pi * 0.3e-3 * 18e-6)
    assert found.pins["B", "1"] == pytest.approx(SQUARE * 10 / 0.5 + barrel, rel=0.01)


def test_a_round_pour_loses_by_the_logarithm() -> None:
    inner, outer = 2.0, 20.0
    ring = [pad(f"R{at}", outer * math.cos(a), outer * math.sin(a), 0.6, round_=True)
            for at, a in enumerate(2 * math.pi * np.arange(64) / 64)]  # fmt: skip
    middle = pad("M", 0.0, 0.0, 2 * inner, round_=True)
    disc = Point(0, 0).buffer(outer + 0.05, quad_segs=64)
    taken = {(one.ref, "1"): 1.0 / 64 for one in ring}
    found = drop_of([middle, *ring], [], [], {"back": disc}, taken, ("M", "1"), 1.6, 18)
    halfway = [value for x, y, value in found.sheets["back"].tolist() if abs(math.hypot(x, y) - 10.0) < 0.1]
    assert np.mean(halfway) == pytest.approx(SQUARE / (2 * math.pi) * math.log(10.0 / inner), rel=0.02)
    assert pytest.approx(SQUARE) == SHEET_OHM


@pytest.mark.parametrize(("amps", "width"), [(0.1, 0.2), (1.0, 0.5), (3.0, 2.0)])
def test_the_rise_is_that_which_the_width_was_made_for(amps: float, width: float) -> None:
    assert track_current(width, rise_of(amps, width)) == pytest.approx(amps, rel=1e-6)


def test_the_moth_loses_little_and_says_where(wired_moth: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    work = Compiler().compile(wired_moth)
    found = drops(work)
    facts = drop_facts(work, found)
    assert facts["worst"]["supply_v"] < work.plan.supply_v
    assert facts["worst"]["supply_v"] > 0.99 * work.plan.supply_v
    # The whole current over the longest way in the narrowest track would lose more.
    long = sum(one.length for one in work.board.wires.tracks if one.net == "supply")
    assert found.nets["supply"].worst_v < work.plan.current_max_a * SQUARE * long / 0.15
    assert drop_words(work, found)["wider"].startswith("“supply” loses most: no track needs to be wider.")
    picture = tmp_path / "map.png"
    picture.write_bytes(drop_picture(work, found, "back"))
    with Image.open(picture) as image:
        assert image.size == tuple(round(side * 12) + 1 for side in work.board.size)
        assert len(image.getcolors(100_000)) > 20
    assert colour_of(0.0) != colour_of(0.5) != colour_of(1.0)
    save(wired_moth, tmp_path / "m.oglow")
    assert run(["drop", str(tmp_path / "m.oglow"), "--json", "-o", str(tmp_path / "x.png")]) == 0
    said = json.loads(capsys.readouterr().out)
    assert said == json.loads(json.dumps(facts))
    assert run(["drop", str(tmp_path / "m.oglow")]) == 0
    assert "has the least" in capsys.readouterr().out


def test_a_board_without_tracks_has_no_drop(moth: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    work = Compiler().compile(moth)
    assert drop_words(work, drops(work))["drop"] == "–"
    save(moth, tmp_path / "m.oglow")
    assert run(["drop", str(tmp_path / "m.oglow")]) == 2
    assert "no tracks yet" in capsys.readouterr().err


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


LARGE = ("set-shape", {"base": "rectangle", "width_mm": 90.0, "height_mm": 60.0})
GRID = {"array": "g", "x_mm": 22.0, "y_mm": 15.0, "rows": 3, "columns": 4, "pitch_x_mm": 10.0, "pitch_y_mm": 9.0}


def test_leds_of_a_line_of_a_charlieplex_are_lit_together_behind_their_resistors() -> None:
    leds, drive = some((12, "0805 red")), Drive(method="charlieplex", supply="usb", current_a=0.001)
    plan = plan_drive(drive, leds)
    turns = turns_of(plan, drive, leds)
    assert sorted(turns.values()) == sorted((1, line) for line in range(1, 5) for _ in range(3))
    alone = turns_of(plan, Drive(method="charlieplex", supply="usb", current_a=0.001, lit="one"), leds)
    assert len(set(alone.values())) == 12


def test_the_points_of_digits_that_a_chip_lights_are_dark() -> None:
    drive = Drive(method="decoder", supply="usb", current_a=0.002)
    plan = plan_drive(drive, some((2, "digit 14.2 common cathode red")))
    assert sorted(one.light.name for one in plan.branches) == list("abcdefg")
    assert plan.current_a == pytest.approx(14 * plan.branches[0].current_a)


def made(*edits: tuple[str, dict[str, Any]]) -> Work:
    project: Project = plate(LARGE, *edits, ("wire", {}))
    return Compiler().compile(project)


def test_a_row_of_a_scan_loses_what_its_pulses_do() -> None:
    work = made(("grid", GRID), ("drive", {"method": "scan", "supply": "usb", "current_a": 0.002}))
    found, branch = drops(work), work.plan.branches[0]
    row = next(net for net in work.plan.nets if net.name == "row 2")
    anodes = [pin for pin in row.pins if pin[0].startswith("D")]
    [source] = [pin for pin in row.pins if not pin[0].startswith("D")]
    assert (len(anodes), branch.duty) == (4, pytest.approx(1 / 3))
    pads = [pad for pad in work.board.pads if (pad.ref, pad.pin) in row.pins]
    tracks, vias = ([one for one in some if one.net == "row 2"] for some in (work.board.wires.tracks, work.board.wires.vias))
    pulse = dict.fromkeys(anodes, branch.current_max_a / branch.duty)
    alone = drop_of(pads, tracks, vias, {}, pulse, source, work.board.stack.thickness_mm, work.board.profile.barrel_um or 0)
    assert found.nets["row 2"].pins == pytest.approx(alone.pins, rel=5e-3, abs=1e-12)
    # The supply lets a little less flow than all of them could take. It flows for a third of the time.
    hot, pulsed = (one.hottest for one in (found.nets["row 2"], alone))
    assert hot is not None
    assert pulsed is not None
    assert hot.current_a == pytest.approx(pulsed.current_a / 3**0.5, rel=5e-3)
    assert work.values["net classes"]["row 2"].current_a == pytest.approx(4 * branch.current_max_a / branch.duty)
    assert work.values["net classes"]["column 1"].current_a == pytest.approx(branch.current_max_a / branch.duty)
    assert set(found.lost) == set(range(1, 13))
    assert found.worst is not None
    assert found.worst[1] == pytest.approx(work.plan.supply_v - max(found.lost.values()))


def test_data_lines_carry_nothing_and_a_colour_only_its_own() -> None:
    line = {"array": "p", "x_mm": 22.0, "y_mm": 15.0, "count": 4, "pitch_mm": 12.0}
    work = made(("line", {**line, "emitter": "pixel 5050 three colours"}), ("drive", {"method": "pixels", "supply": "usb"}))
    found = drops(work)
    assert not [name for name in found.nets if "data" in name]
    assert work.values["net classes"]["data 1"].current_a == 0
    assert max(found.lost, key=lambda index: found.lost[index]) in (1, 4)
    colours = made(
        ("line", {**line, "emitter": "three-colour 3528 common anode"}),
        ("drive", {"method": "each", "supply": "usb", "current_a": 0.004}),
    )
    mine = net_currents(colours.values["current ways"])
    blue = colours.plan.branch_of(1, "blue")
    assert blue is not None
    assert mine["D1 blue"].most_a == pytest.approx(blue.current_max_a)


def test_wires_of_a_lead_in_one_net_share_its_current() -> None:
    work = made(
        ("grid", GRID), ("set-supply", {"supply": "coin-2032"}), ("set-current", {"current_a": 0.001}),
        ("lead", {"part": "BT1", "length_mm": 500.0, "wire": "thread"}),
    )  # fmt: skip
    [one] = work.values["leads off the board"]
    nets = [strand.net for strand in one.strands]
    assert (len(nets), len(set(nets))) == (3, 2), "the clip has plus at both of its ends"
    ohm, amps = 15.0, work.plan.current_max_a
    assert one.drop_v == pytest.approx(1.5 * ohm * amps)
    bare = made(("grid", GRID), ("set-supply", {"supply": "coin-2032"}), ("set-current", {"current_a": 0.001}))
    without, with_lead = drops(bare), drops(work)
    for index, volts in without.lost.items():
        assert with_lead.lost[index] - volts == pytest.approx(1.5 * ohm * amps, rel=0.02)


def test_a_converter_takes_more_of_its_source_than_it_gives() -> None:
    cells = ("drive", {"supply": "aa-alkaline", "cells": 2, "regulator": "step-up", "rail_v": 5.0, "current_a": 0.002})
    work = made(("grid", GRID), cells)
    plan, found = work.plan, drops(work)
    given = next(net.name for net in plan.nets if any(ref.startswith("BT") for ref, _ in net.pins) and net.name != "ground")
    taken = sum(max(one.current_a for one in found.nets[name].pieces) for name in (given,))
    assert taken == pytest.approx(plan.current_max_a + plan.standing_a, rel=1e-3)
    assert max(one.current_a for one in found.nets["supply"].pieces) < taken / 1.5, "the rail has twice the volts"
