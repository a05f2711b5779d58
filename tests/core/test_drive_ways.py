"""Ways to drive LEDs: what their circuits do by a solver and a logic of the tests' own, and the verdicts of the planner."""

from __future__ import annotations

import itertools
import math
from collections import namedtuple
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec import structs
from scipy.optimize import brentq, root
from shapely.geometry import Point, box

from outlined_glow.core.board.legend import supply_signs
from outlined_glow.core.drive import METHODS, plan_drive
from outlined_glow.core.drive.devices import controllers, family
from outlined_glow.core.drive.dimming import dimming_table
from outlined_glow.core.drive.heat import board_rise_k, heat_findings, watts_of
from outlined_glow.core.drive.keys import TITLES
from outlined_glow.core.drive.law import LedLaw
from outlined_glow.core.drive.limits import LIMITS
from outlined_glow.core.drive.placement import led_parts
from outlined_glow.core.drive.planner import row_of
from outlined_glow.core.drive.supply.supply_parts import missing_findings
from outlined_glow.core.drive.timing import (
    Astable,
    best_astable,
    best_oscillator,
    leaks,
    oscillator_hz,
    search_astable,
    spread_of,
)
from outlined_glow.core.errors import Trouble
from outlined_glow.core.lights import Led
from outlined_glow.core.parts import PlacedPart, emitters
from outlined_glow.core.project import Drive, Driven, SecondSource
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.connections import value_of
from outlined_glow.core.workshop.demos import demo_project


def some(*kinds: tuple[int, str], groups: Iterable[str] = ("g",)) -> tuple[Led, ...]:
    """So many LEDs of each kind, in groups that take turns."""
    every = [name for count, name in kinds for _ in range(count)]
    names = itertools.cycle(groups)
    return tuple(
        Led(at + 1, 3.0 * at, 0.0, 0.0, "front", emitters()[name], next(names), "a", at + 1) for at, name in enumerate(every)
    )


AMBER = some((12, "0805 amber"))


def joined(plan: Any, leds: tuple[Led, ...]) -> tuple[dict[tuple[str, str], str], dict[str, Any]]:
    """The net of every pin, and every part by its reference."""
    nets = {pin: net.name for net in plan.nets for pin in net.pins}
    return nets, {one.ref: one for one in (*led_parts(leds), *plan.wanted)}


def law(light: Any, amps: float) -> float:
    """The LED law, written down again."""
    return float(light.forward_v[1] + 2 * 0.025852 * math.log(amps / light.forward_a) + 10 * (amps - light.forward_a))


def flows(light: Any, volts: float) -> float:
    """What an LED takes at a voltage."""
    if volts < law(light, 1e-9):
        return 0.0
    return float(brentq(lambda amps: law(light, amps) - volts, 1e-10, 5.0, xtol=1e-14))


def solved(plan: Any, leds: tuple[Led, ...], held: Mapping[str, tuple[float, float]]) -> dict[int, float]:
    """The current of each LED by nodal analysis of the connection list alone: nets that are `held` at (V, behind ohm)."""
    nets, parts = joined(plan, leds)
    names = sorted(set(nets.values()))
    at = {name: place for place, name in enumerate(names)}
    resistors = [
        (at[nets[ref, "1"]], at[nets[ref, "2"]], value_of(one.part, plan.values[ref])["value_ohm"])
        for ref, one in parts.items()
        if one.part.kind == "resistor" and (ref, "1") in nets
    ]
    lamps = [
        (led.index, at[nets[part.ref, light.anode]], at[nets[part.ref, light.cathode]], light)
        for led, part in zip(leds, led_parts(leds), strict=True)
        for light in led.kind.lights
    ]

    def balance(volts: np.ndarray) -> np.ndarray:
        out = np.zeros(len(names))
        for one, other, ohm in resistors:
            amps = (volts[one] - volts[other]) / ohm
            out[one] -= amps
            out[other] += amps
        for _, one, other, light in lamps:
            amps = flows(light, float(volts[one] - volts[other]))
            out[one] -= amps
            out[other] += amps
        for name, (level, ohm) in held.items():
            out[at[name]] += (level - volts[at[name]]) / max(ohm, 1e-6)
        # What hangs free is let drift to the middle.
        return out + 1e-12 * (1.0 - volts)

    start = np.full(len(names), 1.2)
    for name, (level, _) in held.items():
        start[at[name]] = level
    found = root(balance, start, method="lm", options={"xtol": 1e-14, "ftol": 1e-14, "maxiter": 20_000})
    return {index: flows(light, float(found.x[one] - found.x[other])) for index, one, other, light in lamps}


def test_the_table_of_ways_is_that_of_the_methods() -> None:
    assert (
        [(one.key, one.title) for one in METHODS.values()] == list(TITLES) == [(key, METHODS[key].title) for key, _ in TITLES]
    )


def test_resistors_each_and_strings_by_nodal_analysis() -> None:
    leds = some((3, "0805 amber"), (2, "0805 green"))
    for drive, supply in ((Drive(), (5.0, 0.2)), (Drive(supply="aa-alkaline", cells=4), (4 * 1.58, 4 * 0.15))):
        for way in ("each", "strings"):
            if way == "strings" and drive.supply == "usb":
                continue
            plan = plan_drive(structs.replace(drive, method=way, current_a=0.004), leds)
            found = solved(plan, leds, {"supply": supply, "ground": (0.0, 0.0)})
            for index, amps in found.items():
                assert plan.led_currents[index] == pytest.approx(amps, rel=2e-3), (way, index)


