"""The score: strips over one another, ways, colours, what the hardware shows, and tables for a controller."""

from __future__ import annotations

import csv
import io
import json
import math
import random
import shutil
import subprocess
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from msgspec import structs
from PIL import Image
from plates import ROW, plate

from outlined_glow.core.colour.difference import from_lightness, hex_to_rgb, lab_to_linear, lightness, rgb_to_lab, to_linear
from outlined_glow.core.drive.devices import controllers
from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion import Lamps, level_at, levels
from outlined_glow.core.motion.checks.tables import _frame, dim_below, first_step, table_findings
from outlined_glow.core.motion.currents import played
from outlined_glow.core.motion.edits.strips import BLENDS, PACES, keys_of
from outlined_glow.core.motion.flash import (
    CHANGE,
    DARKER,
    _find_changes,
    _slide,
    changes_of_seconds,
    find_changes,
    flashes,
    slide,
)
from outlined_glow.core.motion.formula import _chances, chance_of, rest
from outlined_glow.core.motion.frames import Table, as_csv, as_json, as_picture
from outlined_glow.core.motion.lamps import BLUE, GREEN, RED, WHITE, plain_lamps
from outlined_glow.core.motion.packing import PACKINGS, as_binary, as_header, first_difference, read_table
from outlined_glow.core.motion.pattern import pattern_names, patterns
from outlined_glow.core.motion.recipe import _ramps, cooked, recipe
from outlined_glow.core.motion.score import current_shares
from outlined_glow.core.motion.shades import in_lights, of_palette, palette_names
from outlined_glow.core.motion.strips import strip_picture
from outlined_glow.core.motion.truth import distance, real_levels, truths
from outlined_glow.core.motion.way import way_of
from outlined_glow.core.project import Drive, Motion, Project, Strip, apply_edit
from outlined_glow.core.workshop import Compiler, apply_values
from outlined_glow.core.workshop.motion_facts import motion_facts, nearest_edits, numbers_of, numbers_words, truths_of


def row_of(count: int, groups: str = "") -> Lamps:
    at = np.arange(count)
    return plain_lamps(np.column_stack([3.0 * at, 0.0 * at]), groups or "g" * count)


def pixels_of(count: int) -> Lamps:
    """Pixels with red, green, blue and white."""
    shades = np.tile(np.array([hex_to_rgb(one) for one in ("FF0000", "00FF00", "0000FF", "FFFFFF")], float), (count, 1, 1))
    kinds = np.tile([RED, GREEN, BLUE, WHITE], (count, 1))
    return replace(row_of(count), shades=shades, kinds=kinds, currents=np.full((count, 4), 0.01))


def score(*strips: dict[str, Any]) -> Motion:
    return Motion(score=tuple(Strip(number=at, **one) for at, one in enumerate(strips, 1)))


def at(motion: Motion, lamps: Lamps, time_s: float) -> list[float]:
    return [round(one, 4) for one in level_at(motion, lamps, time_s)[:, 0].tolist()]


def test_strips_play_when_and_where_they_are_put_and_then_again() -> None:
    lamps = row_of(4, "aabb")
    motion = score({"start_s": 1.0, "length_s": 2.0, "groups": ("b",)}, {"start_s": 4.0, "length_s": 1.0, "leds": (1, 3)})
    assert motion.seconds == 5.0
    wanted = {
        0.5: [0, 0, 0, 0],
        1.0: [0, 0, 1, 1],
        2.99: [0, 0, 1, 1],
        3.0: [0] * 4,
        4.5: [1, 0, 1, 0],
        5.5: [0] * 4,
        6.0: [0, 0, 1, 1],
    }
    assert {time: at(motion, lamps, time) for time in wanted} == wanted
    muted = Motion(score=(motion.score[0], replace_strip(motion.score[1], muted=True)))
    assert at(muted, lamps, 4.5) == [0, 0, 0, 0]


def replace_strip(one: Strip, **changes: Any) -> Strip:

    return structs.replace(one, **changes)


@pytest.mark.parametrize(("blend", "wanted"), [("over", 0.5), ("add", 1.0), ("lighter", 0.6), ("mask", 0.3)])
def test_strips_lie_over_one_another(blend: str, wanted: float) -> None:
    lamps = row_of(1)
    motion = score({"level": 0.6, "length_s": 4.0}, {"level": 0.5, "row": 2, "blend": blend, "length_s": 4.0})
    assert at(motion, lamps, 1.0) == [wanted]
    below = score({"level": 0.6, "length_s": 4.0, "row": 2}, {"level": 0.5, "row": 1, "blend": blend, "length_s": 4.0})
    assert at(below, lamps, 1.0) == [0.6], "the row counts, not the order in which they came"
    assert blend in dict(BLENDS)


