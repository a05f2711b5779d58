"""Tracks that flow: drawn as soft curves, alongside the contours of the art and the edge wherever they run near them."""

from __future__ import annotations

import itertools
from collections import deque
from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString
from shapely.geometry.base import BaseGeometry
from shapely.ops import substring

from .copper import Points, Track, Wires
from .places import ArtPlaces
from .room import Room
from .rounding import with_round_corners

#: Another one where the same tracks would flow otherwise than before.
FLOW = 1
#: A way is taken apart in steps of about so long, and drawn again in steps of so long, mm.
_STEP_MM, _DRAWN_MM = 0.5, 0.15
#: A contour draws a track that runs no farther from it than this, mm; over so many steps its distance is evened out.
_NEAR_MM, _EVEN_STEPS = 4.0, 10
#: How soft a way is drawn, the softest first: so many times each of its places moves to the middle of its neighbours.
_SOFT = (24, 10, 4, 1)
#: A stretch that has no room is tried in halves, down to this length, mm.
_SHORTEST_MM = 2.0
#: So many ways are remembered over one art.
_REMEMBERED = 20_000
#: A drawn way is simplified by no more than this, mm.
_SMOOTH_MM = 0.004

Way = NDArray[np.float64]


def flowing(wires: Wires, art: ArtPlaces, around: Mapping[str, Room], kept: Sequence[Points] = ()) -> Wires:
    """The wires as soft curves. Each keeps off all other copper as a straight track does; where that leaves no room its corners
    are rounded. `kept` are the ways of all tracks, where these very wires were drawn before."""
    known = _known_of(art)
    tracks = list(wires.tracks)
    given = kept if len(kept) == len(tracks) else [()] * len(tracks)
    for at, one in enumerate(tracks):
        if one.by_hand:
            continue
        room = around[one.side]
        key = (one, room.beside(one, _NEAR_MM))
        points = known.ways.get(key)
        if points is None:
            if len(known.ways) > _REMEMBERED:
                known.ways.clear()
            joins = given[at][:1] == one.points[:1] and given[at][-1:] == one.points[-1:]
            points = known.ways[key] = given[at] if joins else _flowing(one, known.along(one.side), room)
        tracks[at] = replace(one, points=points)
        room.put(one.net, tracks[at].region)
    return replace(wires, tracks=tuple(tracks))


@dataclass
class _Known:
    """What was drawn over art lately: its contours, and the ways of tracks by what lay beside them."""

    art: ArtPlaces
    contours: dict[str, _Contours] = field(default_factory=dict)
    ways: dict[Hashable, Points] = field(default_factory=dict)

    def along(self, side: str) -> _Contours:
        """The contours of a side, made when a track asks for them."""
        if side not in self.contours:
            self.contours[side] = _Contours(self.art, side)
        return self.contours[side]


#: The latest of them: an edit leaves most tracks what they had beside them.
_KNOWN: deque[_Known] = deque(maxlen=4)


def _known_of(art: ArtPlaces) -> _Known:
    for one in tuple(_KNOWN):
        if one.art is art:
            return one
    made = _Known(art)
    _KNOWN.append(made)
    return made


def _flowing(track: Track, contours: _Contours, room: Room) -> Points:
    """The way of a track, soft between its ends and the places at which others join it."""
    line = LineString(track.points)
    spots = room.joints(track)
    cuts = sorted({round(line.project(shapely.Point(spot)), 6) for spot in spots} | {0.0, line.length})
    out: list[tuple[float, float]] = [track.points[0]]
    for first, last in itertools.pairwise(cuts):
        if last - first > 1e-6:
            out += _soft(track, shapely.get_coordinates(substring(line, first, last)), contours, room)[1:]
    return (*out[:-1], track.points[-1])


