"""Words on a matrix, numbers on digits, feeds: what is written, what has no room, what changes while it plays."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from plates import plate

from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion import level_at, levels
from outlined_glow.core.motion.feeds import fields_of, read_points, shares_of, texts_at, values_of
from outlined_glow.core.motion.pixel_font import font_for, font_names, pixel_fonts, read_bdf
from outlined_glow.core.motion.strips import strip_picture
from outlined_glow.core.motion.way import way_of
from outlined_glow.core.motion.written import SEGMENTS, digits_of, matrix, signs_of
from outlined_glow.core.project import Feed, Motion, Project, Strip, apply_edit
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.workshop import Compiler, Work

LARGE = ("set-shape", {"base": "rectangle", "width_mm": 130.0, "height_mm": 70.0})
MATRIX = ("grid", {"array": "m", "x_mm": 22.0, "y_mm": 16.0, "rows": 7, "columns": 12, "pitch_x_mm": 4.0, "pitch_y_mm": 4.0})
DIGIT = "digit 10.2 common cathode red"
DIGITS = ("line", {"array": "n", "x_mm": 22.0, "y_mm": 16.0, "count": 3, "pitch_mm": 14.0, "emitter": DIGIT})


def shown(work: Work, time_s: float) -> list[str]:
    """A matrix as it is lit, row by row."""
    level = level_at(work.project.motion, work.lamps, time_s)[:, 0]
    row, column, rows, columns, _ = matrix(work.lamps, np.arange(work.lamps.count))
    out = np.full((rows, columns), ".")
    out[row[level > 0], column[level > 0]] = "#"
    return ["".join(one) for one in out]


def codes(project: Project) -> set[str]:
    compiler = Compiler()
    return {one.code for one in compiler.findings(compiler.compile(project)) if one.stage == "motion"}


def test_words_stand_in_the_middle_or_run_by_whole_columns() -> None:
    project = plate(LARGE, MATRIX, ("add-strip", {"pattern": "words", "text": "Hi", "keys": "speed=0", "length_s": 9.0}))
    compiler = Compiler()
    still = shown(compiler.compile(project), 1.0)
    assert still == [
        ".#...#..#...", ".#...#......", ".#...#.##...", ".#####..#...", ".#...#..#...", ".#...#..#...", ".#...#.###..",
    ]  # fmt: skip
    runs = compiler.compile(apply_edit(project, "set-strip", {"number": 1, "keys": "speed=4"}))
    assert all(set(row) == {"."} for row in shown(runs, 0.0)), "it comes in from the right"
    for step in range(1, 20):
        one, other = shown(runs, step / 4 + 0.01), shown(runs, (step - 1) / 4 + 0.01)
        assert all(row[:-1] == before[1:] for row, before in zip(one, other, strict=True)), "each step is one column"
    assert shown(runs, 0.01) == shown(runs, (9 + 12) / 4 + 0.01), "it goes round once it is through"


def test_live_fields_are_written_as_they_are_then() -> None:
    tide = Feed(name="tide", kind="wave", low=0.0, high=10.0, period_s=20.0)
    clock = Feed(name="now", kind="clock", low=13 * 3600.0, period_s=86_400.0)
    times = np.array([0.0, 10.0, 20.0])
    assert texts_at("{tide:4.1f} m", [tide], times) == [" 0.0 m", "10.0 m", " 0.0 m"]
    assert texts_at("{now:%H:%M} {now:%I%p} {now:%I:%M}", [clock], times[:1]) == ["13:00  1PM  1:00"]
    assert texts_at("{gone} {{}}", [tide], times[:1]) == ["-- {}"]
    assert texts_at("{tide:03d}|{tide:+.0f}", [tide], times[1:2]) == ["010|+10"]
    named, way = "names no feed", "no way to write"
    wrongs = {"{tide": "live field", "{tide.real}": named, "{0}": named, "{tide!r}": named, "{tide:99999f}": way}
    for wrong, said in {**wrongs, "{tide:{tide}}": way}.items():
        with pytest.raises(Trouble, match=said):
            fields_of(wrong)


@given(
    st.sampled_from(["tide", "clock", "counter", "walk", "charge", "wave", "knob", "encoder"]),
    st.floats(0.1, 1e5),
    st.floats(0, 1e6),
)
def test_feeds_are_pure_and_stay_between_their_ends(kind: Any, period: float, time: float) -> None:
    feed = Feed(name="a", kind=kind, low=-2.0, high=5.0, period_s=period)
    one, again = values_of(feed, np.array([time])), values_of(feed, np.array([time, time / 2]))
    assert one[0] == again[0]
    assert 0 <= shares_of(feed, np.array([time]))[0] <= 1
    if kind == "clock":
        assert 0 <= one[0] < 86_400
    else:
        assert -2.0 - 1e-9 <= one[0] <= 5.0 + 1e-9


def test_a_tide_is_a_sum_of_two_and_a_counter_counts_each_pulse_once() -> None:
    tide = Feed(name="t", kind="tide", low=0.0, high=4.0, period_s=12.42)
    hours = np.linspace(0, 24 * 14.77, 5000)
    beats = values_of(tide, hours)
    high = [beats[at] for at in range(1, len(beats) - 1) if beats[at] > beats[at - 1] and beats[at] >= beats[at + 1]]
    assert len(high) == pytest.approx(24 * 14.77 / 12.42, abs=1.5)
    assert max(high) - min(high) > 0.8, "springs and neaps"
    counter = Feed(name="c", kind="counter", low=0.0, high=9.0, period_s=0.5)
    assert values_of(counter, np.array([0.0, 0.49, 0.5, 4.9, 5.0])).tolist() == [0, 0, 1, 9, 0]


def test_recorded_values_are_read_or_told_with_their_line() -> None:
    rows = read_points(b"time,level\n10,1.5\n\n12,2.5\n11,2\n", "a.csv")
    assert rows == ((0.0, 1.5), (1.0, 2.0), (2.0, 2.5))
    assert read_points(b'{"t": 5, "value": 1}\n{"t": 6, "value": 2}\n', "a.json") == ((0.0, 1.0), (1.0, 2.0))
    marked = b"\xef\xbb\xbf10,1.5\n11,2\n12,2.5\n"  # with a byte order mark, as spreadsheets write it
    assert read_points(marked, "a.csv") == rows
    assert read_points("Zeit;Höhe\r\n10;1,5\r\n11;2\r\n12,0;2,5\r\n".encode(), "a.csv") == rows
    assert read_points(b"10\t1.5\n11\t2\n12\t2.5\n", "a.tsv") == rows
    feed = Feed(name="r", kind="recorded", points=rows, low=1.0, high=3.0, period_s=5.0)
    found = values_of(feed, np.array([0.0, 0.9, 2.0, 6.9, 7.1]))
    assert found[:4].tolist() == [1.5, 1.5, 2.5, 2.5]
    assert math.isnan(found[4]), "the last value is old"
    bad = {b"1,2\n3": "line 2", b"1,nan\n": "line 1: a value is no finite", b"": "no values", b'{"t": 1}\n': "line 1"}
    for data, said in {
        **bad,
        b"1,2\n" * 20_001: "more than 20,000",
        b"\xff\xfe\x00": "no values",
        b'a\r\rb,c\n1,"2\n': "line",
        b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR": "bad.csv",
    }.items():
        with pytest.raises(Trouble, match=said):
            read_points(data, "bad.csv")


def test_a_number_is_written_on_digits_to_the_right_with_its_point() -> None:
    project = plate(LARGE, DIGITS, ("add-strip", {"pattern": "number", "text": "4.2", "length_s": 4.0}))
    work = Compiler().compile(project)
    way = way_of(project.motion.score[0], work.lamps)
    digits = digits_of(work.lamps, way)
    level = level_at(project.motion, work.lamps, 1.0)
    lit = [{name for name, at in names.items() if level[way.rows[led], at]} for led, names in digits]
    assert lit == [set(), set("bcfg") | {"dp"}, set("abdeg")]
    over = apply_edit(project, "set-strip", {"number": 1, "text": "1234"})
    level = level_at(over.motion, work.lamps, 1.0)
    assert [{name for name, at in names.items() if level[way.rows[led], at]} for led, names in digits] == [{"g"}] * 3
    assert signs_of("-1.5.") == [("-", False), ("1", True), ("5", True)]
    assert len({*SEGMENTS["0"]}) == 6
    with_dots = {tuple(sorted(value)) for key, value in SEGMENTS.items() if key.isdigit()}
    assert len(with_dots) == 10, "no two figures look alike"


def test_what_cannot_be_written_is_told() -> None:
    words = plate(LARGE, MATRIX, ("add-strip", {"pattern": "words", "text": "Hello", "keys": "speed=0", "length_s": 9.0}))
    assert "words-too-wide" in codes(words)
    compiler = Compiler()
    [found] = [one for one in compiler.findings(compiler.compile(words)) if one.code == "words-too-wide"]
    mended = apply_edit(words, str(found.remedies[0].edit), dict(found.remedies[0].values))
    assert "words-too-wide" not in codes(mended)
    assert "letters-lacking" in codes(apply_edit(words, "set-strip", {"number": 1, "text": "水"}))
    low = plate(
        LARGE, ("grid", {**MATRIX[1], "rows": 5}), ("add-strip", {"pattern": "words", "text": "a", "font": "plain-5x7"})
    )
    assert "words-cut-off" in codes(low)
    assert "words-cut-off" not in codes(apply_edit(low, "set-strip", {"number": 1, "font": "auto"}))
    hours = plate(
        LARGE, DIGITS, ("set-feed", {"name": "now", "kind": "clock"}),
        ("add-strip", {"pattern": "number", "text": "{now:%I%M}", "length_s": 4.0}),
    )  # fmt: skip
    assert {"half-day-not-told", "words-too-wide"} <= codes(hours)
    range_ = plate(
        LARGE, DIGITS, ("set-feed", {"name": "v", "low": 0.0, "high": 1200.0, "period_s": 1e6}),
        ("add-strip", {"pattern": "number", "text": "{v:.0f}", "length_s": 4.0}),
    )  # fmt: skip
    assert "words-too-wide" in codes(range_), "the highest value needs four digits"
    assert "letters-lacking" in codes(apply_edit(range_, "set-strip", {"number": 1, "text": "K"}))
    assert "feed-lacking" in codes(apply_edit(range_, "remove-feed", {"name": "v"}))
    bound = apply_edit(apply_edit(range_, "set-strip", {"number": 1, "pattern": "words"}), "bind",
                       {"number": 1, "key": "speed", "feed": "v"})  # fmt: skip
    lost = apply_edit(bound, "set-strip", {"number": 1, "pattern": "number"})
    assert "feed-lacking" in codes(lost)
    freed = apply_edit(lost, "bind", {"number": 1, "key": "speed", "feed": "none"})
    assert "feed-lacking" not in codes(freed)
    file = PictureFile("a.csv", b"0,1\n1,2\n")
    short = apply_edit(range_, "set-feed", {"name": "v", "file": file, "period_s": 1.0})
    assert "feed-ends" in codes(short)


def test_a_number_of_a_pattern_and_the_brightness_follow_feeds() -> None:
    wave = ("set-feed", {"name": "w", "kind": "wave", "low": 0.0, "high": 1.0, "period_s": 8.0})
    project = plate(LARGE, MATRIX, wave, ("add-strip", {"pattern": "gauge", "length_s": 8.0}),
                    ("bind", {"number": 1, "key": "value", "feed": "w"}))  # fmt: skip
    work = Compiler().compile(project)
    for time in (0.0, 1.0, 4.0, 6.5):
        share = 0.5 - 0.5 * math.cos(2 * math.pi * time / 8)
        assert level_at(project.motion, work.lamps, time).sum() == pytest.approx(84 * share, abs=1e-6)
    freed = apply_edit(project, "bind", {"number": 1, "key": "value", "feed": "none"})
    steady = apply_edit(freed, "set-strip", {"number": 1, "pattern": "steady"})
    dims = apply_edit(steady, "bind", {"number": 1, "key": "level", "feed": "w"})
    assert dims.motion.score[0].bound == (("level", "w"),)
    assert level_at(dims.motion, work.lamps, 2.0).max() == pytest.approx(0.5)
    gone = apply_edit(dims, "remove-feed", {"name": "w"})
    assert gone.motion.score[0].bound == ()
    assert level_at(gone.motion, work.lamps, 2.0).max() == 1.0


@pytest.mark.parametrize(
    ("name", "values", "said"),
    [
        ("add-strip", {"pattern": "words"}, "“words” needs a text"),
        ("add-strip", {"pattern": "words", "text": "{a"}, "live field"),
        ("bind", {"number": 1, "key": "value", "feed": "a"}, "There is no strip 1"),
        ("set-feed", {"name": "a b"}, "up to 30 letters"),
        ("set-feed", {"name": "a", "low": 3.0, "high": 3.0}, "must be over its lowest, 3"),
        ("set-feed", {"name": "a", "kind": "recorded"}, "give file= as well"),
        ("remove-feed", {"name": "a"}, "There is no feed “a”; there are: none"),
    ],
)
def test_what_cannot_be_is_refused(name: str, values: dict[str, Any], said: str) -> None:
    with pytest.raises(Trouble, match=said):
        apply_edit(plate(LARGE, MATRIX), name, values)


def test_the_fonts_that_ship_are_whole() -> None:
    assert font_names() == ("small-3x5", "narrow-4x7", "plain-5x7", "tall-7x11", "outlines")
    for font in pixel_fonts().values():
        assert font.lacks("The 5 boxing wizards: jump, quickly! +-0123456789.°") == ""
        drawn = [font.glyphs[one][0].tobytes() + bytes(font.glyphs[one][0].shape) for one in "0123456789ACEFHJLPU"]
        assert len(set(drawn)) == len(drawn)
        assert font.line("").shape == (font.height, 0)
        assert font.line("水").any(), "a letter that is not there is a frame"
    plain = pixel_fonts()["plain-5x7"]
    assert plain.lacks("äöüßéñçåÆøŁ ΑΒΓΔΩαλπ БГДЖИЯ €µ") == ""
    assert font_for("", 7).name == "plain-5x7"
    assert font_for("", 6).name == font_for("", 2).name == "small-3x5"


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "does not begin with STARTFONT"),
        ("STARTFONT 2.1\nENDFONT\n", "without letters"),
        ("STARTFONT 2.1\nFONTBOUNDINGBOX 5 x 0 0\n", "line 2"),
        ("STARTFONT 2.1\nFONTBOUNDINGBOX 5 700000 0 0\n", "line 2"),
        ("STARTFONT 2.1\nFONTBOUNDINGBOX 5 7 0 0\nENCODING 65\nDWIDTH 6 0\nBBX 5 7 0 0\nBITMAP\nF8\n", "line 6"),
        ("STARTFONT 2.1\nFONTBOUNDINGBOX 5 1 0 0\nENCODING 65\nDWIDTH 6 0\nBBX 5 1 0 0\nBITMAP\nZZ\n", "line 6"),
    ],
)
def test_a_font_that_is_none_is_told(text: str, said: str) -> None:
    with pytest.raises(Trouble, match=said):
        read_bdf("bad", text)


@given(st.integers(1, 9), st.integers(1, 9), st.floats(0.6, 9), st.floats(0.6, 9), st.randoms(use_true_random=False))
def test_a_matrix_is_found_from_where_its_leds_are(rows: int, columns: int, dx: float, dy: float, dice: Any) -> None:
    from outlined_glow.core.motion.lamps import plain_lamps

    spots = [(column, row) for row in range(rows) for column in range(columns)]
    dice.shuffle(spots)
    places = np.array(
        [(column * dx + dice.uniform(-0.05, 0.05), -row * dy + dice.uniform(-0.05, 0.05)) for column, row in spots]
    )
    row, column, high, wide, _ = matrix(plain_lamps(places, ("g",) * len(spots)), np.arange(len(spots)))
    assert (high, wide) == (rows, columns)
    assert list(zip(column.tolist(), row.tolist(), strict=True)) == spots


def test_a_dot_block_is_a_matrix_of_its_lights() -> None:
    block = ("single", {"array": "b", "x_mm": 30.0, "y_mm": 20.0, "emitter": "dots 5 x 7 row anode red"})
    work = Compiler().compile(plate(LARGE, block, ("add-strip", {"pattern": "words", "text": "H", "keys": "speed=0"})))
    level = level_at(work.project.motion, work.lamps, 0.5)
    assert matrix(work.lamps, np.arange(1))[2:4] == (7, 5)
    names = work.lamps.light_names[0]
    assert {names[at] for at in np.flatnonzero(level[0])} == {
        *(f"{row},{column}" for row in range(1, 8) for column in (1, 5)), *(f"4,{column}" for column in (2, 3, 4)),
    }  # fmt: skip
    assert Strip(number=1).text == ""


def test_the_picture_of_running_words_can_be_read() -> None:
    project = plate(LARGE, MATRIX, ("add-strip", {"pattern": "words", "text": "Hi", "keys": "speed=10", "length_s": 3.0}))
    work = Compiler().compile(project)
    picture = strip_picture(project.motion.score[0], work.lamps, 30, (0, 0, 0))[..., 0] > 100
    assert picture.shape == (7, 30)
    word = pixel_fonts()["plain-5x7"].line("Hi")
    first = 12 - 6  # the middle column is six before the right one
    assert np.array_equal(picture[:, first : first + word.shape[1]], word)


def test_a_hand_follows_a_clock_and_small_letters_are_told() -> None:
    ring = ("ring", {"array": "r", "x_mm": 30.0, "y_mm": 20.0, "count": 12, "diameter_mm": 24.0})
    clock = ("set-feed", {"name": "now", "kind": "clock", "low": 6 * 3600.0, "period_s": 86_400.0})
    hand = ("add-strip", {"pattern": "pointer", "along": "angle", "keys": "turns=24 width=0.05", "length_s": 3600.0})
    project = plate(LARGE, ring, clock, hand, ("bind", {"number": 1, "key": "value", "feed": "now"}))
    work = Compiler().compile(project)
    way = way_of(project.motion.score[0], work.lamps)
    for minute in (0, 5, 30, 55):
        level = level_at(project.motion, work.lamps, 60.0 * minute + 0.5)[:, 0]
        assert way.place[way.rows == int(np.argmax(level))].tolist() == [minute / 5]
    assert shares_of(project.motion.feeds[0], np.array([0.0])) == pytest.approx(0.25)
    words = plate(LARGE, MATRIX, ("add-strip", {"pattern": "words", "text": "a"}), ("set-purpose", {"distance_m": 2.0}))
    assert "words-too-far" not in codes(words), "28 mm are enough for 5.6 m"
    assert "words-too-far" in codes(apply_edit(words, "set-purpose", {"distance_m": 6.0}))


def test_without_a_value_or_without_room_a_field_shows_what_was_chosen() -> None:
    gone = Feed(name="v", kind="recorded", points=((0.0, 12.0),), timeout_s=1.0, low=0.0, high=1000.0)
    late = np.array([0.5, 3.0])
    assert texts_at("a{v:3.0f}", [gone], late) == ["a 12", "a--"]
    assert texts_at("a{v:3.0f}", [gone], late, "blank") == ["a 12", "a  "]
    assert texts_at("a{v:3.0f}", [gone], late, "last") == ["a 12", "a 12"]
    digits = Compiler().on_demand(plate(LARGE, DIGITS)).lamps
    shown = {}
    for how in ("dashes", "blank", "cut"):
        strip = Strip(number=1, pattern="number", text="12345", no_room=how)  # type: ignore[arg-type]
        shown[how] = levels(Motion(score=(strip,)), digits, [0.1])[0]
    whole = levels(Motion(score=(Strip(number=1, pattern="number", text="345"),)), digits, [0.1])[0]
    assert shown["blank"].sum() == 0
    assert np.array_equal(shown["cut"], whole)
    assert 0 < shown["dashes"].sum() < whole.sum()


def test_words_that_run_by_too_fast_are_told_with_a_pace_that_is_read() -> None:
    words = ("add-strip", {"pattern": "words", "text": "mind the tide", "keys": "speed=100", "length_s": 20.0})
    project = plate(LARGE, MATRIX, words)
    compiler = Compiler()
    [told] = [one for one in compiler.findings(compiler.compile(project)) if one.code == "words-too-fast"]
    # Letters of five and a gap: some six columns each; they are twice as high as they must be, so ten a second are read.
    assert told.measured == pytest.approx(100 / 5.5, rel=0.2)
    assert told.allowed == 10.0
    remedy = told.remedies[0]
    assert "words-too-fast" not in codes(apply_edit(project, str(remedy.edit), dict(remedy.values)))
    far = apply_edit(apply_edit(project, "set-strip", {"number": 1, "keys": "speed=40"}), "set-purpose", {"distance_m": 5.0})
    assert "words-too-fast" in codes(far), "from farther away fewer are read"
