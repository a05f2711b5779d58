"""DXF drawings: units, joined lines, holes, blocks, layers; and damaged ones."""

from __future__ import annotations

import contextlib
import io
import math
from typing import Any

import ezdxf
import numpy as np
import pytest
import shapely
from ezdxf.xclip import XClip
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from pictures import dxf, frame, line
from scipy.interpolate import BSpline
from shapely.affinity import rotate, scale, translate
from shapely.geometry import Point, Polygon

from outlined_glow.core.artwork import dxf_wide, paint, read_picture
from outlined_glow.core.artwork.painting import natural_width_mm
from outlined_glow.core.artwork.spline import cubics
from outlined_glow.core.errors import Trouble
from outlined_glow.core.geometry.flatten import flatten_cubics
from outlined_glow.core.workshop import Compiler, apply_values, new_project


def test_loose_lines_are_joined_and_one_outline_in_another_is_a_hole() -> None:
    data = dxf(
        line(0, 0, 40, 0), line(40, 30, 40, 0), line(40, 30, 0, 30), line(0, 0, 0, 30), frame(10, 10, 8, 8),
        "0 CIRCLE 8 0 10 30 20 15 40 5",
    )  # fmt: skip
    source = read_picture(data, "plate.dxf")
    assert natural_width_mm(source, "x.dxf") == pytest.approx(40)
    painted = paint(source, 40, "plate.dxf")
    assert painted.swatches[0].colour == "000000"
    assert painted.swatches[0].region.area == pytest.approx(1200 - 64 - math.pi * 25, rel=1e-3)


def test_inches_colours_layers_and_open_lines() -> None:
    data = dxf(frame(0, 0, 2, 1, "METAL"), frame(0.5, 0.25, 0.5, 0.5, "outline"), line(0, 1.2, 2, 1.2, "marks"),
               frame(1.2, 0.2, 0.4, 0.4, "dots", 1), head="9 $INSUNITS 70 1")  # fmt: skip
    source = read_picture(data, "x.dxf")
    assert natural_width_mm(source, "x.dxf") == pytest.approx(50.8, rel=0.01)
    painted = paint(source, 50.8, "x.dxf")
    assert ("000000", "metal") in {(swatch.colour, swatch.word) for swatch in painted.swatches}
    assert next(swatch.region.area for swatch in painted.swatches if swatch.colour == "FF0000") == pytest.approx(
        0.16 * 645.16, rel=0.02
    )
    assert painted.outline.area == pytest.approx(0.25 * 645.16, rel=0.02)
    assert {note.code for note in painted.notes} == {"layer-at-its-word"}


def test_the_outline_layer_is_the_edge_of_the_board_and_no_part_of_the_width() -> None:
    data = dxf(frame(0, 0, 50, 30, "Outline"), frame(10, 10, 20, 8, "metal"))
    assert natural_width_mm(read_picture(data, "x.dxf"), "x.dxf") == pytest.approx(20), "what is painted gives the width"
    project = new_project(data, "x.dxf")
    assert project.designs[0].shape.base == "outline"
    work = Compiler().compile(project)
    assert work.board.size == pytest.approx((50, 30))
    assert work.board.layer("front mask").area == pytest.approx(160)
    silhouette = apply_values(project, "set-shape", {"base": "silhouette"}, (0, 0))
    compiler = Compiler()
    (note,) = [one for one in compiler.findings(compiler.compile(silhouette)) if one.code == "outline-not-taken"]
    (remedy,) = note.remedies
    back = apply_values(silhouette, remedy.edit or "", dict(remedy.values), (0, 0))
    assert Compiler().compile(back).board.size == pytest.approx((50, 30))


