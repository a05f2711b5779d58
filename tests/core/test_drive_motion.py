"""LED law, resistors, run time against worked cases; what flows, where parts sit; patterns."""

from __future__ import annotations

import json
import math
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from outlined_glow.core.drive import plan_drive
from outlined_glow.core.drive.law import LedLaw, branch_current
from outlined_glow.core.drive.methods import method
from outlined_glow.core.drive.resistor import preferred, series_resistor, series_values
from outlined_glow.core.drive.supply.runtime import Load, source_state
from outlined_glow.core.errors import Trouble
from outlined_glow.core.lights import Led
from outlined_glow.core.motion import Lamps, average_share, level_at, levels, peak_share
from outlined_glow.core.motion.formula import read_formula
from outlined_glow.core.motion.lamps import plain_lamps
from outlined_glow.core.motion.pattern import pattern_names
from outlined_glow.core.motion.score import current_shares
from outlined_glow.core.parts import emitters, supply
from outlined_glow.core.project import Drive, Motion
from outlined_glow.core.workshop.calculators import CALCULATORS, calculate

CASES = json.loads((Path(__file__).parents[1] / "data" / "calculators.json").read_text())


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["calculator"])
def test_worked_cases(case: dict) -> None:  # type: ignore[type-arg]
    answer = calculate(case["calculator"], [f"{key}={value}" for key, value in case["inputs"].items()])
    for key, expected in case["expected"].items():
        if isinstance(expected, str):
            assert answer[key] == expected
        else:
            close = 0.02 if case["calculator"] == "run-time" and key == "hours" else 0.002
            assert answer[key] == pytest.approx(expected, rel=close)


@pytest.mark.parametrize(
    "words",
    [
        ["supply_v=5"],
        ["supply_v=5", "forward_v=2", "current_a=5mA", "colour=red"],
        ["supply_v=5", "supply_v=6", "forward_v=2", "current_a=5mA"],
        ["supply_v=2", "forward_v=3", "current_a=5mA"],
        ["supply_v=five", "forward_v=3", "current_a=5mA"],
        ["supply_v"],
    ],
)
def test_calculators_refuse_nonsense(words: list[str]) -> None:
    with pytest.raises(Trouble):
        calculate("series-resistor", words)


def test_units_may_be_written_with_the_value() -> None:
    short = calculate("series-resistor", ["supply=5V", "forward=2V", "current=8mA"])
    assert short["resistor_ohm"] == 390
    assert set(CALCULATORS) == {case["calculator"] for case in CASES} | {"dimming", "ambient", "backup-cell"}


@given(st.floats(1e-5, 0.05), st.floats(1.6, 3.6), st.floats(10, 1e5))
def test_the_law_and_its_inverse_agree(current: float, forward: float, ohm: float) -> None:
    law = LedLaw(forward, 0.02)
    supply = law.volts(current) + current * ohm
    assert branch_current(supply, ohm, law) == pytest.approx(current, rel=1e-6)


@given(st.floats(1.0, 1e6), st.sampled_from(["E6", "E12", "E24", "E48", "E96"]))
def test_preferred_values(ohm: float, series: str) -> None:
    up = preferred(ohm, series, "at-most")
    near = preferred(ohm, series, "nearest")
    assert up >= ohm * (1 - 1e-6)
    assert max(near / ohm, ohm / near) <= max(up / ohm, ohm / up) * (1 + 1e-9)
    assert len(series_values(series)) == int(series[1:])


@given(st.floats(0.0005, 0.015), st.sampled_from(["E6", "E12", "E24", "E96"]))
def test_at_most_is_never_more_with_typical_parts(current: float, series: str) -> None:
    answer = series_resistor(5.0, LedLaw(2.0, 0.02), current, 1, series, "at-most")
    assert answer.current_a <= current * (1 + 1e-9)
    assert answer.power_w == pytest.approx(answer.current_a**2 * answer.resistor_ohm)


def chain(count: int, emitter: str = "0805 amber") -> tuple[Led, ...]:
    return tuple(Led(place + 1, 3.0 * place, 0.0, 0.0, "front", emitters()[emitter], "g", "a") for place in range(count))


