"""Volts lost in copper, against sums by hand: a ladder, two ways side by side, a via, a round pour; and on a board."""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from shapely.geometry import Point, box

from outlined_glow.cli.main import run
from outlined_glow.core.parts import PlacedPad
from outlined_glow.core.parts.copper import rail_drops, track_current
from outlined_glow.core.project import Project
from outlined_glow.core.project.storage import save
from outlined_glow.core.wiring.copper import Track, Via
from outlined_glow.core.wiring.drop import SHEET_OHM, drop_of, rise_of
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.drops import colour_of, drop_facts, drop_picture, drop_words, drops

#: Ohm of a square: resistance of copper over 35 um.
SQUARE = 1.72e-8 / 35e-6


def pad(ref: str, x: float, y: float, size: float = 0.2, side: str = "back", round_: bool = False) -> PlacedPad:
    shape = (
        Point(x, y).buffer(size / 2, quad_segs=64) if round_ else box(x - size / 2, y - size / 2, x + size / 2, y + size / 2)
    )
    return PlacedPad(ref, "1", x, y, size, size, 0.0, side, shape, round_)


def track(*points: tuple[float, float], width: float = 0.5, side: str = "back") -> Track:
    return Track("n", side, width, points)


def test_a_ladder_loses_what_the_sum_says() -> None:
    pads = [pad(f"P{at}", 10.0 * at, 0.0) for at in range(6)]
    taken = {(f"P{at}", "1"): 0.02 for at in range(1, 6)}
    found = drop_of(pads, [track((0.0, 0.0), (50.0, 0.0))], [], {}, taken, ("P0", "1"), 1.6, 18)
    segment = SQUARE * 10.0 / 0.5
    wanted = rail_drops(5, 0.02, segment / 1)
    for at, volts in enumerate(wanted, 1):
        assert found.pins[f"P{at}", "1"] == pytest.approx(volts, rel=0.01)
    assert found.hottest is not None
    assert found.hottest.current_a == pytest.approx(0.1, rel=1e-6)


def test_two_ways_share_and_a_joint_in_the_middle_of_a_track_counts() -> None:
    pads = [pad("A", 0, 0), pad("B", 20, 0), pad("C", 10, 8)]
    both = [track((0.0, 0.0), (20.0, 0.0)), track((0.0, 0.0), (0.0, -10.0), (20.0, -10.0), (20.0, 0.0))]
    one, other = SQUARE * 20 / 0.5, SQUARE * 40 / 0.5
    found = drop_of(pads, both, [], {}, {("B", "1"): 1.0}, ("A", "1"), 1.6, 18)
    assert found.pins["B", "1"] == pytest.approx(one * other / (one + other), rel=0.01)
    joint = [track((0.0, 0.0), (20.0, 0.0)), track((10.0, 8.0), (10.0, 0.0))]
    found = drop_of(pads, joint, [], {}, {("C", "1"): 1.0}, ("A", "1"), 1.6, 18)
    assert found.pins["C", "1"] == pytest.approx(SQUARE * (10 + 8) / 0.5, rel=0.02)
    assert found.pins["B", "1"] == pytest.approx(SQUARE * 10 / 0.5, rel=0.02)


@pytest.mark.parametrize(("tracks", "long_mm"), [
    ([track((0, 0), (20, 0)), track((10, 8), (10, -5))], 18),
    ([track((0, 0), (20, 0)), track((10, 8), (10, 0.4))], 17.6),
    ([track((0, 0), (20, 0)), track((0, 0), (20, 0), width=0.25), track((10, 0), (10, 8))], 18),
    ([track((0, 0), (9, 8.05), (20, 8.05), (20, 0))], math.hypot(9, 8.05) + 1),
], ids=["crossed", "ends beside", "twice on one another", "run over"])  # fmt: skip
def test_copper_that_touches_is_joined(tracks: list[Track], long_mm: float) -> None:
    """Tracks that cross, one that ends in the copper of another, two that lie on one another, one that runs over a pad."""
    pads = [pad("A", 0, 0), pad("B", 20, 0), pad("C", 10, 8)]
    found = drop_of(pads, tracks, [], {}, {("C", "1"): 1.0}, ("A", "1"), 1.6, 18)
    assert found.pins["C", "1"] == pytest.approx(SQUARE * long_mm / 0.5, rel=0.02)