def test_a_strip_fades_in_and_out_over_what_is_below() -> None:
    lamps = row_of(1)
    motion = score(
        {"level": 1.0, "length_s": 10.0}, {"level": 0.2, "row": 2, "length_s": 10.0, "fade_in_s": 2.0, "fade_out_s": 4.0}
    )
    assert [at(motion, lamps, time)[0] for time in (0.0, 1.0, 2.0, 5.0, 8.0)] == [1.0, 0.6, 0.2, 0.2, 0.6]


def test_ways_number_the_leds() -> None:
    lamps = plain_lamps(np.array([(0.0, 0.0), (10, 0), (10, 10), (0, 10), (5, 5)]), "ggggg")
    lamps = replace(lamps, chain=np.array([4, 3, 2, 1, 0]))

    def places(**keys: Any) -> list[float]:
        return way_of(Strip(number=1, **keys), lamps).place.tolist()

    assert places() == [4, 3, 2, 1, 0]
    assert places(backwards=True) == [0, 1, 2, 3, 4]
    assert places(mirrored=True) == [0, 1, 2, 1, 0]
    assert places(along="line") == [0, 2, 2, 0, 1]
    assert places(along="line", angle_deg=90.0) == [0, 0, 2, 2, 1]
    assert places(along="distance") == [1, 1, 1, 1, 0]
    assert places(along="angle", angle_deg=45.0, leds=(1, 2, 3, 4)) == [2, 3, 0, 1]
    one, same, other = (places(along="shuffled", seed=seed) for seed in (1, 1, 2))
    assert one == same != other
    assert sorted(one) == [0, 1, 2, 3, 4]
    assert way_of(Strip(number=1, groups=("nobody",)), lamps).rows.size == 0


@given(st.integers(2, 40), st.floats(0.01, 0.99))
def test_filling_has_one_state_more_than_places(count: int, phase: float) -> None:
    motion = score({"pattern": "fill", "length_s": 1.0, "period_s": 1.0})
    lit = int(sum(at(motion, row_of(count), phase)))
    assert lit == math.floor(phase * (count + 1))


def test_a_lightness_even_rise_and_fall_takes_0_2898_of_the_current() -> None:
    """The mean light of a rise and fall that is even in lightness (CIE 1976), beside that worked out from its formula."""
    steps = np.linspace(0, 100, 200_001)
    light = np.where(steps > 8, ((steps + 16) / 116) ** 3, steps / (24389 / 27))
    assert float(light.mean()) == pytest.approx(0.2898, abs=5e-4)
    assert lightness(light) == pytest.approx(steps, abs=1e-6)
    assert from_lightness(steps) == pytest.approx(light, abs=1e-12)
    even = score({"length_s": 8.0, "fade_in_s": 4.0, "fade_out_s": 4.0, "fading": "lightness"})
    assert played(even, row_of(3)).average == pytest.approx(0.2898, abs=1e-3)
    plain = score({"length_s": 8.0, "fade_in_s": 4.0, "fade_out_s": 4.0})
    assert played(plain, row_of(3)).average == pytest.approx(0.5, abs=1e-3)


@given(st.sampled_from(pattern_names()), st.integers(1, 30), st.floats(0, 30), st.sampled_from([word for word, _ in PACES]))
def test_every_pattern_stays_within_bounds_on_any_way(name: str, count: int, time: float, pace: str) -> None:
    lamps = pixels_of(count)
    motion = score({"pattern": name, "length_s": 7.0, "period_s": 1.7, "pace": pace, "along": "angle", "mirrored": True})
    one = level_at(motion, lamps, time)
    assert one.shape == (count, 4)
    assert ((one >= 0) & (one <= 1)).all()
    assert np.array_equal(one, level_at(motion, lamps, time))
    picture = strip_picture(motion.score[0], lamps, 50, (0, 0, 0))
    assert picture.shape[1:] == (50, 3)


def test_chance_is_seeded_and_differs_from_round_to_round() -> None:
    lamps = row_of(40)
    one, same, other = (score({"pattern": "sparks", "length_s": 30.0, "seed": seed}) for seed in (3, 3, 4))
    times = np.linspace(0, 30, 301)
    assert np.array_equal(levels(one, lamps, times), levels(same, lamps, times))
    assert not np.array_equal(levels(one, lamps, times), levels(other, lamps, times))
    rounds = [levels(one, lamps, [time + 0.3]) for time in range(0, 20, 2)]
    assert len({made.tobytes() for made in rounds}) > 5


