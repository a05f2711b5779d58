"""What is drawn as cut is cut; loose pieces stop the order and can be held; features too near to something are told."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import example, given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon, box

from outlined_glow.core.geometry.offset import grow
from outlined_glow.core.geometry.regions import minus, polygons, union
from outlined_glow.core.parts import emitter, profile
from outlined_glow.core.project import Finding, Project, apply_edit
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.shape.cutting import routed, tabs_of
from outlined_glow.core.workshop import Compiler, Work, new_project
from outlined_glow.core.workshop.edit import apply_values

CASES = Path(__file__).parents[1] / "data" / "cases"
PLATE = '<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="40mm" viewBox="0 0 60 40"><rect width="60" height="40" fill="#102030"/>{}</svg>'
GOLD = 'fill="#D4A020"'
STANDARD = profile("standard")


def cut_project(body: str) -> Project:
    text = body if body.startswith("<svg") else PLATE.format(body)
    return new_project(text.encode(), "plate.svg", chosen={"D4A020": "cut"})


def looked_at(project: Project) -> tuple[Work, dict[str, list[Finding]]]:
    compiler = Compiler()
    work = compiler.compile(project)
    found: dict[str, list[Finding]] = {}
    for one in compiler.findings(work):
        found.setdefault(one.code, []).append(one)
    return work, found


def done(project: Project, finding: Finding, start: str) -> tuple[Work, dict[str, list[Finding]]]:
    """What is left after the remedy whose words begin so."""
    remedy = next(one for one in finding.remedies if one.text.startswith(start))
    origin = Compiler().compile(project).board.origin
    return looked_at(apply_values(project, remedy.edit or "", dict(remedy.values), origin))


RING = '<circle cx="30" cy="20" r="{}" fill="none" stroke="#d4a020" stroke-width="{}"/>'
ISLANDS = {
    "cut_ring": (CASES / "cut_ring.svg").read_text(),
    "cut_ring_wide": (CASES / "cut_ring_wide.svg").read_text(),
    "cut_O": (CASES / "cut_O.svg").read_text(),
    "an island with a cut in it": (CASES / "crash1.svg").read_text(),
    "a narrow ring": RING.format(9, 1.1),
    "a frame": f'<path d="M12 6h36v28h-36z M15 9v22h30v-22z" {GOLD}/>',
    "a frame round the board": f'<path d="M1 1h58v38h-58z M4 4v32h52v-32z" {GOLD}/>',
}


@pytest.mark.parametrize("name", ISLANDS)
def test_a_piece_cut_free_is_loose_and_every_remedy_ends_that(name: str) -> None:
    project = cut_project(ISLANDS[name])
    work, found = looked_at(project)
    (loose,) = found["loose-island"]
    cut = work.art.regions["cut"]
    # The cutter leaves its radius in corners and nothing else.
    assert work.outline.region.intersection(grow(grow(cut, -1), 0.98)).area < 0.05
    assert loose.severity == "stop"
    assert work.outline.region.distance(Point(loose.x_mm + work.board.origin[0], loose.y_mm + work.board.origin[1])) > 0
    whole = done(project, loose, "do not cut")
    tabbed = done(project, loose, "hold it")
    dropped = done(project, loose, "cut it out")
    for after, left in (whole, tabbed, dropped):
        assert "loose-island" not in left
        assert "neck-too-narrow" not in left
        assert isinstance(after.outline.region, Polygon)
    areas = [one[0].outline.region.area for one in (dropped, tabbed, whole)]
    assert areas == sorted(areas)
    assert whole[0].outline.region.area == pytest.approx(63.2 * 43.2, rel=2e-3) or name == "an island with a cut in it"


def test_pieces_within_pieces_are_told_one_by_one_and_dropped_together() -> None:
    project = cut_project(RING.format(15, 2) + RING.format(9, 2) + RING.format(4, 2))
    _, found = looked_at(project)
    assert len(found["loose-island"]) == 3
    _, left = done(project, found["loose-island"][0], "cut it out")
    assert "loose-island" not in left


def test_a_piece_drawn_apart_is_bridged_or_left_away() -> None:
    body = PLATE.format("").replace('width="60" height="40" fill', 'width="35" height="40" fill')
    body = body.replace("</svg>", '<rect x="45" y="5" width="15" height="20" fill="#334455"/></svg>')
    project = new_project(body.encode(), "two.svg")
    _, found = looked_at(project)
    (loose,) = found["loose-island"]
    assert [remedy.text for remedy in loose.remedies] == ["hold it by tabs", "leave it away"]
    bridged, left = done(project, loose, "hold")
    assert "loose-island" not in left
    assert "neck-too-narrow" not in left
    assert bridged.outline.size[0] > 60
    alone, left = done(project, loose, "leave")
    assert "loose-island" not in left
    assert alone.outline.size[0] < 40


@pytest.mark.parametrize(("wide", "stops"), [(0.4, True), (0.98, True), (1.05, False), (1.6, False), (3, False)])
def test_a_narrow_cut_is_cut_as_drawn_and_told_if_no_cutter_passes(wide: float, stops: bool) -> None:
    project = cut_project(f'<rect x="10" y="10" width="30" height="{wide}" {GOLD}/>')
    work, found = looked_at(project)
    # The border's round corners, the cutter's in a slot wide enough for it.
    lost = 63.2 * 43.2 - (4 - math.pi) * 1.6**2 - work.outline.region.area
    assert lost == pytest.approx(30 * wide, abs=1.0)
    assert ("cut-too-narrow" in found) == stops
    if stops:
        (finding,) = found["cut-too-narrow"]
        assert finding.measured == pytest.approx(wide, abs=0.02)
        _, left = done(project, finding, "widen")
        assert "cut-too-narrow" not in left


def test_a_hole_kept_of_the_picture_is_no_smaller_than_drawn() -> None:
    hole = '<path d="M0 0h60v40h-60z M20 15v1.2h20v-1.2z" fill="#102030"/>'
    project = new_project(PLATE.replace('<rect width="60" height="40" fill="#102030"/>', "").format(hole).encode(), "p.svg")
    project = apply_edit(apply_edit(project, "keep-holes", {"keep": True}), "set-border", {"border_mm": 0})
    assert looked_at(project)[0].outline.region.area == pytest.approx(2400 - 24, abs=0.6)


@settings(max_examples=25, deadline=None)
@example([(4.0, 4.0, 1.0, 2.0), (4.0, 6.0, 2.0, 2.0)])  # a short arm that the usual cutter does not get into
@example([(30.0, 20.0, 8.0, 4.0), (30.0, 23.0, 1.2, 2.4)])
@given(st.lists(st.tuples(st.floats(4, 56), st.floats(4, 36), st.floats(0.3, 9), st.floats(0.3, 9)), min_size=1, max_size=6))
def test_the_cutter_takes_nothing_that_is_not_drawn_and_leaves_only_corners(rows: list[tuple[float, ...]]) -> None:
    cuts = union([box(x - w / 2, y - h / 2, x + w / 2, y + h / 2) for x, y, w, h in rows])
    made = routed(cuts, STANDARD)
    assert minus(made, grow(cuts, 0.01)).area < 1e-6
    for piece in polygons(minus(cuts, grow(made, 0.005))):
        # What a cutter of 2 mm leaves in a corner is under a square of its radius.
        assert piece.area < 1.05


def test_tabs_stand_evenly_round_a_ring() -> None:
    board = Point(0, 0).buffer(30, quad_segs=64).difference(Point(0, 0).buffer(10, quad_segs=64))
    island = Point(0, 0).buffer(8, quad_segs=64)
    angles = sorted(np.degrees(np.arctan2(tab.centroid.y, tab.centroid.x)) for tab in tabs_of(island, board, 3, 2.0))
    assert np.diff([*angles, angles[0] + 360]) == pytest.approx([120, 120, 120], abs=4)


def fitted(*features: dict[str, Any], body: str = "") -> dict[str, list[Finding]]:
    """Findings of the plain plate with features, places in mm from its lower left corner."""
    project = cut_project(body or PLATE.format(""))
    project = apply_edit(project, "set-border", {"border_mm": 0})
    for one in features:
        project = apply_edit(project, "add-feature", one)
    return looked_at(project)[1]


SLOT = {"kind": "slot", "x_mm": 30.0, "y_mm": 20.0, "size_mm": 3.0, "length_mm": 20.0}
STOPS = {
    "a hole beside a slot": ("hole-breaks-through", [SLOT, {"kind": "hole", "x_mm": 30.0, "y_mm": 23.1, "size_mm": 3.0}]),
    "a hole over a slot": ("feature-off-board", [SLOT, {"kind": "hole", "x_mm": 30.0, "y_mm": 21.5, "size_mm": 3.0}]),
    "a hole in a slot": ("feature-off-board", [SLOT, {"kind": "hole", "x_mm": 30.0, "y_mm": 20.0, "size_mm": 1.0}]),
    "a hole beside an opening": (
        "hole-breaks-through",
        [{"kind": "opening", "x_mm": 30.0, "y_mm": 20.0}, {"kind": "hole", "x_mm": 38.6, "y_mm": 20.0, "size_mm": 3.0}],
    ),
    "a pin pad over the edge": ("pad-near-edge", [{"kind": "pin-pad", "x_mm": 2.0, "y_mm": 20.0}]),
    "a pin pad at the edge": ("pad-near-edge", [{"kind": "pin-pad", "x_mm": 4.2, "y_mm": 20.0}]),
    "a magnet pad at the edge": ("pad-near-edge", [{"kind": "magnet-pad", "x_mm": 5.2, "y_mm": 20.0}]),
    "a sewing pad at the edge": ("pad-near-edge", [{"kind": "sew", "x_mm": 1.8, "y_mm": 20.0}]),
    "a magnet pad over a slot": ("pad-near-edge", [SLOT, {"kind": "magnet-pad", "x_mm": 30.0, "y_mm": 24.0}]),
    "a pin pad over a hole": (
        "pad-over-hole",
        [{"kind": "hole", "x_mm": 30.0, "y_mm": 20.0}, {"kind": "pin-pad", "x_mm": 33.0, "y_mm": 20.0}],
    ),
    "a magnet pad at a screw": (
        "pad-over-hole",
        [{"kind": "screw", "x_mm": 30.0, "y_mm": 20.0}, {"kind": "magnet-pad", "x_mm": 36.8, "y_mm": 20.0}],
    ),
    "an edge pad over a hole": (
        "pad-over-hole",
        [{"kind": "hole", "x_mm": 3.0, "y_mm": 20.0, "size_mm": 1.0}, {"kind": "edge-pad", "x_mm": 1.0, "y_mm": 20.0}],
    ),
    "two pads that touch": (
        "lands-too-near",
        [{"kind": "magnet-pad", "x_mm": 20.0, "y_mm": 20.0}, {"kind": "magnet-pad", "x_mm": 30.1, "y_mm": 20.0}],
    ),
}


@pytest.mark.parametrize("name", STOPS)
def test_features_too_near_to_something_stop_the_order(name: str) -> None:
    code, features = STOPS[name]
    found = fitted(*features)
    assert code in found, sorted(found)
    assert found[code][0].severity == "stop"


def test_what_keeps_its_distance_is_not_told() -> None:
    found = fitted(
        SLOT,
        {"kind": "hole", "x_mm": 30.0, "y_mm": 25.0, "size_mm": 3.0},
        {"kind": "pin-pad", "x_mm": 10.0, "y_mm": 20.0},
        {"kind": "magnet-pad", "x_mm": 50.0, "y_mm": 20.0},
        {"kind": "edge-pad", "x_mm": 1.5, "y_mm": 30.0},
        {"kind": "sew", "x_mm": 10.0, "y_mm": 8.0},
    )
    assert not {code for code, rows in found.items() if rows[0].severity == "stop"}


def test_pads_that_reach_the_edge_on_purpose_are_noted() -> None:
    [note] = fitted({"kind": "edge-pad", "x_mm": 1.2, "y_mm": 20.0, "size_mm": 2.0, "length_mm": 4.0, "angle_deg": 90.0})[
        "copper-to-the-edge"
    ]
    assert (note.severity, note.measured, note.allowed) == ("note", pytest.approx(0.2), 0.3)
    assert "copper-to-the-edge" not in fitted({"kind": "edge-pad", "x_mm": 20.0, "y_mm": 20.0})


def test_a_pad_at_the_edge_is_moved_inside_by_its_remedy() -> None:
    project = apply_edit(cut_project(PLATE.format("")), "add-feature", {"kind": "magnet-pad", "x_mm": 2.0, "y_mm": 20.0})
    _, found = looked_at(project)
    after, left = done(project, found["pad-near-edge"][0], "move it inside")
    assert "pad-near-edge" not in left
    spot = after.outline.fixed.spots[0]
    # With a border of 1.6 mm the frames differ: the place told must be the place that is given.
    assert spot.x == pytest.approx(-1.6 + 5 + 0.3, abs=0.05)
    assert spot.y == pytest.approx(20, abs=0.05)


def lit(*edits: tuple[str, dict[str, Any]], body: str = "") -> dict[str, list[Finding]]:
    project = cut_project(body or PLATE.format(""))
    for name, values in edits:
        project = apply_edit(project, name, values)
    return looked_at(project)[1]


def test_pads_of_leds_too_near_each_other_stop_the_order() -> None:
    length = emitter("0805 amber").part.courtyard[0]
    for gap, stops in ((0.05, True), (0.14, True), (0.16, False)):
        pair = [("single", {"array": name, "x_mm": x, "y_mm": 20.0}) for name, x in (("a", 20.0), ("b", 20.0 + length + gap))]
        found = lit(*pair)
        assert "parts-overlap" not in found
        assert ("pads-too-near" in found) == stops
        if stops:
            assert found["pads-too-near"][0].measured == pytest.approx(gap, abs=0.01)


def test_an_led_under_the_head_of_a_screw_stops_the_order() -> None:
    screw = ("add-feature", {"kind": "screw", "x_mm": 20.0, "y_mm": 20.0})
    found = lit(screw, ("single", {"array": "a", "x_mm": 23.6, "y_mm": 20.0, "angle_deg": 90.0}))
    assert found["part-under-screw"][0].severity == "stop"
    assert "part-under-screw" not in lit(screw, ("single", {"array": "a", "x_mm": 27.0, "y_mm": 20.0}))


def test_an_led_on_art_metal_of_the_back_stops_the_order() -> None:
    gold = '<svg xmlns="http://www.w3.org/2000/svg" width="20mm" height="20mm" viewBox="0 0 20 20"><rect width="20" height="20" fill="#D9B25A"/></svg>'
    found = lit(
        ("add-picture", {"file": PictureFile("gold.svg", gold.encode()), "side": "back", "x_mm": 30.0, "y_mm": 20.0}),
        ("single", {"array": "a", "emitter": "1206 reverse-mount amber", "x_mm": 30.0, "y_mm": 20.0}),
        ("set-appearance", {"colour": "D9B25A", "appearance": "metal"}),
    )
    assert found["led-on-metal"][0].layer == "back copper"


def test_the_worst_case_over_what_the_supply_gives_stops_the_order() -> None:
    many = ("grid", {"array": "g", "x_mm": 30.0, "y_mm": 20.0, "rows": 5, "columns": 9, "pitch_x_mm": 5.5, "pitch_y_mm": 6.0})
    project = apply_edit(apply_edit(cut_project(PLATE.format("")), *many), "set-current", {"current_a": 0.0108})
    work, found = looked_at(project)
    plan = work.plan
    assert plan.current_a < plan.supply.most_a < plan.current_max_a, "all of it is within the limit, the worst is not"
    (stop,) = found["supply-over-current"]
    assert stop.severity == "stop"
    assert stop.measured == plan.current_max_a
    _, left = done(project, stop, "lower")
    assert "supply-over-current" not in left


def test_necks_are_measured_where_they_are_narrowest_and_the_remedy_is_tried() -> None:
    hourglass = '<path d="M0 0L30 19.4L60 0V40L30 20.6L0 40z" fill="#102030"/>'
    text = PLATE.replace('<rect width="60" height="40" fill="#102030"/>', "").format(hourglass)
    project = apply_edit(new_project(text.encode(), "h.svg"), "set-border", {"border_mm": 0})
    _, found = looked_at(project)
    (neck,) = found["neck-too-narrow"]
    # The cutter fills its radius into both notches: r (1/sin of half the notch - 1) each.
    filled = 2 * (1 / math.sin(math.atan2(30, 19.4)) - 1)
    assert neck.measured == pytest.approx(1.2 + filled, abs=0.02)
    _, left = done(project, neck, "widen the border")
    assert "neck-too-narrow" not in left
    # A neck between a cut and the edge moves on one side only: the border offered knows that.
    beside = cut_project(f'<path d="M-5 10h30v8h-30z" {GOLD}/>')
    _, found = looked_at(beside)
    _, left = done(beside, found["neck-too-narrow"][0], "widen the border")
    assert "neck-too-narrow" not in left


def test_every_place_of_a_finding_is_told_in_the_board_frame() -> None:
    project = cut_project(f'<rect x="10" y="10" width="30" height="0.5" {GOLD}/>')
    work, found = looked_at(project)
    finding = found["cut-too-narrow"][0]
    here = Point(finding.x_mm, finding.y_mm)
    assert shapely.box(11.6, 31.1, 41.6, 31.6).distance(here) < 0.3
    assert work.board.origin == pytest.approx((-1.6, -1.6))
