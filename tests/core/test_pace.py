"""Timers: two speeds by a switch, and how a period spreads over many boards."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec import structs
from plates import without_tracks
from test_drive_ways import AMBER, joined, some

from outlined_glow.core.drive import plan_drive
from outlined_glow.core.drive.timing import Astable, Oscillator, TwoSpeeds, best_two_speeds, distribution, spread_of
from outlined_glow.core.errors import Trouble
from outlined_glow.core.parts import PlacedPart
from outlined_glow.core.project import Drive, Driven
from outlined_glow.core.workshop import Compiler, apply_text
from outlined_glow.core.workshop.calculators import CALCULATORS, answer_words, calculate
from outlined_glow.core.workshop.connections import value_of
from outlined_glow.core.workshop.pace_facts import pace_rows, spread


def charge_s(ohm: float, farad: float, start: float, end: float, to: float) -> float:
    """How long a capacitor takes from a share of the supply to another, on its way to a third, in small steps."""
    volts, time, step = start, 0.0, ohm * farad / 20_000
    while (volts - end) * (start - end) > 0:
        volts += (to - volts) / (ohm * farad) * step
        time += step
    return time


def test_two_speeds_are_those_of_the_circuit() -> None:
    drive = Drive(method="counter-chaser", current_a=0.003, period_s=4.0, other_period_s=0.8)
    plan = plan_drive(drive, some((8, "0805 amber"), groups="abcdefgh"))
    nets, parts = joined(plan, ())
    chip = next(one for one in plan.wanted if one.part.name == "timer")
    names = {pin.name: nets.get((chip.ref, pin.number)) for pin in chip.part.pins}

    def between(one: str, other: str, kind: str) -> float:
        for found in plan.wanted:
            if found.part.kind == kind and {nets.get((found.ref, "1")), nets.get((found.ref, "2"))} == {one, other}:
                return float(next(iter(value_of(found.part, plan.values[found.ref]).values())) or 0)
        raise AssertionError((one, other, kind))

    r1, c = between("supply", names["discharge"], "resistor"), between(names["trigger"], "ground", "capacitor")
    r2, more = between(names["discharge"], "speed", "resistor"), between("speed", names["trigger"], "resistor")
    [switch] = [one for one in plan.wanted if one.part.name == "slide switch"]
    ends = {nets.get((switch.ref, pin.number)) for pin in switch.part.pins if pin.name in ("common", "on")}
    assert ends == {"speed", names["trigger"]}, "it bridges the resistor that makes it slow"
    for ohm, wish in ((r2, 0.8 / 8), (r2 + more, 4.0 / 8)):
        up = charge_s(r1 + ohm, c, 1 / 3, 2 / 3, 1.0)
        down = charge_s(ohm, c, 2 / 3, 1 / 3, 0.0)
        assert up + down == pytest.approx(wish, rel=0.03)
    one = plan_drive(structs.replace(drive, other_period_s=None), some((8, "0805 amber"), groups="abcdefgh"))
    assert len(one.wanted) == len(plan.wanted) - 2, "a resistor and a switch less"
    assert isinstance(one.pace, Astable)
    assert isinstance(parts[chip.ref], PlacedPart | type(chip))


@settings(max_examples=60, deadline=None)
@given(short=st.floats(0.02, 5), times=st.floats(1.1, 12))
def test_both_periods_are_near_or_refused(short: float, times: float) -> None:
    try:
        two = best_two_speeds(short * times, short)
    except Trouble:
        return
    assert two.fast.period_s == pytest.approx(short, rel=0.04)
    assert two.slow.period_s == pytest.approx(short * times, rel=0.05)
    assert two.slow.r2_ohm == two.fast.r2_ohm + two.more_ohm


def test_one_period_twice_is_refused() -> None:
    with pytest.raises(Trouble, match="must differ"):
        best_two_speeds(1.0, 1.0)
    moth, compiler = without_tracks("moth"), Compiler()
    changed = apply_text(moth, "drive", ["method=counter-chaser", "other_period=0.1s"], compiler)
    assert changed.board().drive.other_period_s == 0.1
    assert apply_text(changed, "drive", ["other_period=0s"], compiler).board().drive.other_period_s is None


def test_a_group_has_speeds_of_its_own() -> None:
    drive = Drive(groups=(Driven(group="g", method="counter-chaser", other_period_s=0.3),))
    assert isinstance(plan_drive(drive, AMBER).pace, TwoSpeeds)


@pytest.mark.parametrize("one", [Astable(1e5, 2.2e5, 1e-6), Oscillator(3.3e5, 1e-7, 9)])
def test_the_distribution_is_that_of_boards_built_by_another_hand(one: Astable | Oscillator) -> None:
    hand = random.Random(3)

    def off(share: float) -> float:
        return 1 + hand.uniform(-share, share)

    def made() -> float:
        if isinstance(one, Oscillator):
            return 2**9 * 2.2 * one.r_ohm * off(0.05) * one.c_f * off(0.1)
        ohms = one.r1_ohm * off(0.05) + 2 * one.r2_ohm * off(0.05)
        return math.log(2) * ohms * one.c_f * off(0.1)

    periods = np.sort([made() for _ in range(20_000)])
    low, high = spread_of(one)
    assert low == pytest.approx(periods[1000], rel=0.01)
    assert high == pytest.approx(periods[-1000], rel=0.01)
    told = distribution(one)
    assert sum(told.counts) == 2000
    assert told.least_s < low < told.meant_s < high < told.most_s
    edges = np.linspace(told.least_s, told.most_s, len(told.counts) + 1)
    there = np.histogram(periods, edges)[0] / 10
    assert np.abs(there - told.counts).max() < 45, "each bar within chance"


def test_the_timer_is_told_in_words_and_by_the_calculator() -> None:
    compiler = Compiler()
    moth = compiler.compile(without_tracks("moth"))
    rows = dict(pace_rows(moth))
    assert rows["resistor"].endswith("kΩ")
    assert spread(moth).meant_s == pytest.approx(float(rows["period of the first group"].split()[0]) / 1000, rel=0.01)
    tide = compiler.compile(without_tracks("tide-board"))
    assert not pace_rows(tide)
    assert spread(tide) is None
    answer = calculate("timer-search", ["period=1s", "other_period=0.25s"])
    assert answer["other_period_s"] == pytest.approx(1.0, rel=0.03)
    assert answer["period_s"] == pytest.approx(0.25, rel=0.03)
    for unheard in ("duty=0.6", "series=E12", "capacitors_f=1e-6"):
        with pytest.raises(Trouble, match="leave duty, series and capacitors_f away"):
            calculate("timer-search", ["period=1s", "other_period=0.25s", unheard])
    best = calculate("timer-search", ["period=0.9s"])
    others = [words for name, words in answer_words(best) if name == "or"]
    assert len(others) == len(best["others"]) == 4
    for words, (r1, r2, c) in zip(others, best["others"], strict=True):
        assert math.log(2) * (r1 + 2 * r2) * c == pytest.approx(0.9, rel=0.01)
        assert words.count(",") == 2
    shown = CALCULATORS["timer-search"].spread(answer)
    assert shown.meant_s == pytest.approx(1.0, rel=0.03)