def test_a_ripple_counter_by_nodal_analysis_and_halving() -> None:
    leds = some((6, "0805 amber"), groups=("a", "b", "c"))
    drive = Drive(method="ripple", supply="aaa-alkaline", cells=2, current_a=0.001)
    plan = plan_drive(drive, leds)
    assert not [one for one in plan.findings if one.severity == "stop"]
    nets, parts = joined(plan, leds)
    stages = {nets[ref, pin.number]: int(pin.name[1:]) for ref, one in parts.items() if one.part.name.startswith("ripple")
              for pin in one.part.pins if pin.name.startswith("Q") and (ref, pin.number) in nets}  # fmt: skip
    assert sorted(stages.values()) == [5, 6, 7], "three stages that follow one another"
    for count in range(0, 256, 16):
        level = {net: count >> (stage - 1) & 1 for net, stage in stages.items()}
        ohm = family("HC").ohms(plan.supply_v)
        held = {net: (plan.supply_v * high, ohm) for net, high in level.items()}
        found = solved(plan, leds, {"supply": (plan.supply_v, 0.0), "ground": (0.0, 0.0), **held})
        for led in leds:
            lit = not level[next(net for net in stages if net.endswith(f", {led.group}"))]
            assert (found[led.index] > 1e-5) == lit
            if lit:
                assert found[led.index] == pytest.approx(plan.led_currents[led.index], rel=5e-3)
    assert plan.average == 0.5
    assert plan.hours(1.0).ended_by in ("light", "circuit")


def test_shift_registers_light_what_is_shifted_in() -> None:
    leds = some((19, "0805 amber"))
    plan = plan_drive(Drive(method="shift-register", current_a=0.003), leds)
    nets, parts = joined(plan, leds)
    registers = [one for one in parts.values() if one.part.name.startswith("shift register")]
    assert len(registers) == 3
    lines = {one.drives.rsplit(" ", 1)[-1]: one for one in plan.pins}
    assert set(lines) == {"data", "clock", "enable"} | {one.drives.rsplit(" ", 1)[-1] for one in plan.pins}
    wanted = [index % 3 == 0 for index in range(24)]
    follows = {nets[one.ref, _pin(one, "data in")]: one for one in registers}
    chain = [follows["registers data"]]
    while (after := nets.get((chain[-1].ref, _pin(chain[-1], "data out")))) in follows:
        chain.append(follows[after])
    held = [[False] * 8 for _ in chain]
    for bit in reversed(wanted):
        for at in range(len(chain) - 1, -1, -1):
            into = bit if at == 0 else held[at - 1][7]
            held[at] = [into, *held[at][:7]]
    level = {
        nets[one.ref, _pin(one, f"Q{at}")]: high
        for one, bits in zip(chain, held, strict=True)
        for at, high in enumerate(bits)
        if (one.ref, _pin(one, f"Q{at}")) in nets
    }
    ohm = family("HC").ohms(plan.supply_v)
    found = solved(plan, leds, {"ground": (0.0, 0.0), "supply": (plan.supply_v, 0.0),
                                **{net: (plan.supply_v * high, ohm) for net, high in level.items()}})  # fmt: skip
    for led in leds:
        assert (found[led.index] > 1e-5) == wanted[led.index - 1]
        if wanted[led.index - 1]:
            assert found[led.index] == pytest.approx(plan.led_currents[led.index], rel=2e-3)


def _pin(one: Any, name: str) -> str:
    return next(pin.number for pin in one.part.pins if pin.name == name)


def test_a_scan_lights_one_row_and_its_columns() -> None:
    leds = some((20, "0805 amber"))
    plan = plan_drive(Drive(method="scan", current_a=0.002), leds, {"a": (4, 5)})
    nets, _ = joined(plan, leds)
    parts = dict(zip((led.index for led in leds), led_parts(leds), strict=True))
    places = {index: (nets[part.ref, "2"], nets[part.ref, "1"]) for index, part in parts.items()}
    assert len(set(places.values())) == 20, "each has a place of its own"
    assert len({row for row, _ in places.values()}) == 4
    pins = [name for name in set(nets.values()) if name.endswith(" pin") and name.startswith("column")]
    held = {"row 2": (plan.supply_v, 0.15), **dict.fromkeys(pins, (0.0, 0.0))}
    held |= {f"row {row}": (0.0, 1e9) for row in (1, 3, 4)} | {"ground": (0.0, 0.0), "supply": (plan.supply_v, 0.0)}
    found = solved(plan, leds, held)
    for index, (row, _) in places.items():
        if row == "row 2":
            # The switch of the row carries all five columns; the sum takes it for each by itself.
            assert found[index] == pytest.approx(plan.branch_of(index).peak_a, rel=0.01)
        else:
            assert found[index] < 1e-4
    assert plan.branch_of(1).duty == 0.25
    assert plan.refresh_hz >= 100
    tall = plan_drive(Drive(method="scan", current_a=0.002), leds, {"a": (10, 2)})
    assert tall.branch_of(1).duty == 0.5, "the shorter side takes turns"


def test_charlieplexing_has_each_pair_once_and_one_light_at_a_time() -> None:
    leds = some((20, "0805 amber"))
    plan = plan_drive(Drive(method="charlieplex", lit="one", current_a=0.0005), leds)
    nets, _ = joined(plan, leds)
    pairs = [(nets[part.ref, "2"], nets[part.ref, "1"]) for part in led_parts(leds)]
    assert len(set(pairs)) == 20
    assert len({line for pair in pairs for line in pair}) == 5
    drives = {one.drives for one in plan.pins}
    assert drives == {f"line {at} pin" for at in range(1, 6)}
    held = {"line 1 pin": (plan.supply_v, 0.0), "line 2 pin": (0.0, 0.0)}
    found = solved(plan, leds, held)
    bright = max(found, key=lambda index: found[index])
    assert pairs[bright - 1] == ("line 1", "line 2")
    assert found[bright] == pytest.approx(plan.branch_of(bright).peak_a, rel=2e-3)
    assert all(amps < 0.01 * found[bright] for index, amps in found.items() if index != bright)


