"""Where regions meet they meet exactly: no cracks, no slivers, and no thin places beside those; nor where tracks meet art."""

from __future__ import annotations

import math
import random

import msgspec
import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import LineString, Polygon, box
from shapely.geometry.base import BaseGeometry

from outlined_glow.core.artwork.edits import with_artwork
from outlined_glow.core.board.wired import _giving_way
from outlined_glow.core.geometry.regions import EMPTY, clean, minus, union
from outlined_glow.core.geometry.rounded import rounded
from outlined_glow.core.parts.profiles import profile
from outlined_glow.core.project import Clean, Project, apply_edit
from outlined_glow.core.workshop import Compiler, new_project

HAIR = 2e-5


def seams(region: BaseGeometry) -> float:
    """The length of what is no wider than a hair within a region: cracks that a closing fills, mm."""
    mitred = {"quad_segs": 1, "join_style": "mitre"}
    filled = region.buffer(HAIR, **mitred).buffer(-HAIR, **mitred).difference(region.buffer(1e-7, quad_segs=1))
    lengths = [part.length / 2 for part in shapely.get_parts(filled) if part.area > 0]
    return sum(length for length in lengths if length > 0.06)


def test_crumbs_are_swept_away_whether_they_are_parts_or_holes() -> None:
    plate = Polygon(box(0, 0, 10, 10).exterior, [box(1, 1, 9, 1 + 1e-6).exterior, box(2, 2, 2.01, 2.01).exterior])
    (hole,) = clean(plate).interiors
    assert Polygon(hole).equals(box(2, 2, 2.01, 2.01))
    assert clean(union([plate, box(20, 0, 20 + 1e-5, 30)])).equals(clean(plate))
    assert clean(box(0, 0, 1e-5, 30)).is_empty
    whole = Polygon(plate.exterior, [hole])
    assert clean(whole) is whole


@pytest.mark.parametrize("seed", range(12))
def test_regions_that_are_rounded_meet_as_they_did(seed: int) -> None:
    chance = random.Random(seed)
    shapes = [affinity.rotate(box(0, 0, chance.uniform(1, 6), chance.uniform(1, 6)), chance.uniform(0, 90)) for _ in range(12)]
    rest: BaseGeometry = affinity.rotate(box(-9, -9, 9, 9), chance.uniform(0, 90))
    regions = []
    for shape in shapes:
        one = shapely.intersection(affinity.translate(shape, chance.uniform(-8, 4), chance.uniform(-8, 4)), rest)
        if not one.is_empty:
            regions.append(one)
            rest = minus(rest, one)
    regions.append(rest)
    even = rounded(regions, 4)
    for before, after in zip(regions, even, strict=True):
        assert after.is_valid
        places = shapely.get_coordinates(after)
        assert np.array_equal(places, np.round(places, 4))
        assert after.symmetric_difference(before).area < 1e-2
    # Coarser than a hair, so that what were cracks cannot be swept away: the square that was cut up is whole again.
    together = shapely.union_all(even)
    assert isinstance(together, Polygon)
    assert not together.interiors
    assert sum(one.area for one in even) == pytest.approx(together.area, abs=1e-9)


def _drawing(seed: int) -> Project:
    """Shapes over one another, each colour something else."""
    chance = random.Random(seed)
    colours = ["D9A441", "101010", "FFFFFF", "8E4F92", "2A6F4F"]
    shapes = []
    for _ in range(14):
        colour, x, y, size = chance.choice(colours), chance.uniform(0, 40), chance.uniform(0, 30), chance.uniform(2, 12)
        shapes.append(
            f'<circle cx="{x:.3f}" cy="{y:.3f}" r="{size / 2:.3f}" fill="#{colour}"/>'
            f'<rect x="{y:.3f}" y="{x / 2:.3f}" width="{size:.3f}" height="3" fill="#{chance.choice(colours)}"'
            f' transform="rotate({chance.uniform(0, 90):.2f} {y:.2f} {x:.2f})"/>'
        )
    frame = '<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30">'
    drawing = f'{frame}<rect width="40" height="30" fill="#2A6F4F"/>{"".join(shapes)}</svg>'
    project = new_project(drawing.encode(), "drawing.svg", width_mm=40.0)
    for colour, kind in zip(colours, ("metal", "raised", "ink", "window", "mask"), strict=True):
        project = apply_edit(project, "set-appearance", {"colour": colour, "appearance": kind})
    return project