def test_a_via_in_a_pad_and_a_track_in_a_pour_are_joined() -> None:
    pads = [pad("A", 0, 0, 1.0, "front"), pad("B", 10, 0)]
    via, barrel = Via("n", 0.2, 0.0, 0.3, 0.6), 1.72e-8 * 1.6e-3 / (math.pi * 0.3e-3 * 18e-6)
    found = drop_of(pads, [track((0.2, 0.0), (10.0, 0.0))], [via], {}, {("B", "1"): 1.0}, ("A", "1"), 1.6, 18)
    assert found.pins["B", "1"] == pytest.approx(SQUARE * 9.8 / 0.5 + barrel, rel=0.01)
    far = [pad("A", 0, 0), pad("B", 40, 0)]
    pour = {"back": box(5, -15, 35, 15)}
    found = drop_of(far, [track((0, 0), (40, 0))], [], pour, {("B", "1"): 1.0}, ("A", "1"), 1.6, 18)
    alone = SQUARE * 10 / 0.5
    assert alone < found.pins["B", "1"] < alone + 3 * SQUARE, "the pour is as wide as it is long, entered at a point"


def test_a_via_is_its_barrel() -> None:
    pads = [pad("A", 0, 0), pad("B", 10, 0, side="front")]
    via = Via("n", 5.0, 0.0, 0.3, 0.6)
    both = [track((0.0, 0.0), (5.0, 0.0)), track((5.0, 0.0), (10.0, 0.0), side="front")]
    found = drop_of(pads, both, [via], {}, {("B", "1"): 1.0}, ("A", "1"), 1.6, 18)
    barrel = 1.72e-8 * 1.6e-3 / (math.pi * 0.3e-3 * 18e-6)
    assert found.pins["B", "1"] == pytest.approx(SQUARE * 10 / 0.5 + barrel, rel=0.01)


def test_a_round_pour_loses_by_the_logarithm() -> None:
    inner, outer = 2.0, 20.0
    ring = [pad(f"R{at}", outer * math.cos(a), outer * math.sin(a), 0.6, round_=True)
            for at, a in enumerate(2 * math.pi * np.arange(64) / 64)]  # fmt: skip
    middle = pad("M", 0.0, 0.0, 2 * inner, round_=True)
    disc = Point(0, 0).buffer(outer + 0.05, quad_segs=64)
    taken = {(one.ref, "1"): 1.0 / 64 for one in ring}
    found = drop_of([middle, *ring], [], [], {"back": disc}, taken, ("M", "1"), 1.6, 18)
    halfway = [value for x, y, value in found.sheets["back"].tolist() if abs(math.hypot(x, y) - 10.0) < 0.1]
    assert np.mean(halfway) == pytest.approx(SQUARE / (2 * math.pi) * math.log(10.0 / inner), rel=0.02)
    assert pytest.approx(SQUARE) == SHEET_OHM


@pytest.mark.parametrize(("amps", "width"), [(0.1, 0.2), (1.0, 0.5), (3.0, 2.0)])
def test_the_rise_is_that_which_the_width_was_made_for(amps: float, width: float) -> None:
    assert track_current(width, rise_of(amps, width)) == pytest.approx(amps, rel=1e-6)


def test_the_moth_loses_little_and_says_where(wired_moth: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    work = Compiler().compile(wired_moth)
    found = drops(work)
    facts = drop_facts(work, found)
    assert facts["worst"]["supply_v"] < work.plan.supply_v
    assert facts["worst"]["supply_v"] > 0.99 * work.plan.supply_v
    # The whole current over the longest way in the narrowest track would lose more.
    long = sum(one.length for one in work.board.wires.tracks if one.net == "supply")
    assert found.nets["supply"].worst_v < work.plan.current_max_a * SQUARE * long / 0.15
    assert drop_words(work, found)["wider"].startswith("“supply” loses most: no track needs to be wider.")
    picture = tmp_path / "map.png"
    picture.write_bytes(drop_picture(work, found, "back"))
    with Image.open(picture) as image:
        assert image.size == tuple(round(side * 12) + 1 for side in work.board.size)
        assert len(image.getcolors(100_000)) > 20
    assert colour_of(0.0) != colour_of(0.5) != colour_of(1.0)
    save(wired_moth, tmp_path / "m.oglow")
    assert run(["drop", str(tmp_path / "m.oglow"), "--json", "-o", str(tmp_path / "x.png")]) == 0
    said = json.loads(capsys.readouterr().out)
    assert said == json.loads(json.dumps(facts))
    assert run(["drop", str(tmp_path / "m.oglow")]) == 0
    assert "has the least" in capsys.readouterr().out


def test_a_board_without_tracks_has_no_drop(moth: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    work = Compiler().compile(moth)
    assert drop_words(work, drops(work))["drop"] == "–"
    save(moth, tmp_path / "m.oglow")
    assert run(["drop", str(tmp_path / "m.oglow")]) == 2
    assert "no tracks yet" in capsys.readouterr().err