def test_colours_go_to_the_lights_that_make_them() -> None:
    lamps = pixels_of(1)

    def lights(colour: str) -> list[float]:
        motion = score({"colour": colour, "length_s": 1.0})
        return [round(one, 3) for one in level_at(motion, lamps, 0.5)[0].tolist()]

    assert lights("FF0000") == [1, 0, 0, 0]
    assert lights("FFFFFF") == [0, 0, 0, 1]
    assert lights("FFFF00") == [1, 1, 0, 0]
    half = float(to_linear(np.array([128.0]))[0])
    assert lights("FF8080") == pytest.approx([1 - half, 0, 0, half], abs=1e-3)
    amber = row_of(1)
    assert at(score({"colour": "00FF00", "length_s": 1.0}), amber, 0.1) == [1.0], "an LED of one colour is lit by any"
    assert at(score({"colour": "000000", "length_s": 1.0}), amber, 0.1) == [0.0]
    two = replace(lamps, kinds=np.array([[RED, WHITE, 0, 0]]))
    assert in_lights(np.array([[0.5, 0.2, 0.2]]), two, np.array([0])).tolist() == [[0.3, 0.5, 0.0, 0.0]]


@given(st.sampled_from(palette_names()), st.floats(0.01, 0.99))
def test_palettes_run_through_cielab(name: str, where: float) -> None:
    light = of_palette(name, np.array([where]))
    assert light.shape == (1, 3)
    assert ((light >= 0) & (light <= 1)).all()
    assert of_palette(name, np.array([where + 1.0])) == pytest.approx(light, abs=0.02)


@given(st.tuples(*[st.integers(0, 255)] * 3))
def test_lab_goes_there_and_back(rgb: tuple[int, int, int]) -> None:
    assert lab_to_linear(rgb_to_lab(np.array(rgb, float))) == pytest.approx(to_linear(np.array(rgb, float)), abs=1e-5)


# -- edits --------------------------------------------------------------------------------------------------------


def strips(project: Project) -> list[Strip]:
    return list(project.motion.score)


def test_the_strips_are_edited() -> None:
    project = plate(ROW, ("add-strip", {"pattern": "chase", "length_s": 4.0}), ("add-strip", {"pattern": "wave"}))
    assert [(one.number, one.row) for one in strips(project)] == [(1, 1), (2, 2)], "the second one overlaps the first"
    project = apply_edit(project, "copy-strip", {"number": 2})
    assert (strips(project)[-1].number, strips(project)[-1].start_s, strips(project)[-1].row) == (3, 2.0, 2)
    project = apply_edit(project, "split-strip", {"number": 1, "at_s": 1.5})
    assert [(one.start_s, one.length_s) for one in strips(project) if one.pattern == "chase"] == [(0.0, 1.5), (1.5, 2.5)]
    project = apply_edit(project, "set-strip", {"number": 1, "keys": "tail=5", "group": ("row",), "colour": "none"})
    assert strips(project)[0].keys == (("tail", 5.0),)
    project = apply_edit(project, "set-strip", {"number": 1, "pattern": "wipe", "everywhere": True})
    assert (strips(project)[0].keys, strips(project)[0].groups) == ((), ())
    project = apply_edit(project, "stretch-score", {"by": 2.0})
    assert project.motion.seconds == 8.0
    project = apply_edit(project, "remove-strip", {"number": 2})
    assert 2 not in {one.number for one in strips(project)}
    assert apply_edit(project, "clear-score", {}).motion.score == ()
    slower = apply_edit(apply_edit(project, "clear-score", {}), "stretch-score", {"by": 3.0})
    assert slower.motion.period_s == pytest.approx(6.0)


@pytest.mark.parametrize(
    ("name", "values", "said"),
    [
        ("set-strip", {"number": 7}, "There is no strip 7 in the score; there are: 1"),
        ("add-strip", {"pattern": "chase", "keys": "speed=2"}, "“chase” takes no “speed”; the numbers it takes: tail"),
        ("add-strip", {"pattern": "chase", "keys": "tail=0"}, "between 1 and 500, not 0"),
        ("add-strip", {"pattern": "chase", "keys": "tail"}, "keys are written as tail=3"),
        ("add-strip", {"colour": "blue"}, "six hexadecimal digits"),
        ("add-strip", {"start_s": 7199.0, "length_s": 60.0}, "at most two hours"),
        ("split-strip", {"number": 1, "at_s": 2.0}, "plays from 0 s to 2 s"),
        ("stretch-score", {"by": 20.0}, ""),
    ],
)
def test_what_a_strip_cannot_be_is_refused(name: str, values: dict[str, Any], said: str) -> None:
    project = plate(ROW, ("add-strip", {"pattern": "chase"}))
    if not said:
        long = apply_edit(project, "set-strip", {"number": 1, "length_s": 7000.0})
        with pytest.raises(Trouble, match=r"from 0\.05 s to 7200 s"):
            apply_edit(long, name, values)
        return
    with pytest.raises(Trouble, match=said):
        apply_edit(project, name, values)
    assert keys_of("a=1, b=2") == (("a", 1.0), ("b", 2.0))


