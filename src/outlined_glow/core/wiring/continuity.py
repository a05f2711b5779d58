"""What finished copper joins, found from its shapes alone, against what the nets ask for (DESIGN 4.6).

Pieces of copper that touch on a side hang together, and plated holes join both sides. What they were made for is not asked.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..geometry.clusters import clusters
from ..geometry.prepared import prepared_some
from ..geometry.regions import disc, polygons
from ..parts import PlacedPad

SIDES = ("front", "back")
#: Shapes this near to one another touch: they were meant to, and numbers are rounded.
_TOUCH_MM = 1e-6
#: A shape of so many corners is asked prepared.
_VAST = 100

Pin = tuple[str, str]
Spot = tuple[float, float]


@dataclass(frozen=True)
class Shape:
    """A piece of copper on a side; of a pad it knows the pin. What net it was `meant` for decides nothing: it tells where
    others meet it."""

    side: str
    region: BaseGeometry
    pin: Pin | None = None
    meant: str = ""


@dataclass(frozen=True)
class Open:
    """A net whose pins hang together in several groups, the largest first, with a place of each."""

    net: str
    groups: tuple[tuple[Pin, ...], ...]
    places: tuple[Spot, ...]


@dataclass(frozen=True)
class Short:
    """Nets that hang together, and where one of the others meets the first."""

    nets: tuple[str, ...]
    place: Spot


@dataclass(frozen=True)
class Near:
    """Two pieces of copper that do not hang together and are nearer than they may be, mm."""

    nets: tuple[str, str]
    side: str
    gap: float
    rule: float
    place: Spot


@dataclass(frozen=True)
class Continuity:
    """What is wrong with copper: opens, shorts, gaps; the nets of all shapes in their order ("" for those of none)."""

    opens: tuple[Open, ...]
    shorts: tuple[Short, ...]
    near: tuple[Near, ...]
    nets: tuple[str, ...]


def shapes_of(pads: Iterable[PlacedPad], others: Iterable[tuple[str, BaseGeometry, str]]) -> list[Shape]:
    """Pads, and every piece of other copper (side, region, the net it was meant for) by itself."""
    out = [Shape(pad.side, pad.polygon, (pad.ref, pad.pin), pad.net) for pad in pads]
    return out + [Shape(side, piece, None, net) for side, region, net in others for piece in polygons(region)]


def continuity(
    shapes: Sequence[Shape], holes: Sequence[tuple[float, float, float]], nets: Mapping[Pin, str], gap_mm: float,
    apart: Mapping[str, float] | None = None, wires: Sequence[tuple[tuple[str, float, float], ...]] = (),
) -> Continuity:  # fmt: skip
    """What shapes join, with plated holes (x, y, diameter) and wires that are soldered at places (side, x, y), against the nets
    of pins. Pins that have none are nets of their own. `apart` has the clearance of nets that need more than the gap of the
    fabricator."""
    apart = apart or {}
    touching, pairs = _pairs(shapes, max([gap_mm, *apart.values()]))
    roots = _components(shapes, holes, np.concatenate([touching, _soldered(shapes, wires)], axis=1))
    names = [None if one.pin is None else nets.get(one.pin, f"{one.pin[0]}.{one.pin[1]} (not connected)") for one in shapes]
    of_root: dict[int, dict[str, int]] = {}
    for at, (root, name) in enumerate(zip(roots.tolist(), names, strict=True)):
        if name is not None:
            of_root.setdefault(root, {}).setdefault(name, at)
    net_of = {root: next(iter(found)) for root, found in of_root.items()}
    whose = tuple(net_of.get(root, "") for root in roots.tolist())
    shorts = tuple(
        Short(tuple(sorted(found)), _meeting(shapes, touching[:, roots[touching[0]] == root], found))
        for root, found in of_root.items()
        if len(found) > 1
    )
    return Continuity(_opens(shapes, roots, names), shorts, _near(shapes, pairs, roots, whose, gap_mm, apart), whose)


def _pairs(shapes: Sequence[Shape], far_mm: float) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Pairs (2, n) of shapes on one side that touch, and of those that do not and are nearer to one another than so far. Of
    each pair the one of more corners is asked, a vast one prepared: among few of those and many small ones that is what
    costs."""
    regions = np.array([one.region for one in shapes], dtype=object)
    corners = shapely.get_num_coordinates(regions)
    found = [np.zeros((2, 0), np.int64)]
    for side in SIDES:
        at = np.array([number for number, one in enumerate(shapes) if one.side == side], np.int64)
        if not len(at):
            continue
        boxes = shapely.bounds(regions[at])
        one, other = at[shapely.STRtree(regions[at]).query(shapely.box(*(boxes + _grown(far_mm)).T))]
        once = (corners[one] > corners[other]) | ((corners[one] == corners[other]) & (one < other))
        found.append(np.array([one[once], other[once]]))
    one, other = np.concatenate(found, axis=1)
    pairs = np.array([one, other])
    vast = np.unique(one[corners[one] >= _VAST])
    meet = shapely.intersects(prepared_some(regions, vast)[one], regions[other])
    apart = pairs[:, ~meet]
    near = apart[:, shapely.dwithin(regions[apart[0]], regions[apart[1]], far_mm)]
    touch = shapely.dwithin(regions[near[0]], regions[near[1]], _TOUCH_MM)
    return np.concatenate([pairs[:, meet], near[:, touch]], axis=1), near[:, ~touch]