def test_splines_arcs_hatches_and_nested_blocks(tmp_path) -> None:  # type: ignore[no-untyped-def]
    document = ezdxf.new("R2010", units=4)
    space = document.modelspace()
    leaf = document.blocks.new("leaf")
    leaf.add_lwpolyline([(0, 0, 1), (10, 0, 1)], format="xyb", close=True)
    tree = document.blocks.new("tree")
    tree.add_blockref("leaf", (0, 0))
    tree.add_blockref("leaf", (20, 0), dxfattribs={"xscale": 2, "yscale": 2})
    space.add_blockref("tree", (0, 0))
    hatch = space.add_hatch(color=3)
    hatch.paths.add_polyline_path([(0, 30), (10, 30), (10, 40), (0, 40)])
    space.add_spline([(0, 50), (20, 70), (40, 50)])
    space.add_arc((20, 60), 5, 0, 180)
    document.layers.add("hidden").off()
    space.add_circle((500, 500), 9, dxfattribs={"layer": "hidden"})
    space.add_text("words")
    path = tmp_path / "x.dxf"
    document.saveas(path)
    source = read_picture(path.read_bytes(), "x.dxf")
    painted = paint(source, natural_width_mm(source, "x.dxf"), "x.dxf")
    assert painted.size[0] == pytest.approx(40.25, rel=0.01)
    regions = {swatch.colour: swatch.region for swatch in painted.swatches}
    assert regions["00FF00"].area == pytest.approx(100, rel=0.02)  # lines lie over it
    assert regions["000000"].area > math.pi * (25 + 100)
    assert {note.code for note in painted.notes} == {"layer-hidden", "element-not-drawn"}


def _written(document: Any) -> bytes:
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode()


_SHAPES = st.sampled_from(["circle", "bulges", "lines", "hatch", "solid", "spline"])
_TURNS = st.sampled_from([0.0, 90.0, 30.0, 211.0])
_LAID = st.tuples(st.floats(0.4, 2), st.floats(0.4, 2), st.booleans(), _TURNS, st.floats(-9, 9), st.booleans())


@given(_SHAPES, st.lists(_LAID, max_size=3))
def test_blocks_in_blocks_lie_where_their_matrices_lay_them(kind: str, laid: list[Any]) -> None:
    """Stretched, turned, mirrored, from behind: checked by general affine maps of a polygon."""
    document = ezdxf.new("R2010", units=4)
    blocks = [document.blocks.new(f"B{at}", base_point=(0.5, -0.3)) for at in range(len(laid))]
    space: Any = blocks[-1] if blocks else document.modelspace()
    corners = [(0.0, 0.0), (5.0, 0.0), (5.0, 3.0), (1.0, 4.0)]
    truth = Polygon(corners)
    if kind == "circle":
        space.add_circle((1, 2), 3)
        truth = Point(1, 2).buffer(3, quad_segs=200)
    elif kind == "bulges":
        space.add_lwpolyline([(0, 0, 1), (4, 0, 1)], format="xyb", close=True)
        truth = Point(2, 0).buffer(2, quad_segs=200)
    elif kind == "lines":
        for one, other in zip(corners, corners[1:] + corners[:1], strict=True):
            space.add_line(one, other)
    elif kind == "hatch":
        space.add_hatch(color=2).paths.add_polyline_path(corners, is_closed=True)
    elif kind == "solid":
        space.add_solid([corners[at] for at in (0, 1, 3, 2)])
    else:
        space.add_spline().set_closed([(x, y, 0) for x, y in corners])
        truth = Polygon([(one.x, one.y) for one in space[-1].construction_tool().approximate(2000)])
    for at in range(len(laid) - 1, -1, -1):
        wide, high, mirrored, turn, x, behind = laid[at]
        host = document.modelspace() if at == 0 else blocks[at - 1]
        values = {"xscale": -wide if mirrored else wide, "yscale": high, "rotation": turn}
        host.add_blockref(f"B{at}", (x, 2), dxfattribs=values | ({"extrusion": (0, 0, -1)} if behind else {}))
        truth = scale(translate(truth, -0.5, 0.3), values["xscale"], high, origin=(0, 0))
        truth = translate(rotate(truth, turn, origin=(0, 0)), x, 2)
        truth = scale(truth, -1, 1, origin=(0, 0)) if behind else truth
    source = read_picture(_written(document), "x.dxf")
    painted = paint(source, natural_width_mm(source, "x.dxf"), "x.dxf")
    left, bottom, right, top = truth.bounds
    assert painted.size == pytest.approx((right - left, top - bottom), rel=2e-3)
    assert translate(truth, -left, -bottom).symmetric_difference(painted.silhouette).area < 5e-3 * truth.area
    assert painted.notes == ()


