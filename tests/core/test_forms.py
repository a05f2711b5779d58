"""Forms, bases and features of a board, and words on it."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely
from drawings import SIGN
from hypothesis import given
from hypothesis import strategies as st
from msgspec import structs
from pictures import dxf, encoded, frame, hills
from shapely.geometry import Point

from outlined_glow.core.artwork.words import edge_place, edge_share, words_region
from outlined_glow.core.brief.price import brief_price
from outlined_glow.core.errors import Trouble
from outlined_glow.core.geometry.contours import Contours
from outlined_glow.core.geometry.regions import polygons, union
from outlined_glow.core.geometry.ringfile import pack, unpack
from outlined_glow.core.project import Project, Shape, Words, apply_edit
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.shape.placing import Snapped, catching_lines, dimensions, snapped
from outlined_glow.core.shape.primitives import FORMS, form
from outlined_glow.core.workshop import Compiler, apply_values, new_project


def nowhere(path: str) -> None:
    """No edge to follow."""


def edited(project: Project, *edits: tuple[str, dict[str, Any]]) -> Any:
    for name, values in edits:
        project = apply_edit(project, name, values)
    return Compiler().compile(project)


@given(st.sampled_from(sorted(FORMS)), st.floats(8, 90), st.floats(8, 90), st.integers(3, 12), st.floats(0, 6))
def test_a_form_fills_its_box(base: str, wide: float, high: float, points: int, corner: float) -> None:
    region = form(Shape(base=base, width_mm=wide, height_mm=high, points=points, corner_mm=corner), (7.0, -3.0))  # type: ignore[arg-type]
    assert region.is_valid
    left, bottom, right, top = region.bounds
    assert wide + 0.02 >= right - left
    assert high + 0.02 >= top - bottom
    if corner == 0:
        assert (right - left, top - bottom) == pytest.approx((wide, high), rel=0.01)
        assert ((left + right) / 2, (bottom + top) / 2) == pytest.approx((7, -3), abs=0.3)


def test_a_form_needs_no_picture_and_a_silhouette_does(sign: Project) -> None:
    bare = apply_edit(sign, "set-shape", {"base": "circle", "width_mm": 40.0, "height_mm": 40.0})
    bare = apply_edit(bare, "remove-picture", {})
    work = Compiler().compile(bare)
    assert work.board.size == pytest.approx((43.2, 43.2), abs=0.05)
    assert work.board.layer("core").area == pytest.approx(math.pi * 21.6**2, rel=1e-3)
    lit = apply_edit(bare, "along", {"array": "rim", "count": 6})
    assert len(Compiler().on_demand(lit).leds) == 6
    with pytest.raises(Trouble, match="no picture"):
        apply_edit(bare, "set-shape", {"base": "silhouette"})
    with pytest.raises(Trouble, match="cut from this picture"):
        apply_edit(sign, "remove-picture", {})


def test_the_board_is_cut_from_a_colour_or_from_a_drawing_of_its_outline(sign: Project) -> None:
    gold = edited(sign, ("set-shape", {"base": "colour", "colour": "D9B25A"}), ("set-border", {"border_mm": 0.0}))
    assert gold.board.size == pytest.approx((20, 12), abs=0.01)
    plate = PictureFile("plate.dxf", dxf(frame(0, 0, 50, 30)))
    added = apply_edit(sign, "add-picture", {"file": plate, "width_mm": 50.0})
    work = edited(added, ("place-picture", {"picture": 2, "role": "outline"}), ("set-shape", {"base": "outline"}))
    assert work.board.size == pytest.approx((53.2, 33.2), abs=0.02)
    assert len(work.art.chosen) == 5, "the outline paints nothing"
    with pytest.raises(Trouble, match="outline"):
        edited(sign, ("set-shape", {"base": "outline"}))


def test_features_are_cut_drilled_and_plated(sign: Project) -> None:
    plain = Compiler().compile(sign)
    work = edited(
        sign,
        ("add-feature", {"kind": "slot", "x_mm": 30.0, "y_mm": 20.0, "size_mm": 2.0, "length_mm": 10.0}),
        ("add-feature", {"kind": "screw", "screw": "M2", "x_mm": 5.0, "y_mm": 5.0}),
        ("add-feature", {"kind": "sew", "x_mm": 50.0, "y_mm": 10.0, "needle_mm": 1.0}),
        ("add-feature", {"kind": "magnet-pad", "x_mm": 20.0, "y_mm": 30.0, "size_mm": 6.0}),
        ("add-feature", {"kind": "edge-pad", "x_mm": 60.6, "y_mm": 30.0, "size_mm": 2.0, "length_mm": 4.0}),
    )
    lost = plain.board.layer("core").area - work.board.layer("core").area
    assert lost == pytest.approx(8 * 2 + math.pi + math.pi * 1.2**2 + math.pi * 0.65**2, rel=0.02)
    assert {(hole.diameter, hole.plated) for hole in work.board.holes} == {(2.4, False), (1.3, True)}
    dx, dy = work.board.origin
    for side in ("front", "back"):
        ring = shapely.Point(50 - dx, 10 - dy).buffer(1.5).difference(shapely.Point(50 - dx, 10 - dy).buffer(0.8))
        assert work.board.layer(f"{side} copper").buffer(0.01).contains(ring)
        assert work.board.layer(f"{side} mask").buffer(0.01).contains(ring)
        assert work.board.layer(f"{side} copper").distance(work.board.outline.exterior) < 1e-6, "the edge pad reaches the edge"
    assert work.board.layer("back copper").intersects(shapely.Point(20 - dx, 30 - dy))


def test_holes_for_plain_thread_are_bare_and_may_stand_near(sign: Project) -> None:
    sewn = {"kind": "sew", "along": True, "count": 40, "needle_mm": 0.9}
    codes, holes = {}, {}
    for thread in ("conductive", "plain"):
        work = edited(sign, ("add-feature", {**sewn, "thread": thread}))
        codes[thread] = {one.code for one in Compiler().findings(work)}
        holes[thread] = {hole.plated for hole in work.board.holes}
        assert (work.board.layer("back copper").area > 10) == (thread == "conductive")
    assert holes == {"conductive": {True}, "plain": {False}}
    assert "sew-pads-too-near" in codes["conductive"] - codes["plain"]


def test_features_by_rule_stand_evenly_along_the_edge(sign: Project) -> None:
    work = edited(sign, ("add-feature", {"kind": "hole", "along": True, "count": 8, "inset_mm": 3.0, "size_mm": 2.0}))
    assert len(work.board.holes) == 8
    gaps = {round(work.board.outline.exterior.distance(shapely.Point(hole.x, hole.y)), 2) for hole in work.board.holes}
    assert gaps == {3.0}


@pytest.mark.parametrize(
    ("edits", "code"),
    [
        ([("add-feature", {"kind": "hole", "x_mm": 200.0})], "feature-off-board"),
        ([("add-feature", {"kind": "hole", "x_mm": -1.0, "y_mm": 20.0})], "feature-off-board"),
        ([("add-feature", {"kind": "hole", "x_mm": -4.0, "y_mm": 20.0})], "feature-off-board"),
        ([("add-feature", {"kind": "slot", "x_mm": 30.0, "y_mm": 20.0, "size_mm": 0.6})], "slot-too-narrow"),
        ([("add-feature", {"kind": "hole", "x_mm": x, "y_mm": 20.0}) for x in (30.0, 33.1)], "holes-too-near"),
        ([("add-feature", {"kind": "hole", "x_mm": 0.5, "y_mm": 20.0})], "hole-near-edge"),
        ([("add-feature", {"kind": "sew", "x_mm": x, "y_mm": 20.0}) for x in (30.0, 35.0)], "sew-pads-too-near"),
        ([("set-shape", {"copper_to_edge": True})], "copper-to-the-edge"),
        ([("add-words", {"text": "small", "x_mm": 30.0, "y_mm": 20.0, "height_mm": 0.6})], "words-too-small"),
    ],
)
def test_what_is_wrong_with_features_is_found(sign: Project, edits: list[Any], code: str) -> None:
    compiler = Compiler()
    assert code not in {one.code for one in compiler.findings(compiler.compile(sign))}
    for name, values in edits:
        sign = apply_edit(sign, name, values)
    found = {one.code: one for one in compiler.findings(compiler.compile(sign))}
    assert code in found
    for remedy in found[code].remedies:
        if remedy.edit == "set-feature":
            origin = compiler.compile(sign).board.origin
            mended = apply_values(sign, remedy.edit, dict(remedy.values), origin)
            assert not {code, "hole-near-edge"} & {one.code for one in compiler.findings(compiler.compile(mended))}


def test_one_edit_brings_a_board_under_the_price_step() -> None:
    compiler = Compiler()
    for wide in (125.0, 100.0):
        picture = SIGN if wide == 125.0 else encoded(hills(200))
        project = new_project(picture, "x.svg" if wide == 125.0 else "x.png", width_mm=wide)
        project = project if wide == 125.0 else apply_edit(project, "set-width", {"width_mm": 118.0})
        found = {one.code: one for one in compiler.findings(compiler.compile(project))}
        remedy = found["over-price-step"].remedies[0]
        saves = float(remedy.text.rsplit(" ", 1)[1])
        assert f"saves {saves:.2f} credits an order by the example prices" in found["over-price-step"].text
        better = apply_values(project, remedy.edit or "", dict(remedy.values), (0, 0))
        assert "over-price-step" not in {one.code for one in compiler.findings(compiler.compile(better))}
        before, after = (brief_price(one.brief, compiler.compile(one).board.size, False).boards for one in (project, better))
        assert before - after == pytest.approx(saves)


def test_words_lie_over_the_art_and_are_read_from_behind_on_the_back(sign: Project) -> None:
    work = edited(sign, ("add-words", {"text": "OR", "x_mm": 14.0, "y_mm": 8.0, "height_mm": 4.0, "appearance": "mask"}))
    words = words_region(Words(text="OR", x_mm=14.0, y_mm=8.0, height_mm=4.0), nowhere)
    assert words.bounds[3] - words.bounds[1] == pytest.approx(4.1, abs=0.2)
    assert work.art.regions["metal"].intersection(words).area < 1e-6
    behind = words_region(Words(text="P", x_mm=0.0, y_mm=0.0, side="back"), nowhere)
    ahead = words_region(Words(text="P", x_mm=0.0, y_mm=0.0), nowhere)
    assert behind.symmetric_difference(shapely.transform(ahead, lambda p: p * (-1, 1))).area < 1e-6
    back = edited(sign, ("add-words", {"text": "back", "x_mm": 30.0, "y_mm": 20.0, "side": "back", "appearance": "metal"}))
    assert back.board.layer("back copper").area > 1
    opened = back.board.layer("back mask").difference(back.board.windows).area
    assert 0 < opened < back.board.layer("back copper").area, "its copper reaches under the mask"


def test_words_bend_round_a_circle() -> None:
    for bend, sign in (("over", 1), ("under", -1)):
        words = Words(text="MOTHS BY NIGHT", x_mm=3.0, y_mm=4.0, height_mm=3.0, bend=bend, radius_mm=15.0)  # type: ignore[arg-type]
        region = words_region(words, nowhere)
        reach = [math.hypot(x - 3, y - 4) for x, y in shapely.get_coordinates(region)]
        assert min(reach) > 11.5
        assert max(reach) < 18.6
        assert sign * (region.centroid.y - 4) > 8


@pytest.mark.parametrize("side", ["front", "back"])
@pytest.mark.parametrize(("bend", "outside"), [("edge", True), ("edge-inward", False)])
@given(share=st.floats(0, 1))
def test_words_follow_an_edge_with_their_feet_on_it(side: str, bend: str, outside: bool, share: float) -> None:
    round_edge = Contours(Point(5, 3).buffer(20, quad_segs=64), 5.0)
    words = Words(text="ILIL", x_mm=0, y_mm=0, height_mm=3.0, bend=bend, inset_mm=4.0, share=share, side=side)  # type: ignore[arg-type]
    region = words_region(words, lambda path: round_edge)
    far = [math.hypot(x - 5, y - 3) for x, y in shapely.get_coordinates(region)]
    assert 15.85 < (min(far) if outside else max(far)) < 16.15
    assert 2.7 < max(far) - min(far) < 3.4
    place = edge_place(words, lambda path: round_edge)
    assert place is not None
    assert region.centroid.distance(Point(place)) < 2.2
    back = edge_share(words, lambda path: round_edge, *place)
    assert back is not None
    assert back[1] == pytest.approx(4.0, abs=0.02)
    assert min(abs(back[0] - share), 1 - abs(back[0] - share)) < 1e-3


def test_words_follow_the_edge_of_a_colour_and_say_what_they_may_follow(sign: Project) -> None:
    colour = Compiler().on_demand(sign).art.chosen[-1].colour
    values = {"text": "round", "bend": "edge", "height_mm": 2.0, "inset_mm": 2.0, "path": colour.lower()}
    work = edited(sign, ("add-words", values))
    whole = edited(sign, ("add-words", {**values, "path": "board"}))
    assert work.design.artwork.words[0].path == colour
    assert not work.board.layer("front legend").equals(whole.board.layer("front legend"))
    with pytest.raises(Trouble, match="path must be a colour"):
        apply_edit(sign, "add-words", {**values, "path": "somewhere"})


@given(st.lists(st.tuples(st.integers(-40, 40), st.integers(-40, 40), st.integers(1, 9)), min_size=1, max_size=6))
def test_an_outline_comes_back_from_its_bytes_as_it_was(discs: list[tuple[int, int, int]]) -> None:
    region = union([Point(x, y).buffer(r) for x, y, r in discs]).difference(Point(0, 0).buffer(0.4))
    if region.is_empty:
        return
    back = unpack(pack(region))
    assert back.symmetric_difference(region).area < 0.002 * region.length
    assert len(polygons(back)) == len(polygons(region))
    data = pack(region)
    for cut in (3, 7, len(data) // 2, len(data) - 1):
        with pytest.raises(ValueError, match="rings"):
            unpack(data[:cut])
    far = data[:13] + (-(2**31)).to_bytes(4, "little", signed=True) + data[17:]
    with pytest.raises(ValueError, match="out of range"):
        unpack(far)


@given(st.lists(st.tuples(st.floats(0.0, 3e-3), st.floats(0.0, 3e-3)), min_size=3, max_size=12), st.floats(0.0, 1e-3))
def test_edges_nearer_than_the_bytes_tell_cross_no_other(corners: list[tuple[float, float]], shift: float) -> None:
    speck = shapely.MultiPoint(corners).convex_hull.buffer(2e-4, quad_segs=3)
    plate = shapely.box(-5.0, -5.0, 5.0, 5.0)
    for region in (plate.difference(speck), plate.union(shapely.transform(speck, lambda places: np.add(places, (5.0, shift))))):
        back = unpack(pack(region))
        assert back.is_valid
        assert back.symmetric_difference(region).area < 2e-3 * region.length


def test_the_outline_of_another_board_and_of_a_drawing_is_taken_at_its_size(
    sign: Project, moth: Project, tmp_path: Path
) -> None:
    other = Compiler().compile(moth)
    save(moth, tmp_path / "moth.oglow")
    taken = edited(sign, ("take-outline", {"file": PictureFile("moth.oglow", (tmp_path / "moth.oglow").read_bytes())}))
    assert taken.board.size == pytest.approx(other.board.size, abs=0.005)
    dx, dy = taken.board.origin[0] - other.board.origin[0], taken.board.origin[1] - other.board.origin[1]
    there = shapely.transform(other.outline.region, lambda p: p - (-dx, -dy))
    assert taken.outline.region.symmetric_difference(there).area < 1.0
    save(taken.project, tmp_path / "sign.oglow")
    assert load(tmp_path / "sign.oglow") == taken.project
    drawn = edited(sign, ("take-outline", {"file": PictureFile("plate.dxf", dxf(frame(0, 0, 40, 25))), "width_mm": 40.0}))
    assert drawn.board.size == pytest.approx((40, 25), abs=0.02)
    assert list(drawn.project.members) == [*sign.members, "outlines/plate.rings"]
    part = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="9" height="9" clip-path="url(#no)"/></svg>'
    lacks = edited(sign, ("take-outline", {"file": PictureFile("part.svg", part)}))
    [told] = [one for one in Compiler().findings(lacks) if one.code == "outline-from-drawing"]
    assert told.text.endswith("A clip path cannot be found, or is no path: <rect> on line 1.")
    unsized = edited(sign, ("take-outline", {"file": PictureFile("plate.dxf", dxf(frame(0, 0, 40, 25)))}))
    assert "does not say its unit" in next(one.text for one in Compiler().findings(unsized) if one.stage == "shape")
    assert not [one for one in Compiler().findings(drawn) if one.code == "outline-from-drawing"]
    for bad, words in (
        ("x.oglow", "cannot be opened"),
        ("x.rings", "holds no outline"),
        ("x.svg", "not a picture Outlined Glow can read"),
    ):
        with pytest.raises(Trouble, match=words):
            apply_edit(sign, "take-outline", {"file": PictureFile(bad, b"nothing")})
    with pytest.raises(Trouble, match="No outline was taken"):
        apply_edit(sign, "set-shape", {"base": "drawn"})
    broken = structs.replace(taken.project, members={**taken.project.members, "outlines/moth.rings": b"OGR1"})
    with pytest.raises(Trouble, match="take it from its file again"):
        Compiler().compile(broken)


def test_what_is_dragged_is_caught_by_middles_and_by_mirror_images(sign: Project) -> None:
    work = edited(sign, ("add-feature", {"kind": "hole", "x_mm": 12.0, "y_mm": 9.0}))
    left, bottom, right, top = work.outline.region.bounds
    middle = (left + right) / 2
    lines = catching_lines(work.outline)
    caught = snapped(lines, work.board.origin, middle + 0.2, bottom + 3.11, 0.4)
    assert (caught.x, caught.upright, caught.level) == (pytest.approx(middle), pytest.approx(middle), None)
    assert ((caught.y - work.board.origin[1]) * 2) % 1 == pytest.approx(0, abs=1e-6)
    assert snapped(lines, work.board.origin, 2 * middle - 12.1, 8.8, 0.4) == Snapped(2 * middle - 12, 9, 2 * middle - 12, 9)
    assert 12.0 not in catching_lines(work.outline, 1)[0]
    across, up = dimensions(work.outline, left + 5, (bottom + top) / 2)
    assert across.mm == pytest.approx(5, abs=0.01)
    assert dimensions(work.outline, left - 5, 0.0) == ()
    assert up.mm <= (top - bottom) / 2 + 0.01


def test_pictures_on_both_sides_make_both_sides_layers(sign: Project) -> None:
    work = edited(sign, ("add-picture", {"file": PictureFile("again.svg", SIGN), "side": "back", "width_mm": 30.0}))
    assert {one.side for one in work.art.chosen} == {"front", "back"}
    for layer in ("back copper", "back mask", "back legend"):
        assert work.board.layer(layer).area > 5, layer
    window = work.art.back["window"]
    dx, dy = work.board.origin
    there = shapely.transform(window, lambda p: p - (dx, dy))
    assert work.board.layer("front copper").intersection(there).area < 1e-6
    assert work.board.layer("front mask").buffer(1e-6).contains(there)