def test_a_chain_of_pixels_goes_from_one_to_the_next() -> None:
    leds = some((5, "pixel 5050 four colours"))
    plan = plan_drive(Drive(method="pixels", current_a=0.012), leds)
    nets, parts = joined(plan, leds)
    order = led_parts(leds)
    assert parts["U1"].part.kind == "controller"
    for one, after in itertools.pairwise(order):
        assert nets[one.ref, _pin(one, "data out")] == nets[after.ref, _pin(after, "data in")]
    assert plan.standing_a >= 5 * 0.0007
    assert plan.current_a == pytest.approx(5 * 4 * 0.012, rel=1e-6)
    assert sum(one.part.kind == "capacitor" for one in plan.wanted) >= 6
    for second, pale in ((None, False), (SecondSource("lipo"), True)):
        fed = plan_drive(Drive(method="pixels", current_a=0.012, second=second), leds)
        assert ("pixels-pale" in {one.code for one in fed.findings}) is pale
    weak = plan_drive(Drive(method="pixels", supply="coin-2032", cells=1), leds)
    assert "outside-supply-range" in {one.code for one in weak.findings}


METHOD_KEYS = tuple(METHODS)


@given(
    st.sampled_from(METHOD_KEYS), st.integers(1, 24),
    st.sampled_from(["0805 amber", "0805 green", "three-colour 3528 common anode"]),
    st.sampled_from(["usb", "aaa-alkaline", "lipo", "coin-2032"]), st.sampled_from(["all", "one"]), st.floats(1e-4, 0.015),
)  # fmt: skip
def test_every_net_list_holds_together(way: str, count: int, kind: str, supply: str, lit: str, amps: float) -> None:
    leds = some((count, kind), groups=("a", "b", "c"))
    plan = plan_drive(Drive(method=way, supply=supply, cells=2, lit=lit, current_a=amps), leds)
    every = [pin for net in plan.nets for pin in net.pins]
    assert len(every) == len(set(every)), "no pin is in two nets"
    nets, parts = joined(plan, leds)
    numbers = {(ref, pin.number) for ref, one in parts.items() for pin in one.part.pins}
    assert set(every) <= numbers
    assert len(parts) == len(leds) + len(plan.wanted), "no reference twice"
    stops = [one for one in plan.findings if one.severity == "stop"]
    for led, part in zip(leds, led_parts(leds), strict=True):
        for light in led.kind.lights:
            ends = nets.get((part.ref, light.anode)), nets.get((part.ref, light.cathode))
            assert stops or (None not in ends and ends[0] != ends[1]), "each light lies between two nets"
            assert ends[0] != "ground"
            assert ends[1] != "supply"
    assert all(one.resistor_ohm is None or one.resistor_ohm >= 0 for one in plan.branches)
    row = row_of(Drive(method=way, supply=supply, cells=2, lit=lit, current_a=amps), leds)
    assert (row.verdict.word == "refused") == bool(stops)
    assert not stops or row.verdict.reason
    if not stops:
        for branch in plan.branches:
            peak = branch.current_max_a / branch.duty
            assert peak <= branch.light.continuous_a * min(branch.duty**-0.477, 3.0) * 1.001


def told(**values: Any) -> dict[str, Any]:
    """What is told of a drive."""
    return values


