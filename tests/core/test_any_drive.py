"""Any drive of any LEDs: whatever is chosen, the circuit is one, the figures are finite, and what is wrong is said."""

from __future__ import annotations

import math
from collections import defaultdict
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from msgspec import structs
from test_drive_ways import joined, some

from outlined_glow.core.drive import DrivePlan, plan_drive
from outlined_glow.core.drive.current_ways import current_ways
from outlined_glow.core.drive.devices import controllers, needs, regulators
from outlined_glow.core.drive.keys import KEYS
from outlined_glow.core.drive.placement import led_parts
from outlined_glow.core.drive.planner import planned
from outlined_glow.core.drive.supply.feed import feed_of
from outlined_glow.core.errors import Trouble
from outlined_glow.core.lights import Led
from outlined_glow.core.parts import emitters, supplies
from outlined_glow.core.project import AutoOff, Drive, Driven, GivenPin, OwnController, OwnPin, ReservedPin, SecondSource

_CELLS = st.integers(1, 4)
_VOLTS = st.one_of(st.none(), st.floats(0.5, 60))
_SUPPLY = st.sampled_from(sorted(supplies()))
_PERIOD = st.floats(0.01, 4000)


@st.composite
def drives(draw: Any) -> Drive:
    """A drive with everything chosen by chance."""
    second = st.builds(SecondSource, _SUPPLY, _CELLS, _VOLTS, st.sampled_from(["nothing", "switch", "diodes"]))
    wishes: dict[str, Any] = {
        "method": st.sampled_from(KEYS), "supply": _SUPPLY, "cells": _CELLS, "volts": _VOLTS,
        "capacity_ah": st.one_of(st.none(), st.floats(1e-3, 100)), "farad": st.one_of(st.none(), st.floats(1e-3, 100)),
        "second": st.one_of(st.none(), second), "regulator": st.sampled_from(["", *regulators()]),
        "auto_off": st.one_of(st.none(), st.builds(AutoOff, st.sampled_from(["transistor", "relay"]), st.floats(6, 86_400))),
        "rail": st.one_of(st.none(), st.floats(1, 24)),
        "fitted": st.lists(st.sampled_from(sorted(needs())), unique=True).map(tuple),
        "controller": st.sampled_from(["", "none", "own", *controllers()]), "lit": st.sampled_from(["all", "one", "3"]),
        "rows": st.one_of(st.none(), st.integers(1, 40)), "period_s": _PERIOD,
        "other_period_s": st.one_of(st.none(), _PERIOD), "current_a": st.floats(1e-5, 0.02), "balanced": st.booleans(),
        "spare_pads": st.booleans(), "family": st.sampled_from(["", "HC", "HCT", "4000"]),
        "reset": st.sampled_from(["network", "by hand", "none"]),
        "stock": st.lists(st.sampled_from([10.0, 100.0, 470.0, 1e3, 1e5]), max_size=3).map(tuple),
        "reserved": st.sampled_from([(), (ReservedPin(pin="5", name="button"),)]),
        "given": st.sampled_from([(), (GivenPin(net="registers data", pin="4"), GivenPin(net="D1 pin", pin="99"))]),
        "groups": st.one_of(st.just(()), st.builds(lambda way: (Driven(group="b", method=way),), st.sampled_from(KEYS))),
    }  # fmt: skip
    return Drive(**{key: draw(wish) for key, wish in wishes.items()})


#: Pins of these roles carry no current.
_NO_CURRENT = {"data in", "data out", "clock", "reset", "enable", "sense", "not connected"}
_NAMES = sorted(name for name in emitters() if "green" not in name)
_LEDS = st.lists(st.tuples(st.integers(1, 7), st.sampled_from(_NAMES)), max_size=3)


@example(Drive(period_s=86_400.0), [(12, "0805 amber")])
@example(Drive(period_s=1.0, other_period_s=5000.0), [(12, "0805 amber")])
@settings(max_examples=25, deadline=None)
@given(drive=drives(), kinds=_LEDS)
def test_every_way_has_its_verdict_whatever_is_chosen(drive: Drive, kinds: list[tuple[int, str]]) -> None:
    rows = list(planned(structs.replace(drive, groups=()), some(*kinds)))
    assert [row.method for row in rows] == list(KEYS)
    assert all(row.verdict.reason.rstrip().endswith((".", "?")) for row in rows if row.verdict.word == "refused")


