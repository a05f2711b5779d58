"""Figures, reasons, prices and the library."""

from __future__ import annotations

import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from plates import ROW, plate

from outlined_glow.core.artwork.drawing import Stroke
from outlined_glow.core.artwork.stroke import stroke_area
from outlined_glow.core.brief import price_of
from outlined_glow.core.brief.price import brief_price, over_step
from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion import levels
from outlined_glow.core.parts import emitter, emitters, profile, profiles, resistor, supplies, supply
from outlined_glow.core.project import Brief, Project, Stack, apply_edit
from outlined_glow.core.workshop import Compiler, Work, apply_values
from outlined_glow.core.workshop.demos import DEMOS, demo_project, demo_title
from outlined_glow.core.workshop.facts import (
    array_spacing,
    battery_means,
    current_curve,
    currents,
    hours,
    info,
    severities,
    stage_states,
)
from outlined_glow.core.workshop.why import why_current, why_price, why_resistor, why_run_time


def test_info_and_the_plan_say_the_same(moth_work: Work) -> None:
    findings = Compiler().findings(moth_work)
    said = info(moth_work, findings)
    total, average, peak = currents(moth_work)
    standing = moth_work.plan.standing_a
    assert said["drive"]["current_a"] == total == pytest.approx(sum(moth_work.plan.led_currents.values()) + standing)
    assert peak == pytest.approx(total)
    assert 0 < standing < average < peak, "all groups are lit at once when the counter is at its start"
    assert said["findings"] == severities(findings)
    assert said["findings"]["stops"] == 1
    assert len(said["leds"]) == 20
    assert {led["group"] for led in said["leds"]} == {"tips", "edge", "waist", "hind", "eyes"}
    assert said["motion"]["wish"] is False
    assert hours(moth_work) == (said["run_time_h"], None)
    drawn = Compiler().compile(apply_values(moth_work.project, "set-pattern", {"pattern": "twinkle"}, (0, 0)))
    steady, wish = hours(drawn)
    assert wish is not None, "what it cannot show is a preview"
    assert steady == pytest.approx(said["run_time_h"], rel=0.03), "by itself the counter lights each half of the time"
    windows = next(one for one in said["swatches"] if one["appearance"] == "window")
    assert windows["area_mm2"] == pytest.approx(46.7, abs=0.2)


def test_the_curve_averages_to_the_average(moth_work: Work) -> None:
    total, average, _ = currents(moth_work)
    curve = current_curve(moth_work, 481)
    standing = moth_work.plan.standing_a
    assert np.mean(curve[:-1]) * (total - standing) + standing == pytest.approx(average, rel=0.02)
    assert curve[0] == pytest.approx(curve[-1], abs=1e-6)
    assert array_spacing(moth_work, "fore wings")[0] == 12
    assert array_spacing(moth_work, "fore wings")[2] == pytest.approx(4.54, abs=0.01)
    assert array_spacing(moth_work, "nobody") == (0, None, None)


@pytest.mark.parametrize("pattern", ["steady", "chase", "breathe", "twinkle"])
@pytest.mark.parametrize("brightness", [1.0, 0.4])
def test_all_on_average_and_peak_agree_with_the_pattern_looked_at_often(sign: Project, pattern: str, brightness: float) -> None:
    project = apply_values(sign, "ring", {"x_mm": 20.0, "y_mm": 12.0, "diameter_mm": 9.0, "count": 5}, (0, 0))
    project = apply_values(project, "set-pattern", {"pattern": pattern, "period_s": 1.5, "brightness": brightness}, (0, 0))
    work = Compiler().compile(project)
    each = np.array([work.plan.led_currents[led.index] for led in work.leds])
    moments = levels(project.motion, work.lamps, 1.5 * np.arange(3001) / 3001)[..., 0] @ each
    total, average, peak = currents(work)
    assert total == pytest.approx(each.sum())
    assert average == pytest.approx(moments.mean(), rel=0.01)
    assert peak == pytest.approx(moments.max(), rel=0.01)
    if pattern == "steady":
        assert (average, peak) == (pytest.approx(brightness * total), pytest.approx(brightness * total))


