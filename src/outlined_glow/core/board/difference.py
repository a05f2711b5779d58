"""Where the board differs from its picture, and by how much: CIEDE2000 by day, place by place."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from ..artwork import Chosen, Painted
from ..colour import ciede2000, hex_to_rgb, rgb_to_lab
from ..geometry.regions import polygons
from .draw import BENCH, draw_picture
from .flat import flat_board
from .glow import Pixels
from .model import Board
from .surface import share
from .view import View, coverage

#: A difference worth a ring, and how many places of one colour get theirs.
_WORTH, _PLACES = 5.0, 4
#: A difference from which on it is shown at its fullest.
_FULL = 40.0
#: From no difference to a full one.
_SCALE = ("3A3542", "8A6B3A", "F2B24A", "FF7F66", "FFE3DC")


@dataclass(frozen=True)
class Differing:
    """A colour of the picture that the board does not meet: how far off (CIEDE2000), and its largest places, each with
    the radius of a ring round it (board frame, mm)."""

    colour: str
    far: float
    places: tuple[tuple[float, float, float], ...]


def differ_most(chosen: Sequence[Chosen], origin: tuple[float, float], side: str, most: int = 5) -> tuple[Differing, ...]:
    """The colours of a side that differ most from what they became, the farthest first."""
    rows = [one for one in chosen if one.side == side and one.difference >= _WORTH and not one.region.is_empty]
    rows.sort(key=lambda one: -one.difference)
    out = []
    for one in rows[:most]:
        parts = sorted(polygons(one.region), key=lambda part: -part.area)[:_PLACES]
        spots = [(part.representative_point(), part.area) for part in parts if part.area >= 0.1 * parts[0].area]
        places = tuple(
            (spot.x - origin[0], spot.y - origin[1], min(6.0, max(1.2, 1.3 * math.sqrt(area / math.pi))))
            for spot, area in spots
        )
        out.append(Differing(one.colour, one.difference, places))
    return tuple(out)


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