@example(Drive(period_s=86_400.0), [(12, "0805 amber")])
@example(Drive(period_s=1.0, other_period_s=5000.0), [(12, "0805 amber")])
@example(Drive(method="filament", supply="usb"), [(2, "filament lamp 5 V")])
@example(Drive(method="pins", supply="usb", controller="32-bit 3.3 V module", current_a=0.01), [(6, "0805 amber")])
@settings(max_examples=150, deadline=None)
@given(drive=drives(), kinds=_LEDS)
def test_whatever_is_chosen_the_circuit_is_one(drive: Drive, kinds: list[tuple[int, str]]) -> None:
    leds = some(*kinds, groups=("a", "b"))
    try:
        plan = plan_drive(drive, leds)
    except Trouble as trouble:
        assert str(trouble).endswith(".")
        return
    nets, parts = joined(plan, leds)
    assert len(nets) == sum(len(one.pins) for one in plan.nets), "a pin lies on one net"
    for ref, number in nets:
        assert number in {pin.number for pin in parts[ref].part.pins}, (ref, number)
    assert len({one.ref for one in plan.wanted}) == len(plan.wanted)
    for ref, one in parts.items():
        floating = [pin.name for pin in one.part.pins if pin.role == "input" and (ref, pin.number) not in nets]
        assert not floating or one.part.kind != "chip", (ref, floating)
    assert all(one.text.rstrip().endswith((".", "?")) for one in plan.findings)
    figures = [plan.current_a, plan.current_max_a, plan.standing_a, plan.supply_v, plan.average]
    for branch in plan.branches:
        figures += [branch.current_min_a, branch.current_a, branch.current_max_a, branch.power_w]
        if branch.resistor_ohm is not None:
            assert branch.current_min_a <= branch.current_a * 1.02 + 1e-9
            assert branch.current_a <= branch.current_max_a * 1.02 + 1e-9
    assert all(math.isfinite(one) and one >= 0 for one in figures)
    run = plan.hours(1.0)
    if run is not None:
        assert math.isfinite(run.hours)
        assert run.hours >= 0
        assert list(run.curve_h) == sorted(run.curve_h)
    used = [pin.number for pin in plan.pins]
    assert len(set(used)) == len(used), "no pin drives two things"
    what_flows_into_a_part_flows_out_of_it(drive, leds, plan)
    what_a_source_loses_flows(drive, plan)


def what_a_source_loses_flows(drive: Drive, plan: DrivePlan) -> None:
    feed = feed_of(drive, plan.supply)
    if plan.lit_a > 0 and feed.before is None:
        assert plan.supply_v + feed.ohm * plan.lit_a == pytest.approx(max(feed.open_v, plan.supply_v), abs=0.01)
        whole = sum(one.current_max_a * len(one.indices) / one.count for one in plan.branches)
        assert plan.lit_a - 1e-6 <= plan.current_max_a * 1.001
        assert drive.method == "tube" or plan.current_max_a <= whole * 1.001 + 1e-6


def what_flows_into_a_part_flows_out_of_it(drive: Drive, leds: tuple[Led, ...], plan: DrivePlan) -> None:
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
            idle = parts[ref].part.pin(number).role in _NO_CURRENT or parts[ref].part.kind == "capacitor"
            assert not idle or abs(amps) <= 1e-12, (ref, number)
        assert of_part == pytest.approx(dict.fromkeys(of_part, 0.0), abs=1e-12)


_OF_EACH = (
    (3, "0805 amber"), (2, "digit 14.2 common cathode red"), (2, "pixel 5050 three colours"), (1, "filament lamp 5 V"),
    (1, "digit tube on its socket"),
)  # fmt: skip


_MANY = OwnController(
    name="many pins", supply_v=(2.0, 5.5), pin_a=0.02, total_a=1.0, standing_a=0.001,
    pins=(
        OwnPin(number="1", name="VCC", kind="supply"), OwnPin(number="2", name="GND", kind="ground"),
        *(OwnPin(number=f"{at}", name=f"P{at}", kind="output") for at in range(3, 90)),
    ),
)  # fmt: skip


@pytest.mark.parametrize("way", KEYS)
def test_ways_side_by_side_meet_in_no_signal(way: str) -> None:
    """Two groups in two ways, or in the same with other currents and paces: nothing but what feeds them joins their parts."""
    half = sum(count for count, _ in _OF_EACH)
    leds = tuple(replace(led, group="ab"[at >= half]) for at, led in enumerate(some(*_OF_EACH, *_OF_EACH)))
    for other in KEYS:
        groups = (
            Driven(group="a", method=way, current_a=0.002, period_s=1.0),
            Driven(group="b", method=other, current_a=0.003, period_s=7.0),
        )
        plan = plan_drive(Drive(supply="usb", groups=groups, controller="own", own=_MANY), leds)
        _, parts = joined(plan, leds)
        top = {ref: ref for ref in parts}
        for net in plan.nets:
            mine = [ref for ref, _ in net.pins if parts[ref].part.kind != "controller"]
            for ref in mine if net.kind == "signal" else ():
                top[root(top, ref)] = root(top, mine[0])
        ends = [(led.group, root(top, one.ref)) for led, one in zip(leds, led_parts(leds), strict=True)]
        of_a, of_b = ({end for group, end in ends if group == which} for which in "ab")
        assert not of_a & of_b, (way, other)


def root(top: dict[str, str], ref: str) -> str:
    """The part that stands for all that are joined with one."""
    while top[ref] != ref:
        ref = top[ref]
    return ref