def test_a_dimmed_board_lasts_longer_where_a_program_dims_it() -> None:
    """Steady light of a quarter takes a quarter; a board without a program takes all of it, and only a preview is dim."""
    for way, told in (("shift-register", "with the light that plays"), ("each", "all LEDs on; ")):
        board = plate(ROW, ("drive", {"method": way, "supply": "aaa-alkaline", "cells": 3, "current_a": 0.005}))
        dim = apply_edit(board, "set-pattern", {"pattern": "steady", "brightness": 0.25})
        feed = apply_edit(board, "set-feed", {"name": "day", "kind": "knob", "at": 1.0, "low": 0.0, "high": 1000.0})
        sensed = apply_edit(feed, "set-ambient", {"feed": "day", "falls": True, "floor": 0.25, "ceiling": 1.0})
        full, quarter, by_day = (Compiler().compile(one) for one in (board, dim, sensed))
        for work in (quarter, by_day):
            assert battery_means(work).startswith(told)
            assert work.values["shown"] == (way != "each")
            wish = [one for one in Compiler().findings(work) if one.code == "pattern-is-a-wish"]
            assert bool(wish) == (way == "each")
            for remedy in (one.remedies[0] for one in wish):
                assert Compiler().compile(apply_edit(work.project, str(remedy.edit), dict(remedy.values))).values["shown"]
            times = hours(work)[0] / hours(full)[0]
            assert times == pytest.approx(1.0) if way == "each" else 3.0 < times < 5.0


def test_stages_stand_as_their_findings_say(moth_work: Work, sign: Project) -> None:
    compiler = Compiler()
    moth = stage_states(moth_work, compiler.findings(moth_work))
    assert moth == {
        "brief": "lit", "artwork": "lit", "shape": "lit", "lights": "lit", "drive": "lit", "wiring": "broken",
        "motion": "lit", "order": "broken",
    }  # fmt: skip
    plain = compiler.compile(sign)
    assert stage_states(plain, ())["lights"] == "dark"
    assert stage_states(plain, ())["order"] == "lit"


def figure(text: str) -> float:
    return float(re.findall(r"[\d.]+", text)[0])


def test_reasons_put_in_the_numbers_they_explain(moth_work: Work) -> None:
    branch = moth_work.plan.branches[0]
    rows = {symbol: value for symbol, _, value, _ in why_resistor(moth_work, branch).rows}
    supply_v, forward, target = figure(rows["Vs"]), figure(rows["V(I)"]), figure(rows["I"]) / 1000
    assert (supply_v - forward) / target - figure(rows["Ro"]) == pytest.approx(1000 * figure(rows["R"]), rel=0.01)
    assert 1000 * figure(rows["E24"]) == branch.resistor_ohm
    rows = {symbol: value for symbol, _, value, _ in why_current(moth_work, branch).rows}
    assert figure(rows["I"]) < 1000 * figure(rows["most"])
    rows = {symbol: value for symbol, _, value, _ in why_run_time(moth_work).rows}
    assert figure(rows["end"]) == pytest.approx(moth_work.values["run"].hours, abs=0.5)
    price = why_price(moth_work)
    assert sum(float(amount) for amount, _, _, _ in price.rows) == pytest.approx(23.2)
    usb = Compiler().compile(apply_values(moth_work.project, "set-supply", {"supply": "usb"}, (0, 0)))
    assert why_run_time(usb).title == "No limit"


def test_prices_by_the_list() -> None:
    green = Stack(mask="green", finish="tin")
    assert price_of((50, 50), green, 4).boards == 3.80
    assert price_of((50, 50), green, 8).boards == 5.20
    assert price_of((50, 50), green, 10).boards == pytest.approx(5.20 + 2 * 0.45)
    assert price_of((120, 90), green, 8).boards == 5.20, "either way round"
    assert price_of((121, 60), green, 8).boards == pytest.approx(5.20 + 6.00)
    assert price_of((150, 100), green, 8).boards == pytest.approx(5.20 + 6.00 + round((150 - 108) * 0.012 * 8, 2))
    assert price_of((50, 50), Stack(mask="purple", finish="gold", thickness_mm=2.0), 8).boards == pytest.approx(29.2)
    assert price_of((50, 50), green, 8, at_home=True).boards == 0
    assert over_step(Brief(), (100, 80)) is None
    assert over_step(Brief(), (121.8, 60)) == (pytest.approx(1.8), 6.0)
    assert over_step(Brief(profile="home-etch"), (300, 200)) is None