def _soft(track: Track, way: Way, contours: _Contours, room: Room) -> Points:
    """A stretch as softly drawn as there is room; in halves where there is none."""
    stiff = tuple((float(x), float(y)) for x, y in way)
    line = LineString(way)
    if len(way) < 3 or line.length < 2 * _STEP_MM:
        return stiff
    places = _resampled(way, max(3, round(line.length / _STEP_MM)))
    alongside = contours.alongside(places)
    for rounds in _SOFT:
        for begun in (alongside, places):
            drawn = _curve(_relaxed(begun, rounds))
            middle = LineString(drawn)
            if room.too_near(track.net, middle, track.width / 2):
                continue
            region = shapely.buffer(middle, track.width / 2, quad_segs=8)
            if room.free(track.net, region):
                return (stiff[0], *((float(x), float(y)) for x, y in drawn[1:-1]), stiff[-1])
    if line.length < 2 * _SHORTEST_MM or len(way) < 4:
        return with_round_corners(stiff, track, room)
    half = len(way) // 2
    return (*_soft(track, way[: half + 1], contours, room), *_soft(track, way[half:], contours, room)[1:])


def _resampled(way: Way, count: int) -> Way:
    """Places at equal steps along a way, its ends among them."""
    lengths = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(way, axis=0).T))])
    wanted = np.linspace(0.0, lengths[-1], count + 1)
    return np.column_stack([np.interp(wanted, lengths, way[:, axis]) for axis in (0, 1)])


def _relaxed(places: Way, rounds: int) -> Way:
    """Places, each moved to the middle of its neighbours so many times; the ends stay."""
    out = places.copy()
    for _ in range(rounds):
        out[1:-1] = out[1:-1] / 2 + (out[:-2] + out[2:]) / 4
    return out


def _curve(places: Way) -> Way:
    """A smooth curve (a uniform cubic B-spline) between the ends of places that control it."""
    first, last = 2 * places[0] - places[1], 2 * places[-1] - places[-2]
    p = np.vstack([first, places, last])
    many = max(2, round(_STEP_MM / _DRAWN_MM))
    t = (np.arange(many) / many)[None, :, None]
    a, b, c, d = (p[k : len(p) - 3 + k, None, :] for k in range(4))
    drawn = ((1 - t) ** 3 * a + (3 * t**3 - 6 * t**2 + 4) * b + (-3 * t**3 + 3 * t**2 + 3 * t + 1) * c + t**3 * d) / 6
    whole = np.vstack([places[:1], drawn.reshape(-1, 2)[1:], places[-1:]])
    curve: Way = shapely.get_coordinates(LineString(whole).simplify(_SMOOTH_MM))
    return curve


class _Contours:
    """The contours that tracks of a side may follow: those of the art there, of windows, and the edge."""

    def __init__(self, art: ArtPlaces, side: str) -> None:
        edges = [ring for one in (art.copper, art.hard[side], art.soft[side], art.windows) for ring in _rings(one)]
        pairs = np.concatenate([np.zeros((0, 2, 2)), *(np.stack([ring[:-1], ring[1:]], axis=1) for ring in edges)])
        self._tree = shapely.STRtree(np.asarray(shapely.linestrings(pairs), dtype=object))

    def alongside(self, places: Way) -> Way:
        """Places whose distance from the contour they run near is evened out; the ends stay."""
        if not len(self._tree.geometries):
            return places
        spots = shapely.points(places)
        _, near = self._tree.query_nearest(spots, all_matches=False)
        lines = self._tree.geometries[near]
        feet = shapely.get_coordinates(shapely.line_interpolate_point(lines, shapely.line_locate_point(lines, spots)))
        off = places - feet
        far = np.hypot(*off.T)
        out = places.copy()
        follows = far < _NEAR_MM
        # Where the foot jumps, the track goes over to another contour.
        follows[1:] &= np.hypot(*np.diff(feet, axis=0).T) < 3 * _STEP_MM
        for start, end in _runs(follows):
            if end - start < 4:
                continue
            even = _evened(far[start:end])
            unit = off[start:end] / np.maximum(far[start:end], 1e-9)[:, None]
            out[start:end] = feet[start:end] + unit * even[:, None]
        out[0], out[-1] = places[0], places[-1]
        return out


def _evened(far: NDArray[np.float64]) -> NDArray[np.float64]:
    """Distances evened out along the way; the first and the last stay."""
    out = far.copy()
    for _ in range(_EVEN_STEPS**2):
        out[1:-1] = out[1:-1] / 2 + (out[:-2] + out[2:]) / 4
    return out


def _runs(flags: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """The stretches of set flags, as start and end."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], flags, [False]]).astype(np.int8)))
    return list(zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True))


def _rings(region: BaseGeometry) -> list[Way]:
    return [shapely.get_coordinates(ring) for ring in shapely.get_rings(shapely.get_parts(region))]
