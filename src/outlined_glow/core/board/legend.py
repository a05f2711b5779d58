"""The legends: polarity marks in front; designators, values, polarity and the board's name on the back."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..geometry.offset import grow
from ..geometry.regions import (
    EMPTY,
    added,
    minus,
    polygons,
    region_of,
    union,
    union_of_many,
)
from ..geometry.valid import shifted
from ..lettering import missing_letters, placed, text_region
from ..parts import PlacedPart, Profile
from ..project import LabelPlace
from ..project.bounds import MOST_LEDS
from ..shape import HOLE_CLEARANCE_MM
from ..watch import give_way
from .free_words import Words
from .polarity_marks import off_openings, polarity_marks

#: Capitals of labels, mm. Labels are set in bold, whose finest strokes are that share of it.
_CAPITALS_MM, _WEIGHT, _STROKE = 1.0, "bold", 0.15
_LABEL_GAP_MM, _MARK_REACH_MM = 0.35, 8.0


class Mark(NamedTuple):
    """A word that is printed behind a place of the board, mm."""

    word: str
    x: float
    y: float


class LabelSpot(NamedTuple):
    """Where the middle of a label is, mm; whether it stands on end, and whether that is as it was put by hand."""

    x: float
    y: float
    upright: bool
    by_hand: bool = False


def label_height(profile: Profile) -> float:
    """How high the capitals of labels are, so that the fabricator prints their finest strokes, mm."""
    return max(_CAPITALS_MM, profile.legend_height_mm, profile.legend_line_mm / _STROKE)


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
    spots: dict[str, LabelSpot] = {}
    hands = {one.part: one for one in by_hand}
    for part in (*(one for one in behind if one.ref in hands), *(one for one in behind if one.ref not in hands)):
        give_way()
        hand = hands.get(part.ref)
        if hand is None or hand.printed:
            found = (_put(part, height, words, hand) if hand is not None else None) or _label(part, height, words)
            if found is not None:
                spots[part.ref] = found
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
    word = _from_behind(mark.word, height, 0.0)
    left, bottom, right, top = word.bounds
    turns = np.linspace(0, 2 * np.pi, 16, endpoint=False)
    round_it = np.column_stack([np.cos(turns), np.sin(turns)])
    moves = np.vstack([np.zeros((1, 2)), *(radius * round_it for radius in np.arange(0.5, _MARK_REACH_MM, 0.5))])
    words.set_first(word, moves + np.array([mark.x - (left + right) / 2, mark.y - (bottom + top) / 2]), 0.1)


def _texts(part: PlacedPart) -> list[str]:
    """Reference and value of a part; the reference alone where there is no room for both."""
    return [f"{part.ref} {part.value}", part.ref] if part.part.labelled else [part.ref]


def _label(part: PlacedPart, height: float, words: Words) -> LabelSpot | None:
    """Reference and value beside a part, upright or along the board's height; else the reference alone; else nothing."""
    for text in _texts(part):
        for angle in (0.0, 90.0):
            word = _from_behind(text, height, angle)
            if words.set_first(word, _beside(part, word), 0.1):
                return LabelSpot(*words.latest, angle > 0)
    return None


def _put(part: PlacedPart, height: float, words: Words, hand: LabelPlace) -> LabelSpot | None:
    """The label where it was put by hand, if there is room."""
    for text in _texts(part):
        word = _from_behind(text, height, 90.0 if hand.upright else 0.0)
        left, bottom, right, top = word.bounds
        move = np.array([[hand.x_mm - (left + right) / 2, hand.y_mm - (bottom + top) / 2]])
        if words.set_first(word, move, 0.05):
            return LabelSpot(hand.x_mm, hand.y_mm, hand.upright, True)
    return None


@lru_cache(maxsize=2 * MOST_LEDS)
def _from_behind(text: str, height: float, angle_deg: float) -> BaseGeometry:
    """Words about the origin, to be read from behind. Remembered: a board has hundreds, and an edit changes few."""
    return placed(text_region(text, height, weight=_WEIGHT), 0, 0, angle_deg, mirrored=True)


def _beside(part: PlacedPart, word: BaseGeometry) -> NDArray[np.float64]:
    """Moves (8, 2) of a word to places round a part: above, below, beside, then the corners."""
    length, width = part.part.courtyard
    a = math.radians(part.angle_deg)
    half_w = abs(length / 2 * math.cos(a)) + abs(width / 2 * math.sin(a))
    half_h = abs(length / 2 * math.sin(a)) + abs(width / 2 * math.cos(a))
    left, bottom, right, top = word.bounds
    reach = (half_w + _LABEL_GAP_MM + (right - left) / 2, half_h + _LABEL_GAP_MM + (top - bottom) / 2)
    sides = np.array([(0, 1), (0, -1), (1, 0), (-1, 0), (1, 1), (-1, 1), (1, -1), (-1, -1)], float)
    return sides * reach + (part.x - (left + right) / 2, part.y - (bottom + top) / 2)


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
        word = text_region(sign, 1.6, weight=_WEIGHT)
        left, bottom, right, top = word.bounds
        out.append(placed(shifted(word, -(left + right) / 2, -(bottom + top) / 2), x, y, 0.0, mirrored=True))
    return out


def _title(name: str, least: float, words: Words) -> None:
    """The board's name as large as fits, low in the middle of the back."""
    if words.ground.is_empty or missing_letters(name, _WEIGHT):
        return
    left, bottom, right, top = words.ground.bounds
    for height in (*(one for one in (2.2, 1.6, 1.2) if one > least), least):
        word = text_region(name, height, weight=_WEIGHT)
        if word.is_empty:
            return
        word = placed(word, 0, 0, 0.0, mirrored=True)
        wide = word.bounds[2] - word.bounds[0]
        rows = np.arange(bottom + 0.5, top - height, 0.4)
        moves = [((left + right) / 2 + dx, y) for y in rows for dx in (0.0, wide * 0.3, -wide * 0.3)]
        if moves and words.set_first(word, np.array(moves), 0.3):
            return