def test_a_strip_whose_leds_are_gone_is_told_and_mended() -> None:
    project = plate(ROW, ("add-strip", {"pattern": "chase", "array": ("row",)}))
    compiler = Compiler()
    assert "strip-without-leds" not in {one.code for one in compiler.findings(compiler.compile(project))}
    gone = apply_values(project, "set-strip", {"number": 1, "array": ("elsewhere",)}, (0.0, 0.0))
    [found] = [one for one in compiler.findings(compiler.compile(gone)) if one.code == "strip-without-leds"]
    for remedy in found.remedies:
        mended = apply_edit(gone, str(remedy.edit), dict(remedy.values))
        assert "strip-without-leds" not in {one.code for one in compiler.findings(compiler.compile(mended))}


def test_numbers_are_written_as_people_do() -> None:
    assert numbers_words((9, 1, 2, 3, 10)) == "1-3,9,10"
    assert numbers_of("1-3, 9,10") == (1, 2, 3, 9, 10)
    assert numbers_of("some") is None


# -- flashes ------------------------------------------------------------------------------------------------------


def blinking(hz: float, **keys: Any) -> Motion:
    return score({"pattern": "blink", "period_s": 1 / hz, "length_s": 6.0, **keys})


@pytest.mark.parametrize(
    ("keys", "cells_cm2", "seen_m", "safe"),
    [
        ({}, 61.0, 1.0, False), ({}, 59.0, 1.0, True),  # 0.006 sr are 60 cm² at 1 m
        ({}, 22.0, 0.6, False), ({}, 21.0, 0.6, True), ({}, 545.0, 3.0, False), ({}, 535.0, 3.0, True),
        ({"level": 0.101}, 100.0, 1.0, False), ({"level": 0.099}, 100.0, 1.0, True),  # a change of 10 %
    ],
)  # fmt: skip
def test_flashes_on_either_side_of_each_limit(keys: dict[str, Any], cells_cm2: float, seen_m: float, safe: bool) -> None:
    lamps = row_of(10)
    report = flashes(blinking(4.0, **keys), lamps, np.full(10, cells_cm2 * 10), seen_m)
    assert report.general.safe is safe
    assert flashes(blinking(3.0, **keys), lamps, np.full(10, cells_cm2 * 10), seen_m).safe, "three a second are allowed"


def test_what_stays_bright_does_not_flash_and_red_counts_by_itself() -> None:
    lamps, cells = row_of(10), np.full(10, 1e5)
    bright = score(
        {"level": 0.85, "length_s": 4.0}, {"pattern": "blink", "period_s": 0.2, "length_s": 4.0, "row": 2, "blend": "add"}
    )
    assert flashes(bright, lamps, cells, 1.0).safe, "the darker side is over 0.80"
    red = replace(lamps, shades=np.tile(np.array([[[255.0, 0, 0]]]), (10, 1, 1)))
    report = flashes(blinking(5.0), red, cells, 1.0)
    assert not report.red.safe
    assert report.red.most == report.general.most == 5.0
    amber = replace(lamps, shades=np.tile(np.array([[[255.0, 170, 0]]]), (10, 1, 1)))
    assert flashes(blinking(5.0), amber, cells, 1.0).red.most == 0
    chased = score({"pattern": "one at a time", "period_s": 0.5, "length_s": 4.0})
    assert flashes(chased, lamps, cells, 1.0).safe, "each of them flashes twice a second"
    apart = replace(lamps, places=lamps.places * 1000)
    assert flashes(blinking(5.0), apart, np.full(10, 3000.0), 1.0).safe, "no field of 10 degrees has two of them"


@pytest.mark.parametrize(("hz", "lit"), [(5.0, 0.01), (4.0, 0.99), (9.0, 0.02), (1.0, 0.01), (0.5, 0.02)])
def test_light_that_is_brief_is_seen_and_counted(hz: float, lit: float) -> None:
    """However briefly all are on, or off: the mean is the share lit, the most is all of them, and each time is a flash."""
    lamps, brief = row_of(4), blinking(hz, keys=(("lit", lit),))
    made = played(brief, lamps)
    assert made.average == pytest.approx(lit, rel=0.13 if lit < 0.5 else 0.002)
    assert made.peak == 1.0
    report = flashes(brief, lamps, np.full(4, 1e5), 1.0)
    assert report.general.most == pytest.approx(max(hz, 1.0), abs=0.5)
    assert report.safe is (hz <= 3)


def test_light_that_a_table_has_no_frame_for_is_told() -> None:
    work = Compiler().compile(plate(ROW, ("drive", {"method": "pins"})))
    for lit, told in ((0.01, "within 10 ms. A table of 50 frames"), (0.5, "")):
        motion = blinking(1.0, keys=(("lit", lit),))
        found = table_findings(motion, work.lamps, work.design.drive, work.plan)
        texts = [one.text for one in found if one.code == "briefer-than-a-frame"]
        assert bool(texts) is bool(told)
        assert all(told in one and one.endswith("100 frames a second.") for one in texts)


