"""DXF drawings: units, joined lines, holes, blocks, layers; and damaged ones."""

from __future__ import annotations

import contextlib
import io
import math
from typing import Any

import ezdxf
import pytest
from ezdxf.xclip import XClip
from hypothesis import given, settings
from hypothesis import strategies as st
from pictures import dxf, frame, line
from shapely.affinity import rotate, scale, translate
from shapely.geometry import Point, Polygon

from outlined_glow.core.artwork import paint, read_picture
from outlined_glow.core.artwork.painting import natural_width_mm
from outlined_glow.core.errors import Trouble
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


def test_a_clipped_block_is_told() -> None:
    document = ezdxf.new("R2010", units=4)
    document.blocks.new("leaf").add_circle((0, 0), 5)
    clip = XClip(document.modelspace().add_blockref("leaf", (0, 0)))
    clip.set_block_clipping_path([(0, 0), (3, 3)])
    notes = read_picture(_written(document), "x.dxf").notes
    assert [note.code for note in notes] == ["clip-ignored"]
    clip.disable_clipping()
    assert read_picture(_written(document), "x.dxf").notes == ()


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