def _grown(by: float) -> NDArray[np.float64]:
    """What is added to bounds so that their box grows."""
    return np.array([-by, -by, by, by])


def _meeting(shapes: Sequence[Shape], touching: NDArray[np.int64], found: Mapping[str, int]) -> Spot:
    """Where pieces meet that were meant for different nets; else where one of the nets has a pad."""
    for one, other in touching.T.tolist():
        a, b = shapes[one], shapes[other]
        if a.meant and b.meant and a.meant != b.meant:
            return _spot(shapely.intersection(a.region, b.region))
    return _spot(shapes[list(found.values())[1]].region)


def _soldered(shapes: Sequence[Shape], wires: Sequence[tuple[tuple[str, float, float], ...]]) -> NDArray[np.int64]:
    """Pairs (2, n) of shapes that a wire joins."""
    out = []
    for ends in wires:
        met = [at for side, x, y in ends for at, one in enumerate(shapes) if one.side == side and _meets(one.region, x, y)]
        out += [(met[0], at) for at in met[1:]]
    return np.array(out, np.int64).reshape(-1, 2).T


def _meets(region: BaseGeometry, x: float, y: float) -> bool:
    left, bottom, right, top = region.bounds
    return left <= x <= right and bottom <= y <= top and bool(shapely.dwithin(region, shapely.Point(x, y), _TOUCH_MM))


def _components(
    shapes: Sequence[Shape], holes: Sequence[tuple[float, float, float]], touching: NDArray[np.int64]
) -> NDArray[np.int64]:
    """The component of each shape, given the pairs that touch."""
    regions = np.array([one.region for one in shapes], dtype=object)
    joined = [touching]
    if holes and len(regions):
        drilled = np.array([disc(x, y, across / 2) for x, y, across in holes], dtype=object)
        through, hit = shapely.STRtree(regions).query(drilled)
        through, hit = (found[shapely.intersects(regions[hit], drilled[through])] for found in (through, hit))
        first = np.zeros(len(holes), np.int64)
        first[through[::-1]] = hit[::-1]
        joined.append(np.array([first[through], hit]))
    return clusters(len(shapes), *np.concatenate(joined, axis=1))


def _opens(shapes: Sequence[Shape], roots: NDArray[np.int64], names: Sequence[str | None]) -> tuple[Open, ...]:
    groups: dict[str, dict[int, dict[Pin, Spot]]] = {}
    for one, root, name in zip(shapes, roots.tolist(), names, strict=True):
        if name is not None and one.pin is not None:
            groups.setdefault(name, {}).setdefault(root, {}).setdefault(one.pin, _spot(one.region))
    out = []
    for name, found in groups.items():
        parts = _joined_pins(list(found.values()))
        if len(parts) > 1:
            parts.sort(key=lambda part: -len(part))
            places = tuple(next(iter(part.values())) for part in parts)
            out.append(Open(name, tuple(tuple(part) for part in parts), places))
    return tuple(out)


def _joined_pins(parts: list[dict[Pin, Spot]]) -> list[dict[Pin, Spot]]:
    """Groups that share a pin, which has several pads, are one."""
    out: list[dict[Pin, Spot]] = []
    of_pin: dict[Pin, dict[Pin, Spot]] = {}
    for part in parts:
        shared = {id(one): one for one in (of_pin.get(pin) for pin in part) if one is not None}
        for one in shared.values():
            part = {**one, **part}
        gone = set(shared)
        out = [one for one in out if id(one) not in gone] if gone else out
        out.append(part)
        of_pin.update(dict.fromkeys(part, part))
    return out


def _near(
    shapes: Sequence[Shape], pairs: NDArray[np.int64], roots: NDArray[np.int64], whose: Sequence[str], gap_mm: float,
    apart: Mapping[str, float],
) -> tuple[Near, ...]:  # fmt: skip
    """The pairs that do not hang together and are nearer to one another than the nets of either may be. How far the pads of one
    part are apart its maker answers for, as long as the fabricator can etch it."""
    out = []
    for a, b in np.sort(pairs[:, roots[pairs[0]] != roots[pairs[1]]], axis=0).T.tolist():
        if not (whose[a] or whose[b]):
            continue
        pins = shapes[a].pin, shapes[b].pin
        one_part = pins[0] is not None and pins[1] is not None and pins[0][0] == pins[1][0]
        rule = gap_mm if one_part else max(gap_mm, apart.get(whose[a], 0.0), apart.get(whose[b], 0.0))
        gap = float(shapely.distance(shapes[a].region, shapes[b].region))
        if gap < rule - 1e-4:
            line = shapely.shortest_line(shapes[a].region, shapes[b].region)
            out.append(Near((whose[a], whose[b]), shapes[a].side, gap, rule, _spot(line)))
    return tuple(sorted(out, key=lambda near: (near.gap, near.place)))


def _spot(region: BaseGeometry) -> Spot:
    middle = region.centroid
    return float(middle.x), float(middle.y)
