"""The board in the plain colours of its materials: to be compared with its picture, and to see art enlarged."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..colour import hex_to_rgb
from .draw import BENCH, png
from .glow import Pixels
from .model import Board
from .surface import share
from .view import View, coverage


def flat_board(board: Board, view: View, paper: str) -> Pixels:
    """The board in the plain colours of its materials, without light or parts."""
    look, side = board.materials, view.side

    def cover(name: str) -> NDArray[np.float32]:
        return np.asarray(share(coverage(board.layer(name), view)))[..., None]

    def laid(base: NDArray[np.float32], colour: str, amount: NDArray[np.float32]) -> NDArray[np.float32]:
        return np.asarray(base + (np.array(hex_to_rgb(colour), np.float32) - base) * amount, np.float32)

    whole = np.broadcast_to(np.array(hex_to_rgb(look.mask), np.float32), (view.height, view.width, 3)).astype(np.float32)
    copper, opening = cover(f"{side} copper"), cover(f"{side} mask")
    out = laid(whole, look.raised, copper)
    bare = laid(np.broadcast_to(np.array(hex_to_rgb(look.laminate), np.float32), whole.shape), look.metal, copper)
    out = out + (bare - out) * opening
    out = laid(out, look.ink, cover(f"{side} legend") * (1 - opening))
    paper_ = np.array(hex_to_rgb(paper), np.float32)
    return np.round(paper_ + (out - paper_) * cover("core")).astype(np.uint8)


def closeup(board: Board, side: str, x: float, y: float, wide_mm: float, px: int) -> bytes:
    """A square picture of the art about a place of the board frame, as PNG."""
    half = wide_mm / 2
    view = View(side, px / wide_mm, x - half if side == "front" else x + half, y + half, px, px)
    return png(flat_board(board, view, BENCH))
