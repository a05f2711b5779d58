"""The layers by the rules, the parts in their places, and the pictures the core draws."""

from __future__ import annotations

import io

import numpy as np
import pytest
from drawings import SIGN
from PIL import Image
from shapely.geometry import Point, box

from outlined_glow.core.artwork.words import words_region
from outlined_glow.core.board.difference import differ_most
from outlined_glow.core.board.draw import draw_board, draw_leaf, png, thumbnail
from outlined_glow.core.board.flat import closeup
from outlined_glow.core.board.glow import UNIT, develop, exposure, sun_strength
from outlined_glow.core.board.probe import material_at
from outlined_glow.core.board.surface import make_surface
from outlined_glow.core.board.view import View, coverage, fitting_scale, whole_view
from outlined_glow.core.colour import hex_to_rgb
from outlined_glow.core.errors import Trouble
from outlined_glow.core.geometry.offset import grow
from outlined_glow.core.geometry.regions import common, minus
from outlined_glow.core.geometry.valid import shifted
from outlined_glow.core.lettering import text_region
from outlined_glow.core.order import make_package
from outlined_glow.core.order.proof.compare import prove_files
from outlined_glow.core.project import Project
from outlined_glow.core.project.param import PictureFile
from outlined_glow.core.workshop import Compiler, Work, apply_values


def edited(project: Project, *steps: tuple[str, dict]) -> Work:  # type: ignore[type-arg]
    """A project after edits whose places are in the picture frame, compiled."""
    for name, values in steps:
        project = apply_values(project, name, values, (0.0, 0.0))
    return Compiler().compile(project)


def at(work: Work, x: float, y: float) -> Point:
    """A place of the picture frame in the board frame."""
    ox, oy = work.board.origin
    return Point(x - ox, y - oy)


def test_each_appearance_makes_its_layers(sign: Project) -> None:
    board = (work := edited(sign)).board
    metal, ink, window, raised, mask = (at(work, x, y) for x, y in ((10, 30), (35, 30), (50, 12), (20, 10), (55, 35)))
    has = {name: board.layer(name).contains for name in board.layers}
    assert [has["front copper"](p) for p in (metal, ink, window, raised, mask)] == [True, False, False, True, False]
    assert [has["front mask"](p) for p in (metal, ink, window, raised, mask)] == [True, False, True, False, False]
    assert [has["front legend"](p) for p in (metal, ink, window, raised, mask)] == [False, True, False, False, False]
    assert [has["back mask"](p) for p in (metal, ink, window, raised, mask)] == [False, False, True, False, False]
    for empty in ("back copper", "front paste", "back paste", "back legend", "drills"):
        assert board.layer(empty).is_empty, "a new board has neither hole nor text"


def test_art_metal_is_edged_by_the_mask(sign: Project) -> None:
    board = (work := edited(sign)).board
    inside, outside = at(work, 4.05, 30), at(work, 3.95, 30)
    assert board.layer("front mask").contains(inside)
    assert not board.layer("front mask").contains(outside)
    assert board.layer("front copper").contains(outside), "copper reaches under the mask"
    assert not board.layer("front copper").contains(at(work, 3.85, 30))


def test_copper_keeps_the_edge_and_windows_clear_both_sides(sign: Project) -> None:
    work = edited(sign, ("set-border", {"border_mm": 0.0}), ("set-appearance", {"colour": "121212", "appearance": "raised"}))
    board = work.board
    assert board.layer("front copper").within(grow(board.outline, -board.profile.edge_routed_mm + 1e-3))
    for layer in ("front copper", "back copper"):
        assert common(board.layer(layer), board.windows).is_empty
    veiled = edited(sign, ("set-appearance", {"colour": "B5A766", "appearance": "veiled"})).board
    assert veiled.windows.is_empty
    assert common(veiled.layer("front mask"), veiled.veiled).is_empty
    assert common(veiled.layer("back mask"), veiled.veiled).area == pytest.approx(veiled.veiled.area)