def test_what_has_no_layer_and_colour_of_its_own_takes_those_of_its_block() -> None:
    document = ezdxf.new("R2010", units=4)
    document.layers.add("gold", color=2)
    document.layers.add("off", color=3).off()
    leaf = document.blocks.new("leaf")
    for at, color in enumerate((256, 0, 5)):
        corners = [(9 * at, 0), (9 * at + 5, 0), (9 * at + 5, 5), (9 * at, 5)]
        leaf.add_lwpolyline(corners, close=True, dxfattribs={"color": color})
    inner = document.blocks.new("inner")
    inner.add_blockref("leaf", (0, 0), dxfattribs={"color": 0})
    space = document.modelspace()
    space.add_blockref("inner", (0, 0), dxfattribs={"layer": "gold", "color": 1})
    space.add_blockref("inner", (0, 50), dxfattribs={"layer": "off"})
    space.add_lwpolyline([(0, 20), (20, 20)], dxfattribs={"const_width": 2})
    wide = document.blocks.new("wide")
    wide.add_lwpolyline([(0, 0), (10, 0)], dxfattribs={"const_width": 1})
    space.add_blockref("wide", (0, 30), dxfattribs={"xscale": 2, "yscale": 2})
    painted = paint(read_picture(_written(document), "x.dxf"), 23, "x.dxf")
    areas = {swatch.colour: round(swatch.region.area) for swatch in painted.swatches}
    assert areas == {"FFFF00": 25, "FF0000": 25, "0000FF": 25, "000000": 80}
    assert {note.code for note in painted.notes} == {"layer-hidden"}


@pytest.mark.parametrize(("style", "mm2"), [(0, 400 - 256 + 144), (1, 400 - 256), (2, 400)])
def test_a_hatch_is_as_its_style_says_and_a_polygon_has_the_colour_of_its_filling(style: int, mm2: float) -> None:
    document = ezdxf.new("R2010", units=4)
    document.layers.add("gold", color=2)
    space = document.modelspace()
    hatch = space.add_hatch(color=3, dxfattribs={"hatch_style": style})
    for half, flags in ((10, 1), (8, 16), (6, 0)):
        hatch.paths.add_polyline_path([(-half, -half), (half, -half), (half, half), (-half, half)], flags=flags)
    polygon = space.add_mpolygon(color=1, fill_color=5, dxfattribs={"offset_vector": (3, 0)})
    polygon.paths.add_polyline_path([(10, 0), (20, 0), (20, 9), (10, 9)])
    of_block = space.add_lwpolyline([(30, 0), (39, 0), (39, 9), (30, 9)], close=True, dxfattribs={"layer": "gold", "color": 0})
    assert of_block.dxf.color == 0, "that of a block, and there is none"
    painted = paint(read_picture(_written(document), "x.dxf"), 49, "x.dxf")
    areas = {swatch.colour: swatch.region.area for swatch in painted.swatches}
    assert areas == pytest.approx({"00FF00": mm2, "0000FF": 90, "000000": 81}, rel=1e-3)
    assert {swatch.colour: swatch.region.bounds[0] for swatch in painted.swatches}["0000FF"] == pytest.approx(23, abs=0.01)
    assert painted.notes == ()


