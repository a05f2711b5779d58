"""Where the tracks of a net meet: one another, the lands that they run over, and pours that they lie in."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Point
from shapely.geometry.base import BaseGeometry

from .copper import Track

Spot = tuple[float, float]
#: What lies this near to a line lies on it, mm.
SAME_MM = 1e-3
#: So far apart a track is joined with a pour that it lies in, mm.
_IN_POUR_MM = 1.0


@dataclass(frozen=True)
class Land:
    """The copper of a pad or via on a side, and its middle."""

    region: BaseGeometry
    middle: Spot


@dataclass(frozen=True)
class Stretch:
    """A straight stretch of a track that nothing meets between its ends."""

    track: Track
    start: Spot
    end: Spot


def stretches_of(
    tracks: Sequence[Track], lands: Sequence[Land], pour: BaseGeometry | None = None
) -> tuple[tuple[Stretch, ...], tuple[tuple[Spot, Spot], ...]]:
    """The stretches of the tracks of a net on one side; and pairs of places whose copper touches though no line runs from one
    to the other."""
    rows = [(at, a, b) for at, one in enumerate(tracks) for a, b in itertools.pairwise(one.points) if a != b]
    if not rows:
        return (), ()
    found = _Meeting(tracks, rows, lands)
    found.ends_on_lines()
    found.crossings()
    found.lands_run_over()
    found.loose_ends()
    if pour is not None:
        found.in_pour(pour)
    return found.stretches(), tuple(found.ties)


class _Meeting:
    """The places on every straight line of the tracks at which something meets it, as they are found. A line is the number of
    its track, and its ends."""

    def __init__(self, tracks: Sequence[Track], rows: Sequence[tuple[int, Spot, Spot]], lands: Sequence[Land]) -> None:
        self._tracks, self._rows, self._lands = tracks, rows, lands
        self._ends = np.array([(a, b) for _, a, b in rows])
        self._lines: NDArray[np.object_] = np.asarray(shapely.linestrings(self._ends))
        self._regions = np.array([land.region for land in lands], dtype=object)
        self._halves = np.array([tracks[at].width / 2 for at, _, _ in rows])
        self._owner = np.array([at for at, _, _ in rows])
        self._tree = shapely.STRtree(self._lines)
        self._stops: list[list[Spot]] = [[a, b] for _, a, b in rows]
        self.ties: list[tuple[Spot, Spot]] = []

    def ends_on_lines(self) -> None:
        """Ends and bends of tracks, and the middles of lands, that lie on a line."""
        spots = [spot for one in self._tracks for spot in one.points] + [land.middle for land in self._lands]
        at, line = self._tree.query(shapely.points(spots), "dwithin", SAME_MM)
        for spot, one in zip(at.tolist(), line.tolist(), strict=True):
            self._stops[one].append(spots[spot])

    def crossings(self) -> None:
        """Lines that cross between their ends."""
        for one, other in zip(*self._tree.query(self._lines, "crosses").tolist(), strict=True):
            if one < other:
                spot = _spot(self._lines[one].intersection(self._lines[other]))
                self._stops[one].append(spot)
                self._stops[other].append(spot)

    def lands_run_over(self) -> None:
        """Lands that a track runs over or touches without ending there."""
        at, line = self._tree.query(self._regions, "dwithin", float(self._halves.max()))
        lands, lines = self._regions[at], self._lines[line]
        ends = np.array([self._ends[:, 0][line], self._ends[:, 1][line]])
        ending = shapely.dwithin(shapely.points(ends), lands, SAME_MM).any(axis=0)
        gaps = shapely.distance(lines, lands)
        over = ~ending & (gaps <= SAME_MM)
        for land, one in zip(at[over].tolist(), line[over].tolist(), strict=True):
            there = self._lines[one].intersection(self._lands[land].region.buffer(SAME_MM))
            self._stops[one].append(_nearest(there, self._lands[land].middle))
        met = set(zip(at[ending | over].tolist(), self._owner[line[ending | over]].tolist(), strict=True))
        beside = (gaps > SAME_MM) & (gaps < self._halves[line])
        for land, one in zip(at[beside].tolist(), line[beside].tolist(), strict=True):
            if (land, int(self._owner[one])) not in met:
                self._tie(one, self._lands[land].middle)

    def loose_ends(self) -> None:
        """Ends that lie on no line and no land, but whose copper another track touches."""
        spots = [(end, one.width, at) for at, one in enumerate(self._tracks) for end in (one.points[0], one.points[-1])]
        points = shapely.points([end for end, _, _ in spots])
        lying = set(shapely.STRtree(self._regions).query(points, "dwithin", SAME_MM)[0].tolist())
        far = 2 * float(self._halves.max())
        at, line = self._tree.query(points, "dwithin", far)
        gaps = shapely.distance(points[at], self._lines[line])
        others = self._owner[line] != np.array([owner for _, _, owner in spots])[at]
        lying |= set(at[others & (gaps <= SAME_MM)].tolist())
        touching = others & (gaps < self._halves[line] + np.array([width / 2 for _, width, _ in spots])[at])
        nearest: dict[int, tuple[float, int]] = {}
        for end, gap, one in zip(at[touching].tolist(), gaps[touching].tolist(), line[touching].tolist(), strict=True):
            if end not in lying:
                nearest[end] = min(nearest.get(end, (far, one)), (gap, one))
        for end, (_, one) in nearest.items():
            self._tie(one, spots[end][0])

    def _tie(self, line: int, spot: Spot) -> None:
        """Join a place with the nearest on a line."""
        there = _nearest(self._lines[line], spot)
        self._stops[line].append(there)
        self.ties.append((there, spot))

    def in_pour(self, pour: BaseGeometry) -> None:
        """Places along what lies in a pour."""
        for line in self._tree.query(pour, "intersects").tolist():
            for part in shapely.get_parts(shapely.segmentize(self._lines[line].intersection(pour), _IN_POUR_MM)):
                self._stops[line] += _spots(part)

    def stretches(self) -> tuple[Stretch, ...]:
        """All of them from stop to stop; of those that lie on one another only the widest."""
        widest: dict[tuple[Spot, ...], Stretch] = {}
        for (at, a, _), stops in zip(self._rows, self._stops, strict=True):
            track = self._tracks[at]
            along = sorted({round(math.dist(a, spot), 6): spot for spot in stops}.items())
            for (_, start), (_, end) in itertools.pairwise(along):
                key = tuple(sorted((_rounded(start), _rounded(end))))
                if key not in widest or widest[key].track.width < track.width:
                    widest[key] = Stretch(track, start, end)
        return tuple(widest.values())


def _rounded(spot: Spot) -> Spot:
    return round(spot[0], 3), round(spot[1], 3)


def _nearest(line: BaseGeometry, spot: Spot) -> Spot:
    return _spot(shapely.get_point(shapely.shortest_line(line, Point(spot)), 0))


def _spot(point: BaseGeometry) -> Spot:
    x, y = shapely.get_coordinates(point)[0].tolist()
    return x, y


def _spots(line: BaseGeometry) -> Iterable[Spot]:
    places: NDArray[np.float64] = shapely.get_coordinates(line)
    return [(x, y) for x, y in places.tolist()]
