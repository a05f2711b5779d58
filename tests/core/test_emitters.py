"""Parts that give light: their pins and lights, how each is driven, and how it lies on a board."""

from __future__ import annotations

import numpy as np
import pytest
from shapely import affinity

from outlined_glow.core.parts import emitter, emitters
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.workshop import Compiler, new_project
from outlined_glow.core.workshop.facts import balance_words

#: Body and height; for drilled parts how many pins in a row, how far the two rows are apart, and whether they stand; mm.
TABLE = {
    "0603": ((1.6, 0.8, 0.6), None), "2835": ((3.5, 2.8, 0.7), None), "3528": ((3.5, 2.8, 1.9), None),
    "side-on": ((3.8, 1.2, 0.6), None), "1206 reverse-mount": ((3.2, 1.6, 1.1), None),
    "pixel 5050 three colours": ((5.0, 5.0, 1.6), None), "pixel 2020 four colours": ((2.0, 2.0, 0.8), None),
    "digit 10.2 common anode": ((10.0, 13.0, 7.0), (5, 7.62, True)),
    "digit 14.2 common cathode": ((12.6, 19.0, 8.0), (5, 15.24, False)),
    "digit 20.3 common anode": ((20.0, 27.7, 10.5), (5, 22.86, False)),
    "four digits 14.2 common anode": ((50.3, 19.0, 8.0), (6, 15.24, False)),
    "bar of ten": ((25.3, 10.1, 8.0), (10, 7.62, False)),
    "dots 5 x 7 row anode": ((12.7, 17.8, 7.0), (6, 7.62, True)),
    "dots 8 x 8 row cathode": ((32.0, 32.0, 8.0), (8, 24.0, False)),
}  # fmt: skip


@pytest.mark.parametrize("package", TABLE)
def test_parts_are_as_their_table_says(package: str) -> None:
    """Bodies and pins in mm, pin 1 at the lower left or, in standing rows, at the upper left, numbered on round the part."""
    part = next(one.part for one in emitters().values() if one.package == package)
    body, pins = TABLE[package]
    assert (*part.body_mm, part.height_mm) == body
    if pins is None:
        return
    count, apart, standing = pins
    along = [2.54 * (at - (count - 1) / 2) for at in range(count)]
    places = [(x, -apart / 2) for x in along] + [(x, apart / 2) for x in reversed(along)]
    if standing:
        places = [(y, -x) for x, y in places]
    assert [pad.pin for pad in part.pads] == [str(number) for number in range(1, 2 * count + 1)]
    assert np.array([(pad.x_mm, pad.y_mm) for pad in part.pads]) == pytest.approx(np.array(places))
    assert [pad.shape for pad in part.pads] == ["box"] + ["round"] * (2 * count - 1)


def test_every_light_of_a_part_is_reached_by_its_pins() -> None:
    """One current flows from each anode to its cathode and lights one light; those of two commons are different parts."""
    for one in emitters().values():
        ways = [(light.anode, light.cathode) for light in one.lights]
        roles = {pin.number: pin.role for pin in one.part.pins}
        if one.part.fed_by == "current":
            assert len(set(ways)) == len(ways), one.name
            assert all(roles[a] in ("anode", "common") and roles[c] in ("cathode", "common") for a, c in ways), one.name
        half = np.array(one.part.body_mm) / 2
        assert all(np.all(np.abs(point) <= half) for light in one.lights for point in light.points), one.name
    anode, cathode = (emitter(f"digit 14.2 common {way} red") for way in ("anode", "cathode"))
    assert [(one.cathode, one.anode) for one in anode.lights] == [(one.anode, one.cathode) for one in cathode.lights]
    assert len(emitter("four digits 14.2 common anode red").lights) == 32
    assert len(emitter("dots 8 x 8 row anode red").lights) == 64