#: Hand-made: way, supply and what else is told, LEDs, grid; the verdict and the limit that it must name.
CASES: tuple[tuple[dict[str, Any], tuple[Led, ...], str, str], ...] = (
    (told(method="each"), AMBER, "works", ""),
    (told(method="each", supply="aaa-alkaline", cells=1), AMBER, "refused", "headroom"),
    (told(method="each", supply="coin-2032", current_a=0.002), some((4, "0805 blue")), "works, with a caution", "headroom"),
    (told(method="each", current_a=0.01), some((80, "0805 amber")), "refused", "supply-current"),
    (told(method="each"), some((2, "pixel 5050 three colours")), "refused", ""),
    (told(method="shared"), AMBER, "refused", ""),
    (told(method="shared", lit="one"), AMBER, "works", ""),
    (told(method="shared", lit="one", controller="none"), AMBER, "refused", "program"),
    (told(method="shared", lit="one"), some((30, "0805 amber")), "refused", "pins"),
    (told(method="strings"), AMBER, "works", ""),
    (told(method="strings"), some((4, "0805 blue")), "refused", "headroom"),
    (told(method="strings", supply="adapter", volts=12.0), some((9, "0805 blue")), "works", ""),
    (told(method="strings", supply="coin-2032"), AMBER, "refused", "headroom"),
    (told(method="scan", current_a=0.003), some((16, "0805 red")), "works", ""),
    (told(method="scan", current_a=0.02), some((64, "0805 red")), "refused", "pulse"),
    (told(method="scan", rows=12, current_a=0.01), some((48, "0805 red")), "refused", "pulse"),
    (told(method="scan", controller="none"), AMBER, "refused", "program"),
    (told(method="scan", controller="small 8-pin"), some((400, "0603 amber")), "refused", "pins"),
    (told(method="scan", supply="coin-2032", controller="8-bit 5 V, 20 pins"), AMBER, "refused", "supply-range"),
    (told(method="charlieplex", lit="one", current_a=0.001), AMBER, "works", ""),
    (told(method="charlieplex", current_a=0.005), some((20, "0805 amber")), "refused", "pin-current"),
    (told(method="charlieplex", lit="one", current_a=0.0005), some((6, "0805 red"), (6, "0805 blue")), "refused", "ghost"),
    (told(method="charlieplex", lit="one", supply="bench", volts=5.0, current_a=0.002),
     some((3, "0805 red"), (3, "0805 amber")), "works", ""),
    (told(method="charlieplex", lit="one", current_a=0.005), some((40, "0805 amber")), "refused", "pulse"),
    (told(method="shift-register", current_a=0.003), AMBER, "works", ""),
    (told(method="shift-register", current_a=0.01), AMBER, "refused", "pin-current"),
    (told(method="shift-register", supply="adapter", volts=9.0), AMBER, "refused", "supply-range"),
    (told(method="shift-register", controller="none"), AMBER, "refused", "program"),
    (told(method="sink", current_a=0.01), AMBER, "works", ""),
    (told(method="sink", supply="aaa-alkaline", cells=1), AMBER, "refused", "supply-range"),
    (told(method="sink", supply="adapter", volts=12.0), AMBER, "refused", "supply-range"),
    (told(method="pixels"), AMBER, "refused", ""),
    (told(method="pixels", current_a=0.012), some((6, "pixel 2020 four colours")), "works", ""),
    (told(method="pixels", supply="aaa-alkaline", cells=2), some((6, "pixel 2020 four colours")), "refused", "supply-range"),
    (told(method="pixels", supply="lipo"), some((6, "pixel 2020 four colours")), "works, with a caution", ""),
    (told(method="pixels", current_a=0.012), some((20, "pixel 5050 three colours")), "refused", "supply-current"),
    (told(method="counter-chaser", current_a=0.003), some((10, "0805 amber")), "works", ""),
    (told(method="counter-chaser", current_a=0.01), some((10, "0805 amber")), "refused", "pin-current"),
    (told(method="counter-chaser", supply="aaa-alkaline", cells=1), some((5, "0805 amber")), "refused", "supply-range"),
    (told(method="counter-chaser"), some((24, "0805 amber"), groups="abcdefghijkl"), "refused", "pins"),
    (told(method="ripple", current_a=0.001, supply="aaa-alkaline"), some((20, "0805 amber"), groups="abcde"), "works", ""),
    (told(method="ripple", current_a=0.005), some((20, "0805 amber"), groups="abcde"), "refused", "pin-current"),
    (told(method="ripple", supply="adapter", volts=9.0, family="HC"), AMBER, "refused", "supply-range"),
    (told(method="ripple", supply="adapter", volts=9.0), AMBER, "refused", "pin-current"),
    (told(method="ripple", supply="adapter", volts=18.0), AMBER, "refused", "supply-range"),
    (told(method="ripple"), some((22, "0805 amber"), groups="abcdefghijk"), "refused", "pins"),
    (told(method="pins", current_a=0.008), AMBER, "works", ""),
    (told(method="pins", current_a=0.018), some((16, "0805 amber")), "refused", "package-current"),
    (told(method="pins"), some((25, "0805 amber")), "refused", "pins"),
    (told(method="pins", controller="small 8-pin"), some((6, "0805 amber")), "refused", "pins"),
    (told(method="pins", controller="none"), AMBER, "refused", "program"),
    (told(method="decade-digits", current_a=0.003), some((2, "digit 14.2 common cathode red")), "works", ""),
    (told(method="decade-digits"), some((2, "digit 14.2 common anode red")), "refused", ""),
    (told(method="decade-digits"), AMBER, "refused", ""),
    (told(method="decade-digits", supply="aaa-alkaline", cells=1), some((1, "digit 14.2 common cathode red")), "refused",
     "supply-range"),
    (told(method="decoder", current_a=0.003), some((3, "digit 10.2 common cathode red")), "works", ""),
    (told(method="decoder", current_a=0.01), some((3, "digit 10.2 common cathode red")), "refused", "pin-current"),
    (told(method="decoder", controller="small 8-pin"), some((3, "digit 10.2 common cathode red")), "refused", "pins"),
    (told(method="filament"), some((2, "filament lamp 5 V")), "works", ""),
    (told(method="filament"), some((5, "filament lamp 5 V")), "works, with a caution", "supply-current"),
    (told(method="filament", supply="coin-2032"), some((4, "filament lamp 5 V")), "refused", "headroom"),
    (told(method="filament"), some((30, "filament lamp 5 V")), "refused", "supply-current"),
    (told(method="filament"), AMBER, "refused", ""),
    (told(method="filament", supply="aaa-alkaline", cells=1), some((2, "filament lamp 3.5 V")), "refused", "headroom"),
    (told(method="tube"), some((3, "digit tube on its socket")), "works", ""),
    (told(method="tube", supply="adapter", volts=9.0), some((1, "digit tube on its socket")), "refused", "supply-range"),
    (told(method="tube", controller="none"), some((1, "digit tube on its socket")), "refused", "program"),
    (told(method="each"), some((1, "digit tube on its socket")), "refused", ""),
    (told(method="pins", current_a=0.015, controller="32-bit 3.3 V module"), some((5, "0805 amber")), "refused", "pin-current"),
    (told(method="scan", current_a=0.011, rows=3, controller="small 8-pin"), some((6, "0805 amber")), "refused", "pins"),
    (told(method="scan", current_a=0.011, rows=3), some((6, "0805 amber")), "works", ""),
)  # fmt: skip


@pytest.mark.parametrize("case", CASES, ids=lambda case: ", ".join(f"{value}" for value in case[0].values()))
def test_the_planner_judges(case: tuple[dict[str, Any], tuple[Led, ...], str, str]) -> None:
    values, leds, word, limit = case
    verdict = row_of(Drive(**values), leds).verdict
    assert (verdict.word, verdict.limit) == (word, limit), verdict.reason
    assert bool(verdict.reason) == (word != "works")
    assert verdict.limit in {"", *LIMITS.values()}


def test_pins_of_a_lower_voltage_feed_no_more_than_that() -> None:
    module = told(controller="32-bit 3.3 V module", current_a=0.002)
    for method in ("pins", "charlieplex"):
        (branch,) = plan_drive(Drive(method=method, lit="one", **module), some((2, "0805 amber"))).branches
        light, ohm = branch.light, (branch.resistor_ohm or 0.0) + branch.ohm
        most = brentq(lambda amps, s=light, r=ohm: LedLaw(s.forward_v[0], s.forward_a).volts(amps) + r * amps - 3.3, 1e-6, 0.1)
        assert branch.current_max_a == pytest.approx(most * branch.duty, rel=0.06), "a pin of 3.3 V, whatever the supply is"
        assert branch.current_a == pytest.approx(branch.target_a, rel=0.15)
    scan = plan_drive(Drive(method="scan", **module), some((16, "0805 amber")))
    assert any("sink" in one.part.name for one in scan.wanted), "a high of 3.3 V does not put out a column of 5 V"