@given(st.integers(1, 500), st.floats(10, 990), st.floats(10, 990))
def test_what_a_smaller_board_saves_is_the_whole_saving(pieces: int, width: float, height: float) -> None:
    brief = Brief(pieces=pieces, stack=Stack(mask="green", finish="tin"))
    step = over_step(brief, (width, height))
    if step is None:
        return
    excess, saves = step
    fitting = (min(width, height) - excess, max(width, height) - excess)
    assert brief_price(brief, (width, height), False).boards - brief_price(brief, fitting, False).boards == pytest.approx(saves)


@given(st.integers(1, 500), st.floats(10, 380), st.floats(10, 380))
def test_a_larger_board_never_costs_less(pieces: int, width: float, height: float) -> None:
    stack = Stack()
    assert price_of((width, height), stack, pieces).boards <= price_of((width + 9, height + 9), stack, pieces).boards + 1e-9
    assert price_of((width, height), stack, pieces).boards <= price_of((width, height), stack, pieces + 1).boards + 1e-9


def test_the_library_is_whole() -> None:
    for name, one in emitters().items():
        for light in one.lights:
            low, typical, high = light.forward_v
            assert low < typical < high, name
            assert {light.anode, light.cathode} <= {pin.number for pin in one.part.pins} | {""}, name
        assert one.part.pads[0].x_mm < 0, name
        assert one.part.courtyard[0] >= one.part.body_mm[0]
        assert one.reverse == ("reverse" in name)
    for one_supply in supplies().values():
        if one_supply.ends:
            assert one_supply.open_v[0][0] == 0
            assert one_supply.open_v[-1][0] == 1
            volts = [v for _, v in one_supply.open_v]
            assert volts == sorted(volts, reverse=True)
    assert {one.name for one in profiles().values()} == set(profiles())
    assert profile("standard").mask_web("green") == 0.10
    assert profile("standard").mask_web("purple") == 0.13
    assert resistor("0805").rated_w == 0.125
    for missing in (lambda: emitter("9999 mauve"), lambda: supply("steam"), lambda: profile("wish")):
        with pytest.raises(Trouble):
            missing()


def test_demos_are_made_by_edits_anyone_can_make() -> None:
    for name in DEMOS:
        project = demo_project(name)
        assert project.name == demo_title(name)["title"]
        assert project == demo_project(name)
    with pytest.raises(Trouble):
        demo_project("nothing")


def test_lines_as_areas() -> None:
    path = np.array([[0, 0], [10, 0], [10, 10.0]])
    flat = stroke_area(path, False, Stroke(2.0, "butt", "miter"), 0.001)
    assert flat.area == pytest.approx(20 + 20, abs=1e-6)
    assert stroke_area(path, False, Stroke(2.0, "butt", "bevel"), 0.001).area == pytest.approx(39.5, abs=1e-6)
    assert stroke_area(path, False, Stroke(2.0, "round", "round"), 0.001).area == pytest.approx(
        39 + np.pi / 4 + np.pi, abs=0.01
    )
    assert stroke_area(path, False, Stroke(2.0, "square", "miter"), 0.001).area == pytest.approx(44, abs=1e-6)
    closed = stroke_area(np.array([[0, 0], [9, 0], [9, 9], [0, 9.0]]), True, Stroke(1.0), 0.001)
    assert closed.area == pytest.approx(100 - 64, abs=1e-6)
    dashes = stroke_area(np.array([[0, 0], [10, 0.0]]), False, Stroke(1.0, dashes=(2.0, 3.0)), 0.001)
    assert dashes.area == pytest.approx(4, abs=1e-6)
    dot = np.array([[3, 3.0]])
    assert stroke_area(dot, False, Stroke(2.0, "butt"), 0.001).is_empty
    assert stroke_area(dot, False, Stroke(2.0, "round"), 0.001).area == pytest.approx(np.pi, abs=0.01)
    assert stroke_area(dot, False, Stroke(2.0, "square"), 0.001).area == pytest.approx(4)
