"""Booleans of regions of many holes or pieces: only what is near to one another takes part, as the holes of a vast region
near something small.

The result is the same region as that of the whole boolean; its holes may come in another order.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, cast

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .clusters import clusters
from .overlay import as_one, both, overlay, overlay_each
from .prepared import prepared_some
from .regions import clean, clipped, meeting, parted, polygons, region_of, union

#: Up to so many holes of a polygon are simply taken along.
_FEW = 12


def cut_near(region: BaseGeometry, cutter: BaseGeometry) -> BaseGeometry:
    """The region without a small one."""
    if cutter.is_empty or region.is_empty:
        return region
    touched, out = parted(region, cutter)
    for part in touched:
        slim, far = _without_far_holes(part, cutter)
        rest = overlay(shapely.difference, slim, cutter)
        kept = polygons(clean(rest))
        out += _refilled(kept, far, whole=len(kept) == shapely.get_num_geometries(rest))
    return region_of(out)


def added_near(region: BaseGeometry, extra: BaseGeometry) -> BaseGeometry:
    """The region with a small one joined to it."""
    if extra.is_empty or region.is_empty:
        return extra if region.is_empty else region
    touched, untouched = parted(region, extra)
    slim, holes = [], []
    for part in touched:
        one, far = _without_far_holes(part, extra)
        slim.append(one)
        holes += far
    return region_of([*untouched, *_refilled(polygons(union([*slim, extra])), holes)])


def pierced(pieces: NDArray[np.object_], areas: NDArray[np.object_]) -> list[Polygon]:
    """Polygons without areas of which no two meet: those that lie wholly inside a piece become holes of it."""
    piece, area = meeting(pieces, areas)
    inside = (shapely.get_num_interior_rings(areas)[area] == 0) & shapely.contains_properly(pieces[piece], areas[area])
    out: list[Polygon] = []
    for at, whole in enumerate(pieces):
        mine, within = areas[area[(piece == at) & ~inside]], areas[area[(piece == at) & inside]]
        rest = with_holes(whole, shapely.get_exterior_ring(within))
        out += polygons(overlay(shapely.difference, rest, shapely.multipolygons(mine)) if len(mine) else rest)
    return out


def united(areas: NDArray[np.object_]) -> NDArray[np.object_]:
    """The areas so that no two meet: those that do are united, cluster by cluster."""
    cluster = clusters(len(areas), *near_pairs(areas, areas))
    alone = np.bincount(cluster)[cluster] == 1
    if alone.all():
        return areas
    order = np.flatnonzero(~alone)[np.argsort(cluster[~alone], kind="stable")]
    some = np.split(areas[order], np.flatnonzero(np.diff(cluster[order])) + 1)
    return np.array([*areas[alone], *(part for each in some for part in polygons(_together(each)))], dtype=object)


def _together(areas: NDArray[np.object_]) -> BaseGeometry:
    """Areas that hang together as one; a vast one comes last, for it would take part in every step."""
    corners = shapely.get_num_coordinates(areas)
    largest = int(np.argmax(corners))
    if 4 * corners[largest] < corners.sum():
        return as_one(areas)
    return both(areas[largest], as_one(np.delete(areas, largest)))


def near_pairs(
    these: NDArray[np.object_], those: NDArray[np.object_], reach: float = 0.0
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Which of these lie within reach of which of those, or meet them: pairs of places, of a list with itself each once."""
    boxes = shapely.box(*(shapely.bounds(these) + np.array([-reach, -reach, reach, reach])).T)
    one, other = shapely.STRtree(those).query(boxes)
    if these is those:
        one, other = one[one < other], other[one < other]
    # The one with more corners is asked: what was prepared answers at once, however large it is.
    swapped = shapely.get_num_coordinates(these)[one] < shapely.get_num_coordinates(those)[other]
    whole = prepared_some(those, np.unique(other[swapped])), prepared_some(these, np.unique(one[~swapped]))
    asked, told = np.where(swapped, whole[0][other], whole[1][one]), np.where(swapped, these[one], those[other])
    near = shapely.dwithin(asked, told, reach) if reach else shapely.intersects(asked, told)
    return one[near], other[near]


class Framed:
    """Polygons of which it is asked again and again what lies in an upright frame (left, bottom, right, top), mm."""

    def __init__(self, parts: NDArray[np.object_]) -> None:
        self._parts, self._tree = parts, shapely.STRtree(parts)

    def within(self, frame: tuple[float, float, float, float]) -> BaseGeometry:
        """What of the polygons lies in the frame."""
        near = self._parts[self._tree.query(shapely.box(*frame))]
        return region_of(part for one in near for part in polygons(clipped(one, *frame)))

    def beside(self, frame: tuple[float, float, float, float]) -> BaseGeometry:
        """What the polygons leave of the frame."""
        left: BaseGeometry = overlay(shapely.difference, shapely.box(*frame), self.within(frame))
        return left