def test_groups_are_driven_in_ways_of_their_own() -> None:
    leds = some((12, "0805 amber"), groups=("a", "b", "c"))
    alone = plan_drive(Drive(method="each", current_a=0.003), leds)
    other = Driven(group="b", method="shift-register", current_a=0.002)
    mixed = plan_drive(Drive(method="each", current_a=0.003, groups=(other,)), leds)
    mine = [led.index for led in leds if led.group == "b"]
    assert all(mixed.branch_of(index).target_a == 0.002 for index in mine)
    assert {branch.target_a for branch in mixed.branches} == {0.002, 0.003}
    assert sum(one.part.name.startswith("shift register") for one in mixed.wanted) == 1
    both = plan_drive(Drive(method="each", groups=(other, structs.replace(other, group="c"))), leds)
    assert sum(one.part.name.startswith("shift register") for one in both.wanted) == 1, "alike ways share their parts"
    assert len(both.pins) == 4
    assert alone.controller == ""
    assert len(plan_drive(Drive(groups=(Driven(group="a", method="each"),)), leds).wanted) == 13
    for groups, told in (((other,), []), ((other, structs.replace(other, group="gone")), ["group-without-leds"])):
        found = plan_drive(Drive(groups=groups), leds).findings
        assert [one.code for one in found if one.code == "group-without-leds"] == told


def test_the_worst_case_raises_a_resistor_until_it_holds() -> None:
    plan = plan_drive(Drive(current_a=0.02), some((2, "0805 amber")))
    [branch] = plan.branches
    assert branch.current_max_a <= 0.02
    assert branch.resistor_ohm > branch.ideal_ohm * 1.05
    assert "resistor-raised" in {one.code for one in plan.findings}


def test_pins_that_cannot_drive_are_left_alone() -> None:
    for name, one in controllers().items():
        leds = some((len(one.outputs), "0805 amber"))
        low = {"8-bit 5 V, 20 pins": "usb", "32-bit 3.3 V module": "usb", "small 8-pin": "usb"}[name]
        plan = plan_drive(Drive(method="pins", controller=name, supply=low, current_a=0.001), leds)
        kinds = {pin.number: pin.kind for pin in one.pins}
        assert {kinds[used.number] for used in plan.pins} == {"output"}
        assert len({used.number for used in plan.pins}) == len(leds)
    counts = {name: len(one.outputs) for name, one in controllers().items()}
    assert counts == {"8-bit 5 V, 20 pins": 16, "32-bit 3.3 V module": 19, "small 8-pin": 5}


def test_signals_that_are_too_low_are_shifted() -> None:
    drive = Drive(method="shift-register", controller="32-bit 3.3 V module", current_a=0.002)
    plan = plan_drive(drive, AMBER)
    nets, parts = joined(plan, AMBER)
    [shifter] = [one for one in parts.values() if one.part.name.startswith("level shifter")]
    [first, *_] = [one for one in parts.values() if one.part.name.startswith("shift register")]
    assert nets[first.ref, _pin(first, "data in")] == nets[shifter.ref, _pin(shifter, "Y1")]
    assert not [one for one in plan_drive(structs.replace(drive, controller="8-bit 5 V, 20 pins"), AMBER).wanted
                if one.part.name.startswith("level shifter")]  # fmt: skip


@settings(max_examples=12)
@given(st.floats(0.02, 30))
def test_timers_are_found_for_a_period(period: float) -> None:
    near = best_astable(period)
    assert near.period_s == pytest.approx(period, rel=0.02)
    brute = min(
        abs(Astable(r1, r2, 1e-6).period_s / period - 1)
        for r1, r2 in itertools.product([value * scale for value in (1.0, 2.2, 4.7) for scale in (1e4, 1e5, 1e6)], repeat=2)
    )
    assert abs(search_astable(period, capacitors_f=(1e-6,))[0].period_s / period - 1) <= brute + 1e-9
    ohm, farad = best_oscillator(period / 64)
    assert 1 / oscillator_hz(ohm, farad) == pytest.approx(period / 64, rel=0.06)


def test_a_timer_for_a_year_is_refused_in_a_sentence() -> None:
    with pytest.raises(Trouble, match="period"):
        best_oscillator(3e7)
    assert replace(Astable(1e3, 1e3, 1e-6)).first_high_s > Astable(1e3, 1e3, 1e-6).high_s


def test_the_first_second_of_a_counter_is_held_then_counted() -> None:
    leds = some((6, "0805 amber"), groups=("a", "b", "c"))
    plan = plan_drive(Drive(method="ripple", supply="aaa-alkaline", current_a=0.001, period_s=0.62), leds)
    nodes = {node.net: node for node in plan.first.nodes}
    reset = plan.first.reset
    assert reset.ohm * reset.farad >= 10 * plan.first.rise_s - 1e-9
    nets, parts = joined(plan, leds)
    [counter] = [one for one in parts.values() if one.part.name.startswith("ripple")]
    held = nets[counter.ref, _pin(counter, "reset")]
    at_reset = {(one.part.kind, plan.values[one.ref]) for one in parts.values() if held in
                {nets.get((one.ref, "1")), nets.get((one.ref, "2"))} and one.ref != counter.ref}  # fmt: skip
    assert at_reset == {("capacitor", "100n"), ("resistor", "1M")}
    # The first change comes after the reset and half of the fastest period.
    assert nodes["a"].levels[-1] == (pytest.approx(reset.lasts_s + 0.31, rel=0.01), "0")
    assert nodes["a"].at(0.005) == "0"
    assert nodes["a"].at(0.2) == nodes["c"].at(1.0) == "1"
    assert plan.first.dark_s < 0.1
    assert "dark-at-start" not in {one.code for one in plan.findings}


