"""A track drawn by hand: from copper of a net to where the hand lets go, along one level or upright line and one aslant."""

from __future__ import annotations

import math
from typing import Any

from ..wiring.copper import Points
from .compile import Work
from .net_lens import net_at

#: An end this near to the middle of a pad, to a via or to the end of a track goes there, mm.
_CATCH_MM = 0.8


def drawn_track(work: Work, start: tuple[float, float], end: tuple[float, float], side: str) -> dict[str, Any] | None:
    """The values of the edit that draws a track between places of the picture frame; None where it begins at no net."""
    net = net_at(work, *start, side)
    if net is None:
        return None
    first, last = _caught(work, net, start, side), _caught(work, net, end, side)
    if math.dist(first, last) < 0.2:
        return None
    width = work.values["net classes"][net].width
    return {"net": net, "layer": side, "width_mm": width, "points": elbow(first, last)}


def elbow(start: tuple[float, float], end: tuple[float, float]) -> Points:
    """The way from a place to another: aslant as far as it goes, then level or upright.

    >>> elbow((0.0, 0.0), (3.0, 1.0)), elbow((0.0, 0.0), (2.0, 0.0))
    (((0.0, 0.0), (1.0, 1.0), (3.0, 1.0)), ((0.0, 0.0), (2.0, 0.0)))
    """
    dx, dy = end[0] - start[0], end[1] - start[1]
    aslant = min(abs(dx), abs(dy))
    if aslant < 1e-6 or abs(abs(dx) - abs(dy)) < 1e-6:
        return start, end
    corner = (start[0] + math.copysign(aslant, dx), start[1] + math.copysign(aslant, dy))
    return start, (round(corner[0], 4), round(corner[1], 4)), end


def _caught(work: Work, net: str, place: tuple[float, float], side: str) -> tuple[float, float]:
    """A place, or the end of copper of the net near it."""
    dx, dy = work.board.origin
    pins = {pin for one in work.board.nets if one.name == net for pin in one.pins}
    spots = [(pad.x, pad.y) for pad in work.board.pads if pad.side == side and (pad.ref, pad.pin) in pins]
    spots += [(via.x, via.y) for via in work.board.wires.vias if via.net == net]
    spots += [point for track in work.board.wires.tracks if track.net == net and track.side == side for point in track.points]
    there = [(x + dx, y + dy) for x, y in spots]
    best = min(there, key=lambda spot: math.dist(spot, place), default=place)
    return best if math.dist(best, place) < _CATCH_MM else (round(place[0], 3), round(place[1], 3))
