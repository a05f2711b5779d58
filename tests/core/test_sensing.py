"""How a board reads values: knobs, encoders, noise, bits, smoothing, dead bands; values that come in while a score plays."""

from __future__ import annotations

import json
import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec import structs
from plates import ROW, plate

from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion import levels
from outlined_glow.core.motion.edits.feeds import turned_to
from outlined_glow.core.motion.feeds import MOST_POINTS, passed_s, values_of
from outlined_glow.core.motion.heard import hear, with_heard
from outlined_glow.core.motion.lamps import plain_lamps
from outlined_glow.core.motion.pixel_font import font_for
from outlined_glow.core.motion.shades import of_palette
from outlined_glow.core.project import Feed, Motion, Strip, apply_edit

TIMES = np.arange(0, 20, 0.02)
RAMP = Feed(name="a", kind="charge", low=0.0, high=10.0, period_s=20.0)
LAMPS = plain_lamps(np.column_stack([3.0 * np.arange(10), np.zeros(10)]), "g" * 10)


def test_a_knob_gives_what_it_is_turned_to() -> None:
    knob = Feed(name="k", kind="knob", low=2.0, high=6.0, at=0.25)
    assert values_of(knob, TIMES[:2]).tolist() == [3.0, 3.0]
    assert values_of(structs.replace(knob, response="slow start"), TIMES[:1])[0] == 2.25
    clicks = structs.replace(knob, kind="encoder", detents=5, at=0.30)
    assert values_of(clicks, TIMES[:1])[0] == 3.0
    motion = turned_to(Motion(feeds=(knob,)), "k", 1.0)
    assert values_of(motion.feeds[0], TIMES[:1])[0] == 6.0


@given(st.integers(1, 12), st.integers(0, 1000))
def test_a_converter_knows_so_many_values(bits: int, seed: int) -> None:
    feed = structs.replace(RAMP, kind="walk", period_s=1.0, bits=bits, seed=seed)
    found = values_of(feed, TIMES)
    steps = found / 10 * (2**bits - 1)
    assert np.allclose(steps, np.round(steps), atol=1e-6)
    assert np.abs(found - values_of(structs.replace(feed, bits=0), TIMES)).max() <= 5 / (2**bits - 1) + 1e-9


def test_noise_is_as_large_as_told_and_a_dead_band_holds_it_off() -> None:
    knob = Feed(name="k", kind="knob", low=0.0, high=10.0, at=0.5, noise=0.02)
    noisy = values_of(knob, TIMES)
    assert 0.15 < np.abs(noisy - 5.0).max() <= 0.2
    assert abs(noisy.mean() - 5.0) < 0.02
    assert np.array_equal(noisy, values_of(knob, TIMES)), "the same seed, the same noise"
    held = values_of(structs.replace(knob, dead_band=0.45), TIMES)
    assert len(np.unique(held)) == 1
    moving = values_of(structs.replace(RAMP, dead_band=0.45), TIMES)
    assert 18 <= len(np.unique(moving)) <= 24
    assert np.abs(moving - values_of(RAMP, TIMES)).max() <= 0.46


def test_smoothing_follows_a_step_as_it_should() -> None:
    step = Feed(name="r", kind="recorded", points=((0.0, 0.0), (5.0, 1.0)), period_s=100.0, smooth_s=2.0)
    found = values_of(step, np.array([4.9, 7.0, 9.0]))
    assert found[0] == 0.0
    assert found[1:] == pytest.approx([1 - math.exp(-1), 1 - math.exp(-2)], abs=0.01)
    gone = structs.replace(step, points=((0.0, 4.0), (10.0, 8.0)), smooth_s=1.0, timeout_s=2.0)
    late = values_of(gone, np.array([1.0, 3.0, 10.0, 11.0]))
    assert late[0] == 4.0
    assert math.isnan(late[1]), "it is too old"
    assert late[2:].tolist() == [8.0, 8.0], "after a gap it begins anew"


def test_pace_and_colour_follow_a_feed() -> None:
    fast = Feed(name="v", kind="wave", low=0.0, high=1.0, period_s=8.0)
    # The integral of twice (1 - cos) / 2 over a whole turn is the turn itself.
    assert passed_s(fast, np.array([4.0, 8.0])) == pytest.approx([4.0, 8.0], abs=0.01)
    assert passed_s(structs.replace(fast, kind="knob", at=0.75), np.array([2.0])) == pytest.approx(3.0)
    strip = Strip(number=1, pattern="one at a time", length_s=8.0, period_s=10.0, bound=(("pace", "v"),))
    still, moving = Feed(name="v", kind="knob", at=0.0), Feed(name="v", kind="knob", at=1.0)
    lit = [levels(Motion(score=(strip,), feeds=(one,)), LAMPS, [2.5])[0, :, 0].argmax() for one in (still, moving)]
    assert lit == [0, 5]
    project = plate(ROW, ("add-strip", {"pattern": "steady"}), ("set-feed", {"name": "v", "kind": "knob", "at": 0.5}))
    with pytest.raises(Trouble, match="no palette"):
        apply_edit(project, "bind", {"number": 1, "key": "colour", "feed": "v"})
    shaded = apply_edit(project, "set-strip", {"number": 1, "palette": "rainbow"})
    bound = apply_edit(shaded, "bind", {"number": 1, "key": "colour", "feed": "v"})
    assert bound.motion.score[0].bound == (("colour", "v"),)
    lamps = plain_lamps(np.zeros((1, 2)), "g")
    shades = np.array([[[255.0, 0, 0], [0, 255.0, 0], [0, 0, 255.0]]])
    lamps = type(lamps)(**{**vars(lamps), "shades": shades, "kinds": np.array([[1, 2, 3]]), "currents": np.ones((1, 3))})
    found = levels(bound.motion, lamps, [0.5])[0, 0]
    wanted = of_palette("rainbow", np.array([[0.4995]]))[0, 0]
    assert found.argmax() == wanted.argmax()


