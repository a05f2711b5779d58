"""Corners of tracks rounded as far as there is room."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
import shapely
from shapely.geometry import LineString
from shapely.geometry.base import BaseGeometry

from ..parts import Profile
from ..parts.nets import Net
from .classes import NetClass, clearance_of
from .copper import Points, Track, Wires
from .made import Pads
from .places import Places

#: The radii that are tried, the widest first, mm; an arc is drawn in steps of so many degrees.
_RADII = (3.0, 2.0, 1.2, 0.7, 0.4)
_STEP_DEG = 7.5


def rounded(
    wires: Wires, pads: Pads, nets: Sequence[Net], places: Places, classes: Mapping[str, NetClass], profile: Profile,
) -> Wires:  # fmt: skip
    """The wires with rounded corners. Each arc keeps off all other copper as a straight track does."""
    tracks = list(wires.tracks)
    around = {side: _Around(side, wires, pads, nets, places, classes, profile) for side in ("front", "back")}
    for at, one in enumerate(tracks):
        if not one.by_hand and len(one.points) > 2:
            tracks[at] = around[one.side].rounded(at, one)
    return replace(wires, tracks=tuple(tracks))


class _Around:
    """The copper of a side, with what has been rounded of it."""

    def __init__(
        self, side: str, wires: Wires, pads: Pads, nets: Sequence[Net], places: Places, classes: Mapping[str, NetClass],
        profile: Profile,
    ) -> None:  # fmt: skip
        self._classes, self._gap, self._places, self._side = classes, profile.gap_mm, places, side
        rows: list[tuple[str, BaseGeometry]] = []
        of_pin = {pin: net.name for net in nets for pin in net.pins}
        for pin, some in pads.items():
            rows += [(of_pin.get(pin, ""), pad.polygon) for pad in some if pad.side == side]
        rows += [(via.net, via.region) for via in wires.vias]
        rows += [(track.net, track.region) for track in wires.tracks if track.side == side]
        self._nets = [name for name, _ in rows]
        self._shapes = [region for _, region in rows]
        self._tree = shapely.STRtree(self._shapes)
        self._new: list[tuple[str, BaseGeometry]] = []
        self._bounds = np.zeros((0, 4))
        shapely.prepare(places.art.copper)
        shapely.prepare(places.art.hard[side])

    def rounded(self, at: int, track: Track) -> Track:
        """A track with its corners rounded, as far as its neighbours and joints allow."""
        points = [*track.points]
        joints = self._joints(track)
        out = [points[0]]
        for before, here, after in zip(points, points[1:], points[2:], strict=False):
            arc = [here] if here in joints else self._arc(track, out[-1], before, here, after)
            out += arc
        out.append(points[-1])
        new = replace(track, points=tuple(out))
        self._new.append((track.net, new.region))
        self._bounds = np.vstack([self._bounds, new.region.bounds])
        return new

    def _joints(self, track: Track) -> set[tuple[float, float]]:
        """The corners at which other tracks of the net begin."""
        out = set()
        for at in self._tree.query(LineString(track.points), predicate="dwithin", distance=1e-6).tolist():
            region = self._shapes[at]
            if self._nets[at] == track.net and region is not track.region:
                out |= {point for point in track.points[1:-1] if shapely.dwithin(region, shapely.Point(point), 1e-6)}
        return out

    def _arc(
        self, track: Track, last: tuple[float, float], before: tuple[float, float], here: tuple[float, float],
        after: tuple[float, float],
    ) -> Points:  # fmt: skip
        room = min(math.dist(last, here), math.dist(here, after) / 2)
        for radius in _RADII:
            arc = _fillet(before, here, after, radius, room)
            if arc and self._free(track, arc):
                return arc
        return (here,)

    def _free(self, track: Track, arc: Points) -> bool:
        region = shapely.buffer(LineString(arc), track.width / 2, quad_segs=8)
        own = self._classes[track.net].clearance
        if not self._places.art.copper.contains(region) or shapely.dwithin(self._places.art.hard[self._side], region, own):
            return False
        most = max([own, *(one.clearance for one in self._classes.values())])
        near = self._tree.query(region, predicate="dwithin", distance=most)
        left, bottom, right, top = region.bounds
        new = self._bounds
        beside = (new[:, 0] < right + most) & (new[:, 2] > left - most) & (new[:, 1] < top + most) & (new[:, 3] > bottom - most)
        rows = [(self._nets[at], self._shapes[at]) for at in near.tolist()]
        rows += [self._new[at] for at in np.flatnonzero(beside).tolist()]
        return all(
            name == track.net
            or shapely.distance(region, other) >= max(own, clearance_of(name, self._classes, self._gap)) - 1e-6
            for name, other in rows
        )


def _fillet(
    before: tuple[float, float], here: tuple[float, float], after: tuple[float, float], radius: float, room: float
) -> Points:
    """An arc in the place of a corner; none where it has no room, or there is no corner."""
    one, other = np.subtract(before, here), np.subtract(after, here)
    one, other = one / np.hypot(*one), other / np.hypot(*other)
    half = math.acos(float(np.clip(one @ other, -1.0, 1.0))) / 2
    if half > math.pi / 2 - 1e-3 or half < 1e-3:
        return ()
    reach = radius / math.tan(half)
    if reach > room - 1e-6:
        return ()
    middle = np.array(here) + (one + other) / np.hypot(*(one + other)) * (radius / math.sin(half))
    start, end = np.array(here) + one * reach - middle, np.array(here) + other * reach - middle
    begin = math.atan2(start[1], start[0])
    sweep = (math.atan2(end[1], end[0]) - begin + math.pi) % (2 * math.pi) - math.pi
    count = max(2, math.ceil(abs(math.degrees(sweep)) / _STEP_DEG))
    angles = [begin + sweep * step / count for step in range(count + 1)]
    return tuple((float(middle[0] + radius * math.cos(a)), float(middle[1] + radius * math.sin(a))) for a in angles)
