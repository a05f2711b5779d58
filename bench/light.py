"""The light: frames of a playing pattern, and how far they are from the direct sum."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import partial
from typing import Any

import cv2
import numpy as np
from timing import Row, cpu

from outlined_glow.core import compiled
from outlined_glow.core.board.glow import Exposed, expose, play
from outlined_glow.core.board.light import PER_MCD, make_light
from outlined_glow.core.board.model import LightSpot
from outlined_glow.core.board.playing import Player
from outlined_glow.core.board.surface import make_surface
from outlined_glow.core.board.view import View
from outlined_glow.core.lights.footprint import FRONT_HEIGHT_MM, footprint
from outlined_glow.core.workshop import Compiler, apply_values, new_project
from outlined_glow.core.workshop.demos import demo_project

_PLAIN = (
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 160 100" width="160mm" height="100mm">'
    '<rect width="160" height="100" fill="#17141B"/></svg>'
)
_COUNTS = {300: (15, 20, 6.0), 1024: (32, 32, 2.8)}


def lit_board(rows: int, columns: int, pitch: float) -> Any:
    """A plain board with a grid of amber LEDs."""
    project = new_project(_PLAIN.encode(), "plain.svg", width_mm=160)
    values = {"array": "grid", "rows": rows, "columns": columns, "pitch_x_mm": pitch * 1.5, "pitch_y_mm": pitch,
              "x_mm": 80.0, "y_mm": 50.0, "emitter": "0402 amber"}  # fmt: skip
    return Compiler().compile(apply_values(project, "grid", values, (0, 0)))


def _thick(lights: tuple[LightSpot, ...], many: int) -> Iterator[LightSpot]:
    """So many lights, those of a board again and again, each round a little aside."""
    for at in range(many):
        one, turn = lights[at % len(lights)], at // len(lights)
        yield replace(one, index=at + 1, x=one.x + 0.37 * (turn % 4), y=one.y + 0.31 * (turn // 4))


def _whole(board: Any, width: int = 1280, height: int = 800) -> View:
    scale = min((width - 40) / board.size[0], (height - 40) / board.size[1])
    left, top = (board.size[0] - width / scale) / 2, (board.size[1] + height / scale) / 2
    return View("front", scale, left, top, width, height)


def _floor(view: View) -> float:
    table = np.arange(65536, dtype=np.uint16).astype(np.uint8)
    flat = np.full((view.height, view.width * 3), 7.0, np.float32)
    return cpu(lambda: cv2.LUT(cv2.multiply(flat, 900.0, dtype=cv2.CV_16U), table), 4)  # type: ignore[call-overload]


def _turn(player: Player, levels: np.ndarray, turns: Iterator[int]) -> None:
    """A frame that is not the one before."""
    player(levels * (1 - 0.1 * (next(turns) % 2)))


def _direct_error(board: Any, exposed: Exposed, levels: np.ndarray) -> float:
    """What 99 % of pixels stay within, % of the brightest: the light falling on the board against the sum over all LEDs."""
    view = exposed.view
    field = exposed.light.fields(levels, exposed.light.colours[0]).get("on")
    assert field is not None
    seen = cv2.resize(field, (view.width, view.height))
    x, y = np.meshgrid((np.arange(view.width) + 0.5), (np.arange(view.height) + 0.5))
    direct = np.zeros(seen.shape)
    for spot, level in zip(board.lights, levels, strict=True):
        px, py = view.to_px(np.array([[spot.x, spot.y]]))[0]
        far = np.hypot(x - px, y - py).astype(np.float32) / np.float32(view.px_per_mm)
        direct += level * footprint(far, FRONT_HEIGHT_MM) * spot.mcd * PER_MCD
    return float(np.percentile(np.abs(seen - direct), 99) / direct.max() * 100)


def rows() -> list[Row]:
    """Frames of 1280 x 800 against multiplying and looking up the same number of pixels."""
    compiled.load()
    out = []
    boards = {20: Compiler().compile(demo_project("moth")).board}
    boards |= {count: lit_board(*size).board for count, size in _COUNTS.items()}
    for count, board in boards.items():
        view = _whole(board)
        exposed = expose(make_surface(board, view), make_light(board, view), 0.2, "17141B", board)
        levels = np.linspace(0.1, 1, len(board.lights))
        player, turns = Player(exposed), iter(range(10_000))
        # By turns, for a machine is now quicker, now slower.
        pairs = [(_floor(view), cpu(partial(_turn, player, levels, turns), 4)) for _ in range(6)]
        floor, frame = (min(column) for column in zip(*pairs, strict=True))
        plain = cpu(partial(play, exposed, levels), 6)
        goal = {20: 1.5, 1024: 3.0}.get(count)
        note = f"{frame * 1000:.0f} ms of CPU; in plain code {plain / floor:.1f}"
        out.append(Row("light", f"frame with {count:,} LEDs / multiply and look-up", frame / floor, goal, note=note))
    whole = frame

    def few() -> None:
        # Eight rows of eight that lie together, now here, now there.
        at = next(turns)
        some = levels.copy()
        some[(np.arange(8)[:, None] * 32 + np.arange(8) + 32 * (at % 3)).ravel()] = 0.1 + 0.2 * (at % 4)
        player(some)

    few()
    out.append(Row("light", "frame with 64 of 1,024 LEDs changed / one with all", cpu(few, 8) / whole, 0.7))
    many = replace(board, lights=tuple(_thick(board.lights, 10_000)))
    crowd = Player(expose(make_surface(many, view), make_light(many, view), 0.2, "17141B", many))
    thick = np.linspace(0.1, 1, len(many.lights))
    spent = cpu(lambda: crowd(thick * (1 - 0.1 * (next(turns) % 2))), 4)
    out.append(Row("light", "frame with 10,000 LEDs / one with 1,024", spent / whole, 4, note=f"{spent * 1000:.0f} ms of CPU"))
    error = _direct_error(board, exposed, levels)
    out.append(Row("light", "error of 1,024 LEDs, 99 % of pixels, of the brightest", error, 0.6, "%", "footprint height 1 mm"))
    return out
