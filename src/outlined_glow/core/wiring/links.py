"""Wires in the place of plated holes, for boards that are etched at home.

Where all pads lie on the back, that side alone is etched, and what crosses is a wire over the front from hole to hole. Else a
short wire stands in each hole that joins both sides, soldered on both.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

import numpy as np
from shapely.geometry import LineString, Point

from ..parts.nets import Net
from .copper import Link, Track, Wires
from .made import Pads

Spot = tuple[float, float]
#: A track ends in a hole that is this near to its end, mm.
_SAME_MM = 1e-4


def is_one_sided(pads: Pads, nets: Iterable[Net], drawn: Iterable[Track] = ()) -> bool:
    """Whether every pin that is to be joined has a land on the back, and nobody drew a track in front."""
    if any(one.side == "front" for one in drawn):
        return False
    pins = [pads[pin] for net in nets for pin in net.pins if pin in pads]
    return all(any(pad.side == "back" for pad in some) for some in pins)


def behind_only(pads: Pads) -> Pads:
    """The lands on the back of pins that have one there."""
    return {pin: [pad for pad in some if pad.side == "back"] or some for pin, some in pads.items()}


def with_links(wires: Wires, one_sided: bool) -> Wires:
    """The wires with what stands in their holes."""
    if not wires.vias:
        return wires
    if not one_sided:
        ends = [(via.net, (via.x, via.y), (via.x, via.y)) for via in wires.vias]
        return replace(wires, links=_named(ends, ""))
    kept = tuple(one for one in wires.tracks if one.side != "front")
    joined: list[tuple[str, Spot, Spot]] = []
    for net in dict.fromkeys(via.net for via in wires.vias):
        over = [LineString(one.points) for one in wires.tracks if one.side == "front" and one.net == net]
        holes = [(via.x, via.y) for via in wires.vias if via.net == net]
        joined += [(net, *ends) for some in _hanging_together(over, holes) for ends in shortest_tree(some)]
    used = {spot for _, *ends in joined for spot in ends}
    vias = tuple(replace(via, side="back") for via in wires.vias if (via.x, via.y) in used)
    return replace(wires, tracks=kept, vias=vias, links=_named(joined, "back"))


def _named(ends: Sequence[tuple[str, Spot, Spot]], side: str) -> tuple[Link, ...]:
    return tuple(Link(f"W{number}", net, start, end, side) for number, (net, start, end) in enumerate(sorted(ends), 1))


def _hanging_together(ways: Sequence[LineString], holes: Sequence[Spot]) -> list[list[Spot]]:
    """The holes that ways over the front join, group by group."""
    groups: list[tuple[list[LineString], list[Spot]]] = []
    for way in ways:
        met = [group for group in groups if any(way.distance(one) < _SAME_MM for one in group[0])]
        groups = [group for group in groups if not any(group is one for one in met)]
        here = [spot for spot in holes if way.distance(Point(spot)) < _SAME_MM]
        some = dict.fromkeys([*here, *(spot for group in met for spot in group[1])])
        groups.append(([way, *(one for group in met for one in group[0])], list(some)))
    return [some for _, some in groups]


def shortest_tree(places: Sequence[Spot]) -> list[tuple[Spot, Spot]]:
    """The shortest lines that join all places.

    >>> shortest_tree([(0.0, 0.0), (5.0, 0.0), (1.0, 0.0)])
    [((0.0, 0.0), (1.0, 0.0)), ((1.0, 0.0), (5.0, 0.0))]
    """
    return [(places[one], places[other]) for one, other in tree_over(places)]


def tree_over(places: Sequence[Spot]) -> list[tuple[int, int]]:
    """Which places the shortest lines join, that join all of them: each time the nearest that is not joined.

    >>> tree_over([(0.0, 0.0), (5.0, 0.0), (0.0, 0.0)])
    [(0, 2), (0, 1)]
    """
    if len(places) < 3:  # most nets of a board
        return [(0, 1)] if len(places) == 2 else []
    points = np.array(places)
    out = []
    nearest = np.zeros(len(points), np.intp)
    far = np.hypot(*(points - points[0]).T)
    far[0] = np.inf
    for _ in range(len(points) - 1):
        new = int(np.argmin(far))
        out.append((int(nearest[new]), new))
        far[new] = np.inf
        now = np.hypot(*(points - points[new]).T)
        closer = (now < far) & np.isfinite(far)
        far[closer], nearest[closer] = now[closer], new
    return out


def lengths(links: Iterable[Link], thickness_mm: float) -> Mapping[str, float]:
    """How long the wire of each link is between its joints, mm."""
    return {one.ref: one.length + (2 if one.side else 1) * thickness_mm for one in links}