def test_a_counter_that_starts_anywhere_may_be_dark_for_long() -> None:
    leds = some((3, "0805 amber"))
    slow = plan_drive(Drive(method="counter-chaser", period_s=6.0, current_a=0.002), leds)
    [dark] = [one for one in slow.findings if one.code == "dark-at-start"]
    assert dark.measured > 7 * 2.0, "seven outputs light nothing, two seconds each"
    remedy = dict(dark.remedies[0].values)
    quick = plan_drive(Drive(method="counter-chaser", current_a=0.002, **remedy), leds)
    assert "dark-at-start" not in {one.code for one in quick.findings}
    assert (
        plan_drive(Drive(method="counter-chaser", period_s=60.0, current_a=0.002), some((10, "0805 amber"))).first.dark_s < 0.1
    )
    pulled = plan_drive(Drive(method="shift-register", current_a=0.002), leds)
    nodes = {node.net: node for node in pulled.first.nodes}
    assert nodes["registers enable"].at(0.05) == "1", "a pull keeps the lights off"
    assert nodes["registers data"].levels == ((0.0, "unknown"),)


#: Supplies, with what of their needs is fitted.
FITTED = (
    ("aaa-alkaline", ("reverse", "fuse", "switch")), ("usb", ("fuse", "strain relief")),
    ("lipo", ("charger", "fuse", "switch")), ("adapter", ("reverse",)),
)  # fmt: skip


@pytest.mark.parametrize(("supply", "fit"), FITTED)
def test_what_a_supply_needs_lies_in_its_way(supply: str, fit: tuple[str, ...]) -> None:
    drive = Drive(supply=supply, current_a=0.002)
    bare, plan = plan_drive(drive, AMBER), plan_drive(structs.replace(drive, fitted=fit), AMBER)
    assert len(plan.wanted) == len(bare.wanted) + len(fit)
    nets, _ = joined(plan, AMBER)
    holder = plan.wanted[0]
    # From the plus of the supply one comes to the resistors only through every part that is fitted.
    plus = next(nets[holder.ref, pin.number] for pin in holder.part.pins if pin.role == "supply")
    through: list[str] = []
    while plus != "supply":
        [ref] = {ref for (ref, _), net in nets.items() if net == plus and ref not in {holder.ref, *through}}
        through.append(ref)
        [plus] = {net for (one, _), net in nets.items() if one == ref} - {plus, "ground", "cell -"}
    in_line = [one for one in fit if one != "strain relief"]
    assert len(through) == len(in_line)
    assert plan.supply_v <= bare.supply_v
    assert [one.code for one in missing_findings(drive, plan.sources)] == ["supply-part-missing"] * len(plan.supply.needs)
    away = structs.replace(drive, fitted=fit, left_away=tuple(one for one in plan.supply.needs if one not in fit))
    assert {one.severity for one in missing_findings(away, plan.sources)} <= {"note"}


@pytest.mark.parametrize(("count", "holds"), [(10, "0.5A hold"), (24, "0.75A hold"), (90, "2A hold")])
def test_a_fuse_is_bought_for_the_current_that_it_holds(count: int, holds: str) -> None:
    drive = Drive(supply="adapter", current_a=0.018, fitted=("fuse",))
    plan = plan_drive(drive, some((count, "0805 red")))
    [fuse] = [one.ref for one in plan.wanted if one.part.kind == "fuse"]
    assert plan.values[fuse] == holds
    assert float(holds.split("A")[0]) * 0.8 >= plan.current_max_a or holds.startswith("2")


def test_digits_count_from_the_last_one_and_show_the_right_segments() -> None:
    leds = some((3, "digit 14.2 common cathode red"))
    plan = plan_drive(Drive(method="decade-digits", current_a=0.003, period_s=1.0), leds)
    nets, parts = joined(plan, leds)
    chips = [one for one in parts.values() if one.part.name == "digit counter"]
    assert len(chips) == 3
    for led, chip, glass in zip(leds, chips, led_parts(leds), strict=True):
        for light in led.kind.lights:
            if light.name in "abcdefg":
                net = nets[chip.ref, _pin(chip, light.name)]
                chip_side = [ref for (ref, _), its in nets.items() if its == net and ref.startswith("R")]
                assert nets[glass.ref, light.anode] in {nets[ref, number] for ref in chip_side for number in "12"}
    assert nets[chips[1].ref, _pin(chips[1], "clock")] == nets[chips[2].ref, _pin(chips[2], "carry")]
    assert nets[chips[0].ref, _pin(chips[0], "clock")] == nets[chips[1].ref, _pin(chips[1], "carry")]
    [timer] = [one for one in parts.values() if one.part.name == "timer"]
    assert nets[chips[2].ref, _pin(chips[2], "clock")] == nets[timer.ref, _pin(timer, "output")]
    assert nets[chips[0].ref, _pin(chips[0], "blank in")] == "ground", "zeros in front stay dark"
    assert nets[chips[2].ref, _pin(chips[2], "blank in")] == "supply", "the last digit is always shown"
    told_ = plan_drive(Drive(method="decoder", current_a=0.003), leds)
    assert len(told_.pins) == 7
    assert len({pin.drives for pin in told_.pins if pin.drives.startswith("number")}) == 4


