"""Narrow places between two points that face one another, of one part as of two, against topology and against what is drawn."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon, box
from shapely.geometry.base import BaseGeometry

from outlined_glow.core.geometry.narrow.gaps import gap_pieces
from outlined_glow.core.geometry.narrow.places import narrow_gaps, thin_places
from outlined_glow.core.geometry.narrow.thin import thin_pieces
from outlined_glow.core.geometry.narrow.waists import waists
from outlined_glow.core.geometry.regions import polygons, region_of, union
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.workshop import Compiler, new_project

RULE = 0.15


@pytest.mark.parametrize("radius", [0.1, 0.2, 0.5, 2.0])
@pytest.mark.parametrize("wide", [0.05, 0.1, 0.13])
def test_a_neck_between_a_hole_and_the_edge_is_found_with_its_width(radius: float, wide: float) -> None:
    plate = box(0, 0, 10, 10).difference(Point(5, wide + radius).buffer(radius, quad_segs=32))
    (place,) = thin_places(plate, RULE)
    assert (place.x, place.y, place.width) == pytest.approx((5, wide / 2, wide), abs=0.003)
    assert place.across_deg == pytest.approx(90, abs=2)
    assert not thin_places(plate, wide - 0.01)


def _frame(*more: BaseGeometry) -> BaseGeometry:
    return union([box(0, 0, 10, 10).difference(box(1, 1, 9, 9)), *more])


@pytest.mark.parametrize("half", [0.05, 0.3, 1.0])
@pytest.mark.parametrize("apart", [0.03, 0.08, 0.13])
def test_two_points_of_one_part_that_come_near_are_a_gap(half: float, apart: float) -> None:
    above = Polygon([(5, 5 + apart / 2), (5 - half, 6), (5 + half, 6)])
    below = Polygon([(5, 5 - apart / 2), (5 - half, 4), (5 + half, 4)])
    region = _frame(above, below, box(4.96, 5.9, 5.04, 9.5), box(4.96, 0.5, 5.04, 4.1))
    assert isinstance(region, Polygon)
    (place,) = narrow_gaps(region, RULE)
    assert (place.x, place.y, place.width) == pytest.approx((5, 5, apart), abs=0.003)
    turned = shapely.transform(region, lambda at: np.column_stack([at[:, 1], -at[:, 0]]))
    assert len(narrow_gaps(turned, RULE)) == 1


def test_rough_edges_of_a_corner_are_no_waists_that_count() -> None:
    """A corner of 40 degrees with teeth of a hundredth on both sides: thin at its tip, which is a dead end."""
    rng = np.random.default_rng(4)
    for _ in range(20):
        along = np.linspace(0.02, 3, 60)
        rough = rng.uniform(-0.004, 0.004, (2, 60))
        slope = np.tan(np.radians(20))
        upper = np.column_stack([along, along * slope + rough[0]])
        lower = np.column_stack([along, -along * slope + rough[1]])[::-1]
        wedge = shapely.make_valid(Polygon(np.vstack([[0, 0], upper, lower])))
        assert not thin_pieces(wedge, RULE)
        notch = box(-2, -2, 2.9, 2).difference(wedge)
        assert not narrow_gaps(notch, RULE)


@pytest.mark.parametrize(("notch", "told"), [
    (Polygon([(0, 0), (3, 0.8), (3, -0.8)]), 0), (Polygon([(0, 0), (3, 0.5), (3, -0.5)]), 1), (box(2.6, -0.05, 4, 0.05), 1),
    (box(2.7, -0.03, 4, 0.03), 1), (box(2.8, -0.05, 4, 0.05), 0), (box(1, -0.1, 4, 0.1), 0),
])  # fmt: skip
def test_corners_are_no_gaps_and_slots_are(notch: Polygon, told: int) -> None:
    """Corners of 30 and 19 degrees; slots a tenth wide and longer than the rule, or shorter; one that is wide enough."""
    places = narrow_gaps(box(-2, -5, 2.9, 5).difference(notch), RULE)
    assert len(places) == told
    assert len(gap_pieces(box(-2, -5, 2.9, 5).difference(notch), RULE)) >= told


def test_a_way_across_ends_where_the_banks_are_nearest() -> None:
    region = box(0, 0, 4, 1).difference(union([box(1, 0.2, 2, 3), Point(3, 0.5).buffer(0.4, quad_segs=16)]))
    parts = np.array(polygons(region), dtype=object)
    ways, part = waists(parts, 0.25)
    assert set(part.tolist()) == {0}
    assert sorted({round(way.length, 6) for way in ways.tolist()}) == pytest.approx([0.1, 0.2])
    assert all(parts[0].buffer(1e-9).covers(way) for way in ways.tolist())
    assert not len(waists(parts, 0.09)[0])
    assert not len(waists(parts, 0.25, between=True)[0])


def _euler(region: BaseGeometry) -> int:
    parts = polygons(region)
    return len(parts) - sum(len(part.interiors) for part in parts)


DISCS = st.lists(
    st.tuples(st.floats(0.3, 2.7), st.floats(0.3, 2.7), st.floats(0.06, 0.5)), min_size=1, max_size=6
)  # (x, y, radius)


@given(DISCS)
def test_what_falls_apart_when_it_is_drawn_in_has_a_thin_place(discs: list[tuple[float, float, float]]) -> None:
    """Each neck that is cut parts the region, or opens a hole: by topology, without asking where."""
    holes = [Point(x, y).buffer(radius, quad_segs=16) for x, y, radius in discs]
    assume(all(abs(one.exterior.distance(other.exterior)) > 0.02 for at, one in enumerate(holes) for other in holes[:at]))
    plate = box(0, 0, 3, 3).difference(shapely.union_all(holes))
    assume(isinstance(plate, Polygon) and all(box(0, 0, 3, 3).exterior.distance(one.exterior) > 0.02 for one in holes))
    found = thin_pieces(plate, RULE)
    assert region_of(found).is_valid, "no two pieces meet"
    if _euler(plate.buffer(-(RULE / 2 - 0.008), quad_segs=16)) > _euler(plate):
        assert found
    if _euler(plate.buffer(-RULE / 2, quad_segs=16)) == _euler(plate):
        assert all(piece.length / 2 > 2 * RULE for piece in found), "nothing short joins what is kept"


@given(DISCS)
def test_what_grows_together_has_a_gap(discs: list[tuple[float, float, float]]) -> None:
    rounds = [Point(x, y).buffer(radius, quad_segs=16) for x, y, radius in discs]
    assume(all(abs(one.exterior.distance(other.exterior)) > 0.02 for at, one in enumerate(rounds) for other in rounds[:at]))
    region = shapely.union_all(rounds)
    assume(_euler(region) == len(polygons(region)))
    grown = region.buffer(RULE / 2 - 0.008, quad_segs=16)
    found = gap_pieces(region, RULE)
    assert found or _euler(grown) >= _euler(region)
    assert region_of(found).is_valid


def _with_holes_at_the_edge() -> Project:
    """Holes of half a millimetre at 0.05 to 0.14 mm from the edge of a bar."""
    holes = "".join(f'<circle cx="{5 + 3 * at}" cy="{3.3 + 0.03 * at}" r="0.25" fill="#2E1240"/>' for at in range(4))
    drawing = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="30mm" height="20mm" viewBox="0 0 30 20">'
        f'<rect width="30" height="20" fill="#2E1240"/><rect x="3" y="3" width="20" height="10" fill="#8E4F92"/>{holes}</svg>'
    )
    project = new_project(drawing.encode(), "bar.svg", width_mm=30.0)
    for colour, kind in (("2E1240", "mask"), ("8E4F92", "raised")):
        project = apply_edit(project, "set-appearance", {"colour": colour, "appearance": kind})
    return project


def test_necks_are_told_of_thickened_and_cleaned_up() -> None:
    compiler, project = Compiler(), _with_holes_at_the_edge()

    def thin(one: Project) -> dict[str, int]:
        return {found.code: len(found.places) for found in compiler.findings(compiler.compile(one)) if "thin" in found.code}

    assert thin(project) == {"copper-too-thin": 4}
    (found,) = [one for one in compiler.findings(compiler.compile(project)) if one.code == "copper-too-thin"]
    assert found.measured == pytest.approx(0.05, abs=0.003)
    thicken = next(one for one in found.remedies if dict(one.values).get("how") == "thicken")
    assert thin(apply_edit(project, thicken.edit, dict(thicken.values))) == {}
    assert thin(apply_edit(project, "clean", {})) == {}