def test_raised_copper_gives_way_to_pads_and_metal_does_not(sign: Project) -> None:
    on_raised = edited(sign, ("single", {"array": "a", "x_mm": 20.0, "y_mm": 11.0}))
    pads = [pad for pad in on_raised.board.pads if pad.side == "front"]
    assert len(pads) == 2
    for pad in pads:
        ring = grow(pad.polygon, 0.14).difference(pad.polygon.buffer(1e-6))
        assert common(on_raised.board.art_copper("front"), ring).is_empty
    found = {finding.code for finding in Compiler().findings(on_raised)}
    assert "led-on-metal" not in found
    compiler = Compiler()
    on_metal = edited(sign, ("single", {"array": "a", "x_mm": 12.0, "y_mm": 30.0}))
    stop = next(finding for finding in compiler.findings(on_metal) if finding.code == "led-on-metal")
    assert stop.severity == "stop"
    assert (stop.x_mm, stop.y_mm) == pytest.approx((12 + 1.6, 30 + 1.6))


def test_ink_keeps_off_openings_and_the_hole_clears_the_art(sign: Project) -> None:
    hole = {"diameter_mm": 4.0, "x_mm": 35.0, "y_mm": 30.0}
    board = (work := edited(sign, ("set-hole", hole))).board
    assert common(board.layer("front legend"), grow(board.layer("front mask"), 0.149)).is_empty
    assert not board.layer("front legend").contains(at(work, 35 + 2.2, 30))
    assert board.layer("front legend").contains(at(work, 35 + 2.4, 30))
    assert not board.layer("core").contains(at(work, 35, 30))
    assert board.holes[0].plated is False
    with pytest.raises(Trouble, match="both x and y"):
        edited(sign, ("set-hole", {"x_mm": 35.0}))


def test_reverse_mount_emitters_sit_behind_their_window(moth_work: Work) -> None:
    board = moth_work.board
    eyes = [spot for spot in board.lights if spot.group == "eyes"]
    assert len(eyes) == 4
    assert all(spot.side == "back" and spot.behind for spot in eyes)
    for spot in eyes:
        pads = [pad for pad in board.pads if pad.ref == f"D{spot.index}"]
        assert all(pad.side == "back" and board.layer("back mask").contains(pad.polygon) for pad in pads)
        assert not any(board.layer("front mask").contains(pad.polygon) for pad in pads if spot.y < 20)


def test_the_moth_is_as_it_should_be(moth_work: Work) -> None:
    board = moth_work.board
    assert board.size == pytest.approx((72.8, 56.3), abs=0.3)
    assert len(board.lights) == 20
    kinds = [part.part.kind for part in board.parts]
    assert (kinds.count("resistor"), kinds.count("holder"), kinds.count("chip")) == (23, 1, 1)
    assert all(part.side == "back" for part in board.parts if part.part.kind != "led")
    seated = [part for part in board.parts if part.side == "back"]
    courts = [part.court() for part in seated]
    for place, one in enumerate(courts):
        assert board.outline.contains(one.buffer(-1e-6))
        assert not any(one.intersects(other) for other in courts[place + 1 :])
    stops = [finding.code for finding in Compiler().findings(moth_work) if finding.severity == "stop"]
    assert stops == ["not-wired"]


def test_a_coin_cell_lies_on_a_bare_disc_without_paste(sign: Project) -> None:
    work = edited(sign, ("single", {"array": "a", "x_mm": 7.0, "y_mm": 10.0}), ("set-supply", {"supply": "coin-2032"}))
    board = work.board
    holder = next(part for part in board.parts if part.part.kind == "holder")
    middle = Point(holder.x, holder.y)
    assert board.layer("back copper").contains(middle.buffer(5.99))
    assert board.layer("back mask").contains(middle.buffer(6.0))
    assert not board.layer("back paste").intersects(middle.buffer(5.99))
    pads = [pad for pad in board.pads if pad.ref == "BT1"]
    assert [pad.round for pad in pads] == [True, False, False]
    files = make_package(board, 4, "2026-01-01T00:00:00Z").files
    assert prove_files(files, "sign", board).differences == ()
    assert prove_files(files, "sign").differences == ()


