"""The ways of currents: by the laws of nets and parts alone, turn by turn; and what a board loses by them."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

import pytest
from hypothesis import given, settings
from plates import plate
from test_any_drive import _LEDS, drives
from test_drive_ways import joined, some

from outlined_glow.core.drive import plan_drive
from outlined_glow.core.drive.carriers import turns_of
from outlined_glow.core.drive.current_ways import current_ways
from outlined_glow.core.drive.net_currents import net_currents
from outlined_glow.core.errors import Trouble
from outlined_glow.core.project import Drive, Project
from outlined_glow.core.wiring.drop import drop_of
from outlined_glow.core.workshop import Compiler, Work
from outlined_glow.core.workshop.drops import drops

#: What a pin of these roles takes is no current.
_NONE = {"data in", "data out", "clock", "reset", "enable", "sense", "not connected"}
LARGE = ("set-shape", {"base": "rectangle", "width_mm": 90.0, "height_mm": 60.0})
GRID = {"array": "g", "x_mm": 22.0, "y_mm": 15.0, "rows": 3, "columns": 4, "pitch_x_mm": 10.0, "pitch_y_mm": 9.0}


@settings(max_examples=120, deadline=None)
@given(drive=drives(), kinds=_LEDS)
def test_what_flows_into_a_part_flows_out_of_it(drive: Drive, kinds: list[tuple[int, str]]) -> None:
    leds = some(*kinds, groups=("a", "b"))
    try:
        plan = plan_drive(drive, leds)
    except Trouble:
        return
    nets, parts = joined(plan, leds)
    ways = current_ways(plan, drive, leds)
    lit = {(index, one.light.name) for one in plan.branches for index in one.indices if one.current_max_a > 0}
    assert {one.light for one in ways if one.light is not None} == lit
    takes: dict[tuple[int, int], dict[tuple[str, str], float]] = defaultdict(lambda: defaultdict(float))
    for way in ways:
        for hops, amps in ((way.fed, way.current_a), (way.back, -way.current_a)):
            assert hops
            assert parts[hops[-1].near[0]].part.kind == "holder"
            for hop in hops:
                assert nets[hop.near] == nets[hop.far]
                takes[way.turn][hop.far] += amps
                takes[way.turn][hop.near] -= amps
    for pins in takes.values():
        of_part: dict[str, float] = defaultdict(float)
        for (ref, number), amps in pins.items():
            of_part[ref] += amps
            carries = abs(amps) > 1e-12
            assert not carries or parts[ref].part.pin(number).role not in _NONE, (ref, number)
            assert not carries or parts[ref].part.kind != "capacitor"
        assert of_part == pytest.approx(dict.fromkeys(of_part, 0.0), abs=1e-12)


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
