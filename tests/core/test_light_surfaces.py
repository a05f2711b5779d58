"""What light falls on, against rays thrown by chance and sums written here."""

from __future__ import annotations

import json
import math
from dataclasses import replace
from pathlib import Path

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import dblquad
from shapely import MultiPoint
from shapely.affinity import scale

from outlined_glow.cli.main import run
from outlined_glow.core.board.edge_lit import Sheet, entering_share, even_from, fluence, sheet_map, stray_share
from outlined_glow.core.board.light_map import ground_map, illuminance, light_map
from outlined_glow.core.board.model import LightSpot
from outlined_glow.core.errors import Trouble
from outlined_glow.core.parts import emitter
from outlined_glow.core.parts.emitter import emitter_of
from outlined_glow.core.parts.part import Light
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.project.storage import save
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.light_surfaces import Falls, covers, even_by_more, light_on, slots_of

RAYS = 3_000_000


def lamp(x: float, mcd: float = 500.0) -> LightSpot:
    return LightSpot(1, "", x, 0.0, "front", "g", emitter("0805 amber"), 0, "FFA726", mcd, 0.02, False)


def thrown(stands: list[float], mcd: float, sheet: Sheet, z: float, edges: np.ndarray) -> tuple[np.ndarray, float]:
    """Rays of a flat source (cosine law) thrown by chance, bent at the lower edge and followed in three dimensions: lumens by
    the width, the thickness and the slope of each, between the edges of cells (mm); and the share that enters."""
    chance = np.random.default_rng(4)
    cosine, turn = np.sqrt(chance.random(RAYS)), 2 * np.pi * chance.random(RAYS)
    sine = np.sqrt(1 - cosine**2)
    ray = np.stack([sine * np.cos(turn), sine * np.sin(turn), cosine])
    enters = np.abs(sheet.gap_mm * ray[1] / ray[2]) <= sheet.thickness_mm / 2
    ray = ray[:, enters]
    start = sheet.gap_mm * ray[0] / ray[2]
    inside = ray[:2] / sheet.refraction
    up = np.sqrt(1 - (inside**2).sum(axis=0))
    arrives = start + z * inside[0] / up
    lumens = math.pi * mcd / 1000 / RAYS
    area = np.diff(edges) / 1000 * sheet.thickness_mm / 1000
    found = sum(np.histogram(arrives + at, edges, weights=lumens / up)[0] for at in stands)
    return found / area, float(enters.mean())


@pytest.mark.parametrize("sheet", [Sheet(60.0), Sheet(80.0, 5.0, 2.0, "polycarbonate"), Sheet(40.0, 2.0, 1.0, "glass")])
def test_a_sheet_is_lit_as_rays_light_it(sheet: Sheet) -> None:
    stands = [-24.0, -12.0, 0.0, 12.0, 24.0]
    edges = np.arange(-30.0, 30.1, 2.0)
    for z in (4.0, 15.0, 35.0):
        told, share = thrown(stands, 500.0, sheet, z, edges)
        middles = (edges[:-1] + edges[1:]) / 2
        fine = (middles[:, None] + np.linspace(-0.9, 0.9, 10)).ravel()
        made = fluence([lamp(x) for x in stands], stands, sheet, fine, np.array([z]))[0].reshape(-1, 10).mean(axis=1)
        assert made == pytest.approx(told, rel=0.03)
        assert entering_share(60, sheet) == pytest.approx(share, rel=0.01)


def test_a_sheet_is_even_from_where_it_says() -> None:
    spots = [lamp(x) for x in (0.0, 12.0, 24.0, 36.0, 48.0)]
    whole = sheet_map(spots, Sheet(60.0))
    far = even_from(whole, 0.7)
    assert far is not None
    assert sheet_map(spots, Sheet(60.0), far + whole.step_mm).uniformity >= 0.69
    assert sheet_map(spots, Sheet(60.0), far - 3).uniformity < 0.7
    # Nearer LEDs make even sooner; a wider gap lets more of the light go past.
    near = even_from(sheet_map([lamp(x) for x in np.arange(0, 49, 4.0)], Sheet(60.0)), 0.7)
    assert near is not None
    assert near < far
    shares = [entering_share(60, Sheet(60.0, gap_mm=gap)) for gap in (0.2, 1.0, 3.0, 10.0)]
    assert shares == sorted(shares, reverse=True)
    with pytest.raises(Trouble, match="stand in a row"):
        sheet_map([lamp(0), lamp(9), LightSpot(2, "", 4, 9, "front", "g", emitter("0805 amber"), 0, "FFA726", 9, 0.02, False)],
                  Sheet(60.0))  # fmt: skip


