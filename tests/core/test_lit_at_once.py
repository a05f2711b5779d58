"""Circuits that light one after another, and what lights share: by the circuit as it is put together, solved net by net."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from plates import ROW, plate
from test_drive_ways import AMBER, joined, solved, some

from outlined_glow.core.drive import plan_drive
from outlined_glow.core.drive.devices import family, sinks
from outlined_glow.core.drive.heat import watts_of
from outlined_glow.core.drive.resistor import preferred
from outlined_glow.core.drive.supply.source import supply_findings
from outlined_glow.core.parts import emitters, supplies
from outlined_glow.core.project import Drive
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.connections import value_of
from outlined_glow.core.workshop.drive_facts import power

#: New cells: two AAA for a controller, a coin cell without one; volts behind ohms.
CELLS = {"shared": ("aaa-alkaline", 2, 3.16, 0.48), "counter-chaser": ("coin-2032", 1, 3.2, 12.0)}


def stops(plan: Any) -> list[str]:
    return [one.code for one in plan.findings if one.severity == "stop"]


@pytest.mark.parametrize("way", ["shared", "counter-chaser"])
def test_one_after_another_draws_the_current_of_one(way: str) -> None:
    leds = some((3, "0805 red"), (5, "0805 amber"), groups=[f"g{at}" for at in range(8)] if way != "shared" else "g")
    supply, cells, volts, inner = CELLS[way]
    drive = Drive(method=way, supply=supply, cells=cells, current_a=0.003, lit="one")
    plan = plan_drive(drive, leds)
    nets, _ = joined(plan, leds)
    ohm = family("HC").ohms(volts)
    outputs = [name for name in sorted(set(nets.values())) if name.startswith("output ") and "," in name]
    each = {}
    for index in range(1, 9):
        if way == "shared":
            held = {nets[f"D{index}", "2" if nets[f"D{index}", "1"] == "anodes" else "1"]: (0.0, 0.0)}
        else:
            held = {name: (plan.supply_v if at + 1 == index else 0.0, ohm) for at, name in enumerate(outputs)}
        found = solved(plan, leds, {"supply": (volts, inner), "ground": (0.0, 0.0), **held})
        each[index] = found[index]
        assert found[index] > 50 * sum(amps for other, amps in found.items() if other != index), "no other one is lit"
    for index, amps in each.items():
        assert plan.led_currents[index] == pytest.approx(amps, rel=0.03), index
    assert plan.lit_a == pytest.approx(max(each.values()), rel=0.05)
    assert plan.current_a == pytest.approx(sum(each.values()), rel=0.03)
    assert plan.supply_v == pytest.approx(volts - inner * plan.lit_a, abs=1e-3)
    assert not stops(plan), "a coin cell gives the current of one, not that of all"
    assert watts_of(plan) == pytest.approx(plan.supply_v * (plan.lit_a + plan.standing_a))
    run = plan.hours(plan.average)
    assert run is not None
    assert run.first_current_a == pytest.approx(plan.lit_a, rel=1e-3)
    assert run.curve_a[0] == pytest.approx(plan.lit_a + plan.standing_a, rel=1e-3), "one is lit all the time"


@pytest.mark.parametrize("way", ["each", "counter-chaser"])
def test_the_peak_is_no_less_than_the_average(way: str) -> None:
    work = Compiler().compile(plate(ROW, ("drive", {"method": way, "supply": "coin-2032", "current_a": 0.001})))
    told = power(work)
    assert told["peak_a"] == pytest.approx(told["average_a"], rel=1e-3), "one, or all, are lit all the time"
    assert told["peak_a"] == pytest.approx(work.plan.lit_a + work.plan.standing_a)


def test_what_the_leds_lit_at_once_draw_is_told_as_that() -> None:
    for share, words in ((0.1, "The LEDs lit at once draw 16 mA, "), (1.0, "All LEDs together draw 16 mA, ")):
        [over] = supply_findings(supplies()["coin-2032"], 0.016, 0.018, Drive(), share)
        assert over.text.startswith(words)


@pytest.mark.parametrize(
    ("way", "leds"), [("sink", some((3, "0805 red"), (2, "0805 green"))), ("scan", some((8, "0805 red"), (8, "0805 green")))]
)
def test_sinks_give_every_colour_the_same_current(way: str, leds: Any) -> None:
    plan = plan_drive(Drive(method=way, balanced=True, current_a=0.01), leds)
    [ohm] = {value_of(one.part, plan.values[one.ref])["value_ohm"] for one in plan.wanted if (one.ref, "1") in _set(plan)}
    set_a = next(iter(sinks().values())).set_v_ohm / ohm
    for branch in plan.branches:
        assert branch.peak_a == pytest.approx(set_a, rel=0.03)
    [told] = [one for one in plan.findings if one.code == "colours-not-balanced"]
    assert "0805 green LEDs are" in told.text or "0805 red LEDs are" in told.text
    each = plan_drive(Drive(balanced=True, current_a=0.01), leds)
    assert "colours-not-balanced" not in [one.code for one in each.findings]


@given(st.floats(0.0003, 0.05), st.sampled_from(["E6", "E24", "E96"]), st.sampled_from(["at-most", "nearest"]), st.booleans())
def test_what_sets_the_current_of_sinks_can_be_bought(wanted_a: float, series: Any, choose: Any, scanned: bool) -> None:
    """A resistor of the series, and the current that follows: no more than is wanted, dimmed where that is too little."""
    sink = next(iter(sinks().values()))
    way = {"method": "scan", "rows": 4} if scanned else {"method": "sink"}
    leds = some((8, "0805 red"), (8, "0805 green"))
    plan = plan_drive(Drive(**way, current_a=wanted_a / (4 if scanned else 1), series=series, choose=choose), leds)
    for ohm in {value_of(one.part, plan.values[one.ref])["value_ohm"] for one in plan.wanted if (one.ref, "1") in _set(plan)}:
        assert preferred(ohm, series, "nearest") == pytest.approx(ohm)
        for branch in plan.branches:
            assert branch.peak_a == pytest.approx(sink.set_v_ohm / ohm), "every colour"
            assert branch.peak_a >= sink.least_a * 0.999
            if not scanned and (choose == "at-most" or wanted_a < sink.least_a):
                assert branch.current_a <= wanted_a * 1.001
            if not scanned:
                assert branch.current_a >= wanted_a * (0.6 if series == "E6" else 0.9)


def test_counters_light_no_light_that_should_be_dark() -> None:
    """Outputs that are high one at a time, or all low while a counter is held: what they do to lights with a common pin."""
    anode, cathode = some((2, "three-colour 3528 common anode")), some((2, "three-colour 3528 common cathode"))
    refused = plan_drive(Drive(method="counter-chaser", current_a=0.001), anode)
    assert [one.code for one in refused.findings if one.severity == "stop"] == ["method-not-for-these"]
    mixed = plan_drive(Drive(method="ripple", current_a=0.001), some((1, anode[0].kind.name), (1, cathode[0].kind.name)))
    assert "method-not-for-these" in stops(mixed)
    for leds, begins in ((anode, "1"), (cathode, "0")):
        plan = plan_drive(Drive(method="ripple", current_a=0.001), leds)
        nets, _ = joined(plan, leds)
        stages = {name for name in nets.values() if name.startswith("stage ")}
        found = solved(plan, leds, {"supply": (5.0, 0.2), "ground": (0.0, 0.0), **dict.fromkeys(stages, (0.0, 50.0))})
        assert all((amps > 1e-4) is (begins == "1") for amps in found.values())
        [*_, node] = plan.first.nodes  # type: ignore[union-attr]
        assert [level for _, level in node.levels] == ["0", "1", "0"][: 3 if begins == "1" else 2]


def _set(plan: Any) -> set[tuple[str, str]]:
    return {pin for net in plan.nets if net.name.startswith("current set") for pin in net.pins}


@pytest.mark.parametrize(("way", "kind"), [("filament", "filament lamp 3.5"), ("tube", "digit tube"), ("each", "0805 red")])
def test_each_light_that_has_a_resistor_counts(way: str, kind: str) -> None:
    name = next(one for one in emitters() if kind in one)
    plan = plan_drive(Drive(method=way, supply="adapter", current_a=0.002), some((3, name)))
    [branch] = plan.branches
    assert branch.resistors == 3


def test_a_resistor_that_several_lights_share_warms_in_the_turn_of_each() -> None:
    """P = I²·R, times the share of the turns in which a current flows through it."""
    scan = plan_drive(Drive(method="scan", current_a=0.003, rows=3), AMBER)
    [branch] = scan.branches
    assert branch.resistors == 4
    assert branch.power_w == pytest.approx((branch.current_max_a / branch.duty) ** 2 * branch.resistor_ohm)
    pins = plan_drive(Drive(method="charlieplex", lit="one", current_a=0.0005), AMBER)
    [branch] = pins.branches
    nets, _ = joined(pins, AMBER)
    turns = max(sum(net == line for pin, net in nets.items() if pin[0].startswith("D")) for line in set(nets.values()))
    assert branch.resistors == 4
    assert branch.power_w == pytest.approx((branch.current_max_a / branch.duty) ** 2 * branch.resistor_ohm / 2 * turns / 12)
