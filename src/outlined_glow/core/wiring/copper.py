"""Copper as it is made: tracks, vias, what could not be joined; in the frame of whoever asks."""

from __future__ import annotations

import itertools
import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import TypeVar

import numpy as np
import shapely
from shapely.geometry import LineString, Point
from shapely.geometry.base import BaseGeometry

from ..geometry.regions import disc
from ..geometry.valid import shifted
from ..parts.placed import DISC_TOLERANCE_MM

#: A quarter of a turn at the end of a track is drawn in so many steps.
_END_SEGMENTS = 16
#: Ends that near to a place lie there, mm.
_SAME_MM = 1e-3
#: Where a track that was moved keeps the one that it was, and by how much it was moved.
_ELSEWHERE = "elsewhere"
Points = tuple[tuple[float, float], ...]
_Run = TypeVar("_Run", "Track", "Via", "Tear")


@lru_cache(maxsize=8192)
def _drawn(points: Points, width: float) -> BaseGeometry:
    """The region that a round pen draws from place to place. Remembered: an edit leaves most tracks of a board as they were."""
    lines = [LineString(pair) for pair in itertools.pairwise(points)]
    drawn = shapely.buffer(np.array(lines, dtype=object), width / 2, quad_segs=_END_SEGMENTS)
    whole: BaseGeometry = shapely.union_all(drawn) if len(lines) > 1 else drawn[0]
    return whole


@dataclass(frozen=True)
class Track:
    """A track of a net: side, width, and the places it runs past, mm. One drawn `by_hand` stays as it is."""

    net: str
    side: str
    width: float
    points: Points
    by_hand: bool = False

    @cached_property
    def region(self) -> BaseGeometry:
        """The copper it is made of, with round ends, as a round pen draws it from place to place."""
        elsewhere: tuple[Track, float, float] | None = self.__dict__.get(_ELSEWHERE)
        if elsewhere is None:
            return _drawn(self.points, self.width)
        one, dx, dy = elsewhere
        return shifted(one.region, dx, dy)

    @property
    def length(self) -> float:
        """How long it is, mm."""
        steps = np.diff(np.array(self.points), axis=0)
        return float(np.hypot(steps[:, 0], steps[:, 1]).sum())

    def moved(self, dx: float, dy: float) -> Track:
        """The same elsewhere. Its copper is moved, not drawn anew: another origin of a board moves all of its tracks."""
        there = replace(self, points=tuple((x + dx, y + dy) for x, y in self.points))
        there.__dict__[_ELSEWHERE] = (self, dx, dy)
        return there


@dataclass(frozen=True)
class Via:
    """A hole that joins both sides of a net: place, hole and land, mm. It is plated, or a wire stands in it; one whose wire
    runs on over the other side has a land on its own `side` alone ("": on both)."""

    net: str
    x: float
    y: float
    drill: float
    diameter: float
    by_hand: bool = False
    side: str = ""

    def on(self, side: str) -> bool:
        """Whether it has a land there."""
        return self.side in ("", side)

    @cached_property
    def region(self) -> BaseGeometry:
        """Its land on either side."""
        return disc(self.x, self.y, self.diameter / 2, DISC_TOLERANCE_MM)

    def moved(self, dx: float, dy: float) -> Via:
        """The same elsewhere."""
        return replace(self, x=self.x + dx, y=self.y + dy)


@lru_cache(maxsize=8192)
def _moved(one: _Run, dx: float, dy: float) -> _Run:
    """A track, via or teardrop elsewhere. Remembered: what an edit leaves as it was is the same one, and known at a glance."""
    return one.moved(dx, dy)


@dataclass(frozen=True)
class Tear:
    """A teardrop of a net on a side: what its track is wider by at a land."""

    net: str
    side: str
    region: BaseGeometry

    def at(self, spots: Collection[tuple[float, float]]) -> bool:
        """Whether it lies at the land about one of some places."""
        return any(self.region.distance(Point(spot)) < _SAME_MM for spot in spots)

    def moved(self, dx: float, dy: float) -> Tear:
        """The same elsewhere."""
        return replace(self, region=shifted(self.region, dx, dy))


@dataclass(frozen=True)
class Link:
    """A wire in the place of plated holes: soldered on both sides of one hole, or laid over the other side from hole to hole
    and soldered on the side of their lands. Its ends are the pins 1 and 2 of its reference (“W1”)."""

    ref: str
    net: str
    start: tuple[float, float]
    end: tuple[float, float]
    side: str = ""

    @property
    def length(self) -> float:
        """How far it reaches over the board, mm."""
        return math.dist(self.start, self.end)

    @property
    def pins(self) -> tuple[tuple[str, tuple[float, float], str], ...]:
        """Its pins: number, place, side of the land."""
        return (("1", self.start, self.side or "front"), ("2", self.end, self.side or "back"))

    def moved(self, dx: float, dy: float) -> Link:
        """The same elsewhere."""
        (ax, ay), (bx, by) = self.start, self.end
        return replace(self, start=(ax + dx, ay + dy), end=(bx + dx, by + dy))


@dataclass(frozen=True)
class Unjoined:
    """Two pins of a net (“D1.2”) that no track joins, where they are, and why."""

    net: str
    start: str
    end: str
    why: str
    places: tuple[tuple[float, float], tuple[float, float]]


@dataclass(frozen=True)
class Wires:
    """The tracks, vias and teardrops of a board, and what they leave unjoined; the wires in its holes where those are not
    plated."""

    tracks: tuple[Track, ...] = ()
    vias: tuple[Via, ...] = ()
    unjoined: tuple[Unjoined, ...] = ()
    tears: tuple[Tear, ...] = ()
    links: tuple[Link, ...] = ()

    def __bool__(self) -> bool:
        return bool(self.tracks or self.vias or self.unjoined)

    def left_by(self, gone: Mapping[str, Collection[tuple[float, float]]]) -> Wires:
        """Those of the nets of a table that end at none of the places that pins of the net have left."""

        def left(net: str, *ends: tuple[float, float]) -> bool:
            return net in gone and not any(math.dist(end, spot) < _SAME_MM for end in ends for spot in gone[net])

        return Wires(
            tuple(one for one in self.tracks if left(one.net, one.points[0], one.points[-1])),
            tuple(one for one in self.vias if one.net in gone),
            tuple(one for one in self.unjoined if one.net in gone and not gone[one.net]),
            tuple(one for one in self.tears if one.net in gone and not one.at(gone[one.net])),
            tuple(one for one in self.links if left(one.net, one.start, one.end)),
        )

    def moved(self, dx: float, dy: float) -> Wires:
        """The same elsewhere."""
        lost = tuple(
            replace(one, places=tuple((x + dx, y + dy) for x, y in one.places))  # type: ignore[arg-type]
            for one in self.unjoined
        )
        return Wires(
            tuple(_moved(one, dx, dy) for one in self.tracks),
            tuple(_moved(one, dx, dy) for one in self.vias),
            lost,
            tuple(_moved(one, dx, dy) for one in self.tears),
            tuple(one.moved(dx, dy) for one in self.links),
        )


#: A board that is not wired.
NO_WIRES = Wires()
