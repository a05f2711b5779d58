"""Words set one after the other where there is room between what else lies on a side of a board."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..geometry.boxes import Frame, cells_in
from ..geometry.prepared import prepared
from ..geometry.regions import polygons
from ..geometry.valid import valid

#: What is nearer than this only touches.
_TOUCHES_MM = 1e-6
#: So many places are asked for at once, then twice as many: one of the first is mostly free.
_AT_ONCE = 8


class Words:
    """Words on a `ground`, clear of what is `blocked` and of one another by their upright frames.

    What is blocked stays in pieces: to ask those nearby is far cheaper than a ground with a hole for each of thousands.
    """

    def __init__(self, ground: BaseGeometry, blocked: Sequence[BaseGeometry]) -> None:
        self.ground = prepared(ground)
        self._blocked = shapely.STRtree([part for region in blocked for part in polygons(region)])
        self._frames: defaultdict[tuple[int, int], list[Frame]] = defaultdict(list)
        self._words: list[BaseGeometry] = []
        self._moves: list[NDArray[np.float64]] = []

    def set_first(
        self, word: BaseGeometry, moves: NDArray[np.float64], air: float, good: Callable[[BaseGeometry], bool] | None = None
    ) -> bool:
        """Set a word at the first of its places (moves (n, 2)) that is free, and whose frame is good; False when none is."""
        frames = np.tile(word.bounds, (len(moves), 1)) + np.hstack([moves, moves]) + (-air, -air, air, air)
        inner: Any = shapely.box(*(frames + _TOUCHES_MM * np.array([1, 1, -1, -1])).T)
        first, many = 0, _AT_ONCE
        while first < len(moves):
            some = inner[first : first + many]
            open_here = np.ones(len(some), bool)
            open_here[self._blocked.query(some, predicate="intersects")[0]] = False
            for at in np.flatnonzero(open_here).tolist():
                frame: Frame = tuple(frames[first + at].tolist())
                free = not self._meets_word(frame) and shapely.contains(self.ground, some[at])
                if free and (good is None or good(some[at])):
                    for cell in cells_in(frame):
                        self._frames[cell].append(frame)
                    self._words.append(word)
                    self._moves.append(moves[first + at])
                    return True
            first, many = first + many, 2 * many
        return False

    @property
    def latest(self) -> tuple[float, float]:
        """The middle of the word that was set last."""
        left, bottom, right, top = self._words[-1].bounds
        dx, dy = self._moves[-1].tolist()
        return (left + right) / 2 + dx, (bottom + top) / 2 + dy

    @property
    def set(self) -> list[BaseGeometry]:
        """Every word in its place."""
        words = np.array(self._words, dtype=object)
        if not len(words):
            return []
        points, which = shapely.get_coordinates(words, return_index=True)
        moved = shapely.set_coordinates(words.copy(), points + np.array(self._moves)[which])
        return [word if good else valid(word) for word, good in zip(moved, shapely.is_valid(moved).tolist(), strict=True)]

    def _meets_word(self, frame: Frame) -> bool:
        x0, y0, x1, y1 = frame
        near = (other for cell in cells_in(frame) for other in self._frames.get(cell, ()))
        return any(left < x1 and right > x0 and bottom < y1 and top > y0 for left, bottom, right, top in near)