def test_a_slot_lights_its_neighbour_as_the_integral_says() -> None:
    """Of a flat source: the flux into a strip y0 off is that of a double integral of cosines over the square of the way."""

    def into(middle: float, sheet: Sheet) -> float:
        half, gap = sheet.thickness_mm / 2, sheet.gap_mm
        flux, _ = dblquad(
            lambda x, y: gap * gap / (x * x + y * y + gap * gap) ** 2, middle - half, middle + half, -np.inf, np.inf
        )
        return float(flux)

    for sheet, beside in ((Sheet(60.0), 15.0), (Sheet(60.0, 5.0, 2.0), 8.0)):
        assert stray_share(60, sheet, beside) == pytest.approx(into(beside, sheet) / into(0.0, sheet), rel=1e-3)
        assert entering_share(60, sheet) == pytest.approx(into(0.0, sheet) / math.pi, rel=0.01)


def test_a_sheet_is_made_even_by_more_leds(sign: Project) -> None:
    values = {"array": "s", "x_mm": 20.0, "y_mm": 15.0, "slots": 2, "per_slot": 3, "pitch_mm": 16.0, "spacing_mm": 12.0}
    compiler = Compiler()
    before = apply_edit(sign, "slots", values)
    asked = Falls("sheet", sheet=Sheet(40.0), array="s", from_mm=8.0)
    lit = light_on(compiler.compile(before), asked)
    assert lit.beside is not None
    assert 0 < lit.beside < 0.01
    more = even_by_more(compiler.compile(before), "s", asked)
    assert more is not None
    after = compiler.compile(apply_edit(before, more[0], more[1]))
    assert after.design.lights[0].per_slot > 3
    assert even_by_more(after, "s", asked) is None


def test_side_on_leds_light_a_sheet_that_lies_before_them(sign: Project) -> None:
    values = {"array": "row", "x_mm": 20.0, "y_mm": 15.0, "length_mm": 24.0, "count": 4, "emitter": "side-on red"}
    row = apply_edit(sign, "line", values)
    asked = Falls("sheet", sheet=Sheet(40.0), array="row")
    lit = light_on(Compiler().compile(row), asked)
    assert lit.map.title.endswith("before the LEDs")
    above = light_on(Compiler().compile(apply_edit(sign, "line", {**values, "emitter": "0805 red"})), asked)
    assert above.map.title.endswith("above the LEDs")
    assert lit.map.lux / lit.map.most == pytest.approx(above.map.lux / above.map.most), "the same sheet"
    for turned, words in (((2,), "all shine the same way"), ((1, 2, 3, 4), "along their own row")):
        askew = apply_edit(row, "nudge", {"array": "row", "place": turned, "turn_deg": 90.0})
        with pytest.raises(Trouble, match=words):
            light_on(Compiler().compile(askew), asked)


@settings(max_examples=12)
@given(st.floats(2, 30), st.floats(0.5, 10), st.floats(0, 5), st.sampled_from(("acrylic", "glass")))
def test_no_more_leaves_a_sheet_than_enters(z: float, thick: float, gap: float, material: str) -> None:
    """What passes a height, by its slope, is what came in: all of it, for the faces keep it."""
    sheet = Sheet(60.0, thick, gap, material)
    x = np.linspace(-400, 400, 16_001)
    made = fluence([lamp(0, 1000)], [0.0], sheet, x, np.array([z]))[0]
    passed = float(np.trapezoid(made, x)) / 1000 * thick / 1000
    entered = math.pi * entering_share(60, sheet)
    # Slanted rays count by their slope, which is at most what refraction allows.
    assert 0.97 * entered <= passed <= entered / math.sqrt(1 - 1 / sheet.refraction**2) * 1.03


