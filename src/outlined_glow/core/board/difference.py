"""Where the board differs from its picture, and by how much: CIEDE2000 by day, place by place."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from ..artwork import Painted
from ..colour import ciede2000, hex_to_rgb, rgb_to_lab
from .draw import BENCH, draw_picture
from .glow import Pixels
from .model import Board
from .surface import share
from .view import View, coverage

#: A difference from which on it is shown at its fullest.
_FULL = 40.0
#: From no difference to a full one.
_SCALE = ("3A3542", "8A6B3A", "F2B24A", "FF7F66", "FFE3DC")


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


def difference_map(painted: Painted, board: Board, view: View) -> Pixels:
    """A picture (h, w, 3) of the differences where something is painted, on the ground of the bench."""
    small = View(view.side, view.px_per_mm / 2, view.left, view.top, max(1, view.width // 2), max(1, view.height // 2))
    paper = "000000"
    one = draw_picture(painted, board.origin, small, paper)
    other = flat_board(board, small, paper)
    far = ciede2000(rgb_to_lab(one), rgb_to_lab(other))
    drawn = np.asarray(share(coverage(board.layer("core"), small)))
    steps = np.array([hex_to_rgb(colour) for colour in _SCALE], float)
    places = np.clip(far / _FULL, 0, 1) * (len(steps) - 1)
    tones = np.stack([np.interp(places, np.arange(len(steps)), steps[:, channel]) for channel in range(3)], axis=-1)
    seen = (one.max(axis=2) > 0) & (drawn > 0.5)
    out = np.where(seen[..., None], tones, np.array(hex_to_rgb(BENCH), float))
    return np.asarray(cv2.resize(out.astype(np.uint8), (view.width, view.height), interpolation=cv2.INTER_LINEAR))