def heard_of(*lines: str, names: tuple[str, ...] = ("tide",), until: float = 10.0) -> Any:
    return hear(iter(lines), names, until)


def test_what_is_written_runs_as_fast_as_a_feed_lets_it() -> None:
    """Where words are, the integral of the speed tells, whatever other moments are asked for."""
    lamps = plain_lamps(np.array([(4.0 * x, 4.0 * y) for y in range(5) for x in range(8)]), "g" * 40)
    wave = Feed(name="v", kind="wave", low=0.0, high=1.0, period_s=4.0)
    strip = Strip(number=1, pattern="words", text="|", font="outlines", length_s=8.0, bound=(("speed", "v"),))
    motion, times = Motion(score=(strip,), feeds=(wave,)), np.arange(0.0, 4.0, 0.02) + 0.005
    made = levels(motion, lamps, times)[..., 0]
    alone = np.concatenate([levels(motion, lamps, [time])[..., 0] for time in times.tolist()])
    assert (made == alone).all()
    # From 0 to 200 columns a second and back: 100 (t - 2 sin(πt/2) / π) of them have gone by.
    gone = 100 * (times - 2 * np.sin(np.pi * times / 2) / np.pi)
    drawn = np.pad(font_for("outlines", 5).line("|").any(axis=0), 8)
    first = np.floor(gone).astype(int) % (len(drawn) - 8)
    lit = [drawn[one : one + 8].tolist() for one in first.tolist()]
    clear = np.abs(gone - np.round(gone)) > 0.2  # the integral is taken in steps
    assert clear.sum() > 80
    assert (made.reshape(-1, 5, 8).any(axis=1) == lit)[clear].all()


def test_values_come_in_as_csv_or_json_lines() -> None:
    assert heard_of("0,1", "2.5,3").values == {"tide": [(0.0, 1.0), (2.5, 3.0)]}
    for head, row in (("t,tide", "0,1"), ("\ufefft;tide", "0;1,0"), ("t\ttide", "0\t1"), ('"t","tide"', '"0","1"')):
        assert heard_of(head, row).values == {"tide": [(0.0, 1.0)]}
    two = heard_of("t,b,a", "0,1,2", "1,,3", names=("a", "b"))
    assert two.values == {"a": [(0.0, 2.0), (1.0, 3.0)], "b": [(0.0, 1.0)]}
    objects = heard_of('{"t": 0, "a": 1}', '{"t": 1, "feed": "b", "value": 5}', names=("a", "b"))
    assert objects.values == {"a": [(0.0, 1.0)], "b": [(1.0, 5.0)]}
    with pytest.raises(Trouble, match="names them, such as t,a,b"):
        heard_of("0,1", names=("a", "b"))
    with pytest.raises(Trouble, match="no feed"):
        hear(iter(["0,1"]), (), 1.0)


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("3", "half a line"), ("3,nan", "no finite number"), ('{"t": 3, "tide"', "half a line, or no JSON"),
        ("3,1e999", "no finite number"), ('{"tide": 3}', "has no t"), ("3,abc", "“abc”"), ("1,5", "2 s has passed"),
        ('{"t": 3, "tide": true}', "no finite number"), ('{"t": 3, "wind": 1}', "no value for a feed"), ("[1]", "has no t"),
        ("[" * 100_000, "no JSON"), ("3,'4\x00'", "no finite number"),
    ],
)  # fmt: skip
def test_what_is_wrong_is_told_with_its_line_and_the_last_value_stays(line: str, said: str) -> None:
    heard = heard_of("0,1", "2,4", line, "11,9")
    assert heard.values["tide"] == [(0.0, 1.0), (2.0, 4.0)]
    assert (heard.wrong, len(heard.faults)) == (1, 2)
    assert heard.faults[0].startswith("Line 3 ")
    assert said in heard.faults[0]
    assert "stopped at 2 s" in heard.faults[1]
    motion = with_heard(Motion(feeds=(Feed(name="tide"), Feed(name="other"))), heard)
    assert values_of(motion.feeds[0], np.array([1.0, 9.9])).tolist() == [1.0, 4.0]
    assert motion.feeds[1] == Feed(name="other")


def test_a_flood_ends_and_nothing_is_a_sentence() -> None:
    flood = heard_of(*(f"{at / 1e4},1" for at in range(MOST_POINTS + 10)), until=1e6)
    assert flood.count == MOST_POINTS
    assert "20,000" in flood.faults[0]
    wrong = heard_of("0,1", *["x"] * 50, "1,2", until=1.0)
    assert (wrong.wrong, len(wrong.faults)) == (50, 6 + (wrong.last_s < 1.0))
    assert wrong.faults[5].startswith("45 more")
    for lines in ((), ("nonsense",), ("x,y",)):
        with pytest.raises(Trouble, match="No value came"):
            heard_of(*lines)


@given(st.lists(st.text(max_size=40), max_size=20))
def test_anything_may_come_in(lines: list[str]) -> None:
    try:
        heard = heard_of(*lines)
    except Trouble as trouble:
        assert "\n" not in str(trouble)
        return
    assert all(math.isfinite(value) for row in heard.values["tide"] for value in row)
    assert json.dumps(heard.faults)
