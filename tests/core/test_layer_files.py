"""Layers for other programs: read back by other code, at true size, both sides."""

from __future__ import annotations

import io

import ezdxf
import numpy as np
import pytest
import resvg_py
import shapely
from PIL import Image
from shapely.geometry import Polygon

from outlined_glow.core.artwork import paint, read_picture
from outlined_glow.core.artwork.painting import natural_width_mm
from outlined_glow.core.board import Board
from outlined_glow.core.order import layer_files, layer_names
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.workshop import Compiler


@pytest.fixture(scope="module")
def board(moth: Project) -> Board:
    return Compiler().compile(moth).board


def test_every_made_layer_of_both_sides_has_a_file(board: Board, sign: Project) -> None:
    names = layer_names(board)
    assert {"front copper", "back copper", "front mask", "back legend", "outline", "drills"} <= set(names)
    for kind in ("svg", "dxf"):
        assert len(layer_files(board, kind)) == len(names) + 1
    etched = Compiler().compile(apply_edit(sign, "set-profile", {"profile": "home-etch"})).board
    assert not {"front mask", "front legend"} & set(layer_names(etched))


def test_an_svg_layer_is_the_region_at_true_size(board: Board) -> None:
    files = layer_files(board, "svg")
    for name in ("outline", "front copper", "back mask"):
        data = files[f"lamplighter-moth-{name.replace(' ', '-')}.svg"]
        region = board.outline if name == "outline" else board.layer(name)
        png = resvg_py.svg_to_bytes(svg_string=data.decode(), width=round(board.size[0] * 10), dpi=96)
        ink = np.asarray(Image.open(io.BytesIO(bytes(png))))[..., 3] / 255
        assert ink.sum() / 100 == pytest.approx(region.area, rel=0.005)
        if not region.is_empty:
            rows, columns = np.nonzero(ink > 0.5)
            left, _, _, top = region.bounds
            assert columns.min() / 10 == pytest.approx(left, abs=0.15)
            assert (board.size[1] - rows.min() / 10) == pytest.approx(top, abs=0.15)


def test_what_goes_out_comes_in_again_as_large(board: Board) -> None:
    data = layer_files(board, "svg")["lamplighter-moth-outline.svg"]
    source = read_picture(data, "outline.svg")
    assert natural_width_mm(source, "outline.svg") == pytest.approx(board.size[0], abs=0.005)
    assert paint(source, board.size[0], "outline.svg").silhouette.area == pytest.approx(board.outline.area, rel=1e-4)


def test_a_dxf_holds_every_layer_by_name_in_millimetres(board: Board) -> None:
    document = ezdxf.read(io.StringIO(layer_files(board, "dxf")["lamplighter-moth-all-layers.dxf"].decode()))
    assert document.units == 4
    rings = [one for one in document.modelspace() if one.dxf.layer == "front-copper"]
    areas = [Polygon([(x, y) for x, y, *_ in one.get_points()]).area for one in rings]
    region = board.layer("front copper")
    holes = sum(Polygon(hole).area for part in shapely.get_parts(region) for hole in part.interiors)
    assert sum(areas) == pytest.approx(region.area + 2 * holes, rel=1e-4)
    circles = [one for one in document.modelspace() if one.dxftype() == "CIRCLE"]
    assert [round(2 * one.dxf.radius, 3) for one in circles] == [hole.diameter for hole in board.holes]


def test_a_png_says_its_resolution(board: Board) -> None:
    data = layer_files(board, "png", 20)["lamplighter-moth-front-copper.png"]
    with Image.open(io.BytesIO(data)) as picture:
        assert picture.size == tuple(round(side * 20) for side in board.size)
        assert picture.info["dpi"][0] == pytest.approx(508, abs=0.5)
        light = np.asarray(picture.convert("L")).astype(float) / 255
    assert light.sum() / 400 == pytest.approx(board.layer("front copper").area, rel=0.005)
