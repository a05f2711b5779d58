"""Corners of tracks rounded as far as there is room."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping
from dataclasses import replace

import numpy as np
import shapely
from shapely.geometry import LineString, Point

from .copper import Points, Track, Wires
from .room import Room

#: The radii that are tried, the widest first, mm; an arc is drawn in steps of so many degrees.
_RADII = (3.0, 2.0, 1.2, 0.7, 0.4)
_STEP_DEG = 7.5


def rounded(wires: Wires, around: Mapping[str, Room]) -> Wires:
    """The wires with rounded corners. Each arc keeps off all other copper as a straight track does."""
    tracks = list(wires.tracks)
    for at, one in enumerate(tracks):
        if not one.by_hand and len(one.points) > 2:
            room = around[one.side]
            tracks[at] = replace(one, points=with_round_corners(one.points, one, room))
            room.put(one.net, tracks[at].region)
    return replace(wires, tracks=tuple(tracks))


def with_round_corners(points: Points, track: Track, room: Room) -> Points:
    """A stretch of a track with its corners rounded, as far as its neighbours and joints allow."""
    joints = room.joints(track)
    points = _with_joints(points, joints)
    out = [points[0]]
    for before, here, after in zip(points, points[1:], points[2:], strict=False):
        out += [here] if here in joints else _arc(track, room, out[-1], before, here, after)
    return (*out, points[-1])


def _with_joints(points: Points, joints: set[tuple[float, float]]) -> Points:
    """A way with the places at which others join it among its corners."""
    line = LineString(points)
    along = [0.0, *itertools.accumulate(math.dist(*pair) for pair in itertools.pairwise(points))]
    rows = list(zip(along, points, strict=True))
    for spot in sorted(joints - set(points)):
        if line.distance(Point(spot)) < 1e-6:
            rows.append((float(line.project(Point(spot))), spot))
    return tuple(spot for _, spot in sorted(rows))


def _arc(
    track: Track, room: Room, last: tuple[float, float], before: tuple[float, float], here: tuple[float, float],
    after: tuple[float, float],
) -> Points:  # fmt: skip
    space = min(math.dist(last, here), math.dist(here, after) / 2)
    for radius in _RADII:
        arc = _fillet(before, here, after, radius, space)
        if arc and room.free(track.net, shapely.buffer(LineString(arc), track.width / 2, quad_segs=8)):
            return arc
    return (here,)


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
