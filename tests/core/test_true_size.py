"""Sizes: what a picture paints is as large as its own units say, whatever its handles, page and margins are."""

from __future__ import annotations

import io
import math
from pathlib import Path

import ezdxf
import numpy as np
import pytest
from ezdxf.layouts import Modelspace
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from shapely.geometry import LineString, Point

from outlined_glow.core.artwork.spline import cubics
from outlined_glow.core.errors import Trouble
from outlined_glow.core.geometry.flatten import flatten_cubics
from outlined_glow.core.project import Tones, apply_edit
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.workshop import Compiler, Work, new_project

SVG = '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 90 60">'
DRAWN = {
    "a wide line round a form": ('<rect x="20" y="20" width="50" height="20" stroke="#000" stroke-width="6"/>', 56, 26),
    "handles far outside": ('<path d="M10 40 C10 0 55 0 55 40 z"/>', 45, 30),
    "seen through a clip": (
        '<clipPath id="c"><rect x="30" y="20" width="20" height="10"/></clipPath><circle cx="40" cy="25" r="20" clip-path="url(#c)"/>',
        20,
        10,
    ),
    "seen through a mask": (
        '<mask id="m"><rect width="25" height="60" fill="#fff"/></mask><rect x="5" y="5" width="80" height="50" mask="url(#m)"/>',
        20,
        50,
    ),
    "over the edge of its page": ('<rect x="-30" y="10" width="90" height="20"/>', 60, 20),
    "all but clear": ('<rect width="90" height="60" opacity="0.01"/><rect x="9" y="9" width="30" height="12"/>', 30, 12),
    "narrower than any board": ('<rect width="4" height="40"/>', 4, 40),
    "an inner drawing": (
        '<svg x="10" y="10" width="40" height="20" viewBox="0 0 4 2"><rect width="3" height="1"/></svg>',
        30,
        10,
    ),
}


def painted(data: bytes, name: str) -> Work:
    project = new_project(data, name)
    project = apply_edit(apply_edit(project, "set-border", {"border_mm": 0}), "keep-holes", {"keep": True})
    return Compiler().on_demand(project)


@pytest.mark.parametrize("name", DRAWN)
def test_a_drawing_is_as_large_as_what_it_paints(name: str) -> None:
    body, wide, high = DRAWN[name]
    assert painted(f"{SVG}{body}</svg>".encode(), "x.svg").painted.size == pytest.approx((wide, high), abs=0.01)


def test_the_style_of_the_root_says_its_size_too() -> None:
    text = '<svg xmlns="http://www.w3.org/2000/svg" style="width:80mm; height:40mm" viewBox="0 0 8 4"><rect width="8" height="4"/></svg>'
    assert painted(text.encode(), "x.svg").painted.size == pytest.approx((80, 40), abs=0.01)


@pytest.mark.parametrize(("side", "unit"), [(3000, "mm"), (0.3, "mm"), (90, "in")])
def test_what_no_board_measures_is_said_and_given_no_other_size(side: float, unit: str) -> None:
    text = f'<svg xmlns="http://www.w3.org/2000/svg" width="{side}{unit}" height="9mm" viewBox="0 0 9 9"><rect width="9" height="9"/></svg>'
    text = text.replace('viewBox="0 0 9 9"', 'viewBox="0 0 9 9" preserveAspectRatio="none"')
    with pytest.raises(Trouble, match="mm wide in its own units"):
        new_project(text.encode(), "huge.svg")
    assert new_project(text.encode(), "huge.svg", width_mm=50).designs[0].artwork.pictures[0].width_mm == 50


def png(size: tuple[int, int], dpi: tuple[float, float], box: tuple[int, int, int, int], alpha: bool) -> bytes:
    buffer = io.BytesIO()
    picture = Image.new("RGBA" if alpha else "RGB", size, (0, 0, 0, 0) if alpha else (250, 250, 250))
    picture.paste((200, 30, 30, 255)[: 4 if alpha else 3], box)
    picture.save(buffer, "PNG", dpi=dpi)
    return buffer.getvalue()


def test_transparent_margins_are_no_part_of_a_raster() -> None:
    work = painted(png((600, 400), (254, 254), (100, 50, 300, 250), True), "x.png")
    assert work.painted.size == pytest.approx((20, 20), abs=0.05)
    whole = painted(png((600, 400), (254, 254), (100, 50, 300, 250), False), "x.png")
    assert whole.painted.size == pytest.approx((60, 40), abs=0.01)


def test_a_ground_taken_away_is_none_either() -> None:
    data = png((600, 400), (254, 254), (100, 50, 300, 250), False)
    project = new_project(data, "x.png", tones=Tones(ground="outside"))
    assert project.designs[0].artwork.pictures[0].width_mm == pytest.approx(20, abs=0.2)


@pytest.mark.parametrize("dpi", [(254, 127), (127, 254), (72, 36)])
def test_pixels_that_are_not_square_keep_their_proportions(dpi: tuple[float, float]) -> None:
    data = png((400, 400), dpi, (0, 0, 400, 400), False)
    work = painted(data, "x.png")
    wide, high = work.painted.size
    assert wide / high == pytest.approx(dpi[1] / dpi[0], rel=0.01)
    if max(dpi) > 100:
        assert (wide, high) == pytest.approx((400 / dpi[0] * 25.4, 400 / dpi[1] * 25.4), rel=0.01)
    assert "pixels-not-square" in [note.code for note in work.painted.notes]


