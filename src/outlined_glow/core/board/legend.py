"""The legends: polarity marks in front; designators, values, polarity and the board's name on the back."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np
from shapely.geometry.base import BaseGeometry

from ..geometry.offset import grow
from ..geometry.regions import EMPTY, added, minus, polygons, region_of, union, union_of_many
from ..geometry.valid import shifted
from ..lettering import missing_letters, placed, text_region
from ..parts import PlacedPart, Profile
from ..project import LabelPlace
from ..shape import HOLE_CLEARANCE_MM
from .free_words import Words
from .labels import WEIGHT, LabelSpot, from_behind, label_height, place_labels
from .polarity_marks import off_openings, polarity_marks

_MARK_REACH_MM = 8.0


class Mark(NamedTuple):
    """A word that is printed behind a place of the board, mm."""

    word: str
    x: float
    y: float


def front_legend(
    printed: BaseGeometry, area: BaseGeometry, openings: Sequence[BaseGeometry], parts: tuple[PlacedPart, ...], profile: Profile
) -> BaseGeometry:
    """Art ink as it is printed, and polarity marks within the `area` that takes ink, clear of every opening and hole too."""
    marks = polarity_marks((part for part in parts if part.side == "front"), area, openings, profile)
    return added(printed, union_of_many(marks)) if marks else printed


def back_legend(
    board: BaseGeometry,
    area: BaseGeometry,
    openings: BaseGeometry,
    holes: BaseGeometry,
    parts: tuple[PlacedPart, ...],
    marks: tuple[Mark, ...],
    name: str,
    drawn: BaseGeometry,
    profile: Profile,
    by_hand: Sequence[LabelPlace] = (),
) -> tuple[BaseGeometry, Mapping[str, LabelSpot]]:
    """Designators with values where they fit, polarity bars, `marks`, the board's name, all read from behind, and what is
    `drawn`; and where the label of each part is. Those put `by_hand` come first. `area` is what of the board takes ink.

    A board without parts has nothing to tell apart: its back shows only what is drawn there.
    """
    if not profile.has_legend:
        return EMPTY, {}
    if not parts:
        return minus(drawn, off_openings(openings, profile)), {}
    height = label_height(profile)
    behind = [part for part in parts if part.side == "back"]
    pegs = [peg for part in parts for peg in part.pegs(HOLE_CLEARANCE_MM)]
    pulled = union([off_openings(openings, profile), *pegs])
    bars = polarity_marks(behind, area, (openings, *pegs), profile)
    blocked = [grow(openings, profile.legend_gap_mm + 0.05), holes, *pegs, grow(drawn, 0.3)]
    blocked += [part.court() for part in behind] + [grow(bar, 0.15) for bar in bars]
    words = Words(grow(board, -0.4), blocked)
    spots = place_labels(behind, by_hand, height, words)
    for mark in marks:
        _mark(mark, height, words)
    _title(name, height, words)
    signs = [sign for part in parts if part.part.legend == "signs" for sign in supply_signs(part)]
    # Words are set apart from one another, so they need no union.
    own = added(region_of(part for word in words.set for part in polygons(word)), union_of_many([*bars, *signs]))
    printed = own if drawn.is_empty else union([minus(drawn, grow(own, 0.15)), own])
    return minus(printed, pulled), spots


def _mark(mark: Mark, height: float, words: Words) -> None:
    """A word behind its place, or as near as there is room."""
    word = from_behind(mark.word, height, 0.0)
    left, bottom, right, top = word.bounds
    turns = np.linspace(0, 2 * np.pi, 16, endpoint=False)
    round_it = np.column_stack([np.cos(turns), np.sin(turns)])
    moves = np.vstack([np.zeros((1, 2)), *(radius * round_it for radius in np.arange(0.5, _MARK_REACH_MM, 0.5))])
    words.set_first(word, moves + np.array([mark.x - (left + right) / 2, mark.y - (bottom + top) / 2]), 0.1)


def supply_signs(part: PlacedPart) -> list[BaseGeometry]:
    """Minus and plus of a supply, printed beside the pads that a lead or an end of a cell comes to; on bare discs there is no
    room for one."""
    a = math.radians(part.angle_deg)
    out = []
    for pad in part.part.pads:
        if pad.shape == "round":
            continue
        pin = part.part.pin(pad.pin)
        sign = "–" if pin.role == "ground" or pin.name == "-" else "+"
        inward = -math.copysign(pad.width_mm / 2 + 1.3, pad.x_mm)
        at = pad.x_mm + (inward if part.part.height_mm > 0 else -inward)
        x, y = part.x + at * math.cos(a), part.y + at * math.sin(a)
        word = text_region(sign, 1.6, weight=WEIGHT)
        left, bottom, right, top = word.bounds
        out.append(placed(shifted(word, -(left + right) / 2, -(bottom + top) / 2), x, y, 0.0, mirrored=True))
    return out


def _title(name: str, least: float, words: Words) -> None:
    """The board's name as large as fits, low in the middle of the back."""
    if words.ground.is_empty or missing_letters(name, WEIGHT):
        return
    left, bottom, right, top = words.ground.bounds
    for height in (*(one for one in (2.2, 1.6, 1.2) if one > least), least):
        word = text_region(name, height, weight=WEIGHT)
        if word.is_empty:
            return
        word = placed(word, 0, 0, 0.0, mirrored=True)
        wide = word.bounds[2] - word.bounds[0]
        rows = np.arange(bottom + 0.5, top - height, 0.4)
        moves = [((left + right) / 2 + dx, y) for y in rows for dx in (0.0, wide * 0.3, -wide * 0.3)]
        if moves and words.set_first(word, np.array(moves), 0.3):
            return