@given(st.lists(st.tuples(st.integers(-40, 40), st.integers(-40, 40), st.floats(0.1, 4)), min_size=4, max_size=7))
def test_a_curve_with_weights_is_followed_to_a_micrometre(rows: list[tuple[int, int, float]]) -> None:
    """By another evaluation: splines of the curve's homogeneous places."""
    places, weights = np.array([row[:2] for row in rows], float), np.array([row[2] for row in rows])
    assume(np.ptp(places, axis=0).min() > 1)
    count = len(rows)
    knots = np.concatenate([np.zeros(4), np.arange(1, count - 3), np.full(4, count - 3)]).astype(float)
    start, curves = cubics(places, knots, 3, weights)
    every = BSpline(knots, np.column_stack([places * weights[:, None], weights]), 3)(np.linspace(0, count - 3, 20_001))
    truth = shapely.LineString(every[:, :2] / every[:, 2:])
    shapely.prepare(truth)
    assert shapely.distance(truth, shapely.points(flatten_cubics(start, curves, 1e-3))).max() < 0.002


@given(
    st.lists(st.tuples(st.integers(-40, 40), st.integers(-40, 40), st.sampled_from([0, 0, 0.4, -1])), min_size=2, max_size=5),
    st.floats(0.3, 2),
    st.booleans(),
)
def test_a_polyline_with_a_width_is_what_lies_so_near_to_it(rows: list[tuple[int, int, float]], width: float, to: bool) -> None:
    """By a general library: its middle, grown; but at sharp corners, which end otherwise there."""
    ends = np.array([(x, y, width, width, bulge) for x, y, bulge in rows], float)
    assume((np.hypot(*np.diff(ends[:, :2], axis=0).T) > 3).all())
    made = shapely.union_all([Polygon(piece).buffer(0) for piece in dxf_wide.tapered(ends, to and len(rows) > 2, 1.0)])
    document = ezdxf.new("R2010", units=4)
    line = document.modelspace().add_lwpolyline(ends[:, [0, 1, 4]].tolist(), format="xyb", close=to and len(rows) > 2)
    middle = shapely.LineString([(one.x, one.y) for one in ezdxf.path.make_path(line, segments=24).flattening(1e-4)])
    off = shapely.get_parts(made.symmetric_difference(middle.buffer(width / 2, cap_style="flat"))).tolist()
    assert max((piece.area for piece in off), default=0) < 4 * width**2
    assert all(piece.distance(shapely.MultiPoint(ends[:, :2])) < 2.1 * width for piece in off if piece.area > 0.02)


@pytest.mark.parametrize("width", [0.0, 1.0])
def test_of_a_polyline_made_a_curve_the_frame_is_not_drawn(width: float) -> None:
    document = ezdxf.new("R12", units=4)
    line = document.modelspace().add_polyline2d(
        [], dxfattribs={"flags": 5, "default_start_width": width, "default_end_width": width}
    )
    for x, y, flags in ((0, 0, 16), (40, 0, 16), (40, 40, 16), (5, 5, 8), (15, 5, 8), (15, 15, 8)):
        line.append_vertex((x, y), dxfattribs={"flags": flags})
    source = read_picture(_written(document), "x.dxf")
    assert natural_width_mm(source, "x.dxf") < 15


def test_a_polyline_that_tapers_is_an_arrow_there_and_back() -> None:
    document = ezdxf.new("R2010", units=4)
    space = document.modelspace()
    space.add_lwpolyline([(0, 0, 3, 0), (10, 0, 0, 0)], format="xyse")
    space.add_lwpolyline([(0, 20, 1, 3), (10, 20, 3, 1)], format="xyse", close=True, dxfattribs={"color": 1})
    space.add_lwpolyline([(0, 40, 0, 4, 1), (10, 40, 0, 0, 0)], format="xyseb", dxfattribs={"color": 3})
    source = read_picture(_written(document), "x.dxf")
    painted = paint(source, natural_width_mm(source, "x.dxf"), "x.dxf")
    areas = {swatch.colour: swatch.region.area for swatch in painted.swatches}
    # Half a turn has a length of 5 pi, and is 2 wide in the mean.
    assert areas == pytest.approx({"000000": 15, "FF0000": 20, "00FF00": 10 * math.pi}, rel=2e-3)


