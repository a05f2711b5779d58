"""Where regions meet they meet exactly: no cracks, no slivers, and no thin places beside those."""

from __future__ import annotations

import random

import msgspec
import numpy as np
import pytest
import shapely
from shapely import affinity
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from outlined_glow.core.artwork.edits import with_artwork
from outlined_glow.core.geometry.regions import clean, minus, union
from outlined_glow.core.geometry.rounded import rounded
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