def test_a_supply_without_room_is_a_stop(sign: Project) -> None:
    small = edited(
        sign, ("set-width", {"width_mm": 30.0}), ("single", {"array": "a", "x_mm": 10.0, "y_mm": 3.0}),
        ("set-supply", {"supply": "aa-alkaline", "cells": 2}),
    )  # fmt: skip
    assert "holder-without-place" in {finding.code for finding in Compiler().findings(small)}
    crowded = edited(
        sign, ("set-width", {"width_mm": 20.0}),
        ("grid", {"array": "g", "x_mm": 10.0, "y_mm": 6.0, "rows": 6, "columns": 8, "pitch_x_mm": 2.2, "pitch_y_mm": 1.5}),
        ("set-resistors", {"size": "1206"}),
    )  # fmt: skip
    found = {finding.code: finding for finding in Compiler().findings(crowded)}
    assert "resistor-without-place" in found
    assert found["parts-overlap"].severity == "stop"


def test_home_etch_has_neither_mask_nor_legend(sign: Project) -> None:
    work = edited(sign, ("set-profile", {"profile": "home-etch"}))
    assert {one.appearance for one in work.art.chosen} <= {"metal", "window"}
    assert work.board.layer("front legend").is_empty
    assert work.board.layer("front mask").area == pytest.approx(work.board.outline.area)


def test_bare_laminate_on_one_side_leaves_the_metal_on_the_other(sign: Project) -> None:
    home = edited(sign, ("set-profile", {"profile": "home-etch"}))
    metal = home.board.layer("front copper")
    assert metal.area > 1
    page = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M0 0h9v9h-9z" fill="#000"/></svg>'
    dark = ("add-picture", {"file": PictureFile("dark.svg", page), "side": "back", "width_mm": 60.0})
    both = edited(home.project, dark)
    assert {one.appearance for one in both.art.chosen if one.side == "back"} == {"window"}
    assert both.board.layer("front copper").symmetric_difference(metal).area < 1e-6
    printed = edited(sign, dark, ("set-appearance", {"colour": "000000", "appearance": "window"}))
    assert printed.board.layer("front copper").area < 0.5 * edited(sign).board.layer("front copper").area, "a window is one"


def test_an_edit_recomputes_only_what_it_touches(moth: Project) -> None:
    compiler = Compiler()
    first = compiler.compile(moth)
    same = compiler.compile(moth)
    assert same.board is first.board
    dimmed = compiler.compile(apply_values(moth, "set-pattern", {"period_s": 9.0}, (0, 0)))
    assert dimmed.painted is first.painted
    assert dimmed.outline is first.outline
    assert dimmed.board is first.board
    moved = compiler.compile(apply_values(moth, "set-current", {"current_a": 0.003}, (0, 0)))
    assert moved.flat is first.flat
    assert moved.leds is first.leds
    assert moved.plan is not first.plan


# -- pictures -------------------------------------------------------------------------------------------------------


def pixel(picture: np.ndarray, view: View, x: float, y: float) -> np.ndarray:
    px, py = view.to_px(np.array([[x, y]]))[0]
    return picture[int(py), int(px)].astype(int)


def test_materials_show_where_they_are(sign: Project) -> None:
    work = edited(sign)
    view = whole_view(work.board.size, "front", 10)
    day = draw_board(work.board, px_per_mm=10)
    assert day.shape == (view.height, view.width, 3)
    look = work.board.materials
    for (x, y), colour in {(10, 30): look.metal, (35, 30): look.ink, (50, 12): look.laminate, (58, 38): look.mask}.items():
        spot = at(work, x, y)
        wanted = np.array([int(colour[k : k + 2], 16) for k in (0, 2, 4)])
        assert np.abs(pixel(day, view, spot.x, spot.y) - wanted).max() < 42, colour


