"""Limits, profiles of one's own, cautions."""

from __future__ import annotations

import json
from typing import Any

import pytest
from msgspec import structs

from outlined_glow.core.brief import price_of
from outlined_glow.core.brief.findings import cautions
from outlined_glow.core.errors import Trouble
from outlined_glow.core.parts import profile, profile_of, profile_text, read_profile
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.workshop import Compiler, apply_values, new_project
from outlined_glow.core.workshop.choices import consequences


@pytest.mark.parametrize(
    ("limits", "code"),
    [
        ({"width_mm": 50.0}, "larger-than-wished"),
        ({"height_mm": 30.0}, "larger-than-wished"),
        ({"each": 1.0}, "dearer-than-wished"),
        ({"run_time_h": 5000.0}, "runs-too-short"),
        ({"ready_by": "2020-01-01"}, "too-late"),
    ],
)
def test_a_broken_limit_is_found_and_helped(moth: Project, sign: Project, limits: dict[str, Any], code: str) -> None:
    compiler = Compiler()
    limited = apply_edit(moth if code == "runs-too-short" else sign, "set-limits", limits)
    found = {one.code: one for one in compiler.findings(compiler.compile(limited))}
    assert found[code].remedies
    remedy = found[code].remedies[0]
    if remedy.edit:
        better = apply_values(limited, remedy.edit, dict(remedy.values), (0, 0))
        after = {one.code: one for one in compiler.findings(compiler.compile(better))}
        assert code not in after or after[code].measured < found[code].measured  # type: ignore[operator]
    forgotten = apply_edit(limited, "set-limits", {"drop": tuple(limits)})
    assert code not in {one.code for one in compiler.findings(compiler.compile(forgotten))}


def test_limits_that_are_kept_say_nothing(moth: Project) -> None:
    wide = apply_edit(
        moth, "set-limits", {"width_mm": 80.0, "height_mm": 60.0, "each": 9.0, "run_time_h": 1.0, "ready_by": "2999-01-01"}
    )
    codes = {one.code for one in Compiler().findings(Compiler().compile(wide))}
    assert not codes & {"larger-than-wished", "dearer-than-wished", "runs-too-short", "too-late"}


def test_a_profile_of_ones_own_is_copied_changed_written_and_read(sign: Project) -> None:
    with pytest.raises(Trouble, match="copy this one"):
        apply_edit(sign, "set-rule", {"rule": "track_mm", "value": 0.3})
    own = apply_edit(sign, "copy-profile", {"name": "Shed Rules"})
    assert own.brief.profile == "shed-rules"
    changed = apply_edit(own, "set-rule", {"rule": "track_mm", "value": 0.3})
    rules = profile_of(changed.brief)
    assert (rules.track_mm, rules.title, rules.gap_mm) == (0.3, "Shed Rules", profile("standard").gap_mm)
    assert read_profile(profile_text(rules).encode(), "x.json") == rules
    assert Compiler().compile(changed).board.profile == rules
    back = apply_edit(changed, "set-profile", {"profile": "fine"})
    assert apply_edit(back, "set-profile", {"profile": "shed-rules"}).brief.profile == "shed-rules"
    with pytest.raises(Trouble, match="track_mm"):
        apply_edit(own, "set-rule", {"rule": "track_mm", "value": 0.0})
    with pytest.raises(Trouble, match="ring_mm must be 10 mm at most, not 150"):  # µm were meant
        apply_edit(own, "set-rule", {"rule": "ring_mm", "value": 150.0})


GOOD = profile_text(structs.replace(profile("fine"), name="shed", title="Shed"))
BAD = {
    "not json": (GOOD[:-9], "line"),
    "a word for a number": (GOOD.replace('"track_mm": 0.1', '"track_mm": "thin"'), "track_mm on line 4"),
    "a rule missing": (json.dumps({key: value for key, value in json.loads(GOOD).items() if key != "neck_mm"}), "neck_mm"),
    "less than nothing": (GOOD.replace('"gap_mm": 0.1', '"gap_mm": -1'), r"gap_mm must be between 0 and 1000 \(line 5\)"),
    "a drill smaller than the least": (GOOD.replace('"drill_max_mm": 6.3', '"drill_max_mm": 0.1'), "drill_max_mm is less"),
    "a name that is taken": (GOOD.replace('"shed"', '"fine"'), "name of its own"),
    "no thickness": (GOOD.replace("0.6", "99"), "thickness_mm"),
}


@pytest.mark.parametrize("name", BAD)
def test_a_bad_profile_is_refused_with_its_line(name: str) -> None:
    text, words = BAD[name]
    assert text != GOOD
    with pytest.raises(Trouble, match=words):
        read_profile(text.encode(), "shed.json")


def test_choices_call_for_their_cautions(moth: Project) -> None:
    brief = moth.brief
    assert any("allergy" in words for words in cautions(structs.replace(brief, place="worn"), "usb"))
    assert any("children" in words for words in cautions(brief, "coin-2032"))
    assert any("gloves" in words for words in cautions(structs.replace(brief, profile="home-etch"), "usb"))
    assert any("food" in words for words in cautions(structs.replace(brief, tools=("oven",)), "usb"))


