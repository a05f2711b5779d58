"""“Why”: what is put in gives the figure, by arithmetic of the tests; every input leads to a stage and a key there is."""

from __future__ import annotations

import math
import re
from collections.abc import Callable

import pytest
from plates import ROW, plate, without_tracks

from outlined_glow.core.project import edits
from outlined_glow.core.stages import stages
from outlined_glow.core.units import parse_quantity
from outlined_glow.core.workshop import Compiler, Work, apply_text
from outlined_glow.core.workshop.rail import rail_of
from outlined_glow.core.workshop.why import Why, why_current, why_price, why_resistor, why_run_time
from outlined_glow.core.workshop.why_supply import (
    why_dark,
    why_day,
    why_heat,
    why_off,
    why_reset,
    why_standing,
    why_sun,
    why_volts,
)

#: Keys of a stage that are set by a field of their own, beside those of its edits.
_BESIDE = {"supply", "latch", "emitter", "profile", ""}


@pytest.fixture(scope="module")
def works() -> dict[str, Work]:
    compiler = Compiler()
    moth = without_tracks("moth")
    latched = apply_text(moth, "auto-off", ["by=transistor", "after=10min"], compiler)
    made = {
        "moth": moth, "latched": latched, "tide": without_tracks("tide-board"),
        "solar": apply_text(moth, "drive", ["supply=solar", "capacitor=2F", "sun=40mA"], compiler),
        "rail": apply_text(moth, "drive", ["supply=adapter", "volts=9V", "regulator=fixed", "rail=5V"], compiler),
        "two": apply_text(moth, "second-source", ["supply=usb", "joined=diodes"], compiler),
        "pins": plate(ROW, ("drive", {"method": "pins", "supply": "usb", "controller": "32-bit 3.3 V module"})),
    }  # fmt: skip
    return {name: compiler.compile(project) for name, project in made.items()}


def number(why: Why, symbol: str, unit: str) -> float:
    """What is put in for a symbol."""
    words = next(row.value for row in why.rows if row.symbol == symbol)
    return parse_quantity(words.replace("Ω", "ohm").replace("µ", "u"), unit, bare=unit)


def test_the_volts_are_those_of_the_inputs(works: dict[str, Work]) -> None:
    for name in ("moth", "latched", "tide", "two", "pins"):
        why = why_volts(works[name])
        ohms = sum(number(why, row.symbol, "ohm") for row in why.rows if row.symbol.startswith("R"))
        diode = number(why, "Vd", "V") if name == "two" else 0.0
        volts = number(why, "Vo", "V") - ohms * number(why, "I", "A") - diode
        assert volts == pytest.approx(works[name].plan.supply_v, abs=0.012), name
    assert number(why_volts(works["rail"]), "rail", "V") == 5.0
    assert any(row.symbol == "Rl" for row in why_volts(works["latched"]).rows)


def test_the_volts_before_a_resistor_are_told(works: dict[str, Work]) -> None:
    for name, work in works.items():
        branch = work.plan.branches[0]
        why = why_resistor(work, branch)
        row = next(one for one in why.rows if one.symbol == "Vs")
        beside = {one.symbol: number(why, one.symbol, "ohm" if one.symbol == "Ro" else "V")
                  for one in why.rows if one.symbol in ("Ro", "drop")}  # fmt: skip
        lamp = next(float(one.value.split()[0]) for one in why.rows if one.symbol.endswith("V(I)")) + beside.get("drop", 0.0)
        assert branch.regulated == (name == "tide")
        if branch.regulated:
            assert number(why, "I", "A") == pytest.approx(branch.peak_a, rel=0.01)
            assert lamp < number(why, "Vs", "V")
        else:
            lost = (number(why, "R", "ohm") + beside.get("Ro", 0.0)) * number(why, "I", "A") + lamp
            assert lost == pytest.approx(number(why, "Vs", "V"), abs=0.03), name
        if " less " in row.how:
            words = re.findall(r"[\d.]+ [mu]?[VΩA]", row.how.partition(", ")[2].replace("µ", "u"))
            told = [parse_quantity(one.replace("Ω", unit), unit) for one, unit in zip(words, ("V", "ohm", "A"), strict=True)]
            assert told[0] - told[1] * told[2] == pytest.approx(number(why, "Vs", "V"), abs=0.012), name
    ways = {
        name: next(row.how for row in why_resistor(work, work.plan.branches[0]).rows if row.symbol == "Vs")
        for name, work in works.items()
    }
    assert (ways["rail"], ways["pins"]) == ("what the regulator is set to", "what a pin of the controller gives")
    assert ways["two"].startswith("new cells behind a diode, 2.86 V")
    assert number(why_current(works["pins"], works["pins"].plan.branches[0]), "Vs", "V") == 3.3