def test_tubes_and_filaments_by_their_own_laws() -> None:
    tubes = some((2, "digit tube on its socket"))
    plan = plan_drive(Drive(method="tube", current_a=0.002), tubes)
    nets, parts = joined(plan, tubes)
    [branch] = plan.branches
    assert branch.resistor_ohm >= (180 - 140) / 0.002
    assert branch.current_a == pytest.approx((180 - 140) / branch.resistor_ohm)
    assert {net.kind for net in plan.nets if net.name.endswith("anode")} == {"high voltage"}
    assert "high-voltage" in {one.code for one in plan.findings}
    for tube in led_parts(tubes):
        for digit in range(10):
            chip = next(ref for (ref, _), net in nets.items() if net == nets[tube.ref, _pin(tube, f"numeral {digit}")]
                        and parts[ref].part.name == "tube decoder")  # fmt: skip
            assert nets[chip, _pin(parts[chip], str(digit))] == nets[tube.ref, _pin(tube, f"numeral {digit}")]
    assert plan.current_a == pytest.approx(2 * branch.current_a * 180 / 0.8 / 5.0, rel=1e-6)
    lamps = some((3, "filament lamp 3.5 V"))
    warm = plan_drive(Drive(method="filament"), lamps)
    [one] = warm.branches
    volts = brentq(lambda v: 0.02 * (v / 3.5) ** 0.6 * one.resistor_ohm + v - (5.0 - 0.2 * 0.06), 0.01, 5.0)
    assert one.current_a == pytest.approx(0.02 * (volts / 3.5) ** 0.6, rel=2e-3)
    cold = plan_drive(Drive(method="filament"), some((5, "filament lamp 5 V")))
    assert "lamp-inrush" in {one.code for one in cold.findings}


@pytest.mark.parametrize(
    ("name", "rows", "columns"),
    [
        ("dots 5 x 7 row cathode amber", 5, 7), ("dots 5 x 7 row anode red", 7, 5), ("dots 8 x 8 row anode green", 8, 8),
        ("four digits 14.2 common cathode red", 8, 4), ("four digits 14.2 common anode red", 4, 8),
    ],
)  # fmt: skip
def test_a_scan_lights_each_dot_of_blocks_and_no_other(name: str, rows: int, columns: int) -> None:
    blocks = some((2, name))
    plan = plan_drive(Drive(method="scan", current_a=0.002), blocks)
    assert not [one for one in plan.findings if one.severity == "stop"]
    nets, _ = joined(plan, blocks)
    seen: dict[tuple[str, str], tuple[str, str]] = {}
    for led, body in zip(blocks, led_parts(blocks), strict=True):
        for light in led.kind.lights:
            ends = nets[body.ref, light.anode], nets[body.ref, light.cathode]
            assert ends not in seen, "two dots between one row and one column"
            seen[ends] = (body.ref, light.name)
    assert {row for row, _ in seen} == {f"row {at}" for at in range(1, rows + 1)}
    assert {column for _, column in seen} == {f"column {at}" for at in range(1, 2 * columns + 1)}
    assert {branch.duty for branch in plan.branches} == {1 / rows}
    lights = sum(len(branch.indices) for branch in plan.branches)
    assert lights == 2 * len(blocks[0].kind.lights)
    assert plan.current_a == pytest.approx(lights * 0.002, rel=0.35)
    mixed = plan_drive(Drive(method="scan", current_a=0.002), (*blocks, *some((3, "0805 red"))))
    assert "method-not-for-these" in {one.code for one in mixed.findings}
    [stop] = {one.code: one for one in plan_drive(Drive(method="each"), blocks).findings if one.severity == "stop"}.values()
    assert dict(stop.remedies[0].values) == {"method": "scan"}


def test_a_regulator_makes_a_rail_and_heat() -> None:
    drive = Drive(supply="adapter", volts=9.0, regulator="fixed", rail=5.0, current_a=0.003)
    plan = plan_drive(drive, AMBER)
    [branch] = plan.branches
    assert plan.supply_v == pytest.approx(5.0)
    assert plan.current_a == pytest.approx(12 * branch.current_a, rel=1e-9)
    assert plan.standing_a == 0.005, "it draws 5 mA itself"
    nets, parts = joined(plan, AMBER)
    [chip] = [one for one in parts.values() if one.part.kind == "regulator"]
    assert nets[chip.ref, _pin(chip, "out")] == "supply"
    assert nets[chip.ref, _pin(chip, "in")] != "supply"
    assert not [one for one in plan.findings if one.code.startswith("regulator")]
    hot = plan_drive(structs.replace(drive, current_a=0.018), some((12, "0805 amber")))
    [warm] = [one for one in hot.findings if one.code == "regulator-warm"]
    most = 12 * hot.branches[0].current_max_a
    assert warm.measured == pytest.approx((9.45 - 5.0) * most + 9.45 * 0.005, rel=0.02)
    drops = {one.code for one in plan_drive(structs.replace(drive, volts=5.5), AMBER).findings}
    assert "regulator-drops-out" in drops
    assert "regulator-drops-out" not in {
        one.code for one in plan_drive(structs.replace(drive, volts=5.5, regulator="low-dropout"), AMBER).findings
    }
    assert row_of(structs.replace(drive, method="shift-register"), AMBER).verdict.word == "works", "logic runs on the rail"
    many = plan_drive(structs.replace(drive, regulator="low-dropout", current_a=0.015), some((24, "0805 amber")))
    [over] = [one for one in many.findings if one.code == "regulator-over-current"]
    assert over.allowed == 0.3
    assert over.measured == pytest.approx(24 * many.branches[0].current_max_a, rel=0.02)


def test_a_step_up_converter_takes_power() -> None:
    leds = some((2, "pixel 5050 three colours"))
    drive = Drive(method="pixels", supply="aa-alkaline", cells=2, regulator="step-up", rail=5.0, current_a=0.004)
    plan = plan_drive(drive, leds)
    assert not [one for one in plan.findings if one.severity == "stop"]
    lit = sum(branch.current_a * len(branch.indices) for branch in plan.branches)
    assert plan.current_a == pytest.approx(5.0 * lit / (0.85 * 3.16), rel=1e-6)
    drawn = plan_drive(structs.replace(drive, regulator=""), leds).standing_a  # what the pixels draw while they are dark
    assert plan.standing_a == pytest.approx(5.0 * drawn / (0.85 * 3.16) + 1e-4, rel=1e-6)
    # The run by brute force: charge in steps, the power all the time the same.
    depth = np.linspace(0, 1, 4001)
    source = plan.supply
    volts = 2 * np.interp(depth, *np.array(source.open_v).T)
    ohms = 2 * np.interp(depth, *np.array(source.resistance_ohm).T)
    watts = 5.0 * lit / 0.85
    here = (volts + np.sqrt(volts**2 - 4 * ohms * watts)) / 2
    amps = watts / here + plan.standing_a
    share = np.interp(np.log(amps), *(np.log(np.array(source.share)[:, 0]), np.array(source.share)[:, 1]))
    last = int(np.argmax(here < 1.8)) or len(depth) - 1
    hours = np.sum((2.5 * share / amps)[:last]) / 4000
    assert plan.hours(1.0).hours == pytest.approx(hours, rel=0.01)
    assert "regulator-input-too-high" in {
        one.code for one in plan_drive(structs.replace(drive, supply="adapter", volts=9.0), leds).findings
    }