def test_an_arc_as_large_as_a_country_is_told_and_takes_no_time() -> None:
    document = ezdxf.new("R2010", units=4)
    document.modelspace().add_circle((0, 0), 5)
    document.modelspace().add_lwpolyline([(0, 0, 0, 3, 9e6), (10, 0, 0, 0, 0)], format="xyseb")
    source = read_picture(_written(document), "x.dxf")
    assert [note.code for note in source.notes] == ["path-damaged"]
    assert natural_width_mm(source, "x.dxf") == pytest.approx(10)


def test_a_clipped_block_is_told() -> None:
    document = ezdxf.new("R2010", units=4)
    document.blocks.new("leaf").add_circle((0, 0), 5)
    clip = XClip(document.modelspace().add_blockref("leaf", (0, 0)))
    clip.set_block_clipping_path([(0, 0), (3, 3)])
    notes = read_picture(_written(document), "x.dxf").notes
    assert [note.code for note in notes] == ["clip-ignored"]
    clip.disable_clipping()
    assert read_picture(_written(document), "x.dxf").notes == ()


@pytest.mark.parametrize("who", ["layer", "hatch", "block"])
def test_what_is_transparent_is_told(who: str) -> None:
    document = ezdxf.new("R2010", units=4)
    layer = document.layers.add("glass")
    document.blocks.new("leaf").add_circle((0, 0), 5, dxfattribs={"layer": "glass"})
    block = document.modelspace().add_blockref("leaf", (0, 0), dxfattribs={"layer": "glass"})
    hatch = document.modelspace().add_hatch(dxfattribs={"layer": "glass"})
    hatch.paths.add_polyline_path([(9, 0), (19, 0), (19, 9)], is_closed=True)
    assert read_picture(_written(document), "x.dxf").notes == ()
    {"layer": layer, "hatch": hatch, "block": block}[who].transparency = 0.4
    [note] = read_picture(_written(document), "x.dxf").notes
    assert note.code == "opacity-solid"
    assert "“glass”" in note.text


def test_a_block_that_lies_in_another_drawing_is_told() -> None:
    document = ezdxf.new("R2010", units=4)
    document.modelspace().add_circle((0, 0), 5)
    document.add_xref_def("leaf.dxf", "LEAF")
    document.modelspace().add_blockref("LEAF", (0, 0))
    [note] = read_picture(_written(document), "x.dxf").notes
    assert note.code == "element-not-drawn"
    assert "“LEAF” lies outside the file" in note.text


BAD = {
    "empty model": (dxf(), "holds nothing"),
    "cut short": (dxf(frame(0, 0, 9, 9))[:90], "DXF|holds nothing"),
    "far away": (dxf(line(0, 0, 1e30, 5)), "holds nothing"),
    "not numbers": (dxf("0 LINE 8 0 10 nan 20 inf 11 1 21 1"), "holds nothing|DXF"),
    "binary rubbish": (b"AutoCAD Binary DXF\r\n\x1a\x00" + bytes(range(256)) * 4, "DXF|holds nothing"),
    "a block within itself": (
        dxf("0 INSERT 8 0 2 a 10 0 20 0", blocks="0 BLOCK 8 0 2 a 70 0 10 0 20 0 0 INSERT 8 0 2 a 10 1 20 1 0 ENDBLK 8 0"),
        "holds nothing|DXF",
    ),
}


@pytest.mark.parametrize("name", BAD)
def test_bad_drawings_are_refused_in_a_sentence(name: str) -> None:
    data, words = BAD[name]
    with pytest.raises(Trouble, match=words):
        read_picture(data, "bad.dxf")


