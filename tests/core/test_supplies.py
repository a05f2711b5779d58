"""What feeds a board: two sources, a capacitor that the sun fills, a latch that switches it off, resistors at hand."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec import structs
from plates import ROW, plate, without_tracks
from scipy.integrate import solve_ivp
from scipy.optimize import brentq
from test_drive_ways import AMBER, flows, joined, some

from outlined_glow.core.drive import plan_drive
from outlined_glow.core.drive.law import LedLaw
from outlined_glow.core.drive.resistor import preferred
from outlined_glow.core.drive.supply.rail import copper_for, kelvin_a_watt
from outlined_glow.core.drive.supply.runtime import Load, _load_table, _terminal
from outlined_glow.core.drive.supply.supply_parts import missing_findings
from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion.loads import loads
from outlined_glow.core.parts import part, supply
from outlined_glow.core.project import AutoOff, Drive, SecondSource, apply_edit
from outlined_glow.core.workshop import Compiler, apply_text
from outlined_glow.core.workshop.connections import value_of
from outlined_glow.core.workshop.drive_facts import run_of
from outlined_glow.core.workshop.supply_facts import forgotten_words, off_words, other_cells, sun_words

AAA3 = SecondSource("aaa-alkaline", 3)


def codes(plan: Any) -> set[str]:
    return {one.code for one in plan.findings}


def by_kind(plan: Any, kind: str) -> list[Any]:
    return [one for one in plan.wanted if one.part.kind == kind]


def pin(one: Any, name: str) -> str:
    return next(pin.number for pin in one.part.pins if pin.name == name)


def test_a_capacitor_is_emptied_as_a_capacitor_is() -> None:
    drive = Drive(supply="solar", current_a=0.0002, farad=0.47, fitted=("strain relief",))
    plan = plan_drive(drive, some((1, "0805 red")))
    nets, _ = joined(plan, ())
    [diode] = by_kind(plan, "diode")
    [store] = by_kind(plan, "capacitor")
    assert plan.values[store.ref] == "0F47"
    assert nets[store.ref, pin(store, "+")] == nets[diode.ref, pin(diode, "cathode")] == "supply"
    assert nets[diode.ref, pin(diode, "anode")] == nets["J1", "2"]
    assert nets[store.ref, pin(store, "-")] == "ground"
    [branch] = plan.branches
    ohm = branch.resistor_ohm

    def amps(volts: float) -> float:
        return float(brentq(lambda a: a * (ohm + 0.5) + 0 - (volts - led(a)), 1e-12, 0.1))

    def led(a: float) -> float:
        light = branch.light
        return float(light.forward_v[1] + 2 * 0.025852 * math.log(a / light.forward_a) + 10 * (a - light.forward_a))

    first = amps(5.0)
    ends = lambda _, v: amps(v[0]) - first / 2  # noqa: E731
    ends.terminal = True
    found = solve_ivp(lambda _, v: [-(amps(v[0]) + 5e-6) / 0.47], (0, 1e5), [5.0], events=ends, rtol=1e-8)
    assert plan.steady.hours * 3600 == pytest.approx(found.t[-1], rel=0.01), "half of the light, by the differential equation"
    assert plan.steady.ended_by == "light"
    assert "auto-off-pays" not in codes(plan)


def test_of_two_sources_nothing_is_above_what_the_higher_bears_nor_below_the_lower() -> None:
    drive = Drive(supply="aaa-alkaline", cells=2, second=SecondSource("usb"), current_a=0.004)
    red = some((6, "0805 red"))
    [branch] = plan_drive(drive, red).branches
    light = branch.light
    volts = 5.25 - branch.resistor_ohm * 0.95 * branch.current_max_a
    lowest = replace(light, forward_v=(light.forward_v[0],) * 3)
    assert flows(lowest, volts) == pytest.approx(branch.current_max_a, rel=0.01), "on USB"
    assert branch.current_max_a <= light.continuous_a
    weak = plan_drive(structs.replace(drive, supply="usb", second=SecondSource("coin-2032")), red)
    assert {"supply-over-current", "second-source-dim"} & codes(weak)
    logic = plan_drive(structs.replace(drive, method="ripple", family="HC", second=SecondSource("adapter", volts=9.0)), red)
    [wrong] = [one for one in logic.findings if one.code == "outside-supply-range"]
    assert "2.00 to 9.45" in wrong.text or "1.80 to 9.45" in wrong.text


def test_each_of_two_sources_gives_what_it_gives_at_its_own_volts() -> None:
    """Resistors are such that the higher source harms nothing; what each source gives at worst goes by its own volts."""
    red = some((6, "0805 red"))
    drive = Drive(supply="usb", second=SecondSource("adapter", volts=12.0), current_a=0.02)
    plan = plan_drive(drive, red)
    [branch] = plan.branches
    lowest = replace(branch.light, forward_v=(branch.light.forward_v[0],) * 3)
    for told in (plan.current_max_a / 6, branch.current_max_a):
        flow = brentq(lambda amps: flows(lowest, 12.6 - 0.95 * branch.resistor_ohm * amps) - amps, 1e-6, 0.05)
        assert told == pytest.approx(flow, rel=0.05)
    many = plan_drive(drive, some((30, "0805 red")))
    assert 30 * branch.current_max_a > supply("usb").most_a > 30 * flows(lowest, 5.25 - 0.95 * branch.resistor_ohm * 0.01)
    assert "supply-over-current" not in codes(many), "USB gives less, for it has fewer volts"
    row = ("line", {"array": "row", "x_mm": 22.0, "y_mm": 22.0, "count": 12, "pitch_mm": 3.0})
    lit = Compiler().compile(
        plate(row, ("drive", {"current_a": 0.02}), ("second-source", {"supply": "adapter", "volts_v": 12.0}))
    )
    told = next(one for one in loads(lit.project.motion, lit.lamps, lit.plan, ()) if one.title.startswith("supply"))
    assert told.worst_a == pytest.approx(lit.plan.supply_max_a, rel=1e-3)
    assert told.worst_a < 0.6 * lit.plan.current_max_a
    plenty = plan_drive(structs.replace(drive, second=SecondSource("coin-2032"), current_a=0.004), red)
    [over] = [one for one in plenty.findings if one.code in {"supply-over-current", "cell-over-continuous"}]
    assert "coin" in over.text
    for regulator, first, second, told in (
        ("low-dropout", "usb", SecondSource("aaa-alkaline", 2), "regulator-drops-out"),
        ("low-dropout", "aaa-alkaline", SecondSource("usb"), "regulator-drops-out"),
        ("step-up", "aaa-alkaline", SecondSource("usb"), "regulator-input-too-high"),
    ):
        two = Drive(supply=first, cells=2, second=second, regulator=regulator, rail=3.3, current_a=0.002)
        assert told in codes(plan_drive(two, red))
        assert "regulator-drops-out" not in codes(plan_drive(structs.replace(two, supply="usb", second=None), red))


@pytest.mark.parametrize(
    ("way", "cells", "needs_v", "rail_v"), [("pins", 3, 4.5, 5.0), ("pins", 2, 3.0, 3.3), ("pixels", 3, 3.3, None)]
)
def test_a_circuit_ends_where_its_chips_stop(way: str, cells: int, needs_v: float, rail_v: float | None) -> None:
    leds = some((6, "0805 red" if way == "pins" else "pixel 5050 four colours"))
    drive = Drive(method=way, supply="aaa-alkaline", cells=cells, current_a=0.003)
    plan = plan_drive(drive, leds)
    run = plan.hours(1.0)
    assert run is not None
    assert (run.ended_by, run.end_volts) == ("circuit", pytest.approx(needs_v, abs=0.02))
    told = [one for one in plan.findings if one.code == "cells-left-full"]
    assert bool(told) == (rail_v is not None)
    if told:
        alone = plan_drive(structs.replace(drive, method="each"), leds).hours(1.0)
        assert run.hours < 0.5 * alone.hours
        [(_, regulator), (_, rail)] = told[0].remedies[0].values
        raised = plan_drive(structs.replace(drive, regulator=regulator, rail=rail), leds)
        assert rail == rail_v
        assert "cells-left-full" not in codes(raised)
        assert raised.hours(1.0).hours > 3 * run.hours
        both = plan_drive(structs.replace(drive, second=SecondSource("usb")), leds)
        for one in [one for one in both.findings if one.code == "cells-left-full"] if cells == 3 else []:
            assert not any(remedy.edit for remedy in one.remedies), "USB gives more than a step-up converter may make"
        assert cells != 3 or "cells-left-full" in codes(both)


@pytest.mark.parametrize("joined_by", ["nothing", "switch", "diodes"])
def test_two_sources_are_kept_apart(joined_by: str) -> None:
    drive = Drive(supply="usb", second=structs.replace(AAA3, joined=joined_by), fitted=("fuse", "reverse", "switch"))
    plan = plan_drive(drive, AMBER)
    nets, _ = joined(plan, AMBER)
    assert ("two-inputs" in codes(plan)) == (joined_by == "nothing")
    heads = {"J1": nets["J1", "2"], "BT1": nets["BT1", "2"]}
    assert heads["J1"] != heads["BT1"]
    if joined_by == "switch":
        [both] = [one for one in by_kind(plan, "switch") if one.part.name == "slide switch, two ways"]
        assert nets[both.ref, pin(both, "common")] == "supply"
        assert {nets[both.ref, pin(both, name)] for name in ("first", "second")} == {"first source", "second source"}
    if joined_by == "diodes":
        pair = by_kind(plan, "diode")
        assert {nets[one.ref, pin(one, "cathode")] for one in pair} == {"supply"}
        assert {nets[one.ref, pin(one, "anode")] for one in pair} == {"first source", "second source"}
        assert plan.supply_v == pytest.approx(plan_drive(structs.replace(drive, second=None), AMBER).supply_v - 0.3, abs=0.01)
    assert plan.steady is not None, "the cells run empty, USB does not"
    assert plan.runs_on == (supply("aaa-alkaline"), 3)
    gone = {one.text for one in missing_findings(drive, plan.sources)}
    assert any("strain relief" in text for text in gone)
    assert not any("fuse" in text for text in gone)


@settings(max_examples=30, deadline=None)
@given(after=st.floats(2, 80_000), by=st.sampled_from(["transistor", "relay"]), cells=st.sampled_from([2, 3, 4]))
def test_a_latch_closes_at_a_press_and_opens_when_its_counter_says_so(after: float, by: str, cells: int) -> None:
    drive = Drive(supply="aa-alkaline", cells=cells, auto_off=AutoOff(by, after))
    plan = plan_drive(drive, some((3, "0805 red")))
    nets, _ = joined(plan, ())
    values = plan.values
    [button] = [one for one in plan.wanted if one.part.name == "push button"]
    [counter] = [one for one in plan.wanted if one.part.name == "ripple counter, 14 stages"]
    holder, opener = (next(one for one in plan.wanted if values[one.ref] == word) for word in ("holds", "opens"))
    source, out = nets["BT1", "2"], "supply"
    assert source != out, "nothing flows past the latch"

    def conducts(pressed: bool, on: bool, opened: bool) -> bool:
        """Whether the latch closes: the states of its transistors worked out from the nets alone."""
        held = on and not (opened and nets[opener.ref, pin(opener, "drain")] == nets[holder.ref, pin(holder, "gate")])
        pulled = nets[holder.ref, pin(holder, "drain")]
        if by == "transistor":
            [main] = [one for one in plan.wanted if one.part.name == "switching transistor, P"]
            assert (nets[main.ref, pin(main, "source")], nets[main.ref, pin(main, "drain")]) == (source, out)
            gate = nets[main.ref, pin(main, "gate")]
            by_hand = pressed and {nets[button.ref, "1"], nets[button.ref, "2"]} == {gate, "ground"}
            return by_hand or (held and pulled == gate)
        [main] = by_kind(plan, "relay")
        assert {nets[main.ref, pin(main, "contact")], nets[main.ref, pin(main, "contact closed")]} == {source, out}
        by_hand = pressed and {nets[button.ref, "1"], nets[button.ref, "2"]} == {source, out}
        return by_hand or (held and nets[main.ref, pin(main, "coil -")] == pulled)

    assert not conducts(pressed=False, on=False, opened=False)
    assert conducts(pressed=True, on=False, opened=False)
    assert conducts(pressed=False, on=True, opened=False)
    assert not conducts(pressed=False, on=True, opened=True)
    # The counter opens it: its last stage, after 8,192 beats of 2.2 R C.
    assert nets[counter.ref, pin(counter, "Q14")] == nets[opener.ref, pin(opener, "gate")]
    ohm = value(plan, nets[counter.ref, pin(counter, "oscillator resistor")], "resistor")
    farad = value(plan, nets[counter.ref, pin(counter, "oscillator capacitor")], "capacitor")
    assert plan.off_s == pytest.approx(8192 * 2.2 * ohm * farad, abs=0.3)
    assert plan.off_s == pytest.approx(after, rel=0.06, abs=0.2)
    relay_too_low = by == "relay" and 1.58 * cells < 3.8
    assert ("outside-supply-range" in codes(plan)) == (relay_too_low or (1.58 * cells > 6.0 and by == "nothing"))


def value(plan: Any, net: str, kind: str) -> float:
    """What the one part of a kind on a net is worth."""
    ends = dict.fromkeys(ref for one in plan.nets if one.name == net for ref, _ in one.pins)
    [one] = [one for one in plan.wanted if one.ref in ends and one.part.kind == kind]
    return float(next(number for number in value_of(one.part, plan.values[one.ref]).values() if number is not None))


def test_other_cells_last_as_long_as_when_they_are_chosen() -> None:
    made = plate(
        ROW, ("drive", {"supply": "lipo", "capacity_ah": 0.05, "current_a": 0.002}), ("set-pattern", {"pattern": "breathe"})
    )
    named = {"20 mm coin cell": ("coin-2032", 1), "2 × AAA": ("aaa-alkaline", 2), "3 × AA": ("aa-alkaline", 3)}
    found = 0
    for title, hours, stop in other_cells(Compiler().compile(made)):
        if title in named and not stop:
            supply_key, cells = named[title]
            run = run_of(Compiler().compile(apply_edit(made, "drive", {"supply": supply_key, "cells": cells})))
            assert hours == pytest.approx(run.hours, rel=1e-6), title
            found += 1
    assert found >= 2


def test_a_program_opens_the_latch_by_a_pin() -> None:
    drive = Drive(method="shift-register", auto_off=AutoOff("transistor", 60.0))
    plan = plan_drive(drive, AMBER)
    [opens] = [one for one in plan.pins if one.drives == "auto-off"]
    assert plan.off_s == 60.0
    assert not [one for one in plan.wanted if one.part.name == "ripple counter, 14 stages"]
    relay = plan_drive(structs.replace(drive, auto_off=AutoOff("relay", 60.0)), AMBER)
    assert relay.standing_a - plan.standing_a == pytest.approx(5.0 / 167, rel=1e-6), "its coil draws as long as it is on"
    assert opens.number
    for many, left in ((17, "low"), (18, "low"), (19, None)):  # the last pins stand high and low until the program runs
        full = structs.replace(drive, method="pins", controller="32-bit 3.3 V module", current_a=0.001)
        plan = plan_drive(full, some((many, "0805 red")))
        assert next((one.at_start for one in plan.pins if one.drives == "auto-off"), None) == left
        assert any(one.part.name == "ripple counter, 14 stages" for one in plan.wanted) is (left is None)


def test_a_board_that_is_forgotten_is_told_and_helped() -> None:
    drive = Drive(supply="aaa-alkaline", cells=2, current_a=0.003)
    plan = plan_drive(drive, AMBER)
    [pays] = [one for one in plan.findings if one.code == "auto-off-pays"]
    assert pays.measured == pytest.approx(plan.steady.hours, abs=1e-3)
    edit, values = pays.remedies[0].edit, dict(pays.remedies[0].values)
    assert edit == "auto-off"
    assert "auto-off-pays" not in codes(plan_drive(structs.replace(drive, auto_off=AutoOff(**values)), AMBER))
    moth = without_tracks("moth")
    compiler = Compiler()
    work = compiler.compile(apply_text(moth, "auto-off", ["by=transistor", "after=10min"], compiler))
    assert off_words(work).endswith(" min")
    _, presses = forgotten_words(work)
    assert int(presses.split()[0].replace(",", "")) == pytest.approx(work.values["run"].hours * 3600 / work.plan.off_s, abs=1)
    day, none = forgotten_words(compiler.compile(moth))
    assert day == f"{100 * 24 / compiler.compile(moth).values['run'].hours:.0f} % of it"
    assert not none
    sunny = compiler.compile(apply_text(moth, "drive", ["supply=solar", "capacitor=10F", "sun=20mA"], compiler))
    assert sun_words(sunny) == f"{10 * 5 / 0.02 / 60:.1f} min"


def test_colours_that_end_apart_are_told() -> None:
    drive = Drive(supply="aaa-alkaline", cells=3, current_a=0.003)
    three = some((2, "three-colour 3528 common anode"))
    plan = plan_drive(drive, three)
    [shift] = [one for one in plan.findings if one.code == "late-colour-shift"]
    left = {}
    for branch in plan.branches:
        amps = [brentq(lambda a, v=v, b=branch: v - a * b.resistor_ohm - law_of(b.light, a), 1e-12, 0.1)
                for v in (plan.steady.curve_v[0], plan.steady.end_volts)]  # fmt: skip
        left[branch.light.name] = amps[1] / amps[0]
    assert shift.measured == pytest.approx(min(left.values()) / max(left.values()), abs=0.01)
    assert "late-colour-shift" not in codes(plan_drive(structs.replace(drive, cells=4), three)), "they end farther from it"
    steady = structs.replace(drive, regulator="step-up", rail=5.0)
    assert "late-colour-shift" not in codes(plan_drive(steady, three))


def law_of(light: Any, amps: float) -> float:
    return float(light.forward_v[1] + 2 * 0.025852 * math.log(amps / light.forward_a) + 10 * (amps - light.forward_a))


@settings(max_examples=200, deadline=None)
@given(ohm=st.floats(10, 1e6), stock=st.lists(st.sampled_from([47.0, 100.0, 330.0, 470.0, 1e3, 2.2e3, 1e4, 1e5]), max_size=5))
def test_what_is_at_hand_is_taken_where_it_is_near(ohm: float, stock: list[float]) -> None:
    for choose in ("at-most", "nearest"):
        chosen = preferred(ohm, "E24", choose, stock)
        near = [one for one in stock if 0.5 <= one / ohm <= 2 and (choose == "nearest" or one >= ohm * (1 - 1e-9))]
        if near:
            assert chosen == min(near, key=lambda one: abs(math.log(one / ohm)))
        else:
            assert chosen == preferred(ohm, "E24", choose)
        if choose == "at-most":
            assert chosen >= ohm * (1 - 1e-9)


def test_what_is_not_at_hand_is_listed() -> None:
    drive = Drive(method="ripple", current_a=0.001, stock=(100.0, 1e3, 2.2e3, 4.7e3))
    plan = plan_drive(drive, AMBER)
    assert {one.resistor_ohm for one in plan.branches} <= {1e3, 2.2e3, 4.7e3}
    [missing] = [one for one in plan.findings if one.code == "resistor-not-at-hand"]
    named = missing.text.partition(": ")[2].partition(".")[0].split(", ")
    values = {plan.values[one.ref] for one in plan.wanted if one.part.kind == "resistor"}
    assert set(named) == values - {"100R", "1k", "2k2", "4k7"}
    every = structs.replace(drive, stock=(*drive.stock, 1e6, 4.7e6, 4.7e5, 3.3e5, 3.3e6, 1e5, 2.2e5, 2.2e6))
    assert len(plan_drive(every, AMBER).findings) <= len(plan.findings)
    moth, compiler = without_tracks("moth"), Compiler()
    held = apply_text(moth, "set-resistors", ["stock=1k,2k2,470"], compiler)
    assert held.board().drive.stock == (470.0, 1e3, 2.2e3)
    assert apply_text(held, "set-resistors", ["stock=none"], compiler).board().drive.stock == ()


@pytest.mark.parametrize(
    ("edit", "words", "told"),
    [
        ("second-source", ["joined=switch"], "no second source"),
        ("second-source", ["supply=usb", "volts=5V"], "can be set"),
        ("second-source", ["supply=coin-2032", "cells=3"], "AA and AAA"),
        ("auto-off", ["after=5min"], "no latch"),
        ("auto-off", ["by=relay", "after=nanmin"], "not a"),
        ("drive", ["capacitor=1F"], "solar"),
        ("drive", ["supply=solar", "capacitor=0F"], "capacitor"),
        ("set-resistors", ["stock=0"], "stock"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_in_a_sentence(edit: str, words: list[str], told: str) -> None:
    moth, compiler = without_tracks("moth"), Compiler()
    with pytest.raises(Trouble, match=told):
        apply_text(moth, edit, words, compiler)


def test_a_supply_of_another_board_can_be_set() -> None:
    plan = plan_drive(Drive(supply="other-board", volts=3.3, current_a=0.002), some((4, "0805 red")))
    assert plan.supply_v == pytest.approx(3.3, abs=0.01)
    assert np.isclose(plan.branches[0].current_a, 0.002, rtol=0.15)


def test_a_regulator_is_as_warm_as_its_copper_lets_it_be() -> None:
    """Typical rows of a body with a tab: K a watt on its pad alone and on 6 cm²; 125 C in a case of 40 C are 85 K."""
    assert kelvin_a_watt(6.5) == pytest.approx(123, abs=2)
    assert kelvin_a_watt(645) == pytest.approx(56, abs=2)
    for watts in (0.75, 1.0, 1.4):
        needs = copper_for(watts)
        assert needs is not None
        assert watts * kelvin_a_watt(needs) == pytest.approx(85, rel=1e-6), "with so much copper it just bears it"
    assert copper_for(0.5) == 0.0
    assert copper_for(2.0) is None
    drive = Drive(supply="adapter", volts=9.0, regulator="fixed", rail=5.0, current_a=0.018)
    [warm] = [one for one in plan_drive(drive, AMBER).findings if one.code == "regulator-warm"]
    pad = max(pad.width_mm * pad.height_mm for pad in part("regulator, tab").pads)
    assert warm.allowed == pytest.approx(85 / kelvin_a_watt(pad), abs=1e-3)
    assert (warm.severity == "stop") == (warm.measured > warm.allowed)
    assert f"{copper_for(warm.measured):.0f} mm²" in warm.remedies[0].text


@given(
    resistors=st.lists(st.sampled_from([0.0, 1.0, 47.0, 1000.0]), min_size=1, max_size=3),
    ohms=st.lists(st.floats(0, 40), min_size=1, max_size=5),
    high=st.floats(0.1, 24),
    power=st.booleans(),
)
def test_what_a_source_keeps_under_a_load_balances(resistors: list[float], ohms: list[float], high: float, power: bool) -> None:
    loads = [Load(LedLaw(2.0, 0.005), ohm, 7.0) for ohm in resistors] + [
        Load(LedLaw(2.0, 0.005), 0.0, 1.0, power_w=0.01)
    ] * power
    grid_v, grid_a, _ = _load_table(tuple(loads), high)
    volts, inside = np.linspace(0, high, len(ohms)), np.array(ohms)
    left = _terminal(volts, inside, grid_v, grid_a)
    spare = left + inside * np.interp(left, grid_v, grid_a) - volts
    assert ((left >= 0) & (left <= volts)).all()
    # Where a converter takes more than is there, nothing is left but what its table begins with.
    assert (abs(spare) < 1e-9).all() or (power and (abs(spare[left > 1e-9]) < 1e-6).all())
