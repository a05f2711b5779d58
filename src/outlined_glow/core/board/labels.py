"""Labels of the parts behind: where each finds room beside its part, or where it was put by hand."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache, partial
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..lettering import placed, text_region
from ..parts import PlacedPart, Profile
from ..project import LabelPlace
from ..project.bounds import MOST_LEDS
from ..watch import give_way
from .free_words import Words

#: Capitals of labels, mm. Labels are set in bold, whose finest strokes are that share of it.
_CAPITALS_MM, WEIGHT, _STROKE = 1.0, "bold", 0.15
_LABEL_GAP_MM = 0.35
#: Where more parts than so many have no label close by, the board is full, and no other places are tried.
_FEW = 64
#: Where a label may lie round its part, the first first: above, below, beside, then the corners. Shares of the way to a corner
#: along x and y, and mm beyond it. Where there is no room, its reference alone may lie slid along, or farther off.
_CLOSE = np.array([(0, 1, 0), (0, -1, 0), (1, 0, 0), (-1, 0, 0), (1, 1, 0), (-1, 1, 0), (1, -1, 0), (-1, -1, 0)], float)
_FARTHER = np.array(
    [
        way
        for off in (0.0, 0.4, 0.8, 1.3)
        for slid in (0.0, 0.35, -0.35, 0.7, -0.7, 1.0, -1.0)
        for way in ((slid, 1, off), (slid, -1, off), (1, slid, off), (-1, slid, off))
    ],
    float,
)


class LabelSpot(NamedTuple):
    """Where the middle of a label is, mm; whether it stands on end, and whether that is as it was put by hand."""

    x: float
    y: float
    upright: bool
    by_hand: bool = False


def label_height(profile: Profile) -> float:
    """How high the capitals of labels are, so that the fabricator prints their finest strokes, mm."""
    return max(_CAPITALS_MM, profile.legend_height_mm, profile.legend_line_mm / _STROKE)


def place_labels(
    behind: Sequence[PlacedPart], by_hand: Sequence[LabelPlace], height: float, words: Words
) -> dict[str, LabelSpot]:
    """Where the labels of the parts behind were set among the words, by reference. Those put by hand come first, those
    without room close to their part last."""
    spots: dict[str, LabelSpot] = {}
    hands = {one.part: one for one in by_hand}
    hidden = {one.part for one in by_hand if not one.printed}
    told = [part for part in behind if part.ref not in hidden]
    if not told:
        return spots
    courts = _Courts(behind)
    for part in sorted(told, key=lambda one: one.ref not in hands):
        give_way()
        hand = hands.get(part.ref)
        found = _put(part, height, words, hand) if hand is not None else None
        found = found or _set(part, _texts(part), _CLOSE, height, words, courts)
        if found is not None:
            spots[part.ref] = found
    # A reference that is nearer to another part is better than none.
    for ways, apart in ((_FARTHER, courts), (_CLOSE, None)):
        lacking = [part for part in told if part.ref not in spots]
        for part in lacking if len(lacking) <= _FEW else ():
            give_way()
            found = _set(part, [part.ref], ways, height, words, apart)
            if found is not None:
                spots[part.ref] = found
    return spots


class _Courts:
    """The ground of parts, to be asked which of them a word is nearest to."""

    def __init__(self, parts: Sequence[PlacedPart]) -> None:
        self._parts = parts
        self._tree = shapely.STRtree([part.court() for part in parts])

    def none_nearer(self, part: PlacedPart, frame: BaseGeometry) -> bool:
        """Whether no other part is nearer to a frame than this one."""
        return any(self._parts[near] is part for near in self._tree.query_nearest(frame).tolist())


def _texts(part: PlacedPart) -> list[str]:
    """Reference and value of a part; the reference alone where there is no room for both."""
    return [f"{part.ref} {part.value}", part.ref] if part.part.labelled else [part.ref]


def _set(
    part: PlacedPart, texts: Sequence[str], ways: NDArray[np.float64], height: float, words: Words,
    courts: _Courts | None,
) -> LabelSpot | None:  # fmt: skip
    """The first of some texts that finds room by the ways, upright or along the board's height; where no other part is nearer,
    if their courts are told."""
    for text in texts:
        for angle in (0.0, 90.0):
            word = from_behind(text, height, angle)
            good = None if courts is None else partial(courts.none_nearer, part)
            if words.set_first(word, _beside(part, word, ways), 0.1, good):
                return LabelSpot(*words.latest, angle > 0)
    return None


def _put(part: PlacedPart, height: float, words: Words, hand: LabelPlace) -> LabelSpot | None:
    """The label where it was put by hand, if there is room."""
    for text in _texts(part):
        word = from_behind(text, height, 90.0 if hand.upright else 0.0)
        left, bottom, right, top = word.bounds
        move = np.array([[hand.x_mm - (left + right) / 2, hand.y_mm - (bottom + top) / 2]])
        if words.set_first(word, move, 0.05):
            return LabelSpot(hand.x_mm, hand.y_mm, hand.upright, True)
    return None


@lru_cache(maxsize=2 * MOST_LEDS)
def from_behind(text: str, height: float, angle_deg: float) -> BaseGeometry:
    """Words about the origin, to be read from behind. Remembered: a board has hundreds, and an edit changes few."""
    return placed(text_region(text, height, weight=WEIGHT), 0, 0, angle_deg, mirrored=True)


def _beside(part: PlacedPart, word: BaseGeometry, ways: NDArray[np.float64]) -> NDArray[np.float64]:
    """Moves (n, 2) of a word to places round a part by the `ways`: how far along x and y, as shares of where both lie corner to
    corner, and so much farther off than usual, mm."""
    length, width = part.part.courtyard
    a = math.radians(part.angle_deg)
    half_w = abs(length / 2 * math.cos(a)) + abs(width / 2 * math.sin(a))
    half_h = abs(length / 2 * math.sin(a)) + abs(width / 2 * math.cos(a))
    left, bottom, right, top = word.bounds
    reach = (half_w + _LABEL_GAP_MM + (right - left) / 2, half_h + _LABEL_GAP_MM + (top - bottom) / 2)
    return ways[:, :2] * (reach + ways[:, 2:]) + (part.x - (left + right) / 2, part.y - (bottom + top) / 2)
