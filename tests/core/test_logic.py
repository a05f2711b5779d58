"""Logic families, resets and spare outputs; the heat of each part; back-up cells."""

from __future__ import annotations

from typing import Any

import pytest
from msgspec import structs
from plates import ROW, plate
from test_drive_ways import AMBER, joined, some

from outlined_glow.core.drive import METHODS, plan_drive
from outlined_glow.core.drive.devices import family
from outlined_glow.core.drive.planner import planned
from outlined_glow.core.project import Drive, Motion
from outlined_glow.core.workshop import Compiler, apply_text, apply_values
from outlined_glow.core.workshop.calculators import calculate
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.core.workshop.part_heat import hottest_words, part_heats


def codes(plan: Any) -> set[str]:
    return {one.code for one in plan.findings}


def values(plan: Any, kind: str) -> list[str]:
    return [plan.values[one.ref] for one in plan.wanted if one.part.kind == kind]


def test_the_family_follows_the_supply_unless_it_is_told() -> None:
    drive = Drive(method="ripple", current_a=0.0008)
    assert values(plan_drive(drive, AMBER), "chip") == ["4060 type, HC CMOS"]
    nine = structs.replace(drive, supply="adapter", volts=9.0)
    high = plan_drive(nine, AMBER)
    assert values(high, "chip") == ["4060 type, 4000-series CMOS"]
    assert high.branches[0].ohm >= family("4000").ohms(9.0), "its outputs stand in the way"
    told = plan_drive(structs.replace(nine, family="HC"), AMBER)
    [wrong] = [one for one in told.findings if one.code == "outside-supply-range"]
    remedy = wrong.remedies[0]
    assert (remedy.edit, dict(remedy.values)) == ("drive", {"family": "4000"})
    assert "outside-supply-range" not in codes(plan_drive(structs.replace(nine, **dict(remedy.values)), AMBER))
    low = plan_drive(structs.replace(drive, supply="aaa-alkaline", cells=1), AMBER)
    assert "outside-supply-range" in codes(low)


def test_a_family_that_hears_a_lower_high_needs_no_shifter() -> None:
    drive = Drive(method="shift-register", controller="32-bit 3.3 V module", current_a=0.003)
    plain, hct = plan_drive(drive, AMBER), plan_drive(structs.replace(drive, family="HCT"), AMBER)
    assert "level shifter" in values(plain, "chip")
    assert "level shifter" not in values(hct, "chip")
    assert "595 type, HCT CMOS" in values(hct, "chip")
    assert len(hct.wanted) < len(plain.wanted)


def test_outputs_that_light_nothing_come_out_to_pads() -> None:
    plan = plan_drive(Drive(method="shift-register", current_a=0.003, spare_pads=True, controller="8-bit 5 V, 20 pins"), AMBER)
    nets, _ = joined(plan, AMBER)
    pads = {plan.values[one.ref]: nets[one.ref, "1"] for one in plan.wanted if one.part.name == "one pad"}
    spare = [f"output {at}" for at in range(13, 17)]
    assert [pads[name] for name in spare] == spare, "two registers have sixteen outputs, twelve light"
    chips = {one.ref for one in plan.wanted if one.part.kind == "chip"}
    for name in spare:
        assert len([ref for (ref, _), net in nets.items() if net == name and ref in chips]) == 1


@pytest.mark.parametrize(("reset", "known"), [("network", True), ("by hand", False), ("none", False)])
def test_a_counter_that_nothing_holds_starts_anywhere(reset: str, known: bool) -> None:
    plan = plan_drive(Drive(method="ripple", current_a=0.0008, period_s=3.0, reset=reset), some((3, "0805 red"), groups="abc"))
    nets, _ = joined(plan, ())
    chip = next(one for one in plan.wanted if one.part.kind == "chip")
    pin = next(pin.number for pin in chip.part.pins if pin.name == "reset")
    assert (plan.first.reset is not None) == known
    if reset == "none":
        assert nets[chip.ref, pin] == "ground"
    else:
        others = {ref for (ref, _), net in nets.items() if net == nets[chip.ref, pin]} - {chip.ref}
        kinds = sorted(one.part.kind for one in plan.wanted if one.ref in others)
        assert kinds == (["capacitor", "resistor"] if known else ["resistor", "switch"])
    lights = [node for node in plan.first.nodes if node.net in "abc"]
    assert all((node.at(0.5) != "unknown") == known for node in lights)
    # Low after half of the fastest group's period at the latest, which is what is asked for.
    assert plan.first.dark_s == pytest.approx(0.010 if known else 0.010 + 1.5, rel=0.05)