def test_unsafe_flashes_are_told_with_a_slower_copy() -> None:
    wide = ("set-shape", {"base": "rectangle", "width_mm": 120.0, "height_mm": 90.0})
    project = plate(ROW, wide, ("set-pattern", {"pattern": "blink", "period_s": 0.2}))
    compiler = Compiler()
    found = {one.code: one for one in compiler.findings(compiler.compile(project))}
    assert found["flash-general"].severity == "warning"
    remedy = next(one for one in found["flash-general"].remedies if one.edit)
    slower = apply_edit(project, str(remedy.edit), dict(remedy.values))
    assert not {"flash-general", "flash-near"} & {one.code for one in compiler.findings(compiler.compile(slower))}
    softer = next(one for one in found["flash-general"].remedies if one.edit == "soften-score")
    soft = apply_edit(project, "soften-score", dict(softer.values))
    assert not {"flash-general", "flash-near"} & {one.code for one in compiler.findings(compiler.compile(soft))}
    assert soft.motion.seconds == project.motion.seconds, "it plays as fast as before"
    far = apply_edit(project, "set-purpose", {"distance_m": 1.6})
    assert "flash-near" in {one.code for one in compiler.findings(compiler.compile(far))}
    red = apply_values(project, "line", {"array": "row", "emitter": "0805 red"}, (0.0, 0.0))
    assert "flash-red" in {one.code for one in compiler.findings(compiler.compile(red))}


# -- truth and tables ---------------------------------------------------------------------------------------------


def test_every_way_shows_what_it_can() -> None:
    lamps = row_of(6, "aabbcc")
    times = np.arange(0, 8, 0.05)
    wanted = score({"pattern": "chase", "length_s": 8.0, "period_s": 4.0})

    def real(method: str, **keys: Any) -> np.ndarray:
        return real_levels(Drive(method=method, **keys), wanted, lamps, times)[:, :, 0]

    assert (real("each") == 1).all()
    one = real("counter-chaser", period_s=3.0)
    assert (one.sum(axis=1) == 2).all(), "one output of two LEDs at a time"
    assert [int(np.argmax(one[round(second * 20) + 2])) for second in range(3)] == [0, 2, 4]
    halves = real("ripple", period_s=1.0)
    assert halves[:, 0].mean() == pytest.approx(0.5)
    assert np.diff(halves[:, 4]).nonzero()[0].size == pytest.approx(np.diff(halves[:, 0]).nonzero()[0].size / 4, abs=1)
    shared = real("shared")
    assert (shared.sum(axis=1) == 1).all()
    both = plate(ROW, ("line", {"array": "row", "emitter": "three-colour 3528 common anode"}))
    mixed = Compiler().compile(both).lamps
    alone = real_levels(Drive(method="shared"), score({"pattern": "rainbow", "length_s": 8.0}), mixed, times)
    assert alone.shape[2] == 3
    assert (alone.sum(axis=(1, 2)) == 1).all(), "of a three-colour LED one light too: they share the resistor"
    steps = real("pins")
    assert np.abs(steps - levels(wanted, lamps, times)[:, :, 0]).max() <= 0.5 / 255 + 1e-12
    rows = {one.method: one for one in truths(Drive(), wanted, lamps)}
    assert rows["pins"].share > 0.99 > rows["each"].share
    assert rows["pins"].nearest is None
    assert rows["counter-chaser"].nearest is not None
    steady = truths(Drive(), Motion(), lamps)
    assert next(one for one in steady if one.method == "each").share == 1.0
    assert {one.share for one in truths(Drive(), wanted, row_of(0))} == {1.0}, "nothing is lit, as is wanted"


def test_distance_is_the_mean_difference_of_lightness() -> None:
    lamps = row_of(2)
    one, other = np.zeros((1, 2, 1)), np.array([[[1.0], [0.0]]])
    assert distance(one, other, lamps) == pytest.approx(0.5)
    assert distance(one, np.full((1, 2, 1), 0.1842), lamps) == pytest.approx(0.5, abs=1e-3)


TABLES = st.tuples(
    st.integers(1, 12), st.integers(1, 9), st.integers(1, 3), st.integers(1, 12), st.randoms(use_true_random=False)
)


def table(count: int, leds: int, channels: int, bits: int, dice: Any) -> Table:
    rows = [
        [dice.choice([0, 0, (1 << bits) - 1, dice.randrange(1 << bits)]) for _ in range(leds * channels)] for _ in range(count)
    ]
    for at in range(1, count):
        if dice.random() < 0.5:
            rows[at] = rows[at - 1]
    return Table(np.array(rows, np.int64), 25.0, bits, channels, tuple(range(1, leds + 1)))