def test_what_is_no_led_is_told_by_its_own_law() -> None:
    lamp, tube = (
        Compiler().compile(plate(("line", {**ROW[1], "emitter": kind, "count": 2}), ("drive", {"method": way, **feeds})))
        for kind, way, feeds in (("filament lamp 3.5 V", "filament", {"supply": "aaa-alkaline", "cells": 3}),
                                 ("digit tube on its socket", "tube", {"supply": "usb"}))
    )  # fmt: skip
    why = why_current(lamp, lamp.plan.branches[0])
    amps = number(why, "I0", "A") * (number(why, "V", "V") / number(why, "V0", "V")) ** 0.6
    assert float(why.title.split()[1]) == pytest.approx(1000 * amps, rel=0.01)
    assert number(why, "Vs", "V") - amps * number(why, "R", "ohm") == pytest.approx(number(why, "V", "V"), abs=0.02)
    assert lamp.plan.steady is not None
    assert lamp.plan.steady.ended_by == "light"
    ended = lamp.plan.steady.end_volts - number(why, "R", "ohm") * amps * 0.5 ** (0.6 / 3.4)
    assert (ended / number(why, "V", "V")) ** 3.4 == pytest.approx(0.5, abs=0.01), "half as bright at 0.82 of its volts"
    assert rail_of(lamp, 0.0, {}).mean == pytest.approx(0.5, abs=0.04)
    why = why_resistor(tube, tube.plan.branches[0])
    amps = (number(why, "Vs", "V") - number(why, "Vhold", "V")) / number(why, "R", "ohm")
    assert amps == pytest.approx(number(why, "I", "A"), rel=0.01)


def test_the_standing_current_is_the_sum(works: dict[str, Work]) -> None:
    for name, work in works.items():
        rows = why_standing(work).rows
        total = sum(parse_quantity(row.value.replace("µ", "u"), "A", bare="A") for row in rows)
        assert total == pytest.approx(work.plan.standing_a, rel=0.01), name


def test_heat_reset_sun_and_presses(works: dict[str, Work]) -> None:
    heat = why_heat(works["tide"])
    watts, area = number(heat, "P", "W"), float(next(row.value for row in heat.rows if row.symbol == "A").split()[0]) / 1e4
    assert float(heat.title.split()[1]) == pytest.approx(watts / (11 * 2 * area), abs=0.06)
    reset = why_reset(works["moth"])
    assert number(reset, "R", "ohm") * number(reset, "C", "F") * math.log(1 / 0.3) == pytest.approx(0.12, abs=0.002)
    assert why_reset(works["tide"]).title == "Nothing to hold"
    sun = why_sun(works["solar"])
    assert number(sun, "C", "F") * number(sun, "V", "V") / number(sun, "I", "A") == pytest.approx(250, rel=0.01)
    off = why_off(works["latched"])
    assert number(off, "asked", "s") == pytest.approx(600, rel=0.01)
    assert number(off, "t", "s") == pytest.approx(works["latched"].plan.off_s, rel=0.01)
    assert [row.symbol for row in why_day(works["latched"]).rows] == ["lasts", "off"]
    assert [row.symbol for row in why_day(works["moth"]).rows] == ["lasts"]
    assert number(why_dark(works["moth"]), "dark", "s") == pytest.approx(works["moth"].plan.first.dark_s)


def test_every_input_leads_somewhere_that_is_there(works: dict[str, Work]) -> None:
    keys = {key for one in edits().values() for key in one.params}
    told: list[Callable[[Work], Why]] = [why_volts, why_standing, why_heat, why_dark, why_reset, why_run_time, why_price]
    seen = set()
    for work in works.values():
        branch = work.plan.branches[0]
        for why in (*(one(work) for one in told), why_current(work, branch), why_resistor(work, branch)):
            for row in why.rows:
                assert row.how or row.symbol
                stage, _, key = row.at.partition(":")
                if row.at:
                    seen.add(row.at)
                    assert stage in {one.key for one in stages()}, row
                    assert key in keys | _BESIDE, row
    assert {"drive:supply", "drive:current_a", "lights:emitter", "brief:pieces", "brief:finish"} <= seen
