"""Tracks in the hand: drawn from copper of a net to where the hand leaves off, taken over from those that were made, and moved
by their stretches and ends. Places are in the picture frame."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import Any

from shapely.geometry import Point

from ..wiring.copper import Points, Track
from .net_lens import net_at, part_at
from .work import Work

#: An end this near to the middle of a pad, to a via or to the end of a track goes there, mm.
_CATCH_MM = 0.8
#: A click this near to a track means it, mm.
_NEAR_MM = 0.3
#: A stretch that was moved meets its neighbours no farther away than so many times as far as it was moved.
_FAR_TIMES = 3.0


@dataclass(frozen=True)
class Held:
    """A track in hand: one drawn by hand has a number."""

    track: Track
    number: int | None = None


def track_at(work: Work, x_mm: float, y_mm: float, side: str) -> Held | None:
    """The track at a place, or nearest to it; one drawn by hand before one that was made."""
    ox, oy = work.board.origin
    spot = Point(x_mm - ox, y_mm - oy)
    near = [(one.region.distance(spot), at) for at, one in enumerate(work.board.wires.tracks) if one.side == side]
    far, best = min(near, default=(math.inf, 0))
    return _held(work, best) if far < _NEAR_MM else None


def picked(work: Work, x_mm: float, y_mm: float, side: str, before: Held | None) -> tuple[str | None, Held | None]:
    """The part (its reference) or the track that a click means: a track that lies under the body of a part comes first, and
    the part at the next click there."""
    part, held = part_at(work, x_mm, y_mm, side), track_at(work, x_mm, y_mm, side)
    spot = Point(x_mm - work.board.origin[0], y_mm - work.board.origin[1])
    if part is not None and held is not None:
        on_pad = any(pad.polygon.distance(spot) < _NEAR_MM for pad in part.pads())
        if on_pad or (before is not None and before.track == held.track):
            return part.ref, None
        return None, held
    return (None if part is None else part.ref), held


def held_again(work: Work, held: Held) -> Held | None:
    """The track in hand as another board has it: the one of its number, or the one that runs the same way; None: it is gone."""
    tracks = work.board.wires.tracks
    if held.number is not None:
        there = held.number <= len(work.design.wiring.tracks)
        return _held(work, held.number - 1) if there else None
    ox, oy = work.board.origin
    here = held.track.moved(-ox, -oy)
    for at, one in enumerate(tracks):
        if (one.net, one.side, len(one.points)) == (here.net, here.side, len(here.points)) and all(
            math.dist(a, b) < 1e-6 for a, b in zip(one.points, here.points, strict=True)
        ):
            return _held(work, at)
    return None


def _held(work: Work, at: int) -> Held:
    one = work.board.wires.tracks[at].moved(*work.board.origin)
    return Held(one, at + 1 if at < len(work.design.wiring.tracks) else None)


def taken_over(held: Held) -> dict[str, Any]:
    """The values of the edit that makes a track that was made one drawn by hand."""
    one = held.track
    points = tuple((round(x, 4), round(y, 4)) for x, y in one.points)
    return {"net": one.net, "layer": one.side, "width_mm": one.width, "points": points}


def moved_stretch(points: Points, at: int, x: float, y: float) -> Points:
    """A way whose stretch of that number runs through a place, as it ran before; its neighbours grow or shrink. Where they
    would meet it far away, or there are none, it is joined across.

    >>> moved_stretch(((0, 0), (2, 2), (6, 2), (8, 0)), 1, 4.0, 3.0)
    ((0, 0), (3.0, 3.0), (5.0, 3.0), (8, 0))
    >>> moved_stretch(((0, 0), (4, 0)), 0, 2.0, 1.0)
    ((0, 0), (0.0, 1.0), (4.0, 1.0), (4, 0))
    """
    (x0, y0), (x1, y1) = points[at], points[at + 1]
    length = math.dist(points[at], points[at + 1])
    if length < 1e-9:
        return points
    across = (-(y1 - y0) / length, (x1 - x0) / length)
    by = (x - x0) * across[0] + (y - y0) * across[1]
    start, end = ((px + by * across[0], py + by * across[1]) for px, py in ((x0, y0), (x1, y1)))
    first = _meeting(points[at - 1], points[at], start, end, by) if at else None
    last = _meeting(points[at + 2], points[at + 1], start, end, by) if at + 2 < len(points) else None
    before = points[: at + (first is None)]
    after = points[at + 1 + (last is not None) :]
    return _without_repeats((*before, first or start, last or end, *after))


def moved_end(points: Points, last: bool, x: float, y: float) -> Points:
    """A way whose last end, or the first, is elsewhere: the stretch that leads there is drawn anew.

    >>> moved_end(((0, 0), (4, 0), (6, 2)), True, 9.0, 1.0)
    ((0, 0), (4, 0), (5.0, 1.0), (9.0, 1.0))
    """
    way = points if last else points[::-1]
    out = _without_repeats((*way[:-2], *elbow(way[-2], (x, y))))
    return out if last else out[::-1]


def _meeting(
    end: tuple[float, float], corner: tuple[float, float], one: tuple[float, float], other: tuple[float, float], by: float
) -> tuple[float, float] | None:
    """Where the line from `end` to `corner` meets the line through two places; None where that is too far from the corner."""
    ax, ay = corner[0] - end[0], corner[1] - end[1]
    bx, by_ = other[0] - one[0], other[1] - one[1]
    turn = ax * by_ - ay * bx
    if abs(turn) < 1e-9:
        return None
    share = ((one[0] - end[0]) * by_ - (one[1] - end[1]) * bx) / turn
    spot = (round(end[0] + share * ax, 4), round(end[1] + share * ay, 4))
    return spot if share > 0 and math.dist(spot, corner) <= _FAR_TIMES * abs(by) + 1e-6 else None


def _without_repeats(points: Points) -> Points:
    kept = [points[0], *(b for a, b in itertools.pairwise(points) if math.dist(a, b) > 1e-6)]
    return tuple(kept) if len(kept) > 1 else (points[0], points[-1])


def drawn_track(work: Work, start: tuple[float, float], end: tuple[float, float], side: str) -> dict[str, Any] | None:
    """The values of the edit that draws a track between places of the picture frame; None where it begins at no net."""
    net = net_at(work, *start, side)
    if net is None:
        return None
    first, last = caught(work, net, start, side), caught(work, net, end, side)
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


def caught(work: Work, net: str, place: tuple[float, float], side: str, but: int | None = None) -> tuple[float, float]:
    """A place, or the end of copper of the net near it, `but` not of the track of that number."""
    dx, dy = work.board.origin
    pins = {pin for one in work.board.nets if one.name == net for pin in one.pins}
    spots = [(pad.x, pad.y) for pad in work.board.pads if pad.side == side and (pad.ref, pad.pin) in pins]
    spots += [(via.x, via.y) for via in work.board.wires.vias if via.net == net]
    others = [track for number, track in enumerate(work.board.wires.tracks, 1) if number != but]
    spots += [point for track in others if track.net == net and track.side == side for point in track.points]
    there = [(x + dx, y + dy) for x, y in spots]
    best = min(there, key=lambda spot: math.dist(spot, place), default=place)
    return best if math.dist(best, place) < _CATCH_MM else (round(place[0], 3), round(place[1], 3))