@given(TABLES, st.sampled_from(PACKINGS))
def test_tables_are_read_back_as_they_were(drawn: Any, packing: str) -> None:
    made = table(*drawn)
    for data in (as_binary(made, packing), as_header(made, "a */ title", packing)):
        assert first_difference(made, read_table(data, made)) is None
    assert json.loads(as_json(made))["frames"] == made.levels.tolist()
    lines = as_csv(made).decode().splitlines()
    assert lines[0] == f"# fps 25, bits {made.bits}, channels {made.channels}"
    assert [[int(one) for one in row] for row in csv.reader(lines[2:])] == made.levels.tolist()
    assert Image.open(io.BytesIO(as_picture(made))).size == made.levels.shape


@pytest.mark.skipif(shutil.which("cc") is None, reason="there is no C compiler")
@given(TABLES, st.sampled_from(PACKINGS[1:]))
@example((66_000, 1, 1, 1, random.Random(1)), "raw")
@settings(max_examples=6, deadline=None)
def test_the_c_header_gives_its_bytes_to_a_compiler(tmp_path_factory: pytest.TempPathFactory, drawn: Any, packing: str) -> None:
    made, folder = table(*drawn), tmp_path_factory.mktemp("c")
    (folder / "levels.h").write_bytes(as_header(made, "Moth", packing))
    reads = packing in ("raw", "recipe")
    program = '#include <stdio.h>\n#include "levels.h"\nint main(void){fwrite(glow_table,1,sizeof glow_table,stdout);'
    if reads:
        program += "for(uint32_t f=0;f<GLOW_FRAMES;f++)for(uint16_t n=0;n<GLOW_LEDS*GLOW_LIGHTS;n++)"
        program += "{uint16_t v=glow_level(f,n);putchar(v&255);putchar(v>>8);}"
    program += "return (int)(GLOW_PACKING + 10u * (GLOW_FRAMES > 0u));}\n"
    (folder / "main.c").write_text(program)
    flags = ["-std=c99", "-Wall", "-Wextra", "-pedantic", "-Werror"]
    subprocess.run(["cc", *flags, "main.c", "-o", "main"], cwd=folder, check=True, timeout=60)
    ran = subprocess.run([str(folder / "main")], check=False, capture_output=True, timeout=10)
    assert ran.returncode == 10 + PACKINGS[1:].index(packing)
    data = as_binary(made, packing)
    bare = data if packing == "raw" else data[4:]
    assert ran.stdout[: len(bare)] == bare
    if reads:
        assert np.frombuffer(ran.stdout[len(bare) :], "<u2").tolist() == made.levels.ravel().tolist()


def test_a_broken_table_is_told_and_a_wrong_level_is_found() -> None:
    made = table(6, 3, 1, 8, random.Random(1))
    for packing in PACKINGS[1:]:
        data = as_binary(made, packing)
        with pytest.raises(Trouble):
            read_table(data[:-1], made)
    with pytest.raises(Trouble, match="0 bytes"):
        read_table(b"", made)
    header = as_header(made, "x", "raw")
    for broken in (header.replace(b"};", b""), header.replace(b"0x", b"zz", 1)):
        with pytest.raises(Trouble, match="C header"):
            read_table(broken, made)
    wrong = made.levels.copy()
    wrong[4, 2] ^= 1
    assert first_difference(made, wrong) == (4, 3, int(made.levels[4, 2]), int(wrong[4, 2]))
    comment = Table(np.array([[0x2F, 0x2A]]), 25.0, 8, 1, (1, 2))
    assert first_difference(comment, read_table(as_binary(comment), comment)) is None, "it begins as a comment of C does"
    assert first_difference(made, made.levels[:5]) == (5, 1, int(made.levels[5, 0]), None)


def test_the_figures_of_a_score() -> None:
    project = plate(ROW, ("add-strip", {"length_s": 4.0, "level": 0.5}), ("add-strip", {"start_s": 6.0, "length_s": 2.0}))
    work = Compiler().compile(project)
    facts = motion_facts(work)
    assert facts["seconds"] == 8.0
    lit = facts["peak_a"]
    assert facts["average_a"] == pytest.approx(lit * (4 * 0.5 + 2) / 8, rel=0.02)
    assert 6.0 <= facts["worst_second_s"] <= 7.0
    assert facts["flash"]["safe"]
    assert facts["bytes"] < 4000


def test_many_leds_and_a_long_score() -> None:
    lamps = row_of(3000)
    motion = score(*({"pattern": "wave", "start_s": 2.0 * one, "length_s": 3.0, "row": 1 + one % 2} for one in range(100)))
    made = levels(motion, lamps, np.linspace(0, 200, 40))
    assert made.shape == (40, 3000, 1)
    assert set(patterns()) >= {"steady", "chase", "halves", "one at a time", "gauge"}


