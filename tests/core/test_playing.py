"""Compiled code makes what plain code makes: frames to a step of a colour, files to the byte."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LinearRing

from outlined_glow.core import compiled, kernels
from outlined_glow.core.board import light, lit_fields
from outlined_glow.core.board.glow import Exposed, expose, play
from outlined_glow.core.board.light import make_light
from outlined_glow.core.board.playing import Player, player
from outlined_glow.core.board.surface import make_surface
from outlined_glow.core.board.view import View
from outlined_glow.core.order.contours import contours
from outlined_glow.core.order.proof.digits import rows_of
from outlined_glow.core.project import Project
from outlined_glow.core.workshop import Compiler, Work, apply_values


def exposed_of(board: Any, side: str, px_per_mm: float, sun: float) -> Exposed:
    wide, high = board.size
    left = -2.0 if side == "front" else wide + 2
    view = View(side, px_per_mm, left, high + 2, 480, 360)
    return expose(make_surface(board, view), make_light(board, view), sun, "17141B", board)


@pytest.fixture(scope="module")
def two_colours(moth: Project) -> Any:
    """The moth with red LEDs in front beside its amber ones, and those behind its windows."""
    values = {"array": "red", "count": 5, "diameter_mm": 12.0, "x_mm": 30.0, "y_mm": 20.0, "emitter": "0805 red"}
    return Compiler().compile(apply_values(moth, "ring", values, (0.0, 0.0))).board


@pytest.fixture(params=["few", "many"])
def counted(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> str:
    """As boards of few LEDs are played, and as those of many."""
    if request.param == "many":
        monkeypatch.setattr(light, "FEW", 0)
        monkeypatch.setattr(lit_fields, "FEW", 0)
        monkeypatch.setattr(lit_fields, "_FAR_FEW", 0)
    return str(request.param)


@pytest.mark.usefixtures("counted")
@pytest.mark.parametrize("side", ["front", "back"])
@pytest.mark.parametrize(("px_per_mm", "sun"), [(5.0, 0.1), (9.0, 0.6), (24.0, 0.0)])
def test_frames_are_those_of_plain_code(two_colours: Any, side: str, px_per_mm: float, sun: float) -> None:
    assert kernels.load()
    exposed = exposed_of(two_colours, side, px_per_mm, sun)
    made = Player(exposed)
    dice = np.random.default_rng(3)
    lit = dice.random(len(two_colours.lights))
    for levels in (lit, np.where(lit > 0.5, lit, 0.0), np.zeros_like(lit), np.ones_like(lit), lit[:7], lit[:0]):
        apart = np.abs(made(levels).astype(int) - play(exposed, levels))
        assert apart.max() <= 4
        assert np.percentile(apart, 99) <= 1


@pytest.mark.usefixtures("counted")
@pytest.mark.parametrize(("side", "px_per_mm"), [("front", 8.0), ("back", 6.0), ("front", 24.0)])
def test_where_few_change_the_frame_is_that_of_all(two_colours: Any, side: str, px_per_mm: float) -> None:
    assert kernels.load()
    exposed = exposed_of(two_colours, side, px_per_mm, 0.1)
    goes_on, dice = Player(exposed), np.random.default_rng(7)
    levels = dice.random(len(two_colours.lights))
    for step in range(24):
        # One, some, none, all: brighter, dark, as they were.
        many = (1, 2, 0, 1, len(levels), 3)[step % 6]
        chosen = dice.choice(len(levels), many, replace=False)
        levels = levels.copy()
        levels[chosen] = dice.random(many) * (dice.random(many) > 0.3)
        now = goes_on(levels)
        apart = np.abs(now.astype(int) - Player(exposed)(levels))
        assert apart.max() <= 2
        assert (apart > 0).mean() < 0.002
        now[:] = 0  # what was handed out is no longer the player's own


@pytest.mark.parametrize("left", [0, 30, 70, 110])
def test_what_shines_through_ends_where_a_piece_does(two_colours: Any, left: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """A piece of the picture that lies beside, across and beyond what is clear is that of the whole."""
    assert kernels.load()
    exposed = exposed_of(two_colours, "front", 8.0, 0.1)
    clear = np.zeros_like(exposed.through)
    clear[:, 40:90] = 1e9
    exposed = replace(exposed, through=clear)
    whole, piece = Player(exposed), Player(exposed)
    levels = np.ones(len(two_colours.lights))
    whole(levels)
    piece(levels)
    monkeypatch.setattr(piece, "_changed", lambda shares: (20, 300, left, left + 40))
    now = piece(0.5 * levels)[20:300, left : left + 40]
    assert np.abs(now.astype(int) - Player(exposed)(0.5 * levels)[20:300, left : left + 40]).max() <= 1


def test_a_board_without_lights_plays_too(moth_work: Work) -> None:
    exposed = exposed_of(replace(moth_work.board, lights=()), "front", 6.0, 0.5)
    dark = np.zeros(0)
    assert np.abs(Player(exposed)(dark).astype(int) - play(exposed, dark)).max() <= 1


def test_plain_code_plays_until_the_compiled_is_there(moth_work: Work, monkeypatch: pytest.MonkeyPatch) -> None:
    exposed = exposed_of(moth_work.board, "front", 6.0, 0.5)
    monkeypatch.setattr(compiled, "_KERNELS", [compiled.Kernel(len, "void()")])
    levels = np.full(len(moth_work.board.lights), 0.5)
    assert not compiled.loaded()
    assert np.array_equal(player(exposed)(levels), play(exposed, levels))
    monkeypatch.setattr(compiled.Kernel, "make", lambda self: 1 / 0)
    assert not compiled.load(), "a compiler that fails is no failure of the program"
    monkeypatch.undo()
    assert kernels.load()
    assert isinstance(player(exposed), Player)


@settings(max_examples=40)
@given(st.integers(0, 9999), st.floats(0.01, 900), st.booleans())
def test_text_and_numbers_are_the_same_to_the_byte(seed: int, size: float, filled: bool) -> None:
    dice = np.random.default_rng(seed)
    rings = np.array([LinearRing(dice.uniform(-size, size, (dice.integers(3, 30), 2)).round(4)) for _ in range(12)], object)
    assert kernels.load()
    text = contours(rings, filled)
    block = text.replace("G36*", "").replace("G37*", "")
    rows = rows_of(block)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(compiled, "_KERNELS", [compiled.Kernel(len, "void()")])
        assert contours(rings, filled) == text
        plain = rows_of(block)
    assert rows is not None
    assert plain is not None
    assert np.array_equal(rows, plain)


@pytest.mark.parametrize(
    "odd", ["", "X1Y2D01", "X1Y2*", "Y1X2D01*", "X1Y2D01*G04*", "X-Y2D01*", "X1Y2D01*é", "X" + "9" * 18 + "Y0D01*"]
)
def test_what_is_no_plain_run_is_left_to_the_careful_reader(odd: str) -> None:
    assert kernels.load()
    compiled_rows = rows_of(odd)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(compiled, "_KERNELS", [compiled.Kernel(len, "void()")])
        plain = rows_of(odd)
    assert (compiled_rows is None) == (plain is None)


def test_light_of_the_other_side_falls_beside_the_board(sign: Project) -> None:
    """Seen from the back, an LED in front lights what the board lies on, and nothing of the board; by the square of 6 mm."""
    values = {"x_mm": 20.0, "y_mm": 29.5, "emitter": "0805 red"}
    board = Compiler().compile(apply_values(sign, "single", values, (0.0, 0.0))).board
    for side, seen in (("back", True), ("front", False)):
        exposed = exposed_of(board, side, 8.0, 0.0)
        fields = exposed.light.fields(np.ones(1), exposed.light.colours[0])
        assert ("beyond" in fields) == seen
        assert ("on" in fields) != seen
    exposed = exposed_of(board, "back", 8.0, 0.0)
    brighter = play(exposed, np.ones(1)).astype(int) - play(exposed, np.zeros(1))
    surface = make_surface(board, exposed.view)
    assert brighter[..., 0][surface.cover < 0.01].max() > 0
    assert brighter[surface.cover > 0.99].max() == 0
    field = exposed.light.fields(np.ones(1), exposed.light.colours[0])["beyond"]
    spot = board.lights[0]
    x, y = exposed.view.to_px(np.array([[spot.x, spot.y]]))[0].astype(int)
    under, beside = field[y, x], field[y, x + 48]
    assert under == pytest.approx(spot.mcd * 0.0045 / 36, rel=0.03)
    assert beside == pytest.approx(under / 4, rel=0.08), "as far beside as behind: a quarter"
