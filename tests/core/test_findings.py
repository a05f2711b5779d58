"""Every finding: raised where it should be, and explained in the manual."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from drawings import FINE, FINE_CHOSEN
from shapely.geometry import box

from outlined_glow.core.board.model import ART, Copper
from outlined_glow.core.order import check
from outlined_glow.core.passes import Memory
from outlined_glow.core.project import Project
from outlined_glow.core.workshop import Compiler, apply_values, new_project

ROOT = Path(__file__).parents[2]
SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 60 40" width="60mm" height="40mm"><rect width="60" height="40" fill="#121212"/>{}</svg>'


def drawn(body: str, *steps: tuple[str, dict[str, Any]], **options: Any) -> dict[str, Any]:
    """Findings by code of a 60 x 40 mm black plate with something on it."""
    project = new_project(SVG.format(body).encode(), "plate.svg", **options)
    return found(project, *steps)


def found(project: Project, *steps: tuple[str, dict[str, Any]]) -> dict[str, Any]:
    for name, values in steps:
        project = apply_values(project, name, values, (0.0, 0.0))
    compiler = Compiler()
    work = compiler.compile(project)
    return {finding.code: finding for finding in compiler.findings(work)}


def test_a_clean_board_has_nothing_to_say() -> None:
    assert drawn("") == {}


def test_thin_lines_of_metal_and_ink_are_found_with_place_and_width() -> None:
    metal = '<path d="M10 20h30" stroke="#D9B25A" stroke-width="0.1"/><rect x="40" y="18" width="9" height="4" fill="#D9B25A"/>'
    finding = drawn(metal)["metal-too-thin"]
    assert finding.severity == "warning"
    assert finding.measured == pytest.approx(0.1, abs=0.015)
    assert finding.allowed == 0.15
    assert 10 < finding.x_mm - 1.6 < 40
    assert finding.y_mm == pytest.approx(21.6, abs=0.1)
    ink = '<path d="M10 20h30" stroke="#F4F2EC" stroke-width="0.12"/>'
    assert drawn(ink)["ink-too-thin"].measured == pytest.approx(0.12, abs=0.015)
    assert "ink-too-thin" not in drawn(ink, ("set-profile", {"profile": "fine"}))


def test_gaps_and_webs() -> None:
    pair = '<rect x="10" y="10" width="10" height="9" fill="#D9B25A"/><rect x="20.09" y="10" width="10" height="9" fill="#D9B25A"/>'
    codes = drawn(pair)
    assert codes["mask-web-too-narrow"].measured == pytest.approx(0.09, abs=0.02)
    raised = pair.replace("#D9B25A", "#1D1B1A")
    assert drawn(raised)["copper-gap-too-narrow"].measured == pytest.approx(0.09, abs=0.02)
    assert "copper-gap-too-narrow" not in codes, "metal's copper meets under the mask"


def test_ink_on_metal_and_over_a_copper_edge() -> None:
    beside = (
        '<rect x="10" y="10" width="10" height="9" fill="#D9B25A"/><rect x="20" y="10" width="9" height="9" fill="#F4F2EC"/>'
    )
    assert drawn(beside)["ink-on-opening"].measured == pytest.approx(9 * 0.15, abs=0.1)
    near = (
        '<rect x="10" y="10" width="10" height="9" fill="#D9B25A"/><rect x="20.02" y="10" width="9" height="9" fill="#F4F2EC"/>'
    )
    assert "ink-on-opening" in drawn(near)
    across = (
        '<rect x="10" y="10" width="14" height="14" fill="#1D1B1A"/><path d="M20 16h12" stroke="#F4F2EC" stroke-width="2"/>'
    )
    crossing = drawn(across, ("set-stack", {"mask": "green"}))
    assert "ink-over-copper-edge" not in crossing, "copper ends where the ink begins, unless it mostly stands on it"


def test_ink_over_a_copper_edge_is_found_on_the_finished_layers() -> None:
    body = '<path d="M10 20h30" stroke="#F4F2EC" stroke-width="2"/>'
    work = Compiler().compile(new_project(SVG.format(body).encode(), "plate.svg"))
    halves = tuple(Copper(side, ART, "", box(0, 0, 26.6, 60)) for side in ("front", "back"))
    made = {**work.values, "wired layers": replace(work.values["wired layers"], copper=halves)}
    findings = check(work.project, work.design, made, Memory())
    finding = next(one for one in findings if one.code == "ink-over-copper-edge")
    assert finding.measured == pytest.approx(2, abs=0.1)
    assert (finding.x_mm, finding.y_mm) == (pytest.approx(26.6, abs=0.05), pytest.approx(21.6, abs=0.2))


@pytest.mark.parametrize(
    ("words", "lost", "ways"),
    [
        ({"text": "OVER", "x_mm": 2.0, "y_mm": 20.0, "height_mm": 4.0}, True, ["move it inward", "make it 2 mm"]),
        ({"text": "OVER", "x_mm": 2.0, "y_mm": 20.0, "height_mm": 4.0, "side": "back", "appearance": "metal"}, True,
         ["move it inward"]),
        ({"text": "A LONG NAME", "x_mm": 30.0, "y_mm": 20.0, "height_mm": 9.0}, True, ["make it 6.3 mm"]),
        ({"text": "A LONG NAME", "x_mm": 20.0, "y_mm": 20.0, "height_mm": 9.0}, True, ["make it 6.3 mm, and move it inward"]),
        ({"text": "NEAR", "x_mm": 0.0, "y_mm": 0.0, "height_mm": 3.0, "bend": "edge", "inset_mm": -1.0}, True,
         ["2 mm from the edge"]),
        ({"text": "ALL OF IT A NAME THAT NO BOARD OF THIS SIZE HOLDS", "x_mm": 0.0, "y_mm": 0.0, "height_mm": 30.0}, True,
         ["shorten it"]),
        ({"text": "INSIDE", "x_mm": 30.0, "y_mm": 20.0, "height_mm": 4.0}, False, []),
        ({"text": "A NOTCH", "x_mm": 0.0, "y_mm": 20.0, "height_mm": 4.0, "appearance": "cut"}, False, []),
    ],
)  # fmt: skip
def test_words_that_the_edge_cuts_off_are_told_of_and_saved(words: dict[str, Any], lost: bool, ways: list[str]) -> None:
    project = apply_values(new_project(SVG.format("").encode(), "plate.svg"), "add-words", words, (0.0, 0.0))
    findings = found(project)
    assert ("words-cut-off" in findings) is lost
    todo = findings["words-cut-off"].remedies if lost else ()
    for way, remedy in zip(ways, todo, strict=True):
        assert remedy.text.startswith(way)
        if remedy.edit:
            assert "words-cut-off" not in found(project, (remedy.edit, dict(remedy.values)))


def test_letters_that_the_face_lacks_are_told_of_and_left_out() -> None:
    plate = new_project(SVG.format("").encode(), "plate.svg")
    words = {"text": "rain \u96e8 or shine", "x_mm": 30.0, "y_mm": 20.0, "height_mm": 3.0}
    project = apply_values(plate, "add-words", words, (0.0, 0.0))
    finding = found(project)["letters-missing"]
    assert "\u96e8" in finding.text
    remedy = finding.remedies[0]
    done = apply_values(project, remedy.edit or "", dict(remedy.values), (0.0, 0.0))
    assert done.designs[0].artwork.words[0].text == "rain or shine"
    assert "letters-missing" not in found(done)
    gone = apply_values(plate, "add-words", {**words, "text": "e\u0301 \u0915\u093c"}, (0.0, 0.0))
    remedy = found(gone)["letters-missing"].remedies[0]
    bare = apply_values(gone, remedy.edit or "", dict(remedy.values), (0.0, 0.0))
    assert "letters-missing" not in found(bare), "what is left out is gone, composed or not"
    greek = apply_values(plate, "add-words", {**words, "text": "Ωμέγα, мир, cafe\u0301"}, (0.0, 0.0))
    assert "letters-missing" not in found(greek)


def test_ink_of_the_picture_over_the_edge_is_told_of_and_taken_in_by_a_border() -> None:
    plate = new_project(SVG.format('<rect x="8" y="10" width="9" height="4" fill="#F4F2EC"/>').encode(), "plate.svg")
    assert "ink-cut-off" not in found(plate), "the silhouette takes it in"
    form = ("set-shape", {"base": "rectangle", "width_mm": 40.0, "height_mm": 30.0, "x_mm": 30.0, "y_mm": 20.0})
    note = found(plate, form, ("set-border", {"border_mm": 0.0}))["ink-cut-off"]
    assert note.severity == "note"
    assert note.measured == pytest.approx(2 * 4, abs=0.05)
    (remedy,) = note.remedies
    assert "ink-cut-off" not in found(plate, form, (remedy.edit or "", dict(remedy.values)))


def test_what_is_accepted_is_that_finding_and_no_other() -> None:
    gold = '<rect x="{}" y="10" width="9.9" height="9" fill="#D9B25A"/>'
    body = gold.format(10) + gold.format(20) + '<path d="M10 30h30" stroke="#D9B25A" stroke-width=".1"/>'
    project = new_project(SVG.format(body).encode(), "plate.svg")
    before = found(project)
    accept = next(one for one in before["metal-too-thin"].remedies if one.text == "leave as drawn")
    after = found(project, ("mend", dict(accept.values)))
    assert (after["metal-too-thin"].severity, after["mask-web-too-narrow"].severity) == ("note", "warning")
    back = after["metal-too-thin"].remedies[0]
    again = found(project, ("mend", dict(accept.values)), (back.edit or "", dict(back.values)))
    assert again["metal-too-thin"].severity == "warning"
    everything = {"how": "accept", "appearance": "metal", "width_mm": 0.15}
    assert {found(project, ("mend", everything))[code].severity for code in ("metal-too-thin", "mask-web-too-narrow")} == {
        "note"
    }


def test_the_ground_under_ink_is_raised_or_lowered() -> None:
    """Ink that stands on raised tone and beside it: copper under all of it, under none, and as it was."""
    body = '<rect x="10" y="10" width="14" height="14" fill="#7A1E45"/><path d="M18 16h10" stroke="#F4F2EC" stroke-width="2"/>'
    project = new_project(SVG.format(body).encode(), "plate.svg", chosen={"7A1E45": "raised", "F4F2EC": "ink"})
    ink = Compiler().on_demand(project).art.regions["ink"]
    covered = {}
    for how in ("", "raise", "lower"):
        mend = {"how": how, "appearance": "ink", "width_mm": 0.15}
        work = Compiler().compile(apply_values(project, "mend", mend, (0, 0)) if how else project)
        covered[how] = work.flat.front.copper.intersection(ink).area / ink.area
    assert covered["raise"] > 0.99
    assert covered["lower"] < 0.01
    far = {"how": "raise", "appearance": "ink", "width_mm": 0.15, "x_mm": 50.0, "y_mm": 5.0, "reach_mm": 1.0}
    elsewhere = Compiler().compile(apply_values(project, "mend", far, (0, 0)))
    assert elsewhere.flat.front.copper.intersection(ink).area / ink.area == pytest.approx(covered[""], abs=0.01)


def test_tones_that_hardly_show_name_better_masks() -> None:
    raised = '<rect x="10" y="10" width="20" height="20" fill="#1D1B1A"/>'
    finding = drawn(raised, chosen={"1D1B1A": "raised"})["tones-hardly-show"]
    assert finding.measured < 8
    assert "purple" in finding.text
    assert finding.remedies[0].edit == "set-stack"
    mask = dict(finding.remedies[0].values)["mask"]
    assert "tones-hardly-show" not in drawn(raised, ("set-stack", {"mask": mask}), chosen={"1D1B1A": "raised"})


def test_home_etch_says_what_vanishes() -> None:
    body = '<rect x="10" y="10" width="9" height="9" fill="#123456"/><rect x="30" y="10" width="9" height="9" fill="#654321"/>'
    codes = drawn(body, ("set-profile", {"profile": "home-etch"}), chosen={"123456": "ink", "654321": "veiled"})
    assert "appearance-vanishes" in codes


def test_stack_and_holes_the_desk_does_not_have() -> None:
    home = ("set-profile", {"profile": "home-etch"})
    assert drawn("", home, ("set-stack", {"thickness_mm": 0.8}))["thickness-not-offered"].severity == "stop"
    assert drawn("", ("set-hole", {"diameter_mm": 8.0}))["drill-out-of-range"].severity == "stop"


def test_lights_off_the_board_and_behind_nothing() -> None:
    codes = drawn("", ("single", {"array": "a", "x_mm": 60.5, "y_mm": 20.0}))
    assert codes["led-outside"].severity == "stop"
    behind = {"array": "b", "x_mm": 20.0, "y_mm": 20.0, "emitter": "1206 reverse-mount red"}
    assert drawn("", ("single", behind))["no-window"].severity == "warning"
    window = '<circle cx="20" cy="20" r="4" fill="#B5A766"/>'
    assert "no-window" not in drawn(window, ("single", behind))
    hole = ("set-hole", {"x_mm": 30.0, "y_mm": 20.0})
    assert "led-outside" in drawn("", hole, ("single", {"array": "c", "x_mm": 31.0, "y_mm": 20.0}))


def _raised(moth: Project) -> Project:
    svg = SVG.format('<rect x="10" y="10" width="20" height="20" fill="#1D1B1A"/>').encode()
    return new_project(svg, "r.svg", chosen={"1D1B1A": "raised", "ABCDEF": "ink"})


def _overloaded(moth: Project) -> Project:
    each = apply_values(moth, "drive", {"method": "each"}, (0, 0))
    one_cell = apply_values(each, "set-supply", {"supply": "aaa-alkaline", "cells": 1}, (0, 0))
    return apply_values(one_cell, "set-current", {"current_a": 0.02}, (0, 0))


def _fine(moth: Project) -> Project:
    """No moth: a drawing of what is too small, in every appearance."""
    return new_project(FINE, "fine.svg", chosen=FINE_CHOSEN)


def test_texts_that_lie_over_one_another_are_told_together() -> None:
    project = new_project(SVG.format("").encode(), "plate.svg")
    for text, y, side in (("ONE", 20.0, "front"), ("TWO", 21.0, "front"), ("THREE", 25.0, "front"), ("BACK", 20.0, "back")):
        values = {"text": text, "x_mm": 30.0, "y_mm": y, "height_mm": 4.0, "side": side}
        project = apply_values(project, "add-words", values, (0.0, 0.0))
    compiler = Compiler()
    every = compiler.findings(compiler.compile(project))
    [told] = [one for one in every if one.code == "words-over-words"]
    assert told.text == "“ONE”, “TWO”, “THREE” lie over one another. Move them apart."
    assert len(told.places) == 3
    for number, y in ((2, 10.0), (3, 30.0)):
        project = apply_values(project, "set-words", {"number": number, "y_mm": y}, (0.0, 0.0))
    assert "words-over-words" not in found(project)


@pytest.mark.parametrize(("made", "least"), [(_fine, 20), (_raised, 3), (_overloaded, 2)])
def test_remedies_that_are_edits_can_be_done(moth: Project, made: Callable[[Project], Project], least: int) -> None:
    compiler, project = Compiler(), made(moth)
    tried: set[tuple[str, str]] = set()
    for finding in compiler.findings(compiler.compile(project)):
        if made is _overloaded and finding.stage == "artwork":
            continue
        for remedy in finding.remedies:
            assert remedy.text
            if remedy.edit:
                tried.add((finding.code, remedy.text))
                changed = apply_values(project, remedy.edit, dict(remedy.values), compiler.compile(project).board.origin)
                assert changed != project
                if remedy.edit == "unmend":  # brings back what was left as drawn
                    continue
                after = {one.code: one for one in compiler.findings(compiler.compile(changed)) if one.severity != "note"}
                left = after[finding.code].count if finding.code in after else 0
                assert left < 0.7 * finding.count, (finding.code, remedy.text, left)
    assert len(tried) >= least, tried


def test_the_documents_name_what_is_there() -> None:
    readme = (ROOT / "README.md").read_text()
    for target in re.findall(r"\]\(([^)#]+)\)", readme):
        assert (ROOT / target).exists(), target
    pictures = {path.name for path in (ROOT / "docs" / "screenshots").glob("*.png")}
    assert {Path(one).name for one in re.findall(r"docs/screenshots/[\w-]+\.png", readme)} == pictures
    formats = (ROOT / "docs" / "file-format.md").read_text()
    for word in ("project.json", "board.json", "thumbnail.png", "mimetype", "order-page.txt"):
        assert f"`{word}`" in formats


def test_texts_of_a_picture_that_are_too_low_to_print_are_found_where_they_are() -> None:
    text = '<text x="{}" y="{}" font-size="{}" fill="#F4F2EC">{}</text>'
    body = text.format(10, 10, 1.2, "low") + text.format(20, 30, 6, "high")
    turned = '<g transform="translate(30 20) scale(.2)">' + text.format(0, 0, 4, "small by its group") + "</g>"
    project = new_project(SVG.format(body + turned).encode(), "plate.svg", chosen={"F4F2EC": "ink"})
    finding = found(project)["words-too-small"]
    assert finding.count == 2
    assert "small by its group" in finding.text
    assert finding.measured == pytest.approx(0.8 * 0.66, abs=0.03)
    work = Compiler().compile(project)
    ox, oy = work.board.origin
    assert (finding.x_mm, finding.y_mm) == (pytest.approx(30 - ox, abs=0.05), pytest.approx(20 - oy, abs=0.05))
    assert (finding.x_mm, finding.y_mm) in finding.places
    remedy = finding.remedies[0]
    assert "words-too-small" not in found(project, (remedy.edit or "", dict(remedy.values)))
    double = found(project, ("set-width", {"width_mm": 240.0}))
    assert "words-too-small" not in double