@given(st.integers(1, 40), st.integers(1, 6), st.randoms(use_true_random=False))
def test_changes_are_found_alike_by_both_codes_and_by_hand(moments: int, count: int, dice: Any) -> None:
    light = np.array(
        [[dice.choice([0.0, 0.05, 0.3, 0.75, 0.85, 1.0]) for _ in range(count)] for _ in range(moments)], np.float32
    )
    found = []
    for run in (find_changes, _find_changes.run):
        way, low, high = np.zeros(count, np.int8), light[0].copy(), light[0].copy()
        out = np.zeros(light.shape, np.uint8)
        run(light, way, low, high, np.float32(CHANGE - 1e-6), np.float32(DARKER), out)
        found.append(out)
    assert np.array_equal(*found)
    for led in range(count):  # by hand: from extreme to extreme
        row, told, low, high, way = light[:, led].tolist(), [], light[0, led], light[0, led], 0
        for at, now in enumerate(row):
            if way <= 0 and now - low > 0.0999 and low < 0.8:
                way, high = 1, now
                told.append(at)
            elif way >= 0 and high - now > 0.0999 and now < 0.8:
                way, low = -1, now
                told.append(at)
            low, high = min(low, now), max(high, now)
        assert np.flatnonzero(found[0][:, led]).tolist() == told


@given(st.integers(60, 90), st.integers(1, 5), st.randoms(use_true_random=False))
def test_changes_of_a_second_are_counted_alike_by_both_codes_and_by_hand(moments: int, count: int, dice: Any) -> None:
    rows = np.array([[dice.random() < 0.15 for _ in range(count)] for _ in range(moments)])
    most, often = changes_of_seconds(rows)
    for run in (slide, _slide.run):
        window = rows[:59].sum(axis=0, dtype=np.int16)
        told, where = np.zeros(len(most), np.int16), np.zeros(often.shape, np.uint8)
        run(rows.view(np.uint8), window, told, np.int16(6), where)
        assert np.array_equal(told, most)
        assert np.array_equal(where.view(bool), often)
    for at in range(moments - 59):
        sums = rows[at : at + 60].sum(axis=0)
        assert most[at] == sums.max()
        assert np.array_equal(often[at], sums > 6)


@given(
    st.lists(st.floats(allow_nan=True, width=64), min_size=1, max_size=20),
    st.one_of(st.integers(1, 2000).map(float), st.floats()),
)
def test_a_rest_is_the_same_to_the_bit_as_that_of_plain_arithmetic(values: list[float], whole: float) -> None:
    for scale in (1.0, 1e-3):
        many = np.resize(np.array(values) * scale, 600)
        mine = np.clip(np.nan_to_num(many), -1e5, 1e5)
        with np.errstate(all="ignore"):
            for one in (many, mine):
                assert np.array_equal(rest(one, np.float64(whole)), np.remainder(one, np.float64(whole)), equal_nan=True)


@given(st.lists(st.floats(allow_nan=True, width=64), min_size=1, max_size=50))
def test_chance_is_the_same_by_both_codes(values: list[float]) -> None:
    many, out = np.array(values), np.empty(len(values))
    with np.errstate(all="ignore"):
        _chances.run(many, out)
        assert np.array_equal(out, chance_of(many))


@pytest.mark.parametrize("soft_s", [0.0, 2.0])
def test_the_current_of_a_long_score_is_worked_out_in_spans(soft_s: float) -> None:
    lamps = row_of(5)
    motion = score(*({"pattern": "chase", "start_s": 4.0 * at, "length_s": 5.0, "row": 1 + at % 2} for at in range(12)))
    motion = structs.replace(motion, soft_s=soft_s)
    made = played(motion, lamps)
    moments = (np.arange(len(made.shares)) + 0.5) / made.rate
    assert made.shares == pytest.approx(current_shares(motion, lamps, moments))
    for at in (5, 0):  # one that begins with a span, and one that the end goes over into
        changed = structs.replace(
            motion, score=(*motion.score[:at], replace_strip(motion.score[at], level=0.5), *motion.score[at + 1 :])
        )
        after = played(changed, lamps)
        assert after.shares == pytest.approx(current_shares(changed, lamps, moments))
    assert after.average < made.average
    assert made.between(0.0, motion.seconds) == pytest.approx(made.average)
    loud = score({"length_s": 9.0, "level": 0.2}, {"start_s": 6.5, "length_s": 1.0, "row": 2})
    assert played(loud, lamps).worst_second_s() == pytest.approx(6.5, abs=0.05)


def test_a_strip_of_one_board_plays_on_that_alone() -> None:
    project = plate(ROW, ("add-board", {"name": "lid"}), ("line", {**ROW[1], "array": "other", "board": "lid"}))
    project = apply_edit(project, "add-strip", {"pattern": "steady", "board": "lid"})
    compiler = Compiler()
    lit = {}
    for name in ("main", "lid"):
        work = compiler.compile(project, board=name)
        lit[name] = float(level_at(project.motion, work.lamps, 0.5).sum())
        assert "strip-without-leds" not in {one.code for one in compiler.findings(work)}
    assert lit == {"main": 0.0, "lid": 4.0}
    renamed = apply_edit(project, "rename-board", {"board": "lid", "name": "cover"})
    assert renamed.motion.score[0].board == "cover"
    everywhere = apply_edit(project, "set-strip", {"number": 1, "everywhere": True})
    assert level_at(everywhere.motion, compiler.compile(everywhere, board="main").lamps, 0.5).sum() == 4.0


