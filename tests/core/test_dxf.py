"""DXF drawings: units, joined lines, holes, blocks, layers; and damaged ones."""

from __future__ import annotations

import math

import ezdxf
import pytest
from pictures import dxf, frame, line

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
    assert project.design.shape.base == "outline"
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