def test_a_ring_on_usb_as_new_projects_have_it() -> None:
    plan = plan_drive(Drive(), chain(12))
    branch = plan.branches[0]
    assert branch.resistor_ohm == 680
    assert 0.0045 < branch.current_a <= 0.005
    assert branch.current_min_a < branch.current_a < branch.current_max_a
    assert plan.current_a == pytest.approx(12 * branch.current_a)
    assert plan.steady is None
    assert plan.hours(1.0) is None
    assert [finding.code for finding in plan.findings] == []


def codes(drive: Drive, leds: tuple[Led, ...]) -> list[str]:
    return [finding.code for finding in plan_drive(drive, leds).findings]


def test_what_the_drive_finds_fault_with() -> None:
    assert codes(Drive(supply="aaa-alkaline", cells=1), chain(3)) == ["no-voltage-left"]
    assert codes(Drive(supply="aa-alkaline", cells=2, current_a=0.005), chain(3, "0805 blue")) == [
        "little-headroom", "auto-off-pays"
    ]  # fmt: skip
    assert "resistor-raised" in codes(Drive(current_a=0.02), chain(2))
    assert "resistor-warm" in codes(Drive(current_a=0.018, resistor="0402"), chain(2))
    assert "supply-over-current" in codes(Drive(current_a=0.01), chain(80))
    assert codes(Drive(supply="coin-2032", cells=1, current_a=0.002), chain(4)) == [
        "cell-over-continuous", "auto-off-pays"
    ]  # fmt: skip
    assert codes(Drive(), chain(3)) == ["power-bank"]


def test_two_kinds_share_the_source() -> None:
    leds = (*chain(4), *(Led(9, 0, 9, 0, "front", emitters()["0805 green"], "g", "b"),))
    plan = plan_drive(Drive(supply="aa-alkaline", cells=3, current_a=0.004), leds)
    assert {branch.emitter.colour for branch in plan.branches} == {"amber", "green"}
    assert plan.branch_of(9).emitter.colour == "green"
    assert plan.led_currents[9] == plan.branch_of(9).current_a
    assert plan.steady is not None
    assert plan.steady.ended_by == "light"
    assert plan.steady.curve_light[0] == pytest.approx(1)
    half = plan.hours(0.5)
    assert half is not None
    assert half.hours > 1.9 * plan.steady.hours


def lamps_in_a_row(count: int) -> Lamps:
    """LEDs of one colour, chained as they lie."""
    row = np.arange(count)
    return plain_lamps(np.column_stack([3.0 * row, 0.0 * row]), ("g",) * count)


@given(st.sampled_from(pattern_names()), st.integers(1, 60), st.floats(0, 100), st.floats(0.1, 20), st.floats(0, 1))
def test_patterns_are_pure_bounded_and_periodic(name: str, count: int, at: float, period: float, brightness: float) -> None:
    motion = Motion(pattern=name, period_s=period, brightness=brightness)
    lamps = lamps_in_a_row(count)
    one = level_at(motion, lamps, at)
    assert one.shape == (count, 1)
    assert ((one >= 0) & (one <= brightness + 1e-12)).all()
    assert np.array_equal(one, level_at(motion, lamps, at))
    assert level_at(motion, lamps, at + period) == pytest.approx(one, abs=1e-6)
    table = levels(motion, lamps, [at, at / 2, at / 3])
    assert table.shape == (3, count, 1)
    assert np.array_equal(table[0], one), "many moments at once are as each by itself"
    assert 0 <= average_share(motion, lamps) <= peak_share(motion, lamps) + 1e-12 <= brightness + 1e-9