def test_fades_in_steps_are_told_by_the_bits_of_the_drive() -> None:
    assert first_step(8) == pytest.approx(3.54, abs=0.01)
    assert dim_below(8) == pytest.approx(0.059, abs=0.001)
    assert dim_below(10) == 0.0
    driven = ("drive", {"method": "pins", "supply": "usb"})
    project = plate(ROW, driven, ("set-pattern", {"pattern": "breathe", "period_s": 4.0}))
    compiler = Compiler()

    def codes(one: Project) -> set[str]:
        return {found.code for found in compiler.findings(compiler.compile(one)) if found.stage == "motion"}

    assert "fade-in-steps" in codes(project)
    assert "fade-in-steps" not in codes(apply_edit(project, "set-pattern", {"pattern": "blink"}))
    long = apply_edit(project, "add-strip", {"pattern": "twinkle", "length_s": 4000.0, "period_s": 7.0})
    small = apply_edit(long, "drive", {"method": "pins", "supply": "usb", "controller": "8-bit 5 V, 20 pins"})
    assert "table-too-large" in codes(small)
    assert "table-too-large" not in codes(project)


@pytest.mark.parametrize(("way", "groups"), [("ripple", ("a", "b", "c")), ("counter-chaser", ("a",))])
def test_what_is_nearest_is_then_shown(way: str, groups: tuple[str, ...]) -> None:
    driven = ("drive", {"method": way, "supply": "usb", "period_s": 7.3})
    project = plate(("line", {**ROW[1], "groups": groups}), driven)
    project = apply_edit(project, "add-strip", {"pattern": "chase", "length_s": 6.0, "period_s": 2.0})
    work = Compiler().compile(project)
    found = nearest_edits(work, truths_of(work))
    assert found is not None
    for name, values in found[1]:
        project = apply_edit(project, name, values)
    made = Compiler().compile(project)
    drive, motion = made.design.drive, project.motion
    times = np.arange(0, motion.seconds, 0.0101)
    off = distance(levels(motion, made.lamps, times), real_levels(drive, motion, made.lamps, times), made.lamps)
    assert off < 0.02, "the counter has the period of the pattern"
    assert nearest_edits(made, truths_of(made)) is None


@given(st.lists(st.integers(0, 65_535), min_size=1, max_size=60), st.integers(0, 70), st.integers(1, 4))
def test_a_recipe_is_exact_and_lights_that_are_late_share_a_track(track: list[int], late: int, lights: int) -> None:
    levels_ = np.column_stack([np.roll(track, late * light) for light in range(lights)]).astype(np.int64)
    data = recipe(levels_)
    assert data is not None
    assert np.array_equal(cooked(data, *levels_.shape), levels_)
    assert int.from_bytes(data[:2], "little") == 1
    assert _ramps.run(np.array(track, np.int64), np.zeros((60, 3), np.int64)) <= len(track)


def test_a_ramp_is_one_step_of_a_recipe() -> None:
    up = np.round(np.linspace(0, 255, 400)).astype(np.int64)[:, None]
    blink = np.repeat([[0], [255]], 500, axis=0)
    for levels_, most in ((up, 8 * 3), (blink, 8 * 2)):
        data = recipe(levels_)
        assert data is not None
        assert len(data) <= 2 + 4 + 2 + most
        for cut in (1, len(data) - 3):
            with pytest.raises(Trouble, match="recipe"):
                cooked(data[:cut], *levels_.shape)
        with pytest.raises(Trouble, match="frames"):
            cooked(data, len(levels_) + 1, 1)
        with pytest.raises(Trouble, match="ends at byte"):
            cooked(data + b"0", *levels_.shape)
    assert recipe(np.zeros((70_000, 1), np.int64)) is None


def test_a_frame_that_a_controller_cannot_hold_is_told() -> None:
    grid = ("grid", {"array": "m", "x_mm": 22.0, "y_mm": 16.0, "rows": 10, "columns": 30, "pitch_x_mm": 3.0, "pitch_y_mm": 3.0})
    large = ("set-shape", {"base": "rectangle", "width_mm": 130.0, "height_mm": 70.0})
    project = plate(large, grid, ("set-pattern", {"pattern": "breathe"}))
    work = Compiler().compile(project)
    chip = controllers()["small 8-pin"]
    [told] = [one for one in _frame(work.lamps, work.design.drive, chip) if one.code == "frame-too-large"]
    assert (told.measured, told.allowed) == (300.0, 256.0)
    assert not _frame(work.lamps, work.design.drive, structs.replace(chip, ram_bytes=2048))
