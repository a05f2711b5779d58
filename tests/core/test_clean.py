"""Clean up: nothing too thin or too close is left, little changes, and what is kept in the file is the same."""

from __future__ import annotations

from pathlib import Path

import msgspec
import numpy as np
import plates
import pytest
import shapely
from corpus import drawings
from shapely.geometry import LineString, box

from outlined_glow.core.board import clean
from outlined_glow.core.board.clean import Rules, clean_art, pack, unpack
from outlined_glow.core.board.under_ink import raised_under_ink
from outlined_glow.core.geometry.narrow.gaps import gap_pieces
from outlined_glow.core.geometry.regions import EMPTY, common, polygons, union
from outlined_glow.core.parts import profile
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.workshop import Compiler, Work, apply_values, new_project, with_kept
from outlined_glow.core.workshop.board_passes import CLEANED
from outlined_glow.core.workshop.clean_report import KINDS, clean_report
from outlined_glow.core.workshop.demos import DEMOS, demo_project
from outlined_glow.core.workshop.kept import kept_of

FINE = """<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30"><rect width="40" height="30" fill="#121212"/>
<g fill="none" stroke="#D9B25A"><path d="M2 5h30" stroke-width=".1"/><path d="M2 7h30" stroke-width=".05"/><path d="M2 8h30" stroke-width=".3"/>
<path d="M2 8.38h30" stroke-width=".3"/></g><path d="M2 12L34 12.2L2 12.4z" fill="#F4F2EC"/><path d="M20 16l3 3l-3 3l-3 -3z M23.04 19l3 3l3 -3l-3 -3z" fill="#D9B25A"/>
<g fill="#222222"><rect x="2" y="20" width="10" height="3"/><rect x="2" y="23.08" width="10" height="3"/></g></svg>"""
LOOKS = {"D9B25A": "metal", "F4F2EC": "ink", "222222": "raised", "121212": "mask"}


def looked(project: Project) -> tuple[Work, dict[str, int]]:
    compiler = Compiler()
    work = compiler.compile(project)
    return work, dict(clean_report(work, compiler.findings(work)).left)


def test_every_kind_is_gone_and_what_changes_is_little() -> None:
    project = new_project(FINE.encode(), "fine.svg", chosen=LOOKS)
    before = looked(project)[1]
    assert {code for code, count in before.items() if count} >= {"metal-too-thin", "ink-too-thin", "copper-gap-too-narrow"}
    work, after = looked(apply_edit(project, "clean", {}))
    assert not any(after.values()), after
    report = clean_report(work, ())
    assert 0 < report.changed_mm2 < 15
    assert report.delta_after == pytest.approx(report.delta_before, abs=1.5)


def test_the_strength_says_how_much_of_what_is_thin_is_kept() -> None:
    project = new_project(FINE.encode(), "fine.svg", chosen=LOOKS)
    metal = []
    for strength in (0.0, 50.0, 100.0):
        work, left = looked(apply_edit(project, "clean", {"strength_percent": strength}))
        assert not any(left.values())
        metal.append(work.art.regions["metal"].area)
    assert metal[0] < metal[1] < metal[2]


def test_it_can_be_undone_and_follows_the_rules() -> None:
    project = new_project(FINE.encode(), "fine.svg", chosen=LOOKS)
    cleaned = apply_edit(project, "clean", {})
    compiler = Compiler()
    drawn, done = compiler.compile(project), compiler.compile(cleaned)
    assert compiler.compile(apply_edit(cleaned, "unclean", {})).art.regions["metal"].equals(drawn.art.regions["metal"])
    fine = compiler.compile(apply_edit(cleaned, "set-profile", {"profile": "fine"}))
    assert fine.art.regions["metal"].area != pytest.approx(done.art.regions["metal"].area, rel=1e-4)
    border = compiler.compile(apply_edit(cleaned, "set-border", {"border_mm": 4.0}))
    assert border.art.regions["metal"] is fine.art.regions["metal"] or border.art.regions["metal"].area > 0


def test_text_over_a_clean_up_cleans_no_picture_anew() -> None:
    """Other text is cleaned up by itself; what is left beside it is no more than after a clean-up of everything."""
    project = apply_edit(new_project(FINE.encode(), "fine.svg", chosen=LOOKS), "clean", {})
    compiler = Compiler()
    work = compiler.compile(project)
    base = work.values["front cleaned"]
    for appearance in ("metal", "ink", "raised", "mask"):
        text = {"text": "Ab", "x_mm": 28.0, "y_mm": 12.0, "height_mm": 4.0, "weight": "bold", "appearance": appearance}
        lettered = compiler.compile(apply_edit(project, "add-words", text))
        assert lettered.values["front cleaned"] is base
        assert not any(clean_report(lettered, compiler.findings(lettered)).left.values()), appearance
        far = box(-1, -1, 20, 31)
        for kind, region in work.art.regions.items():
            here = lettered.art.regions.get(kind, EMPTY)
            assert common(here, far).symmetric_difference(common(region, far)).area < 1e-6, "far from it nothing changes"
        total = sum(region.area for region in lettered.art.regions.values())
        assert total == pytest.approx(sum(region.area for region in work.art.regions.values()), abs=0.02)
    assert compiler.memory.runs["front cleaned"] == 1