def test_front_and_back_have_one_size_and_night_is_darker(moth_work: Work) -> None:
    board = moth_work.board
    front, back = (draw_board(board, side=side, px_per_mm=6) for side in ("front", "back"))
    assert front.shape == back.shape == (round((board.size[1] + 6) * 6), round((board.size[0] + 6) * 6), 3)
    dark = draw_board(board, px_per_mm=6, sun=0.0, levels=np.zeros(20))
    assert dark.mean() < 0.5 * front.mean()


def test_only_the_lit_led_glows_and_windows_shine_through(moth_work: Work) -> None:
    board = moth_work.board
    view = whole_view(board.size, "front", 8)
    off = draw_board(board, px_per_mm=8, sun=0.1, levels=np.zeros(20)).astype(int)
    for spot in (board.lights[0], board.lights[16], board.lights[18]):
        one = np.zeros(20)
        one[spot.index - 1] = 1
        lit = draw_board(board, px_per_mm=8, sun=0.1, levels=one).astype(int)
        # A clear eye has a dark crescent in its middle: look beside it.
        beside = 1.6 if spot.index == 17 else 0.0
        assert (pixel(lit, view, spot.x + beside, spot.y) - pixel(off, view, spot.x + beside, spot.y)).max() > 40
        far = board.lights[5]
        assert np.abs(pixel(lit, view, far.x, far.y) - pixel(off, view, far.x, far.y)).max() < 12


def test_the_sun_falls_exponentially() -> None:
    assert sun_strength(1) == 1
    assert sun_strength(0) == pytest.approx(1 / 300)
    assert sun_strength(0.5) ** 2 == pytest.approx(sun_strength(0) * sun_strength(1))
    assert exposure(0) > exposure(0.5) > exposure(1) == 1


def test_the_shoulder_is_monotonic() -> None:
    ramp = np.linspace(0, 9, 3000, dtype=np.float32).reshape(1, -1) * np.float32(UNIT)
    shown = develop([ramp] * 3)[0, :, 0].astype(int)
    assert (np.diff(shown) >= 0).all()
    assert shown[0] == 0
    assert shown[-1] == 255


def test_coverage_measures_area() -> None:
    view = View("front", 10, 0, 10, 100, 100)
    covered = coverage(box(1.03, 2.01, 4.47, 7.77), view, 8).astype(float).sum() / 255 / 100
    assert covered == pytest.approx(3.44 * 5.76, rel=0.01)
    back = View("back", 10, 10, 10, 100, 100)
    assert coverage(box(0, 0, 1, 1), back)[95, 95] == 255
    zoomed = View("front", 4000, 5, 5, 100, 100)
    assert coverage(box(0, 0, 10, 10), zoomed).min() == 255


def test_leaves_and_hidden_layers(moth_work: Work) -> None:
    board = moth_work.board
    view = whole_view(board.size, "front", 5)
    copper = draw_leaf(board, "front copper", view)
    assert len(np.unique(copper.reshape(-1, 3), axis=0)) > 2
    with pytest.raises(Trouble):
        draw_leaf(board, "cream", view)
    bare = make_surface(board, view, hidden=frozenset({"front legend", "front mask"}))
    whole = make_surface(board, view)
    assert np.abs(bare.albedo - whole.albedo).max() > 0.2
    clear = make_surface(board, view, hidden=frozenset({"core"}))
    assert clear.cover.sum() < whole.cover.sum()


def test_the_probe_names_what_lies_there(moth_work: Work, sign: Project) -> None:
    work = edited(sign)
    names = [material_at(work.board, "front", at(work, x, y).x, at(work, x, y).y)
             for x, y in ((10, 30), (35, 30), (50, 12), (20, 10), (57, 37), (90, 90))]  # fmt: skip
    assert names == ["bare metal", "silkscreen ink", "light window", "mask over copper", "solder mask", ""]
    led = moth_work.board.lights[3]
    assert material_at(moth_work.board, "front", led.x, led.y) == "LED 4"
    hole = moth_work.board.holes[0]
    assert material_at(moth_work.board, "back", hole.x, hole.y) == "hole"