def test_every_emitter_lights_and_fits_its_part() -> None:
    """Each lies on the board by day and in the dark, its lamps bright by their lens and its leads through it."""
    lens = {"3 mm diffused": 4.818, "5 mm clear": 19.99}
    for name, exponent in lens.items():
        assert emitter(f"{name} red").lights[0].mcd == pytest.approx(250 * (exponent + 1) / 2, rel=1e-3)
    plate = b'<svg xmlns="http://www.w3.org/2000/svg" width="300mm" height="260mm"><rect width="300mm" height="260mm"/></svg>'
    project = apply_edit(new_project(plate, "plate.svg"), "set-appearance", {"colour": "000000", "appearance": "mask"})
    kinds = list({one.package: one for one in emitters().values()}.values())
    for at, one in enumerate(kinds):
        values = {"x_mm": 30.0 + 54 * (at % 5), "y_mm": 20.0 + 34 * (at // 5), "emitter": one.name, "facing": "alike"}
        project = apply_edit(project, "single", values)
    compiler = Compiler()
    work = compiler.compile(project)
    findings = compiler.findings(work)
    assert len(work.board.led_indices) == len(kinds) >= 25
    lit = {spot.index for spot in work.board.lights if spot.mcd > 0}
    assert lit == set(work.board.led_indices)
    drills = [hole for hole in work.board.holes if hole.plated]
    assert len(drills) == sum(bool(pad.drill_mm) for one in kinds for pad in one.part.pads)
    refused = {one.text.split("“")[1].split("”")[0] for one in findings if one.code == "led-not-lit"}
    assert refused == {one.name for one in kinds if one.shares_pins or one.part.fed_by != "current"}
    assert not {one.code for one in findings if one.places} & {"led-outside", "parts-overlap", "pads-too-near"}, findings
    resistors = [one for one in work.board.parts if one.ref.startswith("R")]
    for lead in (pad.polygon for one in work.board.parts if one.ref[0] in "DLV" for pad in one.pads() if pad.drill_mm):
        assert not any(affinity.scale(one.court(), 0.99, 0.99).intersects(lead) for one in resistors)


@pytest.mark.parametrize(("kind", "shared"), [("common anode", "supply"), ("common cathode", "ground")])
def test_a_digit_has_a_resistor_for_each_segment(sign: Project, kind: str, shared: str) -> None:
    """Eight resistors on the side that is not shared; both pins of the common are joined with the supply or with ground."""
    values = {"x_mm": 20.0, "y_mm": 15.0, "emitter": f"digit 10.2 {kind} red", "facing": "alike"}
    plan = Compiler().on_demand(apply_edit(sign, "single", values)).plan
    nets = {net.name: set(net.pins) for net in plan.nets}
    assert {("D1", "3"), ("D1", "8")} <= nets[shared]
    segments = ["e", "d", "c", "dp", "b", "a", "f", "g"]
    pins = ["1", "2", "4", "5", "6", "7", "9", "10"]
    other = "ground" if shared == "supply" else "supply"
    for segment, pin in zip(segments, pins, strict=True):
        [chip] = {ref for ref, _ in nets[f"D1 {segment}"]} - {"D1"}
        assert ("D1", pin) in nets[f"D1 {segment}"]
        assert any(ref == chip for ref, _ in nets[other])
    assert len(plan.values) == 9
    assert plan.led_currents[1] == pytest.approx(8 * plan.branches[0].current_a)


def test_three_colours_get_three_values(sign: Project) -> None:
    """A red chip needs another resistor than a blue one: 5 V less 2 V or 3 V, by the law of each."""
    values = {"x_mm": 20.0, "y_mm": 15.0, "emitter": "three-colour 3528 common anode"}
    work = Compiler().compile(apply_edit(sign, "single", values))
    red, green, blue = work.plan.branches
    assert [one.light.name for one in (red, green, blue)] == ["red", "green", "blue"]
    assert red.resistor_ohm > green.resistor_ohm > blue.resistor_ohm
    assert {one.ref for one in work.board.parts} == {"D1", "J1", "R1A", "R1B", "R1C"}
    assert {spot.colour for spot in work.board.lights} == {"FF3A1E", "2BE66A", "3A6BFF"}
    assert work.lamps.count == 1


def test_a_reverse_mount_led_brings_its_hole(sign: Project) -> None:
    values = {"x_mm": 20.0, "y_mm": 15.0, "emitter": "1206 reverse-mount, through a hole amber"}
    compiler = Compiler()
    for side, lit in (("usual", "front"), ("front", "back")):
        work = compiler.compile(apply_edit(sign, "single", {**values, "side": side}))
        [hole] = [one for one in work.board.holes if one.purpose == "D1"]
        assert (hole.diameter, hole.plated) == (2.0, False)
        assert {spot.side for spot in work.board.lights} == {lit}
        assert not {"no-window", "led-outside"} & {one.code for one in compiler.findings(work)}


def test_colours_are_balanced_by_their_current(sign: Project) -> None:
    """Amber, green and blue at 5 mA differ fourfold; balanced, the dimmest keeps its current and the others are as bright."""
    project = sign
    for at, colour in enumerate(("amber", "green", "blue")):
        project = apply_edit(project, "single", {"x_mm": 8.0 + 12 * at, "y_mm": 15.0, "emitter": f"0805 {colour}"})
    compiler = Compiler()
    before = compiler.compile(project)
    assert "times as bright" in balance_words(before)
    work = compiler.compile(apply_edit(project, "balance", {"balanced": True}))
    bright = {one.emitter.colour: one.light.mcd * one.current_a / one.light.forward_a for one in work.plan.branches}
    assert max(bright.values()) / min(bright.values()) < 1.08, "preferred values are a little apart"
    targets = {one.emitter.colour: one.target_a for one in work.plan.branches}
    assert targets["amber"] == 0.005, "220 mcd at 20 mA is the least"
    assert targets["green"] == pytest.approx(0.005 * 220 / 900)
    assert work.plan.current_a < before.plan.current_a
    assert "about equally bright" in balance_words(work)
    lumens = {spot.mcd for spot in work.board.lights}
    assert max(lumens) / min(lumens) < 1.08