def test_what_a_file_keeps_is_the_clean_up_itself(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    project = apply_edit(new_project(FINE.encode(), "fine.svg", chosen=LOOKS), "clean", {})
    work = Compiler().compile(project)
    save(with_kept(project, (work,)), tmp_path / "x.oglow")
    monkeypatch.setattr("outlined_glow.core.workshop.board_passes.clean_art", lambda *_: 1 / 0)
    again = Compiler().compile(load(tmp_path / "x.oglow"))
    for kind, region in work.art.regions.items():
        assert again.art.regions[kind].equals_exact(region, 0)
    assert unpack(b"nonsense") is None
    assert unpack(pack(unpack(next(iter(kept_of(work).values()))))) is not None  # type: ignore[arg-type]


def test_the_demos_open_without_a_place_that_is_not_meant_and_at_once() -> None:
    for name in DEMOS:
        project = demo_project(name)
        compiler = Compiler()
        work = compiler.compile(project)
        assert set(kept_of(work)) <= set(project.members), f"{name}: docs/demos.py makes the clean-up anew"
        warned = {one.code for one in compiler.findings(work) if one.severity == "warning"}
        assert warned <= {"pattern-is-a-wish"}, (name, warned)


@pytest.mark.parametrize("name", ["tide-board", "seed-room", "paper-boat"])
def test_what_a_demo_keeps_is_what_a_clean_up_makes_today(name: str) -> None:
    project = plates.without_tracks(name)
    kept = Compiler().compile(project)
    bare = msgspec.structs.replace(
        project, members={key: data for key, data in project.members.items() if not key.startswith(CLEANED)}
    )
    made = Compiler().compile(bare)
    assert kept_of(made)
    assert set(kept_of(made)) == set(kept_of(kept))
    for kind, region in made.art.regions.items():
        assert shapely.symmetric_difference(region, kept.art.regions[kind]).area < 1e-9, kind


def test_what_has_no_room_to_close_is_looked_at_no_more(monkeypatch: pytest.MonkeyPatch) -> None:
    # A slot of a window between two banks of copper: too narrow a gap, and nothing may fill it.
    copper = union([box(0, 0, 5, 2), box(0, 2.06, 5, 4)])
    art = {"raised": copper, "window": box(-1, 2.0, 6, 2.06), "mask": box(-2, -2, 7, 6).difference(copper)}
    looks = []
    monkeypatch.setattr(clean, "gap_pieces", lambda *words: looks.append(words) or gap_pieces(*words))
    rules = Rules.of(profile("standard"), "black", "mask", 0.5)
    out = clean_art(art, copper, rules)
    assert common(out.copper, art["window"]).is_empty
    assert out.copper.area == pytest.approx(copper.area, rel=0.02)
    assert len([one for one in looks if len(polygons(one[0])) > 1]) <= 2


@pytest.mark.parametrize("place", range(6))
def test_icons_are_cleaned_up_or_each_place_left_is_named(place: int) -> None:
    names = sorted(drawings())
    for name in names[place * 50 : place * 50 + 5]:
        project = apply_edit(new_project(drawings()[name].encode(), f"{name}.svg", width_mm=40.0), "clean", {})
        work, left = looked(project)
        assert sum(left.values()) <= 4, (name, left)
        assert set(left) == set(KINDS)
        assert clean_report(work, ()).delta_after < clean_report(work, ()).delta_before + 4


def test_a_side_without_art_is_left_alone() -> None:
    rules = Rules.of(profile("standard"), "black", "mask", 0.5)
    assert clean_art({}, raised_under_ink({}), rules).regions == {}


@pytest.mark.parametrize("wide", [0.03, 0.05, 0.08, 0.12])
@pytest.mark.parametrize("taper", [0.0, 0.3])
def test_thicken_to_a_width_gives_that_width(wide: float, taper: float) -> None:
    """A line cut across by hand: what was thinner is then just as wide, what was wide enough is as it was."""
    end = wide + taper
    line = f'<path d="M5 {15 - wide / 2}L35 {15 - end / 2}V{15 + end / 2}L5 {15 + wide / 2}Z" fill="#D9A441"/>'
    plate = '<rect width="40" height="30" fill="#2E1240"/>'
    inside = f'{plate}{line}<circle cx="35" cy="15" r="2" fill="#D9A441"/>'
    drawing = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 30">{inside}</svg>'
    project = new_project(drawing.encode(), "line.svg", width_mm=40)
    compiler = Compiler()
    work = compiler.compile(project)
    (found,) = [one for one in compiler.findings(work) if one.code == "metal-too-thin"]
    remedy = next(one for one in found.remedies if dict(one.values).get("how") == "thicken")
    assert remedy.text == "thicken to 0.15 mm"
    mended = compiler.compile(apply_values(project, "mend", dict(remedy.values), work.board.origin))
    assert "metal-too-thin" not in {one.code for one in compiler.findings(mended)}
    before, after = (one.art.regions["metal"] for one in (work, mended))
    left = before.bounds[0]
    for x in np.arange(left + 0.5, left + 27, 1.3):
        cut = LineString([(x, -50), (x, 50)])
        was, now = (area.intersection(cut).length for area in (before, after))
        assert now == pytest.approx(max(0.15, was), abs=0.004 if taper == 0 else 0.02)
        assert now >= max(0.15, was) - 0.001


def test_a_board_is_seen_as_drawn_while_it_is_cleaned_up(moth: Project) -> None:
    """Only where the clean-up is new: it is the board that the project without one has, and the true one is as it was."""
    compiler = Compiler()
    compiler.compile(moth)
    assert compiler.seen_first(moth) is None
    inked = apply_edit(moth, "set-appearance", {"colour": "D9A441", "appearance": "ink"})
    drawn = compiler.seen_first(inked)
    assert drawn is not None
    plain = Compiler().compile(apply_edit(inked, "unclean", {}))
    for name in plain.board.layers.keys() - {"front copper", "back copper", "core", "drills"}:  # those have tracks in them
        assert drawn.board.layers[name].symmetric_difference(plain.board.layers[name]).area < 1e-6, name
    assert compiler.seen_first(apply_edit(moth, "set-limits", {"each": 9.0})) is None