def test_another_place_brings_its_distance(sign: Project) -> None:
    assert apply_edit(sign, "set-purpose", {"place": "wall"}).brief.distance_m == 3.0
    assert apply_edit(sign, "set-purpose", {"place": "wall", "distance_m": 5.0}).brief.distance_m == 5.0
    with pytest.raises(Trouble, match="hammer"):
        apply_edit(sign, "set-purpose", {"tools": ("hammer",)})


def test_every_choice_tells_what_it_would_mean_for_this_board(moth: Project) -> None:
    work = Compiler().compile(moth)
    told = {key: {one.word: one for one in rows} for key, rows in consequences(work).items()}
    now = price_of(work.board.size, moth.brief.stack, moth.brief.pieces).boards
    for finish in ("tin", "gold", "bare-copper"):
        then = price_of(work.board.size, structs.replace(moth.brief.stack, finish=finish), moth.brief.pieces).boards
        assert told["finish"][finish].dearer == pytest.approx(then - now)
    assert any("mask over copper" in words for words in told["mask"]["black"].rules_out)
    assert not told["mask"]["green"].rules_out
    assert "22%" in told["thickness_mm"]["2.0"].tells
    assert {"plated holes", "slots"} <= set(told["profile"]["home-etch"].rules_out)
    assert told["profile"]["fine"].later == 2
    assert "without parts and cells" in told["place"]["worn"].tells
    for key in ("mask", "finish", "ink", "profile", "purpose", "place", "ambient", "skill"):
        edited = {"mask": "set-stack", "finish": "set-stack", "ink": "set-stack", "profile": "set-profile"}.get(
            key, "set-purpose"
        )
        for word in told[key]:
            apply_edit(moth, edited, {key: word})


def test_without_mask_and_ink_it_is_told_what_cannot_be_made(sign: Project) -> None:
    compiler = Compiler()
    home = apply_edit(apply_edit(sign, "propose-all", {}), "set-profile", {"profile": "home-etch"})
    notes = {one.code: one for one in compiler.findings(compiler.compile(home))}
    assert "becomes" in notes["appearances-replaced"].text
    by_hand = apply_edit(home, "set-appearance", {"colour": "F4F2EC", "appearance": "ink"})
    worded = apply_edit(by_hand, "add-words", {"text": "hi", "x_mm": 20.0, "y_mm": 10.0})
    work = compiler.compile(worded)
    assert {one.tells for one in consequences(work)["mask"]} == {"this fabricator does not offer it"}
    assert work.board.materials.raised == work.board.materials.metal
    lost = [one for one in compiler.findings(work) if one.code == "appearance-vanishes"]
    assert len(lost) == 2
    for one in lost:
        worded = apply_values(worded, one.remedies[0].edit or "", dict(one.remedies[0].values), (0, 0))
    assert "appearance-vanishes" not in {one.code for one in compiler.findings(compiler.compile(worded))}


def test_a_layer_of_ink_cannot_be_made_at_home_either() -> None:
    layer = b'<g id="ink"><rect x="5" y="5" width="9" height="9" fill="#F4F2EC"/></g>'
    svg = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 30"><rect width="40" height="30" fill="#D9B25A"/>' + layer
    project = apply_edit(new_project(svg + b"</svg>", "x.svg"), "set-profile", {"profile": "home-etch"})
    lost = [one for one in Compiler().findings(Compiler().compile(project)) if one.code == "appearance-vanishes"]
    assert [one.remedies[0].edit for one in lost] == [None]


def test_small_bodies_are_told_to_hands_that_have_made_no_board(moth: Project) -> None:
    compiler = Compiler()
    first = apply_edit(apply_edit(moth, "set-purpose", {"skill": "first board"}), "set-resistors", {"size": "0402"})
    found = next(one for one in compiler.findings(compiler.compile(first)) if one.code == "fiddly-parts")
    better = apply_edit(first, found.remedies[0].edit or "", dict(found.remedies[0].values))
    assert "fiddly-parts" not in {one.code for one in compiler.findings(compiler.compile(better))}


def test_words_too_low_for_their_reader_are_told(sign: Project) -> None:
    compiler = Compiler()
    far = apply_edit(apply_edit(sign, "set-purpose", {"distance_m": 2.0}), "add-words", {"text": "low", "height_mm": 3.0})
    found = next(one for one in compiler.findings(compiler.compile(far)) if one.code == "words-for-a-closer-look")
    assert (found.measured, found.allowed) == (3.0, 10.0)
    along = apply_edit(far, "set-words", {"number": 1, "bend": "edge", "share": 0.5, "inset_mm": 4.0})
    work = compiler.compile(along)
    found = next(one for one in compiler.findings(work) if one.code == "words-for-a-closer-look")
    assert (found.x_mm, found.y_mm) == pytest.approx((work.board.size[0] / 2, 5.6), abs=0.2), "where they stand on the edge"
