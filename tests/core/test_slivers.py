"""Copper of the art that gives way to tracks leaves no slivers."""

from __future__ import annotations

import math
import random

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString, Polygon, box
from shapely.geometry.base import BaseGeometry

from outlined_glow.core.board.wired import _giving_way
from outlined_glow.core.geometry.regions import EMPTY
from outlined_glow.core.parts.profiles import profile

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