@pytest.mark.parametrize(("seed", "by"), [(1, "mask"), (2, "copper"), (3, "mask"), (4, "copper"), (5, "mask"), (6, "copper")])
@pytest.mark.parametrize("keep", [None, 0.5])
def test_layers_of_a_board_have_no_cracks(seed: int, by: str, keep: float | None) -> None:
    project = _drawing(seed)
    cleaned = None if keep is None else Clean(keep=keep)
    design = with_artwork(project.designs[0], edged_by=by, clean=cleaned)
    board = Compiler().compile(msgspec.structs.replace(project, designs=(design,))).board
    for layer in ("front copper", "front mask", "back mask", "front legend"):
        assert seams(board.layers[layer]) == 0.0, layer


RULES = profile("standard")
HALF = RULES.track_mm / 2


def strips(dice: random.Random) -> BaseGeometry:
    """Copper as art has it: strips across one another, none thinner than the rule."""
    out = [box(0, 0, 9, 1.2)]
    for _ in range(dice.randint(1, 5)):
        x, y, a, wide = dice.uniform(0, 9), dice.uniform(0, 6), dice.uniform(0, math.pi), dice.uniform(0.4, 1.5)
        ends = [(x - 6 * math.cos(a), y - 6 * math.sin(a)), (x + 6 * math.cos(a), y + 6 * math.sin(a))]
        out.append(LineString(ends).buffer(wide / 2))
    return shapely.union_all(out)


def thin_left(copper: BaseGeometry, away: BaseGeometry) -> list[Polygon]:
    """What a round brush as wide as the rule cannot paint, beside what was cut away."""
    left = copper.difference(copper.buffer(-HALF, 32).buffer(HALF + 0.004, 32))
    return [one for one in shapely.get_parts(left) if one.area > 2 * HALF**2 and one.distance(away) < 0.003]


@given(st.integers(0, 100_000))
def test_nothing_thin_is_left_and_what_is_wide_stays(seed: int) -> None:
    dice = random.Random(seed)
    own = strips(dice)
    lines = []
    for _ in range(dice.randint(1, 4)):
        spots = [(dice.uniform(-1, 10), dice.uniform(-1, 7)) for _ in range(2)]
        lines.append(LineString(spots).buffer(dice.uniform(0.1, 0.4)))
    made = _giving_way(own, lines, [], EMPTY, RULES)
    run = shapely.union_all(lines)
    away = run.buffer(RULES.gap_mm + 0.003, 32)
    assert made.difference(own.buffer(1e-6)).area < 1e-6
    assert made.is_empty or made.distance(run) >= RULES.gap_mm - 1e-6
    assert not thin_left(made, away)
    # What a brush can paint stays, but for a gap beside necks that were cut through.
    plain = own.difference(away)
    kept = plain.buffer(-HALF, 32).buffer(HALF - 0.01, 32)
    gone = kept.difference(made)
    necks = [one for one in shapely.get_parts(plain.difference(made)) if one.area > HALF**2]
    assert all(
        part.distance(shapely.union_all(necks)) < RULES.gap_mm + 0.02 for part in shapely.get_parts(gone) if part.area > 1e-4
    )


def test_two_lobes_that_a_neck_joined_are_a_gap_apart() -> None:
    # Two tracks leave a neck of 0.05 mm between two lands.
    own = box(0, 0, 6, 3)
    apart = RULES.gap_mm + 0.003
    upper = box(2.9, 1.5 + 0.025 + apart, 3.1, 4)
    lower = box(2.9, -1, 3.1, 1.5 - 0.025 - apart)
    made = _giving_way(own, [upper, lower], [], EMPTY, RULES)
    left, right = shapely.get_parts(made)
    assert left.distance(right) >= RULES.gap_mm - 0.005
    assert made.area == pytest.approx(own.area - 0.2 * 3 - 2 * 3 * apart, abs=0.3)


def test_bare_metal_stays_however_thin() -> None:
    own = box(0, 0, 6, 3)
    beside = box(0, 3 - 0.05 - (RULES.gap_mm + 0.003) - 0.4, 6, 3 - 0.05 - (RULES.gap_mm + 0.003))
    gone = _giving_way(own, [beside], [], EMPTY, RULES)
    assert gone.bounds[3] < 2.5, "the strip of 0.05 mm over the track is taken away"
    shown = _giving_way(own, [beside], [], box(0, 2.96, 6, 3), RULES)
    assert shown.bounds[3] == 3.0
