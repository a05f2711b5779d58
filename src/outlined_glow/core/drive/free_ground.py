"""Free ground of a side of a board, and the places in it where small parts find room."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from functools import lru_cache, partial

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.boxes import CELL_MM, Boxes, Frame, cells_in, cells_of
from ..geometry.offset import grow
from ..geometry.prepared import prepared
from ..geometry.regions import box_at, boxes_at, minus
from ..lights import Led
from ..parts import Part
from ..watch import give_way

#: Air round each part, so that an iron or a nozzle gets there, mm.
AIR_MM = 0.25
#: Parts keep so far from what lets light through, mm.
OFF_WINDOWS_MM = 0.2
_FARTHEST_MM = 30.0
#: Grid of places that are tried when there is no room beside an LED, mm.
_GRID_MM = 0.6
#: So many questions a side remembers the answers of.
_REMEMBERED = 20_000

Place = tuple[float, float, float]  # x, y, angle_deg


class _Every:
    """Places (n, 3) of a grid for boxes of one size, their upright frames (n, 4), and which of them lie in each cell. Whether a
    box lies in the free ground is found out cell by cell, once somebody asks for places there."""

    def __init__(self, free: BaseGeometry, places: NDArray[np.float64], length: float, width: float) -> None:
        self.places, self._free, self._size = places, free, (length, width)
        lying = places[:, 2] == 0
        half_w, half_h = np.where(lying, length, width) / 2, np.where(lying, width, length) / 2
        x, y = places[:, 0], places[:, 1]
        self.frames = np.column_stack([x - half_w, y - half_h, x + half_w, y + half_h])
        self._cells = cells_of(places[:, :2])
        self._inside: dict[tuple[int, int], NDArray[np.intp]] = {}
        self.reach = max(length, width) / 2

    def boxes(self, at: NDArray[np.intp]) -> NDArray[np.object_]:
        """The boxes of some places."""
        return boxes_at(self.places[at], *self._size)

    def inside(self, key: tuple[int, int]) -> NDArray[np.intp]:
        """The places of a cell whose box lies in the free ground."""
        found = self._inside.get(key)
        if found is None:
            at = self._cells.get(key, np.zeros(0, np.intp))
            numbered = np.column_stack([self.places[at], at])
            found = by_corners(numbered, *self._size, partial(_in_region, self._free))[:, 3].astype(np.intp)
            if len(found):
                found = found[shapely.contains(self._free, self.boxes(found))]
            self._inside[key] = found
        return found


class Ground:
    """What of a side is free while no LED and no part beside one lies there; it remembers what it was asked."""

    def __init__(self, free: BaseGeometry, board: BaseGeometry) -> None:
        self.free, self._board = prepared(free), board
        self._known: dict[tuple[float, ...], tuple[NDArray[np.float64], NDArray[np.object_]]] = {}
        self._every: dict[tuple[float, float], _Every] = {}

    def round(self, led: Led, step: int, length: float, width: float) -> tuple[NDArray[np.float64], NDArray[np.object_]]:
        """The places of a batch of moves from an LED where a box lies in the ground, and the boxes there."""
        key = (led.x, led.y, led.angle_deg, step, length, width)
        if key not in self._known:
            if len(self._known) > _REMEMBERED:
                self._known.clear()
            moves = _MOVES[step]
            turned = (led.angle_deg + moves[:, 2]) % 360
            places = np.column_stack([led.x + moves[:, 0], led.y + moves[:, 1], turned])
            self._known[key] = inside(self.free, places, length, width)
        return self._known[key]

    def every(self, length: float, width: float) -> _Every:
        """The places of a grid over the board for a box, lying or standing."""
        if (length, width) not in self._every:
            left, bottom, right, top = self._board.bounds if not self._board.is_empty else (0, 0, 0, 0)
            axes = np.arange(left, right, _GRID_MM), np.arange(bottom, top, _GRID_MM), [0.0, 90.0]
            x, y, angle = (grid.ravel() for grid in np.meshgrid(*axes, indexing="ij"))
            self._every[length, width] = _Every(self.free, np.column_stack([x, y, angle]), length, width)
        return self._every[length, width]


@lru_cache(maxsize=8)
def off_windows(clear: BaseGeometry) -> BaseGeometry:
    """What parts keep off where they keep off what has to be left clear."""
    return grow(clear, OFF_WINDOWS_MM)


@lru_cache(maxsize=8)
def free_ground(board: BaseGeometry, holes: BaseGeometry, clear: BaseGeometry, taken: tuple[Polygon, ...]) -> Ground:
    """The free ground of a side. The same one as long as only LEDs move."""
    return Ground(minus(board, holes, off_windows(clear), *taken), board)


class Spots:
    """Free ground, LEDs on it, and the places of small parts that have been taken of it."""

    def __init__(self, ground: Ground, leds: Sequence[Polygon]) -> None:
        self._ground = ground
        self._leds, self._taken = Boxes(beside=True), Boxes()
        for court in leds:
            self._leds.add(court)
        self._grids: dict[tuple[float, float], _Grid] = {}

    def nearest(self, led: Led, part: Part) -> tuple[Place | None, float]:
        """Behind the LED, or beside it in its own direction, or the nearest place of a grid over the board; and how far round
        the LED that was looked for, mm."""
        length, width = (size + 2 * AIR_MM for size in part.courtyard)
        around = math.hypot(length, width) / 2
        give_way()
        for step in range(len(_MOVES)):
            places, boxes = self._ground.round(led, step, length, width)
            apart = ~(self._taken.hit(boxes) | self._leds.hit(boxes))
            if apart.any():
                x, y, angle = places[int(np.argmax(apart))].tolist()
                return (x, y, angle), _REACHES[step] + around
        if (length, width) not in self._grids:
            self._grids[length, width] = _Grid(self._ground.every(length, width), self._leds, self._taken)
        found = self._grids[length, width].nearest(led.x, led.y)
        if found is None:
            return None, _FARTHEST_MM + around
        x, y, angle = found.tolist()
        return (x, y, angle), max(_REACHES[-1], math.hypot(x - led.x, y - led.y)) + around

    def keep(self, place: Place, part: Part) -> None:
        """A part lies there."""
        length, width = (size + 2 * AIR_MM for size in part.courtyard)
        x, y, angle = place
        box = box_at(x, y, length, width, angle)
        self._taken.add(box)
        for grid in self._grids.values():
            grid.take(box)


class _Grid:
    """Places over the board where a part of one size would fit, lying or standing, and nothing is there yet; what is there is
    looked up cell by cell, once somebody asks for places there."""

    def __init__(self, every: _Every, leds: Boxes, taken: Boxes) -> None:
        self._every, self._leds, self._taken = every, leds, taken
        self._open = np.zeros(len(every.places), bool)
        self._known: set[tuple[int, int]] = set()

    def take(self, box: Polygon) -> None:
        """Close the places whose upright frame meets that of a box."""
        x0, y0, x1, y1 = box.bounds
        cells = self._known.intersection(cells_in(_wider((x0, y0, x1, y1), self._every.reach)))
        for near in map(self._every.inside, cells):
            frames = self._every.frames[near]
            self._open[near[(frames[:, 2] > x0) & (frames[:, 0] < x1) & (frames[:, 3] > y0) & (frames[:, 1] < y1)]] = False

    def _look(self, frame: Frame) -> NDArray[np.intp]:
        """The open places in the cells that a frame meets."""
        cells = list(cells_in(frame))
        for key in (one for one in cells if one not in self._known):
            near = self._every.inside(key)
            if len(near):
                self._open[near] = ~(self._taken.near(self._every.frames[near]) | self._leds.hit(self._every.boxes(near)))
            self._known.add(key)
        near = np.concatenate([self._every.inside(key) for key in cells])
        return np.sort(near[self._open[near]])

    def nearest(self, x: float, y: float) -> NDArray[np.float64] | None:
        """The open place nearest to a point, the first of equals; None where none is near enough."""
        places = self._every.places
        for reach in (*np.arange(CELL_MM, _FARTHEST_MM, CELL_MM), _FARTHEST_MM):
            near = self._look(_wider((x, y, x, y), reach))
            far = np.hypot(places[near, 0] - x, places[near, 1] - y)
            if len(near) and far.min() <= reach:
                place: NDArray[np.float64] = places[near[int(np.argmin(far))]]
                return place
        return None


def _wider(frame: Frame, by: float) -> Frame:
    x0, y0, x1, y1 = frame
    return x0 - by, y0 - by, x1 + by, y1 + by


def inside(
    free: BaseGeometry, places: NDArray[np.float64], length: float, width: float
) -> tuple[NDArray[np.float64], NDArray[np.object_]]:
    """The places (n, 3) whose box lies in prepared ground, and the boxes."""
    places = by_corners(places, length, width, partial(_in_region, free))
    if not len(places):
        return places, np.zeros(0, object)
    boxes = boxes_at(places, length, width)
    whole = shapely.contains(free, boxes)
    return places[whole], boxes[whole]


def _in_region(region: BaseGeometry, x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.bool_]:
    return np.asarray(shapely.contains_xy(region, x, y), bool)


def by_corners(
    places: NDArray[np.float64], length: float, width: float,
    free: Callable[[NDArray[np.float64], NDArray[np.float64]], NDArray[np.bool_]],
) -> NDArray[np.float64]:  # fmt: skip
    """The places (n, 3) of a box whose middle and corners are free: single points are cheap to ask."""
    a = np.radians(places[:, 2])
    along = np.column_stack([np.cos(a), np.sin(a)]) * (length / 2)
    across = np.column_stack([-np.sin(a), np.cos(a)]) * (width / 2)
    for sx, sy in ((0, 0), (1, 1), (-1, -1), (1, -1), (-1, 1)):
        spots = places[:, :2] + sx * along + sy * across
        hit = free(spots[:, 0], spots[:, 1])
        places, along, across = places[hit], along[hit], across[hit]
    return places


def _moves() -> Iterator[NDArray[np.float64]]:
    """Moves (n, 3: x, y, turn) from an LED by rising distance, in batches: its own place, then rings round it."""
    yield np.array([(0.0, 0.0, 0.0), (0.0, 0.0, 90.0)])
    for low, high in ((0.5, 2.0), (2.0, 4.0)):
        out = []
        for radius in np.arange(low, high, 0.5):
            count = max(8, round(4 * math.pi * radius))
            for a in (2 * math.pi * turn / count for turn in range(count)):
                out += [(radius * math.cos(a), radius * math.sin(a), turned) for turned in (0.0, 90.0)]
        yield np.array(out)


_MOVES = tuple(_moves())
#: How far from an LED each batch of moves leads, mm.
_REACHES = tuple(float(np.hypot(moves[:, 0], moves[:, 1]).max()) for moves in _MOVES)