def dxf(draw: object, units: int = 4) -> bytes:
    document = ezdxf.new(units=units)
    draw(document.modelspace())  # type: ignore[operator]
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode()


def plate(space: Modelspace) -> None:
    space.add_lwpolyline([(0, 0), (60, 0), (60, 40), (0, 40)], close=True)


def lines(space: Modelspace) -> None:
    corners = [(0, 0), (60, 0), (60, 40), (0, 40)]
    for _ in range(2):
        for one, other in zip(corners, [*corners[1:], corners[0]], strict=True):
            space.add_line(one, other)
            space.add_line(other, one)


TWICE = {
    "the same circle": lambda s: (plate(s), s.add_circle((30, 20), 10), s.add_circle((30, 20), 10)),
    "two arcs over a circle": lambda s: (
        plate(s), s.add_circle((30, 20), 10), s.add_arc((30, 20), 10, 17, 197), s.add_arc((30, 20), 10, 197, 17)),
    "an ellipse over a circle": lambda s: (plate(s), s.add_circle((30, 20), 10), s.add_ellipse((30, 20), (0, 10), 1.0)),
    "a plate three times": lambda s: (plate(s), plate(s), plate(s), s.add_circle((30, 20), 10)),
    "every line there and back": lambda s: (lines(s), s.add_circle((30, 20), 10)),
}  # fmt: skip


@pytest.mark.parametrize("name", TWICE)
def test_what_is_drawn_twice_in_a_dxf_is_there_once(name: str) -> None:
    work = painted(dxf(TWICE[name]), "x.dxf")
    assert len(work.outline.region.interiors) == 1
    assert work.outline.region.area == pytest.approx(2400 - 100 * math.pi, rel=1e-3)


def test_widths_of_polylines_are_drawn() -> None:
    def draw(space: Modelspace) -> None:
        plate(space)
        space.add_lwpolyline([(10, 10), (50, 10)], dxfattribs={"const_width": 3, "color": 1})
        space.add_lwpolyline([(10, 20, 4, 0), (50, 20, 0, 0)], dxfattribs={"color": 3})
        space.add_polyline2d([(10, 30), (30, 30)], dxfattribs={"default_start_width": 2, "default_end_width": 2, "color": 5})

    areas = {swatch.colour: swatch.region.area for swatch in painted(dxf(draw), "x.dxf").painted.swatches}
    assert areas["FF0000"] == pytest.approx(120)
    assert areas["00FF00"] == pytest.approx(80)
    assert areas["0000FF"] == pytest.approx(40)


def test_no_unit_is_told() -> None:
    work = painted(dxf(plate, units=0), "x.dxf")
    assert work.painted.size == pytest.approx((60, 40))
    assert "unit-not-stated" in [note.code for note in work.painted.notes]


CASES = Path(__file__).parents[1] / "data" / "cases"
SIZES = {
    "pie.dxf": (30, 38.45), "ellipse30.dxf": (54.08, 39.69), "bulgy.dxf": (72, 43.51), "nat_stroke.svg": (56, 26),
    "nat_curve.svg": (45, 30), "nat_clip.svg": (20, 10), "w4.svg": (4, 40), "w450.svg": (450, 40),
    "spline_closed.dxf": (37.12, 29.17), "spline_cl.dxf": (25.43, 54.89), "wide.dxf": (60, 40), "alpha254.png": (40, 30),
}  # fmt: skip


@pytest.mark.parametrize("name", SIZES)
def test_drawings_that_were_got_wrong_once(name: str) -> None:
    assert painted((CASES / name).read_bytes(), name).painted.size == pytest.approx(SIZES[name], abs=0.02)


def test_an_outline_is_taken_at_its_true_size(tmp_path: Path) -> None:
    project = new_project((CASES / "base.svg").read_bytes(), "base.svg")
    for name in ("pie.dxf", "nat_stroke.svg", "spline_closed.dxf"):
        changed = apply_edit(project, "take-outline", {"file": PictureFile(name, (CASES / name).read_bytes())})
        assert Compiler().on_demand(changed).outline.size == pytest.approx(SIZES[name], abs=0.02)


def basis(knots: np.ndarray, place: int, degree: int, at: float) -> float:
    """The B-spline basis as it is defined, by recursion."""
    if degree == 0:
        return float(knots[place] <= at < knots[place + 1])
    low = (at - knots[place]) / (knots[place + degree] - knots[place]) * basis(knots, place, degree - 1, at)
    high = knots[place + degree + 1]
    return low + (high - at) / (high - knots[place + 1]) * basis(knots, place + 1, degree - 1, at)


@settings(max_examples=40)
@given(st.integers(1, 5), st.integers(0, 6), st.booleans(), st.integers(0, 10_000))
def test_a_spline_agrees_with_its_definition(degree: int, more: int, rational: bool, seed: int) -> None:
    rng = np.random.default_rng(seed)
    count = degree + 1 + more
    controls = rng.uniform(-50, 50, (count, 2))
    knots = np.cumsum(rng.uniform(0.2, 1.5, count + degree + 1))
    weights = rng.uniform(0.5, 2, count) if rational else np.ones(count)
    line = LineString(flatten_cubics(*cubics(controls, knots, degree, weights), 0.001))
    for share in (0.0, 0.3, 0.71, 0.999):
        at = float(knots[degree] + (knots[count] - knots[degree]) * share)
        shares = np.array([basis(knots, place, degree, at) for place in range(count)]) * weights
        assert line.distance(Point(shares @ controls / shares.sum())) < 0.02