@pytest.mark.parametrize(("kind", "turn", "looks"), [("0805 amber", 0.0, (0, 0, 1)), ("side-on red", 0.0, (0, -1, 0)),
                                                     ("side-on red", 30.0, (0.5, -math.sqrt(0.75), 0))])  # fmt: skip
def test_the_ground_is_lit_by_the_cosines_of_both_ends(
    sign: Project, kind: str, turn: float, looks: tuple[float, float, float]
) -> None:
    values = {"x_mm": 20.0, "y_mm": 15.0, "rows": 2, "columns": 3, "emitter": kind, "angle_deg": turn}
    board = Compiler().compile(apply_edit(sign, "grid", values)).board
    made = ground_map(board, 250.0)
    for row, column in ((0, 0), (40, 20), (150, 3)):
        x, out = made.left + column * made.step_mm, made.top - row * made.step_mm
        total = 0.0
        for spot in board.lights:
            way = np.array([x - (spot.x - board.size[0] / 2), -(spot.y + 250.0), out]) / 1000
            length = np.linalg.norm(way)
            total += spot.mcd / 1000 * max(0.0, way @ looks / length) * (-way[1] / length) / length**2
        assert made.lux[row, column] == pytest.approx(total, rel=1e-9)


@pytest.mark.parametrize(
    ("asked", "told"),
    [
        (Falls("plane", 0.0), "distance from the LEDs"),
        (Falls("wall", math.nan), "distance from the LEDs"),
        (Falls("ground", -3.0), "board over the ground"),
        (Falls("sheet", sheet=Sheet(1e9)), "height"),
        (Falls("sheet", sheet=Sheet(60.0, 0.0)), "thickness"),
        (Falls("sheet", sheet=Sheet(60.0, 3.0, -1.0)), "LEDs to its edge"),
        (Falls("sheet", sheet=Sheet(60.0), from_mm=61.0), "engraved from” must be between 0 and 60 mm"),
    ],
)
def test_lengths_that_no_surface_has_are_told(sign: Project, asked: Falls, told: str) -> None:
    with pytest.raises(Trouble, match=told):
        light_on(Compiler().compile(sign), asked)


@pytest.mark.parametrize("shines", ["forward", "sideways"])
def test_the_narrowest_lens_right_under_it_gives_a_number(shines: str) -> None:
    plain = emitter("0805 amber").part
    light = Light((1.8, 2.0, 2.2), 100.0, "FFA726", half_angle_deg=1.01)
    kind = emitter_of("narrow", msgspec.structs.replace(plain, light=light, shines=shines))
    spot = LightSpot(1, "", 10.0, 10.0, "front", "g", kind, 0.0, "FFA726", 100.0, 0.02, False)
    lux = illuminance((spot,), np.array([[10.0, 10.0], [10.0, 9.0], [500.0, 500.0]]), 0.1)
    assert np.isfinite(lux).all()
    if shines == "forward":
        assert lux[0] == pytest.approx(100.0 / 1000 / 1e-4**2), "straight ahead: the intensity over the way squared"


def test_windows_covers_and_walls(sign: Project) -> None:
    window = apply_edit(sign, "set-appearance", {"colour": "B5A766", "appearance": "window"})
    behind = apply_edit(window, "single", {"x_mm": 20.0, "y_mm": 15.0, "emitter": "1206 reverse-mount amber"})
    work = Compiler().compile(behind)
    through = light_on(work, Falls("window")).map
    bare = light_map(work.board, 1.6, work.board.windows)
    assert through.mean == pytest.approx(bare.mean * 0.55 * math.exp(-1.6 / 2.2), rel=1e-6)
    beside = apply_edit(behind, "single", {"array": "before", "x_mm": 26.0, "y_mm": 15.0})
    both = Compiler().compile(beside)
    assert light_on(both, Falls("window")).map.mean == pytest.approx(through.mean, rel=0.01), (
        "what stands in front lights no window"
    )
    first, last = (
        light_map(
            replace(both.board, lights=tuple(one for one in both.board.lights if one.behind == so)), 9.0, both.board.outline
        )
        for so in (False, True)
    )
    dimmed = first.lux + 0.55 * math.exp(-1.6 / 2.2) * last.lux
    assert light_on(both, Falls("plane", 9.0)).map.lux == pytest.approx(dimmed), "the laminate takes its share"
    half = light_on(work, Falls("plane", 9.0, "lights", cover="milky resin")).map
    assert half.mean == pytest.approx(0.5 * light_on(work, Falls("plane", 9.0, "lights")).map.mean)
    assert "milk glass" in covers()
    with pytest.raises(Trouble, match="no cover “felt”"):
        light_on(work, Falls(cover="felt"))
    with pytest.raises(Trouble, match="shines to the back"):
        light_on(work, Falls("wall", 40.0))
    with pytest.raises(Trouble, match="through the windows"):
        light_on(Compiler().compile(apply_edit(beside, "remove-array", {"array": "single 1"})), Falls("window"))
    turned = Compiler().compile(apply_edit(behind, "single", {"array": "single 1", "side": "front"}))
    assert light_on(turned, Falls("wall", 40.0)).map.mean > 0
    assert slots_of(work.design.lights) == ()