def test_words_have_their_height_and_pictures_their_bytes(moth_work: Work) -> None:
    word = text_region("HIT", 2.0)
    assert word.bounds[3] - word.bounds[1] == pytest.approx(2.0, abs=0.02)
    assert word.bounds[0] == pytest.approx(-word.bounds[2], abs=0.4)
    assert text_region("  ", 2).is_empty
    one = draw_board(moth_work.board, px_per_mm=3)
    assert png(one, 3) == png(draw_board(moth_work.board, px_per_mm=3), 3)
    assert thumbnail(moth_work.board)[:4] == b"\x89PNG"
    with pytest.raises(Trouble, match=r"36,540 x 36,540 pixels; ask for 0\.5 to 19 pixels"):
        whole_view((400, 400), "front", 90)
    for side in ((20.0, 30.0), (400.0, 400.0), (1000.0, 900.0)):
        scale = fitting_scale(side, 12.0, 8e6)
        assert scale == 12.0 or side[0] * side[1] * (scale + 0.1) ** 2 > 0.95 * 8e6
        assert side[0] * side[1] * scale**2 <= 8e6


@pytest.mark.parametrize("appearance", ["window", "veiled"])
@pytest.mark.parametrize("side", ["front", "back"])
def test_what_lets_light_through_clears_copper_mask_and_ink_on_both_sides(sign: Project, appearance: str, side: str) -> None:
    """Over ground of every other appearance, in front and behind; the veil is the mask of the side it is drawn on."""
    back = PictureFile("again.svg", SIGN)
    work = edited(
        sign,
        ("add-picture", {"file": back, "side": "back", "width_mm": 60.0}),
        ("add-words", {"text": "O", "height_mm": 9.0, "x_mm": 30.0, "y_mm": 15.0, "appearance": appearance, "side": side}),
    )
    board, light = work.board, work.board.windows if appearance == "window" else work.board.veiled
    letter = shifted(words_region(work.design.artwork.words[0], lambda path: None), -board.origin[0], -board.origin[1])
    assert letter.area > 5
    inside = grow(letter, -0.02)
    assert minus(inside, light).area < 0.02
    for one in ("front", "back"):
        assert common(board.layer(f"{one} copper"), inside).area < 1e-6, one
        assert common(board.layer(f"{one} legend"), inside).area < 1e-6, one
        opened = common(board.layer(f"{one} mask"), inside).area / inside.area
        assert opened == pytest.approx(float(appearance == "window" or one != side), abs=0.01), one


def test_the_colours_that_differ_most_are_ringed_where_they_are(sign: Project) -> None:
    work = edited(sign, ("set-appearance", {"colour": "D9B25A", "appearance": "ink"}))
    rows = differ_most(work.art.chosen, work.board.origin, "front")
    assert rows[0].colour == "D9B25A"
    assert [one.far for one in rows] == sorted((one.far for one in rows), reverse=True)
    gold = next(one for one in work.art.chosen if one.colour == "D9B25A")
    for x, y, radius in rows[0].places:
        assert gold.region.contains(Point(x + work.board.origin[0], y + work.board.origin[1]))
        assert 1 < radius <= 6
    assert differ_most(work.art.chosen, work.board.origin, "back") == ()


@pytest.mark.parametrize("side", ["front", "back"])
def test_a_place_enlarged_shows_what_is_there(sign: Project, side: str) -> None:
    work = edited(
        sign, ("add-words", {"text": "I", "height_mm": 12.0, "x_mm": 15.0, "y_mm": 5.0, "side": side, "appearance": "metal"})
    )
    dx, dy = work.board.origin
    pixels = np.asarray(Image.open(io.BytesIO(closeup(work.board, side, 15.0 - dx, 11.0 - dy, 1.0, 30))))
    assert pixels.shape == (30, 30, 3)
    assert tuple(pixels[15, 15]) == hex_to_rgb(work.board.materials.metal)
