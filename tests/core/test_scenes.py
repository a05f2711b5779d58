"""Scenes, buttons and what leads from one scene to another; what of them nobody would understand."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from plates import ROW, plate

from outlined_glow.core.errors import Trouble
from outlined_glow.core.motion import average_share, levels
from outlined_glow.core.motion.scenes import Contact, Press, Run, leads_on, presses_of, reached
from outlined_glow.core.project import Button, Feed, Finding, Motion, Project, Scene, SceneChange, apply_edit
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.motion_facts import motion_facts, power_cut_words

KEY = Button(name="key")
SCORE = (
    ("add-strip", {"pattern": "steady", "length_s": 4.0}),
    ("add-strip", {"pattern": "chase", "start_s": 4.0, "length_s": 6.0}),
    ("set-scene", {"name": "day", "start_s": 0.0, "length_s": 4.0}),
    ("set-scene", {"name": "night", "start_s": 4.0, "length_s": 6.0, "then": "hold"}),
    ("add-button", {"name": "key"}),
)


def made(*edits: tuple[str, dict[str, Any]]) -> Project:
    return plate(ROW, *SCORE, *edits)


def told(project: Project) -> dict[str, Finding]:
    compiler = Compiler()
    return {one.code: one for one in compiler.findings(compiler.compile(project)) if one.stage == "motion"}


def kinds(*edges: tuple[float, bool], button: Button = KEY) -> list[tuple[float, str]]:
    return [(round(one.time_s, 3), one.kind) for one in presses_of(button, edges)]


def test_presses_are_told_from_what_the_contact_does() -> None:
    assert kinds((1.0, True), (1.3, False)) == [(1.3, "short")]
    assert kinds((1.0, True), (2.0, False)) == [(1.8, "long")], "as soon as it is long enough"
    assert kinds((1.0, True), (6.0, False)) == [(1.8, "long"), (4.0, "very long")]
    assert kinds((1.0, True), (1.1, False), (1.3, True), (1.4, False)) == [(1.4, "double")]
    assert kinds((1.0, True), (1.1, False), (1.6, True), (1.7, False)) == [(1.1, "short"), (1.7, "short")]
    bounces = ((1.0, True), (1.004, False), (1.006, True), (1.3, False), (1.303, True), (1.307, False))
    assert kinds(*bounces) == [(1.307, "short")]
    opens = Button(name="key", contact="opens")
    assert kinds((0.5, True), (1.0, False), (1.3, True), button=opens) == [(1.3, "short")]


@given(st.lists(st.floats(0.001, 5), max_size=30))
def test_any_rattling_makes_presses_in_order_and_never_more_than_it_has_ups(waits: list[float]) -> None:
    time, edges = 0.0, []
    for at, wait in enumerate(waits):
        time += wait
        edges.append((time, at % 2 == 0))
    found = presses_of(KEY, edges)
    assert [one.time_s for one in found] == sorted(one.time_s for one in found)
    assert len(found) <= 2 * len(waits)
    assert all(isinstance(one, Press) and one.button == "key" for one in found)


def test_a_scene_plays_again_holds_is_dark_or_switches_off() -> None:
    motion = made().motion
    run = Run(motion)
    assert [run.score_s(time) for time in (0.0, 3.0, 4.0, 9.5)] == [0.0, 3.0, 0.0, 1.5]
    motion = made(("add-change", {"of": "day", "to": "night", "by": "short"})).motion
    run = Run(motion)
    assert run.press("short", "key", 5.0)
    assert (run.scene.name if run.scene else "", run.since_s) == ("night", 5.0)
    assert run.score_s(6.0) == 5.0
    assert run.score_s(100.0) == pytest.approx(10.0, abs=1e-3)
    assert run.score_s(100.0) != 10.0, "the last moment of it, not the first of what follows"
    assert not run.press("long", "key", 101.0), "nothing follows from that"
    dark = apply_edit(made(), "set-scene", {"name": "day", "then": "dark"}).motion
    assert Run(dark).score_s(4.1) is None
    off = Run(apply_edit(made(), "set-scene", {"name": "day", "then": "off"}).motion)
    off.go(4.5)
    assert off.scene is None
    assert off.score_s(5.0) is None


def test_times_ends_and_feeds_lead_on_and_off_is_left_by_a_press_from_any() -> None:
    project = made(
        ("add-change", {"of": "day", "to": "night", "by": "end"}),
        ("add-change", {"of": "night", "to": "off", "by": "time", "value": 3.0}),
        ("add-change", {"of": "any", "to": "day", "by": "long"}),
    )
    run = Run(project.motion)
    run.go(20.0)
    assert run.scene is None
    assert run.since_s == 7.0
    assert run.press("long", "key", 25.0)
    assert run.scene is not None
    assert run.scene.name == "day"
    fed = made(
        ("set-feed", {"name": "level", "kind": "wave", "low": 0.0, "high": 10.0, "period_s": 20.0}),
        ("add-change", {"of": "day", "to": "night", "by": "over", "feed": "level", "value": 5.0}),
    )
    run = Run(fed.motion)
    run.go(4.0)
    assert run.scene is not None
    assert run.scene.name == "day"
    run.go(30.0)
    assert run.scene.name == "night"
    assert run.since_s == pytest.approx(5.05, abs=0.06), "the wave is half way up after a quarter of its period"
    assert Run(Motion()).score_s(2.5) == 0.5, "without scenes the score goes round"


@pytest.mark.parametrize("step_s", [1 / 60, 1 / 24, 0.04, 0.7, 9.0])
def test_a_feed_leads_on_in_however_small_steps_time_passes(step_s: float) -> None:
    scenes = tuple(Scene(name=name, length_s=5.0) for name in "ab")
    changes = (SceneChange(number=1, of="a", to="b", by="over", feed="w", value=8.0),
               SceneChange(number=2, of="b", to="a", by="under", feed="w", value=2.0))  # fmt: skip
    wave = Feed(name="w", kind="wave", high=10.0, period_s=4.0)
    run, led = Run(Motion(feeds=(wave,), scenes=scenes, changes=changes)), []
    for step in range(1, round(9.0 / step_s) + 1):
        run.go(step * step_s)
        led.append(run.since_s)
    # 5 - 5 cos is over 8 from 1.41 s on, and under 2 from 3.41 s on; a look is taken 20 times a second.
    assert sorted(set(led)) == pytest.approx([0.0, 1.45, 3.45, 5.45, 7.45][-len(set(led)) :])


def test_what_nobody_would_understand_is_told_and_mended() -> None:
    project = made()
    found = told(project)
    assert {"scene-not-reached", "scene-without-end"} <= set(found)
    assert "scenes-alike" not in found
    good = made(
        ("add-change", {"of": "day", "to": "night", "by": "short"}), ("add-change", {"of": "night", "to": "day", "by": "short"})
    )
    assert not {one for one in told(good) if one.startswith(("scene", "press"))}
    for remedy in (*found["scene-not-reached"].remedies, *found["scene-without-end"].remedies):
        assert len(told(apply_edit(project, str(remedy.edit), dict(remedy.values)))) <= len(found)
    alike = apply_edit(good, "set-strip", {"number": 2, "pattern": "steady"})
    assert {"scenes-alike", "press-unanswered"} <= set(told(alike))
    doubled = apply_edit(good, "add-change", {"of": "day", "to": "off", "by": "double"})
    late = told(doubled)["press-unanswered"]
    assert late.measured == 0.35
    quicker = apply_edit(doubled, str(late.remedies[0].edit), dict(late.remedies[0].values))
    assert "press-unanswered" not in told(quicker)
    for start, length, ends in ((4.0, 9.0, 10.0), (30.0, 2.0, None)):
        beyond = apply_edit(good, "set-scene", {"name": "night", "start_s": start, "length_s": length})
        [remedy] = told(beyond)["scene-beyond-score"].remedies
        mended = apply_edit(beyond, str(remedy.edit), dict(remedy.values))
        assert "scene-beyond-score" not in told(mended)
        assert [one.start_s + one.length_s for one in mended.motion.scenes if one.name == "night"] == ([ends] if ends else [])
    assert reached(good.motion) == {"day", "night"}
    assert leads_on(good.motion, good.motion.scenes[0])


def test_the_share_of_the_day_decides_the_average() -> None:
    project = made()
    work = Compiler().compile(project)
    assert average_share(project.motion, work.lamps) == pytest.approx((4 * 1 + 6 * 0.375) / 10, rel=0.01)
    shared = apply_edit(project, "set-scene", {"name": "day", "share": 0.1})
    assert average_share(shared.motion, work.lamps) == pytest.approx(0.1, rel=0.01)


def test_scenes_and_buttons_are_edited() -> None:
    project = made(("add-change", {"of": "day", "to": "night", "by": "short"}))
    renamed = apply_edit(project, "set-scene", {"name": "night", "called": "dusk"})
    assert renamed.motion.changes[0].to == "dusk"
    other = apply_edit(project, "add-change", {"of": "day", "to": "off", "by": "short"})
    assert [(one.of, one.to) for one in other.motion.changes] == [("day", "")], "one press leads to one place"
    assert apply_edit(project, "remove-scene", {"name": "night"}).motion.changes == ()
    assert apply_edit(project, "remove-button", {"name": "key"}).motion.changes == ()
    assert apply_edit(project, "remove-change", {"number": 1}).motion.changes == ()


@pytest.mark.parametrize(
    ("name", "values", "said"),
    [
        ("set-scene", {"name": "off"}, "cannot be named “off”"),
        ("set-scene", {"name": "day", "called": "night"}, "no two alike"),
        ("set-scene", {"name": "x" * 41}, "up to 40 letters"),
        ("remove-scene", {"name": "noon"}, "There is no scene “noon”; there are: day, night"),
        ("add-button", {"name": "b", "long_s": 4.0}, "very long after long"),
        ("remove-button", {"name": "b"}, "no button “b”"),
        ("add-change", {"of": "noon", "by": "short"}, "no scene “noon”"),
        ("add-change", {"of": "day", "by": "short", "button": "b"}, "no button “b”"),
        ("add-change", {"of": "day", "by": "over"}, "no feed"),
        ("add-change", {"of": "day", "by": "time"}, "needs value="),
        ("remove-change", {"number": 3}, "no change “3”"),
    ],
)
def test_what_cannot_be_is_refused(name: str, values: dict[str, Any], said: str) -> None:
    with pytest.raises(Trouble, match=said):
        apply_edit(made(), name, values)
    shares = apply_edit(made(), "set-scene", {"name": "day", "share": 0.5})
    with pytest.raises(Trouble, match="110 % of the day"):
        apply_edit(shares, "set-scene", {"name": "night", "share": 0.6})


@given(st.lists(st.tuples(st.floats(0.03, 4), st.floats(0.03, 4)), max_size=8))
def test_a_contact_that_is_pressed_now_tells_what_its_edges_come_to(waits: list[tuple[float, float]]) -> None:
    contact, time, told, edges = Contact(KEY), 0.0, [], []
    for idle, held in waits:
        time += idle
        edges.append((time, True))
        told += contact.at(time, True)
        for after in (KEY.long_s, KEY.very_long_s):
            if held > after:
                told += contact.at(time + after + 1e-6)
        time += held
        edges.append((time, False))
        told += contact.at(time, False)
    wanted = presses_of(KEY, edges)
    # A short press is told before anybody can know that a second one makes it a double one.
    assert [one for one in told if one in wanted] == wanted
    assert all(one.kind == "short" for one in told if one not in wanted)


def test_scenes_tell_which_one_they_are() -> None:
    project = plate(ROW, ("add-strip", {"pattern": "steady", "length_s": 9.0, "level": 0.5}))
    for at, name in enumerate(("one", "two", "three")):
        project = apply_edit(project, "set-scene", {"name": name, "start_s": 3.0 * at, "length_s": 3.0})
    compiler = Compiler()

    def codes(of: Project) -> set[str]:
        return {one.code for one in compiler.findings(compiler.compile(of)) if one.stage == "motion"}

    assert "scenes-alike" in codes(project)
    [alike] = [one for one in compiler.findings(compiler.compile(project)) if one.code == "scenes-alike"]
    assert alike.text.startswith("The scenes “one”, “two”, “three” look alike")
    lamps = compiler.compile(project).lamps

    def lit(of: Project, time_s: float) -> list[float]:
        return [round(float(one), 2) for one in levels(of.motion, lamps, [time_s])[0, :, 0]]

    by_led = apply_edit(project, "sign-scenes", {"by": "led", "leds": (1, 2, 3)})
    assert [lit(by_led, time).index(1.0) for time in (1.0, 4.0, 8.9)] == [0, 1, 2]
    assert "scenes-alike" not in codes(by_led)
    blinks = apply_edit(by_led, "sign-scenes", {"by": "blinks", "array": ("row",)})
    assert len([one for one in blinks.motion.score if one.sign_of]) == 3, "the signs before are gone"
    for at in range(3):
        times = 3.0 * at + np.arange(0, 2.9, 0.01)
        on = levels(blinks.motion, lamps, times)[:, 0, 0] > 0.9
        assert int((np.diff(on.astype(int), prepend=0) == 1).sum()) == at + 1
    colours = apply_edit(project, "sign-scenes", {"by": "colour", "array": ("row",)})
    assert len({one.colour for one in colours.motion.score if one.sign_of}) == 3
    renamed = apply_edit(colours, "set-scene", {"name": "two", "called": "second"})
    assert "second" in {one.sign_of for one in renamed.motion.score}
    assert len(apply_edit(renamed, "remove-scene", {"name": "second"}).motion.score) == 3
    assert apply_edit(renamed, "sign-scenes", {"by": "none"}).motion.score == project.motion.score
    overlapping = apply_edit(project, "set-scene", {"name": "all", "start_s": 0.0, "length_s": 9.0})
    rows = [one.row for one in apply_edit(overlapping, "sign-scenes", {"by": "colour", "array": ("row",)}).motion.score]
    assert len(set(rows)) == 3, "scenes that lie over one another have signs in rows of their own"
    for wrong, said in (({"by": "led", "leds": (1,)}, "give as many LEDs"), ({"by": "colour"}, "needs LEDs")):
        with pytest.raises(Trouble, match=said):
            apply_edit(project, "sign-scenes", wrong)
    with pytest.raises(Trouble, match="no scenes"):
        apply_edit(plate(ROW), "sign-scenes", {"by": "colour", "leds": (1,)})


def test_what_outlives_a_power_cut() -> None:
    scenes = (Scene(name="a"), Scene(name="b"))
    forgets, keeps = Motion(scenes=scenes), Motion(scenes=scenes, after_cut="last")
    for motion, last, begins in ((forgets, "b", "a"), (keeps, "b", "b"), (keeps, "", "a"), (keeps, "gone", "a")):
        run = Run(motion, last)
        assert run.scene is not None
        assert run.scene.name == begins
    assert "begins with “a”" in power_cut_words(forgets)
    assert "keeps its number" in power_cut_words(keeps)
    assert power_cut_words(Motion()) == ""


def test_scenes_are_told_with_their_current() -> None:
    project = plate(ROW, ("add-strip", {"pattern": "steady", "length_s": 2.0}),
                    ("add-strip", {"pattern": "steady", "start_s": 2.0, "length_s": 2.0, "level": 0.25}),
                    ("set-scene", {"name": "day", "length_s": 2.0}),
                    ("set-scene", {"name": "night", "start_s": 2.0, "length_s": 2.0, "share": 0.5}))  # fmt: skip
    work = Compiler().compile(project)
    day, night = motion_facts(work)["scenes"]
    assert (day["name"], night["name"], night["share"]) == ("day", "night", 0.5)
    assert day["average_a"] == pytest.approx(work.plan.current_a + work.plan.standing_a, rel=0.02)
    assert night["average_a"] == pytest.approx(work.plan.current_a / 4 + work.plan.standing_a, rel=0.02)
    assert motion_facts(Compiler().compile(plate(ROW)))["scenes"] == []
