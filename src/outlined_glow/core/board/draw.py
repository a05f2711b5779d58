"""Pictures of a board: in its materials under any light, and single layers."""

from __future__ import annotations

import io
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..artwork import Painted
from ..colour.difference import hex_to_rgb
from ..errors import Trouble
from ..geometry.valid import shifted
from .glow import Pixels, frame
from .light import make_light
from .model import LAYERS, Board
from .surface import make_surface, share, window
from .view import View, coverage, whole_view

BENCH = "17141B"
#: The usual scale of a picture, and the pixels it may have unless more are asked for.
PX_PER_MM, USUAL_PIXELS = 12.0, 8e6

#: A flat tint for each leaf (DESIGN 5).
TINTS = {
    "front paste": "9AA3AD",
    "front legend": "F2EBDD",
    "front mask": "6FD3B8",
    "front copper": "E8A33D",
    "core": "B5A766",
    "back copper": "A063C9",
    "back mask": "6FD3B8",
    "back legend": "F2EBDD",
    "back paste": "9AA3AD",
    "drills": "8FEBD8",
}


def draw_board(
    board: Board,
    *,
    side: str = "front",
    sun: float = 1.0,
    px_per_mm: float = PX_PER_MM,
    levels: NDArray[np.float64] | None = None,
    background: str = BENCH,
) -> Pixels:
    """The whole board (h, w, 3) with the same margin all round."""
    return draw_hours(board, (sun,), side=side, px_per_mm=px_per_mm, levels=levels, background=background)[0]


def draw_hours(
    board: Board,
    suns: Sequence[float],
    *,
    side: str = "front",
    px_per_mm: float = PX_PER_MM,
    levels: NDArray[np.float64] | None = None,
    background: str = BENCH,
) -> list[Pixels]:
    """The whole board at several hours: the materials are laid once, the light changes."""
    view = whole_view(board.size, side, px_per_mm)
    lit = np.ones(len(board.led_indices)) if levels is None else levels
    surface, light = make_surface(board, view), make_light(board, view)
    return [frame(surface, light, lit, sun, background, board) for sun in suns]


def draw_leaf(board: Board, leaf: str, view: View, background: str = BENCH) -> Pixels:
    """One layer alone in its tint, over a faint shape of the board."""
    if leaf not in LAYERS:
        raise Trouble(f"There is no leaf “{leaf}”; there are {', '.join(LAYERS)}.")
    ground = np.array(hex_to_rgb(background), np.float32)
    shape = np.clip(ground * 1.0 + (255 - ground) * 0.07, 0, 255)
    out = np.broadcast_to(ground, (view.height, view.width, 3)).copy()
    core = coverage(board.layer("core"), view)[..., None].astype(np.float32) / 255
    out += (shape - out) * core
    region = coverage(board.layer(leaf), view)[..., None].astype(np.float32) / 255
    out += (np.array(hex_to_rgb(TINTS[leaf]), np.float32) - out) * region
    return np.round(out).astype(np.uint8)


def draw_picture(painted: Painted, origin: tuple[float, float], view: View, paper: str = "F1E9D8") -> Pixels:
    """The pictures of the side in view, in their own colours on paper, on the board whose frame begins at `origin`."""
    ground = np.array(hex_to_rgb(paper), np.float32)
    # Colour by colour: numpy takes a loop over three channels of a pixel five times as long.
    out = np.broadcast_to(ground[:, None, None], (3, view.height, view.width)).copy()
    for swatch in (one for one in painted.swatches if one.side == view.side):
        region = shifted(swatch.region, -origin[0], -origin[1])
        place = None if region.is_empty else window(view, region.bounds)
        if place is None:
            continue
        cover = share(coverage(region, view)[place])
        for channel, value in zip(out, hex_to_rgb(swatch.colour), strict=True):
            there = channel[place]
            there += (np.float32(value) - there) * cover
    return np.asarray(np.moveaxis(np.round(out).astype(np.uint8), 0, 2).copy())


def png(pixels: Pixels, px_per_mm: float | None = None) -> bytes:
    """A PNG without dates, with its resolution if given: the same pixels give the same bytes."""
    buffer = io.BytesIO()
    dpi = {} if px_per_mm is None else {"dpi": (px_per_mm * 25.4, px_per_mm * 25.4)}
    Image.fromarray(pixels).save(buffer, "PNG", **dpi)
    return buffer.getvalue()


def thumbnail(board: Board, width: int = 320, height: int = 240, sun: float = 0.35) -> bytes:
    """A small picture of the board at dusk, as PNG."""
    scale = min(width / (board.size[0] + 4), height / (board.size[1] + 4))
    view_w, view_h = width / scale, height / scale
    view = View("front", scale, (board.size[0] - view_w) / 2, (board.size[1] + view_h) / 2, width, height)
    return png(frame(make_surface(board, view), make_light(board, view), np.ones(len(board.led_indices)), sun, BENCH, board))