def test_a_worn_board_that_is_too_warm_is_told() -> None:
    leds = some((12, "0805 amber"))
    plan = plan_drive(Drive(current_a=0.018), leds)
    assert watts_of(plan) == pytest.approx(plan.supply_v * plan.current_a)
    assert board_rise_k(watts_of(plan), 400) == pytest.approx(plan.supply_v * plan.current_a / (11 * 2 * 400e-6))
    small, worn = namedtuple("Shape", "region")(box(0, 0, 20, 20)), "worn"
    assert [one.code for one in heat_findings(plan, small, worn)] == ["warm-on-skin"]
    assert not heat_findings(plan, small, "wall")
    assert not heat_findings(plan, namedtuple("Shape", "region")(box(0, 0, 90, 90)), worn)


def test_timers_spread_as_their_parts_do() -> None:
    one = Astable(1e5, 2.2e5, 1e-6)
    low, high = spread_of(one)
    rng = np.random.default_rng(1)
    made = [math.log(2) * (1e5 * (1 + rng.uniform(-0.05, 0.05)) + 2 * 2.2e5 * (1 + rng.uniform(-0.05, 0.05)))
            * 1e-6 * (1 + rng.uniform(-0.1, 0.1)) for _ in range(20_000)]  # fmt: skip
    assert (low, high) == pytest.approx(tuple(np.quantile(made, (0.05, 0.95))), rel=0.01)
    assert spread_of(one) == (low, high), "the same every time"
    assert leaks(Astable(4.7e6, 1e5, 1e-8))
    assert not leaks(one)


def test_far_too_many_leds_and_none_are_said_as_what_they_are() -> None:
    row = row_of(Drive(supply="coin-2032", current_a=0.001), some((3000, "0603 amber")))
    assert (row.verdict.word, row.verdict.limit) == ("refused", "supply-current")
    assert "-" not in row.verdict.reason
    assert row_of(Drive(), ()).verdict.reason == "There are no LEDs to drive yet."


def test_holes_of_parts_keep_off_the_art_and_near_the_edge() -> None:
    work = Compiler().compile(demo_project("seed-room"))
    [holder] = [one for one in work.board.parts if one.part.kind == "strain relief"]
    mine = [hole for hole in work.board.holes if not hole.plated and holder.court(0.01).contains(Point(hole.x, hole.y))]
    assert len(mine) == 2
    ink = work.board.layer("front legend")
    for hole in mine:
        drilled = Point(hole.x, hole.y).buffer(hole.diameter / 2)
        assert not drilled.intersects(ink)
        assert work.board.outline.exterior.distance(drilled) > 1.9
    left, bottom, right, top = work.board.outline.bounds
    assert max(abs(holder.x - (left + right) / 2) / (right - left), abs(holder.y - (bottom + top) / 2) / (top - bottom)) > 0.35


@given(st.integers(2, 64), st.integers(4, 14), st.sampled_from(["lightness", "gamma", "exponential"]))
def test_dimming_looks_even_from_dark_to_full(steps: int, bits: int, how: str) -> None:
    table = dimming_table(steps, bits, how)
    most = 2**bits - 1
    assert (table[0], table[-1], len(table)) == (0, most, steps)
    assert table == sorted(table)
    assert dimming_table(steps, bits, how, inverted=True) == [most - level for level in table]
    if how == "lightness":
        # Back to lightness by the formula of the standard: the steps are even to half a level.
        for at, level in enumerate(table):
            light = np.array([max(0.0, level - 0.5), level + 0.5]) / most
            low, high = np.where(light > 0.008856, 116 * np.cbrt(light) - 16, 903.3 * light)
            assert low - 1e-2 <= 100 * at / (steps - 1) <= high + 1e-2


def test_every_controller_can_be_programmed() -> None:
    for name in controllers():
        plan = plan_drive(Drive(method="pins", controller=name, current_a=0.001), some((2, "0805 amber")))
        nets, parts = joined(plan, some((2, "0805 amber")))
        [pads] = [one for one in parts.values() if one.part.name == "programming pads"]
        chip = parts["U1"]
        told = {nets[pads.ref, pin.number] for pin in pads.part.pins if (pads.ref, pin.number) in nets}
        kinds = {pin.number: pin.kind for pin in controllers()[name].pins}
        reached = {kinds[number] for (ref, number), net in nets.items() if ref == chip.ref and net in told}
        assert {"supply", "ground", "programming"} <= reached
        assert "output" not in reached


def test_an_electrolytic_capacitor_has_its_minus_at_ground() -> None:
    leds = some((2, "pixel 5050 three colours"))
    plan = plan_drive(Drive(method="pixels"), leds)
    nets, parts = joined(plan, leds)
    [bulk] = [one for one in parts.values() if one.part.name.startswith("electrolytic")]
    assert {pin.name: nets[bulk.ref, pin.number] for pin in bulk.part.pins} == {"-": "ground", "+": "supply"}
    signs = supply_signs(PlacedPart("C1", bulk.part, "", 0.0, 0.0, 0.0, "front"))
    assert len(signs) == 2
    minus, plus = sorted(signs, key=lambda one: one.area)
    assert minus.bounds[3] - minus.bounds[1] < 0.5 * (plus.bounds[3] - plus.bounds[1]), "a dash and a cross"
