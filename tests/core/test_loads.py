"""What pins, packages and the supply carry while a score plays, beside sums made light by light."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from plates import plate

from outlined_glow.core.drive.carriers import Carrier, carriers
from outlined_glow.core.motion import levels
from outlined_glow.core.motion.currents import played
from outlined_glow.core.motion.loads import most_of
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.workshop import Compiler, Work
from outlined_glow.core.workshop.motion_facts import load_words, loads_of, motion_facts

_LARGE = ("set-shape", {"base": "rectangle", "width_mm": 120.0, "height_mm": 60.0})


def board(method: str, *motion: tuple[str, dict[str, Any]], count: int = 8, **drive: Any) -> Project:
    row = ("grid", {"array": "row", "x_mm": 20.0, "y_mm": 20.0, "rows": 2, "columns": count // 2, "pitch_x_mm": 9.0,
                    "pitch_y_mm": 9.0, "emitter": "0805 red"})  # fmt: skip
    return plate(_LARGE, row, ("drive", {"method": method, "supply": "usb", "current_a": 0.004, **drive}), *motion)


def made(project: Project) -> Work:
    return Compiler().on_demand(project)


CHASE = ("set-pattern", {"pattern": "chase", "period_s": 2.0})
BREATHE = ("set-pattern", {"pattern": "breathe", "period_s": 2.0})
STRIP = ("add-strip", {"pattern": "twinkle", "length_s": 3.0, "seed": 5})


def by_hand(work: Work, one: Carrier) -> tuple[float, float, float]:
    """Average, peak and worst of a carrier, light by light and moment by moment."""
    rate = played(work.project.motion, work.lamps).rate
    times = (np.arange(round(rate * work.project.motion.seconds)) + 0.5) / rate
    average, peak, worst = 0.0, 0.0, 0.0
    row = {index: at for at, index in enumerate(work.lamps.indices)}
    for frame in levels(work.project.motion, work.lamps, times):
        ways: dict[int, dict[int, list[float]]] = {}
        for (index, name), (way, turn) in zip(one.lights, one.turns, strict=True):
            level = frame[row[index], work.lamps.light_names[row[index]].index(name)]
            branch = work.plan.branch_of(index, name)
            assert branch is not None
            average += level * branch.current_a / len(times)
            now = ways.setdefault(way, {}).setdefault(turn, [0.0, 0.0])
            now[0] += branch.peak_a if level > 1e-6 else 0.0
            now[1] += branch.current_max_a / branch.duty if level > 1e-6 else 0.0
        most = [sum(max(now[at] for now in turns.values()) for turns in ways.values()) for at in range(2)]
        peak, worst = max(peak, most[0]), max(worst, most[1])
    return average, peak, worst


@pytest.mark.parametrize(
    ("method", "motion", "drive"),
    [
        ("pins", CHASE, {}),
        ("shift-register", STRIP, {}),
        ("sink", BREATHE, {}),
        ("scan", CHASE, {"current_a": 0.002}),
        ("scan", STRIP, {"current_a": 0.002}),
        ("charlieplex", STRIP, {"current_a": 0.001}),
        ("charlieplex", CHASE, {"current_a": 0.001, "lit": "one"}),
    ],
)
def test_as_light_by_light(method: str, motion: Any, drive: dict[str, Any]) -> None:
    work = made(board(method, motion, **drive))
    through = carriers(work.plan, work.design.drive, work.leds)
    found = {(one.ref, one.pin): one for one in loads_of(work)}
    assert len(found) == len(through) + 1
    for one in through:
        load = found[one.ref, one.pin]
        assert (load.average_a, load.peak_a, load.worst_a) == pytest.approx(by_hand(work, one), rel=1e-6, abs=1e-9)
        assert load.worst_a <= most_of(one, work.plan) * (1 + 1e-9)
    supply = found["", ""]
    assert supply.average_a == pytest.approx(
        played(work.project.motion, work.lamps).average * work.plan.current_a + work.plan.standing_a
    )


def test_each_light_flows_through_its_own_output_and_a_package_takes_all() -> None:
    work = made(board("shift-register", CHASE, count=10))
    through = carriers(work.plan, work.design.drive, work.leds)
    pins = [one for one in through if one.pin]
    assert sorted(light for one in pins for light in one.lights) == [(index, "") for index in sorted(work.lamps.indices)]
    assert sorted(len(one.lights) for one in through if not one.pin) == [2, 8]
    scan = made(board("scan", CHASE, current_a=0.002))
    rows = [one for one in carriers(scan.plan, scan.design.drive, scan.leds) if len(set(one.turns)) == 1 and one.pin]
    assert {len(one.lights) for one in rows} == {4}, "a row is lit together"
    columns = [one for one in carriers(scan.plan, scan.design.drive, scan.leds) if len(set(one.turns)) == 2 and one.pin]
    assert {len(one.lights) for one in columns} == {2}
    assert all(most_of(one, scan.plan) == pytest.approx(scan.plan.branches[0].current_max_a * 2) for one in columns)


def test_two_ways_that_take_turns_know_nothing_of_one_another() -> None:
    project = board("scan", ("set-pattern", {"pattern": "steady", "brightness": 1.0}), count=12, current_a=0.001)
    project = apply_edit(project, "group", {"array": "row", "place": (1, 2, 3, 7, 8, 9), "groups": ("half",)})
    project = apply_edit(project, "drive", {"group": "half", "method": "charlieplex", "current_a": 0.001})
    work = made(project)
    chip = next(one for one in loads_of(work) if one.ref == "U1" and not one.pin)
    whole = next(one for one in carriers(work.plan, work.design.drive, work.leds) if one.ref == "U1" and not one.pin)
    assert {way for way, _ in whole.turns} == {1, 2}
    heaviest: dict[tuple[int, int], float] = {}
    for (index, name), turn in zip(whole.lights, whole.turns, strict=True):
        branch = work.plan.branch_of(index, name)
        assert branch is not None
        heaviest[turn] = heaviest.get(turn, 0.0) + branch.peak_a
    each = [max(amps for (way, _), amps in heaviest.items() if way == one) for one in (1, 2)]
    assert chip.peak_a == pytest.approx(sum(each)), "both may be at their heaviest at once"


def codes(project: Project) -> dict[str, Any]:
    compiler = Compiler()
    return {one.code: one for one in compiler.findings(compiler.compile(project))}


def test_a_package_over_its_limit_only_at_worst_is_told_with_its_moment() -> None:
    two = ("add-strip", {"pattern": "steady", "start_s": 1.0, "length_s": 1.0, "leds": (1, 2)})
    every = ("add-strip", {"pattern": "steady", "start_s": 3.0, "length_s": 1.0})
    lit = {"current_a": 0.0085, "lit": "2", "controller": "8-bit 5 V, 20 pins"}
    few = board("pins", two, count=16, **lit)
    assert "package-over-current" not in codes(few)
    assert "score-over-limit" not in codes(few), "as few as the drive was told are lit"

    many = apply_edit(few, "add-strip", every[1])
    work = made(many)
    package = next(one for one in loads_of(work) if one.ref and not one.pin)
    assert 3.0 <= package.peak_s < 4.0
    assert package.peak_a == pytest.approx(sum(work.plan.led_currents.values()), rel=1e-6)
    over = apply_edit(many, "set-current", {"current_a": 0.0135})
    told = codes(over)["score-over-limit"]
    assert told.severity == "warning"
    assert told.text.startswith("Up to 2")
    assert "through U1, all outputs, at 3.0" in told.text
    assert told.measured > told.allowed == 0.2
    mended = apply_edit(over, str(told.remedies[0].edit), dict(told.remedies[0].values))
    assert "score-over-limit" not in codes(mended)


def test_what_is_worn_counts_what_plays() -> None:
    small = ("set-shape", {"base": "rectangle", "width_mm": 46.0, "height_mm": 22.0})
    hot = board("pins", ("set-purpose", {"place": "worn"}), current_a=0.018, count=10)
    hot = apply_edit(hot, *small)
    steady = codes(hot)["warm-on-skin"]
    assert "With what it plays" in steady.text or "With all LEDs on" in steady.text
    chased = apply_edit(hot, *CHASE)
    found = codes(chased).get("warm-on-skin")
    assert found is None or found.measured < steady.measured


def test_the_words_name_supply_package_and_pin() -> None:
    work = made(board("shift-register", CHASE))
    rows = load_words(work, loads_of(work))
    assert [name.split(" ")[0] for name, _ in rows] == ["supply", "U2,", "U2", "heat"]
    facts = motion_facts(work)["limits"]
    assert {one["ref"] for one in facts} == {None, "U2"}
    assert all(0 < one["peak_a"] <= one["worst_a"] for one in facts)