class Around:
    """A region of many parts and holes of which it is asked again and again what there is about a place."""

    def __init__(self, region: BaseGeometry) -> None:
        parts = np.array(polygons(region), dtype=object)
        rings, whose = shapely.get_rings(parts, return_index=True)
        holes = np.diff(whose, prepend=-1) == 0
        self._shells, self._holes, self._of = rings[~holes], rings[holes], whose[holes]
        self._parts, self._within = (shapely.STRtree(self._boxes(some)) for some in (self._shells, self._holes))

    @staticmethod
    def _boxes(rings: NDArray[np.object_]) -> Any:
        return shapely.box(*shapely.bounds(rings).T)

    def within(self, frame: tuple[float, float, float, float]) -> BaseGeometry:
        """Its parts and their holes whose boxes meet an upright frame (left, bottom, right, top), mm: there the same region."""
        box = shapely.box(*frame)
        holes = np.sort(self._within.query(box))
        own = {at: self._holes[holes[self._of[holes] == at]].tolist() for at in set(self._of[holes].tolist())}
        return region_of(Polygon(self._shells[at], own.get(at)) for at in np.sort(self._parts.query(box)).tolist())


def areas_in(region: BaseGeometry, small: NDArray[np.object_]) -> NDArray[np.float64]:
    """How much (mm²) of each of some small areas lies in a region: what lies within its outer rings, without what lies in
    its holes."""
    rings, whose = shapely.get_rings(np.array(polygons(region), dtype=object), return_index=True)
    areas: Any = shapely.polygons(rings)
    ring, which = meeting(areas, small)
    sign = np.where(np.diff(whose, prepend=-1) == 0, -1.0, 1.0)
    within = sign[ring] * shapely.area(overlay_each(shapely.intersection, areas[ring], small[which]))
    return np.asarray(np.bincount(which, within, len(small)), float)


def with_holes(part: Polygon, rings: Sequence[Any]) -> Polygon:
    """A polygon with further holes, which lie inside it."""
    if not len(rings):
        return part
    outer, *own = shapely.get_rings(part).tolist()
    return cast(Polygon, shapely.polygons(outer, [*own, *rings]))


def _without_far_holes(part: Polygon, other: BaseGeometry) -> tuple[Polygon, list[Any]]:
    """A polygon with those of its many holes alone that are near another region, and the other holes."""
    outer, *holes = shapely.get_rings(part).tolist()
    if len(holes) < _FEW:
        return part, []
    boxes: Any = shapely.box(*shapely.bounds(holes).T)
    others: Any = shapely.box(*shapely.bounds(polygons(other)).T)
    near = set(shapely.STRtree(boxes).query(others)[1].tolist())
    slim: Any = shapely.polygons(outer, [holes[at] for at in sorted(near)] or None)
    return slim, [hole for at, hole in enumerate(holes) if at not in near]


def _refilled(parts: list[Polygon], holes: list[Any], whole: bool = True) -> list[Polygon]:
    """Holes put back into the polygons that they lie in, which are the `whole` of what there was unless crumbs went."""
    if not holes or not parts:
        return parts
    out = list(parts)
    for at, some in ({0: holes} if whole and len(parts) == 1 else _inside(parts, holes, whole)).items():
        out[at] = with_holes(parts[at], some)
    return out


def _inside(parts: list[Polygon], holes: list[Any], whole: bool) -> dict[int, list[Any]]:
    """Which holes lie in which of some polygons: in the only one whose box it may be, if those are the `whole`."""
    found, where = shapely.STRtree(parts).query(shapely.get_point(holes, 0))
    asked = np.full(len(found), not whole) | (np.bincount(found, minlength=len(holes))[found] > 1)
    every = np.array(parts, dtype=object)
    every = prepared_some(every, np.unique(where[asked]))  # asked of once prepared, a vast one answers at once
    middles: Any = shapely.point_on_surface(shapely.polygons(np.array(holes)[found[asked]]))
    held = ~asked
    held[asked] = shapely.contains(every[where[asked]], middles)
    inside: dict[int, list[Any]] = {}
    for hole, at in zip(found[held].tolist(), where[held].tolist(), strict=True):
        inside.setdefault(at, []).append(holes[hole])
    return inside
