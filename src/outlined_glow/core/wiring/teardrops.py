"""Teardrops: tracks that grow wider where they meet a pad or a via, so that they do not tear off there."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..parts.nets import Net
from .copper import Tear, Wires
from .made import Pads
from .room import Room

#: How far a teardrop reaches beyond the land, in halves of its width; where there is no room for the first, the others.
_REACH = (2.0, 1.2, 0.7)
#: It is so wide as this share of the land, and there is none where the track is hardly narrower.
_WIDE, _WORTH = 0.9, 0.75


def with_teardrops(wires: Wires, pads: Pads, nets: Sequence[Net], around: Mapping[str, Room]) -> Wires:
    """The wires with a teardrop wherever a track of theirs ends in a land and there is room for one."""
    tears: list[Tear] = []
    lands = _Lands(wires, pads, nets)
    for track in wires.tracks:
        for points in (track.points, track.points[::-1]):
            half = lands.half_at(track.net, track.side, points[0])
            if half is None or track.width > 2 * half * _WORTH:
                continue
            for reach in _REACH:
                shape = _drop(points, track.width / 2, half * _WIDE, half * (1 + reach))
                if shape is not None and around[track.side].free(track.net, shape):
                    around[track.side].put(track.net, shape)
                    tears.append(Tear(track.net, track.side, shape))
                    break
    return replace(wires, tears=tuple(tears))


def _drop(points: Sequence[tuple[float, float]], thin: float, wide: float, reach: float) -> BaseGeometry | None:
    """From across a land down to the track's own width, along the track; None where the track is shorter than that."""
    length = 0.0
    for one, other in itertools.pairwise(points):
        step = math.dist(one, other)
        if length + step >= reach - 1e-9:
            share = (reach - length) / step
            along = np.subtract(other, one) / step
            tip = np.array(one) + share * np.subtract(other, one)
            break
        length += step
    else:
        return None
    start = np.array(points[0])
    first = tip - start
    span = float(np.hypot(*first))
    if span < wide:
        return None
    across, beside = _left_of(first / span), _left_of(along)
    corners = [start + across * wide, start - across * wide, tip - beside * thin, tip + beside * thin]
    shape = Polygon(corners)
    return shape if shape.is_valid else None


def _left_of(way: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.array([-way[1], way[0]])


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