@pytest.mark.parametrize(
    ("kind", "values"),
    [
        ("grid", {"x_mm": 20.0, "y_mm": 15.0, "rows": 2, "columns": 3, "pitch_x_mm": 14.0, "pitch_y_mm": 14.0}),
        ("line", {"x_mm": 20.0, "y_mm": 15.0, "length_mm": 34.0, "count": 4}),
        ("ring", {"x_mm": 20.0, "y_mm": 15.0, "diameter_mm": 24.0, "count": 4, "rings": 2, "step_mm": 2.0}),
        ("fill", {"path": "board", "pitch_mm": 11.0, "inset_mm": 4.0, "layout": "squares"}),
    ],
)
def test_the_edit_that_makes_a_light_even_does(sign: Project, kind: str, values: dict[str, object]) -> None:
    compiler = Compiler()
    before = apply_edit(sign, kind, {"array": "a", **values})
    work = compiler.compile(before)
    more = even_by_more(work, "a", Falls("plane", 5.0))
    if kind == "ring":  # its middle stays dark, however many stand round it
        assert more is None
        return
    assert more is not None
    after = compiler.compile(apply_edit(before, more[0], more[1]))
    assert len(after.leds) > len(work.leds) or kind == "fill", "a fill may set itself in differently"
    for one, even in ((work, False), (after, True)):
        ox, oy = one.board.origin
        hull = MultiPoint([(led.x - ox, led.y - oy) for led in one.leds]).convex_hull
        assert (light_map(one.board, 5.0, scale(hull, 0.6, 0.6)).uniformity >= 0.69) == even
    assert even_by_more(after, "a", Falls("plane", 5.0)) is None
    (x0, y0), (x1, y1) = (np.ptp([(led.x, led.y) for led in one.leds], axis=0) for one in (work, after))
    assert (x1, y1) == pytest.approx((x0, y0), abs=0.01 if kind != "fill" else 11)


def test_a_sheet_from_the_command_line(sign: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    values = {"array": "s", "x_mm": 20.0, "y_mm": 15.0, "slots": 2, "per_slot": 4, "pitch_mm": 8.0}
    path = tmp_path / "p.oglow"
    save(apply_edit(sign, "slots", values), path)
    told = []
    for slot in ("1", "2"):
        assert run(["light-map", str(path), "--on", "sheet", "--slot", slot, "--from", "10mm", "--json"]) == 0
        told.append(json.loads(capsys.readouterr().out))
    assert told[0]["uniformity"] == pytest.approx(told[1]["uniformity"], abs=1e-3)
    assert 0.5 < told[0]["enters"] < 1
    wrong = (("no slot 3", "--slot", "3"), ("no array “t”", "--array", "t"), ("no sheet of “jelly”", "--of", "jelly"))
    for words, *key in wrong:
        assert run(["light-map", str(path), "--on", "sheet", *key]) == 2
        assert words in capsys.readouterr().err
    assert run(["light-map", str(path), "--on", "ground", "--plane", "30cm", "-o", str(tmp_path / "g.png")]) == 0
    assert "on the ground, 300 mm below the board" in capsys.readouterr().out
