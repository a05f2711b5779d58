"""Any drive of any LEDs: whatever is chosen, the circuit is one, the figures are finite, and what is wrong is said."""

from __future__ import annotations

import math
from typing import Any

from hypothesis import example, given, settings
from hypothesis import strategies as st
from msgspec import structs
from test_drive_ways import joined, some

from outlined_glow.core.drive import plan_drive
from outlined_glow.core.drive.devices import controllers, needs, regulators
from outlined_glow.core.drive.keys import KEYS
from outlined_glow.core.drive.planner import planned
from outlined_glow.core.errors import Trouble
from outlined_glow.core.parts import emitters, supplies
from outlined_glow.core.project import AutoOff, Drive, Driven, GivenPin, ReservedPin, SecondSource

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
