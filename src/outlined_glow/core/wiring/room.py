"""Whether copper of a net has room on a side, among all that lies there: what is drawn finer than the grid asks it."""

from __future__ import annotations

from collections.abc import Hashable, Iterator, Mapping, Sequence
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString
from shapely.geometry.base import BaseGeometry

from ..geometry.prepared import prepared
from ..parts import PlacedPad, Profile
from ..parts.nets import Net
from .classes import NetClass, clearance_of
from .copper import Track, Wires
from .made import Pads
from .places import ArtPlaces, Places

#: A round that is drawn by 32 corners reaches so far at least, of its radius.
_SURELY = 0.995


class Room:
    """The copper of a side, with what was put there meanwhile in the place of other."""

    def __init__(
        self, side: str, wires: Wires, pads: Pads, nets: Sequence[Net], places: Places, classes: Mapping[str, NetClass],
        profile: Profile,
    ) -> None:  # fmt: skip
        self._classes, self._gap, self._art, self.side = classes, profile.gap_mm, places.art, side
        rows: list[tuple[str, BaseGeometry, Hashable]] = []
        of_pin = {pin: net.name for net in nets for pin in net.pins}
        for pin, some in pads.items():
            rows += [(of_pin.get(pin, ""), pad.polygon, _tag(pad)) for pad in some if pad.side == side]
        rows += [(via.net, via.region, (via.x, via.y, via.diameter)) for via in wires.vias if via.on(side)]
        rows += [(track.net, track.region, (track.points, track.width)) for track in wires.tracks if track.side == side]
        self._nets = [name for name, _, _ in rows]
        self._shapes = [region for _, region, _ in rows]
        self._tags = [(name, tag) for name, _, tag in rows]
        self._tree = shapely.STRtree(self._shapes)
        self._ends: dict[str, list[tuple[float, float]]] = {}
        for track in (track for track in wires.tracks if track.side == side):
            self._ends.setdefault(track.net, []).extend((track.points[0], track.points[-1]))
        for via in (via for via in wires.vias if via.on(side)):
            self._ends.setdefault(via.net, []).append((via.x, via.y))
        self._new: list[tuple[str, BaseGeometry]] = []
        self._bounds = np.zeros((0, 4))
        self._holes = [
            (shapely.Point(x, y), across / 2 + max(profile.gap_mm, profile.hole_gap_mm)) for x, y, across in places.holes
        ]
        self._most = max([profile.gap_mm, *(one.clearance for one in classes.values())])
        self._copper, self._hard = prepared(places.art.copper), prepared(places.art.hard[side])

    def put(self, net: str, region: BaseGeometry) -> None:
        """More copper of a net lies there."""
        self._new.append((net, region))
        self._bounds = np.vstack([self._bounds, region.bounds])

    def beside(self, track: Track, reach_mm: float) -> Hashable:
        """What lies so near to a track, as values: the same room leaves the same to it."""
        left, bottom, right, top = track.region.bounds
        area = shapely.box(left - reach_mm, bottom - reach_mm, right + reach_mm, top + reach_mm)
        near = self._tree.query(area)
        new = self._bounds
        met = (new[:, 0] < right + reach_mm) & (new[:, 2] > left - reach_mm)
        met &= (new[:, 1] < top + reach_mm) & (new[:, 3] > bottom - reach_mm)
        put = tuple((self._new[at][0], self._new[at][1].wkb) for at in np.flatnonzero(met).tolist())
        classes = tuple((name, self._classes[name].clearance) for name in sorted({self._nets[at] for at in near.tolist()})
                        if name in self._classes)  # fmt: skip
        holes = tuple((spot.x, spot.y, far) for spot, far in self._holes if shapely.dwithin(area, spot, far))
        own = self._gap, self._classes[track.net].clearance
        return frozenset(self._tags[at] for at in near.tolist()), put, holes, classes, own

    @property
    def art(self) -> ArtPlaces:
        """What art and outline leave."""
        return self._art

    def free(self, net: str, region: BaseGeometry) -> bool:
        """Whether the region keeps off all copper of other nets, and of the art, as its net has to."""
        own = self._classes[net].clearance
        if not self._copper.contains(region) or shapely.dwithin(self._hard, region, own):
            return False
        if any(shapely.dwithin(spot, region, reach) for spot, reach in self._holes):
            return False
        return all(shapely.distance(region, other) >= room - 1e-6 for other, room in self._others(net, region))

    def free_each(self, nets: Sequence[str], regions: NDArray[np.object_]) -> NDArray[np.bool_]:
        """The same of many regions at once, among what lay there from the beginning."""
        keep = {net: self._classes[net].clearance for net in set(nets)}
        own: Any = np.array([keep[net] for net in nets])
        free = shapely.contains(self._copper, regions) & ~shapely.dwithin(self._hard, regions, own)
        for spot, reach in self._holes:
            free &= ~shapely.dwithin(spot, regions, reach)
        one, other = self._tree.query(regions, predicate="dwithin", distance=self._most)
        apart = np.array([nets[at] != self._nets[which] for at, which in zip(one.tolist(), other.tolist(), strict=True)], bool)
        one, other = one[apart], other[apart]
        theirs = np.array([clearance_of(self._nets[which], self._classes, self._gap) for which in other.tolist()])
        gaps = shapely.distance(regions[one], self._tree.geometries[other])
        free[one[gaps < np.maximum(own[one], theirs) - 1e-6]] = False
        return np.asarray(free)

    def free_of_new(self, net: str, region: BaseGeometry) -> bool:
        """Whether the region keeps off the copper of other nets that was put there meanwhile."""
        own = self._classes[net].clearance
        return all(
            shapely.distance(region, other) >= room - 1e-6 for other, room in self._kept_off(net, own, self._beside(region))
        )

    def too_near(self, net: str, line: BaseGeometry, half: float) -> bool:
        """Whether a track along a line, so wide on either side of it, surely has no room: most that are tried have none, and a
        line is asked in a fraction of the time of its region."""
        wide = half * _SURELY
        return any(shapely.distance(line, other) < room - 1e-6 + wide for other, room in self._others(net, line, wide))

    def _others(self, net: str, shape: BaseGeometry, more: float = 0.0) -> Iterator[tuple[BaseGeometry, float]]:
        """The copper of other nets about a shape, or `more` mm farther, and how far the net has to keep off it."""
        near = self._tree.query(shape, predicate="dwithin", distance=self._most + more)
        rows = [(self._nets[at], self._shapes[at]) for at in near.tolist()]
        return self._kept_off(net, self._classes[net].clearance, [*rows, *self._beside(shape, more)])

    def _beside(self, shape: BaseGeometry, more: float = 0.0) -> list[tuple[str, BaseGeometry]]:
        """What was put about a shape meanwhile."""
        most, new = self._most + more, self._bounds
        left, bottom, right, top = shape.bounds
        beside = (new[:, 0] < right + most) & (new[:, 2] > left - most) & (new[:, 1] < top + most) & (new[:, 3] > bottom - most)
        return [self._new[at] for at in np.flatnonzero(beside).tolist()]

    def _kept_off(self, net: str, own: float, rows: Sequence[tuple[str, BaseGeometry]]) -> Iterator[tuple[BaseGeometry, float]]:
        for name, other in rows:
            if name != net:
                yield other, max(own, clearance_of(name, self._classes, self._gap))

    def joints(self, track: Track) -> set[tuple[float, float]]:
        """The places of a track at which other copper of its net begins: corners, and where others end between them."""
        line = LineString(track.points)
        out = {spot for spot in self._ends.get(track.net, ()) if line.distance(shapely.Point(spot)) < track.width / 2}
        out = {spot for spot in out if spot not in (track.points[0], track.points[-1])}
        for at in self._tree.query(line, predicate="dwithin", distance=1e-6).tolist():
            region = self._shapes[at]
            if self._nets[at] == track.net and region is not track.region:
                out |= {point for point in track.points[1:-1] if shapely.dwithin(region, shapely.Point(point), 1e-6)}
        return out


def _tag(pad: PlacedPad) -> Hashable:
    return pad.x, pad.y, pad.width, pad.height, pad.angle_deg, pad.round


def rooms(
    wires: Wires, pads: Pads, nets: Sequence[Net], places: Places, classes: Mapping[str, NetClass], profile: Profile
) -> dict[str, Room]:
    """The room on each side."""
    return {side: Room(side, wires, pads, nets, places, classes, profile) for side in ("front", "back")}