def test_a_chase_lights_each_in_turn() -> None:
    motion = Motion(pattern="chase", period_s=8)
    lamps = lamps_in_a_row(8)
    heads = [int(np.argmax(level_at(motion, lamps, at + 0.01))) for at in range(8)]
    assert heads == list(range(8))
    other = replace(lamps, chain=np.array([3, 1, 0, 2, 7, 6, 5, 4]))
    heads = [int(np.argmax(level_at(motion, other, at + 0.01))) for at in range(8)]
    assert heads == [2, 1, 3, 0, 7, 6, 5, 4], "the chain has an order of its own"
    assert average_share(Motion(), lamps) == pytest.approx(1)
    assert level_at(motion, lamps_in_a_row(0), 1.0).shape == (0, 1)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("1 +", "cannot be read"), ("(" * 399, "cannot be read"), ("1" * 401, "401 letters"), ("level", "may read .*place"),
        ("place.real", "not arithmetic"), ("'a' * 9", "is no number"), ("(lambda: 1)()", "function that is not there"),
        ("__import__('os')", "function that is not there"), ("min(1)", "it takes 2"), ("[1][0]", "not arithmetic"),
        ("1 if place else 2", "not arithmetic"), ("0 < place < 2", "more than two"), ("True", "is no number"),
        ("9 ** 9 ** 9 ** 9", "has no value"), ("1 / 0", "has no value"), ("(0 - 8) ** 0.5 < 1", "has no value"),
        ("abs((0 - 8) ** 0.5)", "has no value"),
    ],
)  # fmt: skip
def test_a_formula_is_arithmetic_and_nothing_else(text: str, said: str) -> None:
    with pytest.raises(Trouble, match=said):
        read_formula(text, frozenset({"place"}))({"place": np.arange(3.0)})


@given(st.floats(-50, 50), st.floats(0.1, 50))
def test_a_formula_comes_to_what_it_says(a: float, b: float) -> None:
    formula = read_formula("choose(a % b < 1, max(a, -b) ** 2 / b, sin(pi * a) - abs(b))", frozenset("ab"))
    wanted = max(a, -b) ** 2 / b if a % b < 1 else math.sin(math.pi * a) - b
    assert formula({"a": np.array([[a]]), "b": b}) == pytest.approx(wanted, abs=1e-9)
    assert formula.reads == {"a", "b"}


@pytest.mark.parametrize(
    ("text", "by_hand"),
    [
        ("(a < 2) + (a < 3)", lambda a: (a < 2) + (a < 3)), ("sin(a < 2)", lambda a: math.sin(a < 2)),
        ("(a < 2) - (a < 1)", lambda a: (a < 2) - (a < 1)), ("0 - a % (1 / floor(0 * a))", lambda a: -a),
        ("(a < 2) * (a < 3) * 0.3", lambda a: 0.3 * (a < 2)), ("choose(a < 2, a < 1, 7) / 4", lambda a: (7, a < 1)[a < 2] / 4),
    ],
)  # fmt: skip
def test_what_is_compared_is_a_number(text: str, by_hand: Callable[[float], float]) -> None:
    """1 or 0, with all its digits and the sum of numbers; and a rest by what is endless is the whole."""
    values = np.linspace(0, 3.5, 600)
    formula = read_formula(text, frozenset("a"))
    assert np.asarray(formula({"a": values})).tolist() == pytest.approx([by_hand(one) for one in values.tolist()], abs=1e-12)


def test_a_share_of_the_current_counts_what_each_led_takes() -> None:
    lamps = replace(lamps_in_a_row(2), currents=np.array([[0.001], [0.003]]))
    motion = Motion(pattern="chase", period_s=2.0)
    shares = current_shares(motion, lamps, [0.0, 1.0])
    assert shares == pytest.approx([(1 * 1 + 0.5 * 3) / 4, (0.5 * 1 + 1 * 3) / 4])


def test_only_full_steady_light_is_true() -> None:
    each = method("each")
    assert each.shows(Motion())
    assert not each.shows(Motion(pattern="breathe"))
    assert not each.shows(Motion(brightness=0.5))


@pytest.mark.parametrize("open_v", [5.0, 19.9, 24.0, 36.0, 48.0])
def test_a_source_of_any_voltage_is_loaded_as_its_loop_equation_says(open_v: float) -> None:
    law, resistor, inside = LedLaw(2.0, 0.02), 3300.0, 4.0
    terminal, [current] = source_state(supply("aa-alkaline"), 1, (Load(law, resistor, 5),), open_v, inside)
    assert terminal == pytest.approx(open_v - 5 * current * inside, rel=1e-3)
    assert law.volts_of(np.array([current]))[0] + current * resistor == pytest.approx(terminal, rel=1e-3)
