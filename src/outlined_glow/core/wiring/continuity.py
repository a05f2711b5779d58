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

from ..geometry.regions import disc, polygons
from ..parts import PlacedPad

SIDES = ("front", "back")
#: Shapes this near to one another touch: they were meant to, and numbers are rounded.
_TOUCH_MM = 1e-6

Pin = tuple[str, str]
Spot = tuple[float, float]


@dataclass(frozen=True)
class Shape:
    """A piece of copper on a side; of a pad it knows the pin."""

    side: str
    region: BaseGeometry
    pin: Pin | None = None


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


def shapes_of(pads: Iterable[PlacedPad], others: Iterable[tuple[str, BaseGeometry]]) -> list[Shape]:
    """Pads, and every piece of other copper (side, region) by itself."""
    out = [Shape(pad.side, pad.polygon, (pad.ref, pad.pin)) for pad in pads]
    return out + [Shape(side, piece) for side, region in others for piece in polygons(region)]


def continuity(
    shapes: Sequence[Shape], holes: Sequence[tuple[float, float, float]], nets: Mapping[Pin, str], gap_mm: float,
    apart: Mapping[str, float] | None = None,
) -> Continuity:  # fmt: skip
    """What shapes join, with plated holes (x, y, diameter), against the nets of pins. Pins that have none are nets of their
    own. `apart` has the clearance of nets that need more than the gap of the fabricator."""
    apart = apart or {}
    roots = _components(shapes, holes)
    names = [None if one.pin is None else nets.get(one.pin, f"{one.pin[0]}.{one.pin[1]} (not connected)") for one in shapes]
    of_root: dict[int, dict[str, int]] = {}
    for at, (root, name) in enumerate(zip(roots.tolist(), names, strict=True)):
        if name is not None:
            of_root.setdefault(root, {}).setdefault(name, at)
    net_of = {root: next(iter(found)) for root, found in of_root.items()}
    whose = tuple(net_of.get(root, "") for root in roots.tolist())
    shorts = tuple(
        Short(tuple(sorted(found)), _spot(shapes[list(found.values())[1]].region))
        for found in of_root.values()
        if len(found) > 1
    )
    return Continuity(_opens(shapes, roots, names), shorts, _near(shapes, roots, whose, gap_mm, apart), whose)


def _components(shapes: Sequence[Shape], holes: Sequence[tuple[float, float, float]]) -> NDArray[np.int64]:
    """The component of each shape."""
    from scipy.sparse import coo_matrix  # only who checks loads it
    from scipy.sparse.csgraph import connected_components

    count = len(shapes)
    pairs = [np.zeros((2, 0), np.int64)]
    drilled = [disc(x, y, across / 2) for x, y, across in holes]
    first_of_hole = np.full(len(holes), -1)
    for side in SIDES:
        at = np.array([number for number, one in enumerate(shapes) if one.side == side], np.int64)
        if not len(at):
            continue
        regions = np.array([shapes[number].region for number in at], dtype=object)
        tree = shapely.STRtree(regions)
        pairs.append(at[tree.query(regions, predicate="dwithin", distance=_TOUCH_MM)])
        if drilled:
            through, hit = tree.query(drilled, predicate="intersects")
            for hole, number in zip(through.tolist(), at[hit].tolist(), strict=True):
                if first_of_hole[hole] < 0:
                    first_of_hole[hole] = number
                pairs.append(np.array([[first_of_hole[hole]], [number]]))
    one, other = np.concatenate(pairs, axis=1)
    graph = coo_matrix((np.ones(len(one), np.int8), (one, other)), shape=(count, count))
    roots: NDArray[np.int64] = connected_components(graph, directed=False)[1].astype(np.int64)
    return roots


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
    for part in parts:
        shared = [one for one in out if not one.keys().isdisjoint(part)]
        for one in shared:
            part = {**one, **part}
            out.remove(one)
        out.append(part)
    return out


def _near(
    shapes: Sequence[Shape], roots: NDArray[np.int64], whose: Sequence[str], gap_mm: float, apart: Mapping[str, float]
) -> tuple[Near, ...]:
    out = []
    most = max([gap_mm, *apart.values()])
    for side in SIDES:
        at = np.array([number for number, one in enumerate(shapes) if one.side == side], np.int64)
        if len(at) < 2:
            continue
        regions = np.array([shapes[number].region for number in at], dtype=object)
        one, other = at[shapely.STRtree(regions).query(regions, predicate="dwithin", distance=most - 1e-4)]
        for a, b in zip(one.tolist(), other.tolist(), strict=True):
            if a >= b or roots[a] == roots[b] or not (whose[a] or whose[b]):
                continue
            rule = max(gap_mm, apart.get(whose[a], 0.0), apart.get(whose[b], 0.0))
            gap = float(shapely.distance(shapes[a].region, shapes[b].region))
            if gap < rule - 1e-4:
                line = shapely.shortest_line(shapes[a].region, shapes[b].region)
                out.append(Near((whose[a], whose[b]), side, gap, rule, _spot(line)))
    return tuple(sorted(out, key=lambda near: near.gap))


def _spot(region: BaseGeometry) -> Spot:
    middle = region.centroid
    return float(middle.x), float(middle.y)
