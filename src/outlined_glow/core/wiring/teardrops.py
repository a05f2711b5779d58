"""Teardrops: tracks that grow wider where they meet a pad or a via, so that they do not tear off there."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Any, NamedTuple

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..parts.nets import Net
from .copper import Points, Tear, Track, Wires
from .made import Pads, Spot
from .room import Room

#: How far a teardrop reaches beyond the land, in halves of its width; where there is no room for the first, the others.
_REACH = (2.0, 1.2, 0.7)
#: It is so wide as this share of the land, and there is none where the track is hardly narrower.
_WIDE, _WORTH = 0.9, 0.75


class _End(NamedTuple):
    """An end of a track in a land of so much on either side of its middle: the places from there on, mm."""

    track: Track
    points: Points
    half: float


def with_teardrops(wires: Wires, pads: Pads, nets: Sequence[Net], around: Mapping[str, Room]) -> Wires:
    """The wires with a teardrop wherever a track of theirs ends in a land and there is room for one."""
    lands, ends = _Lands(wires, pads, nets), []
    for track in wires.tracks:
        for points in (track.points, track.points[::-1]):
            half = lands.half_at(track.net, track.side, points[0])
            if half is not None and track.width <= 2 * half * _WORTH:
                ends.append(_End(track, points, half))
    tears: list[Tear] = []
    for end, shapes in zip(ends, _among_what_lies(ends, around), strict=True):
        net, room = end.track.net, around[end.track.side]
        shape = next((shape for shape in shapes if room.free_of_new(net, shape)), None)
        if shape is not None:
            room.put(net, shape)
            tears.append(Tear(net, end.track.side, shape))
    return replace(wires, tears=tuple(tears))


def _among_what_lies(ends: Sequence[_End], around: Mapping[str, Room]) -> list[list[BaseGeometry]]:
    """The teardrops of each end, the longest first, that have room among what lay there before; of all ends at once."""
    found: list[list[BaseGeometry]] = [[] for _ in ends]
    for side, room in around.items():
        rows = [
            (at, end.track.net, corners)
            for at, end in enumerate(ends)
            if end.track.side == side
            for reach in _REACH
            if (corners := _drop(end.points, end.track.width / 2, end.half * _WIDE, end.half * (1 + reach))) is not None
        ]
        if not rows:
            continue
        shapes: Any = shapely.polygons(np.array([corners for _, _, corners in rows]))
        free = shapely.is_valid(shapes)
        free[free] = room.free_each([net for (_, net, _), valid in zip(rows, free, strict=True) if valid], shapes[free])
        for (at, _, _), shape in itertools.compress(zip(rows, shapes.tolist(), strict=True), free.tolist()):
            found[at].append(shape)
    return found


def _drop(points: Points, thin: float, wide: float, reach: float) -> list[Spot] | None:
    """The corners from across a land down to the track's own width, along the track; None where the track is shorter."""
    length = 0.0
    for (x, y), (to_x, to_y) in itertools.pairwise(points):
        step = math.hypot(to_x - x, to_y - y)
        if length + step >= reach - 1e-9:
            way_x, way_y = (to_x - x) / step, (to_y - y) / step
            tip_x, tip_y = x + way_x * (reach - length), y + way_y * (reach - length)
            break
        length += step
    else:
        return None
    x, y = points[0]
    span = math.hypot(tip_x - x, tip_y - y)
    if span < wide:
        return None
    # To the left of the way at the land, and of that at the tip.
    dx, dy = wide * (y - tip_y) / span, wide * (tip_x - x) / span
    tx, ty = -thin * way_y, thin * way_x
    return [(x + dx, y + dy), (x - dx, y - dy), (tip_x - tx, tip_y - ty), (tip_x + tx, tip_y + ty)]


class _Lands:
    """Half the width of the land in whose middle a track may end, by net, side and place."""

    def __init__(self, wires: Wires, pads: Pads, nets: Iterable[Net]) -> None:
        self._known: dict[tuple[str, str, float, float], float] = {}
        for net in nets:
            for pad in (pad for pin in net.pins for pad in pads.get(pin, ())):
                self._known[net.name, pad.side, round(pad.x, 4), round(pad.y, 4)] = min(pad.width, pad.height) / 2
        for via in wires.vias:
            for side in (side for side in ("front", "back") if via.on(side)):
                self._known[via.net, side, round(via.x, 4), round(via.y, 4)] = via.diameter / 2

    def half_at(self, net: str, side: str, spot: tuple[float, float]) -> float | None:
        return self._known.get((net, side, round(spot[0], 4), round(spot[1], 4)))