@pytest.mark.parametrize(
    ("entity", "words"),
    [
        ("0 330 8 odd 10 1 20 1", "something may be missing: Removed invalid DXF entity 330"),
        ("0 LINE 8 odd 10 nan 20 inf 11 1 21 1", "A damaged line is left out (layer “odd”)"),
        ("0 CIRCLE 8 odd 62 1,5 10 5 20 5 40 1e300", "A damaged circle is left out (layer “odd”)"),
        ("0 INSERT 8 odd 2 nowhere 10 1 20 1", "Deleted entity INSERT(#8) without required BLOCK definition"),
        ("0 CIRCLE 8 odd 10 5 20 5 40 1 62 1,5", "recovered invalid integer value"),
        ("0 SOLID 8 odd 10 0 20 0 11 1e30 21 0 12 0 22 1 13 1 23 1", "A damaged solid is left out (layer “odd”)"),
        (f"0 {'Q' * 400} 8 {'L' * 300} 10 1", "something may be missing: Removed invalid DXF entity QQQ"),
    ],
)
def test_an_odd_entity_is_told_and_the_rest_is_drawn(entity: str, words: str, capfd: pytest.CaptureFixture[str]) -> None:
    source = read_picture(dxf(frame(0, 0, 40, 30), entity), "x.dxf")
    assert natural_width_mm(source, "x.dxf") == pytest.approx(40)
    painted = paint(source, 40, "x.dxf")
    assert painted.swatches[0].region.area == pytest.approx(1200, rel=0.005)
    told = [note.text for note in painted.notes if note.code != "unit-not-stated"]
    assert any(words in one for one in told)
    assert all(len(one) < 220 for one in told)
    assert capfd.readouterr().err == ""


def test_layers_of_long_names_stay_apart() -> None:
    names = [f"{'layer-of-a-very-long-name-' * 4}{end}" for end in "ab"]
    data = dxf(frame(0, 0, 40, 30, names[0]), frame(10, 10, 8, 8, names[1]))
    assert [swatch.region.area for swatch in paint(read_picture(data, "x.dxf"), 40, "x.dxf").swatches] == [pytest.approx(1200)]


def _full() -> bytes:
    """The entities of a drawing with one of each kind."""
    document = ezdxf.new("R2010", units=4)
    space = document.modelspace()
    space.add_circle((5, 5), 3)
    space.add_ellipse((9, 9), (4, 1), 0.5, 0, 3)
    space.add_lwpolyline([(0, 0, 0.2, 0.3, 0.5), (10, 0), (10, 10), (0, 10)], close=True)
    space.add_polyline2d([(0, 0), (20, 0), (20, 20)], close=True)
    space.add_open_spline([(0, 0), (5, 9), (9, 3), (12, 8)])
    space.add_hatch(color=2).paths.add_polyline_path([(0, 0), (4, 0), (4, 4)], is_closed=True)
    space.add_mtext("Hello")
    document.blocks.new("B").add_arc((0, 0), 2, 0, 200)
    space.add_blockref("B", (30, 5), dxfattribs={"xscale": 2, "column_count": 2, "row_count": 2, "column_spacing": 5})
    text = io.StringIO()
    document.write(text)
    blocks, entities = text.getvalue().split("BLOCKS\n", 1)[1].split("ENTITIES\n", 1)
    start = "  0\nSECTION\n  2\n"
    return f"{start}BLOCKS\n{blocks}ENTITIES\n{entities.split('ENDSEC')[0]}ENDSEC\n  0\nEOF\n".encode()


FULL = _full()
ODD_VALUES = ("nan", "inf", "-1e300", "0", "-1", "999999999", "x", "1,5", "0x10", "256", "330", "INSERT", "LINE")


@settings(max_examples=60)
@given(st.lists(st.tuples(st.integers(0, 10_000), st.sampled_from(ODD_VALUES)), min_size=1, max_size=4))
def test_odd_values_anywhere_in_a_drawing(changes: list[tuple[int, str]]) -> None:
    lines = FULL.decode().split("\n")
    for at, odd in changes:
        lines[at % len(lines)] = odd
    with contextlib.suppress(Trouble):
        paint(read_picture("\n".join(lines).encode(), "x.dxf"), 40, "x.dxf")