def test_the_heat_of_the_parts_is_what_the_supply_gives() -> None:
    compiler = Compiler()
    moth = apply_values(demo_project("moth"), "drive", {"method": "each", "current_a": 0.005, "supply": "usb"}, (0, 0))
    work = compiler.compile(moth)
    plan = work.plan
    heats = part_heats(work)
    leds = sum(one.each_w * one.many for one in heats if one.title.startswith("LED"))
    resistors = sum(branch.current_a**2 * branch.resistor_ohm * len(branch.indices) for branch in plan.branches)
    beside = sum(one.each_w for one in heats if one.bears_w is None)
    own = plan.current_a**2 * plan.supply.ohm
    assert leds + resistors + beside + own == pytest.approx(5.0 * plan.current_a, rel=0.01), "all that it gives turns into heat"
    for one in heats:
        if one.title.startswith("resistor"):
            assert one.bears_w == 0.125 or one.bears_w > 0.05
            assert one.each_w == max(branch.power_w for branch in plan.branches if branch.title in one.title)
    words, every = hottest_words(work)
    assert words.endswith("%")
    assert len(every.splitlines()) == len([one for one in heats if one.each_w > 1e-6])
    rail = apply_text(moth, "drive", ["supply=adapter", "volts=9V", "regulator=fixed", "rail=5V"], compiler)
    made = compiler.compile(rail)
    [regulator] = [one for one in part_heats(made) if "regulator" in one.title]
    amps = made.plan.current_a
    assert regulator.each_w == pytest.approx((9 - 5) * amps + 9 * 0.005, rel=0.01)


@pytest.mark.parametrize(
    ("kind", "way"),
    [("0805 amber", {"method": "strings", "supply": "adapter", "volts_v": 12.0}), ("0805 red", {"method": "sink"}),
     ("pixel 5050 three colours", {"method": "pixels"}), ("filament lamp 3.5 V", {"method": "filament"})],
)  # fmt: skip
def test_whatever_drives_leds_all_that_they_take_is_heat(kind: str, way: dict[str, Any]) -> None:
    work = Compiler().compile(plate(("line", {**ROW[1], "emitter": kind}), ("drive", {"supply": "usb", **way})))
    plan = work.plan
    warm = sum(one.each_w * one.many for one in part_heats(work) if not one.title.startswith("resistor"))
    warm += sum(one.current_a**2 * (one.resistor_ohm or 0.0) * one.resistors for one in plan.branches)
    assert warm == pytest.approx(plan.supply_v * plan.current_a, rel=0.01)


def test_years_of_a_back_up_cell() -> None:
    charge, years = 0.22, 0.0
    while charge > 0:
        charge -= 2e-6 * 8766 / 1000 + 0.22 * 0.01 / 1000
        years += 0.001
    assert calculate("backup-cell", ["capacity_ah=0.22", "draw=2uA"])["years"] == pytest.approx(years, rel=0.002)


def test_lamps_that_are_not_all_lit_are_switched_by_a_program() -> None:
    lamps = some((4, "filament lamp 5 V"))
    drive = Drive(method="filament", lit="one", controller="8-bit 5 V, 20 pins")
    plan = plan_drive(drive, lamps)
    nets, parts = joined(plan, lamps)
    gates = {pin.drives for pin in plan.pins}
    switches = [one for one in plan.wanted if one.part.kind == "transistor"]
    assert len(gates) == len(switches) == 4
    for one in switches:
        names = {pin.name: nets[one.ref, pin.number] for pin in one.part.pins}
        assert names["gate"] in gates
        assert names["source"] == "ground"
        ends = {ref for (ref, _), net in nets.items() if net == names["drain"]} - {one.ref}
        assert [parts[ref].part.kind for ref in ends] == ["lamp"]
        held = {ref for (ref, _), net in nets.items() if net == names["gate"]}
        assert "resistor" in {parts[ref].part.kind for ref in held}, "it is open until the program runs"
    every = plan_drive(structs.replace(drive, lit="all"), lamps)
    assert not every.pins
    lit = plan.current_a
    assert lit == pytest.approx(every.current_a / 4, rel=0.02)
    five = some((5, "filament lamp 5 V"))
    assert "lamp-inrush" in codes(plan_drive(structs.replace(drive, lit="all"), five))
    assert "lamp-inrush" not in codes(plan_drive(drive, five)), "one cold lamp is no load"
    way, motion = METHODS["filament"], Motion(pattern="chase")
    assert way.can_show(drive, motion)
    assert not way.can_show(structs.replace(drive, lit="all"), motion)
    rows = {row.method: row for row in planned(drive, lamps)}
    assert rows["filament"].program
    none = plan_drive(structs.replace(drive, controller="none"), lamps)
    assert "needs-controller" in codes(none)
