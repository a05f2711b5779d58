"""The pieces of a region that are thinner than asked (DOMAIN 1): what an opening by a disc removes, if it is long or joins what
the disc passes, and strips across waists between what it passes."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..near import near_pairs
from ..overlay import CRUMB, overlay, overlay_each
from ..regions import polygons
from .morphology import DEAD_END, LEAST, PLAIN, SLACK, areas, euler, grown, lengths
from .passing import passed, strips_across, untold
from .waists import rays, reached, waists

#: A region drawn in by a radius and grown by so much of it again covers the region unless a hair, a thin bridge or
#: a sharp corner sticks out: where a piece of `DEAD_END` widths is missing, at least 1.9 radii are needed.
_THIN_REACH = 1.5


def thin_pieces(region: BaseGeometry, smallest: float) -> list[Polygon]:
    """The pieces of `region` that are thinner than `smallest`."""
    return thin_in(polygons(region), smallest)


def parts_with(parts: list[Polygon], smallest: float) -> list[Polygon]:
    """The parts that are thinner than that somewhere."""
    radius = smallest / 2 - SLACK
    if radius <= 0:
        return []
    return [part for part, pieces in _of_each(parts, radius, smallest) if pieces]


def thin_in(parts: list[Polygon], smallest: float) -> list[Polygon]:
    """The pieces of some polygons that are thinner than that."""
    radius = smallest / 2 - SLACK
    if radius <= 0:
        return []
    return [piece for _, mine in _of_each(parts, radius, smallest) for piece in mine]


def _of_each(parts: list[Polygon], radius: float, smallest: float) -> Iterator[tuple[Polygon, list[Polygon]]]:
    """The parts worth a look, each with its thin pieces: all of it where it is thin all over."""
    every, cores, ways = _asked(parts, radius)
    bare = shapely.is_empty(cores)
    found = iter(_thin_of(every[~bare], cores[~bare], ways[~bare], radius, smallest))
    return ((part, [part] if thin else next(found)) for part, thin in zip(every.tolist(), bare.tolist(), strict=True))


def _asked(parts: list[Polygon], radius: float) -> tuple[NDArray[np.object_], NDArray[np.object_], NDArray[np.object_]]:
    """The parts worth a look, drawn in by the radius beside them, and the ways across their waists: all but those that are seen
    to be nowhere thinner than twice the radius."""
    every = np.array([part for part in parts if part.area >= LEAST], dtype=object)
    cores = grown(every, -radius)
    plain = np.flatnonzero((shapely.get_num_coordinates(every) <= PLAIN) & (shapely.get_num_geometries(cores) == 1))
    wide = plain[shapely.covers(grown(cores[plain], _THIN_REACH * radius), every[plain])]
    # Where it falls apart at a waist, or a hole joins what lies round it, its core has more parts or fewer holes.
    waisted = np.flatnonzero(euler(cores) > euler(every))
    ways, part = waists(every[waisted], 2 * radius)
    mine = np.empty(len(every), dtype=object)
    mine[:] = np.split(ways, np.searchsorted(waisted[part], np.arange(1, len(every))))
    asked = np.ones(len(every), dtype=bool)
    asked[np.setdiff1d(wide, waisted[part])] = False
    return every[asked], cores[asked], mine[asked]


def _thin_of(
    parts: NDArray[np.object_], cores: NDArray[np.object_], ways: NDArray[np.object_], radius: float, smallest: float
) -> list[list[Polygon]]:
    """Of each part, of which a core is left, the pieces that its opening removes and that count, and its waists."""
    # The opening and its slack in one step.
    opened = grown(cores, radius + SLACK)
    removed, whose = areas(overlay_each(shapely.difference, parts, opened), LEAST)
    kept, of = areas(opened, CRUMB)
    one, other = near_pairs(removed, kept, 2 * SLACK)
    ends = np.bincount(one[whose[one] == of[other]], minlength=len(removed))
    long = lengths(removed)
    counts = (long > DEAD_END * smallest) | ((ends > 1) & (long > 0.2 * smallest))
    strips: dict[int, list[Polygon]] = {}
    for place in [place for place, some in enumerate(ways) if len(some)]:
        mine = np.flatnonzero(whose == place)
        across = untold(ways[place], removed[mine[counts[mine]]].tolist())
        if len(across):
            strips[place], joining = _at_waists(parts[place], opened[place], across, removed[mine], counts[mine], radius)
            counts[mine[joining]] = True
    rows = np.split(removed[counts], np.searchsorted(whose[counts], np.arange(1, len(parts))))
    return [[*mine.tolist(), *strips.get(place, ())] for place, mine in enumerate(rows)] if len(parts) else []


def _at_waists(
    part: Polygon, opened: BaseGeometry, ways: NDArray[np.object_], removed: NDArray[np.object_], counts: NDArray[np.bool_],
    radius: float,
) -> tuple[list[Polygon], NDArray[np.bool_]]:  # fmt: skip
    """Strips of a part across its waists, and which of the pieces that its opening removed lie at one and join what is left."""
    beside = rays(ways, radius)
    free = reached(beside.ravel(), part, opened).reshape(-1, 2)
    ways, joining = passed(ways, removed, counts, np.array([part] * len(removed), dtype=object), beside, free)
    strips = strips_across(untold(ways, removed[joining].tolist()), radius, removed[counts | joining].tolist())
    return [piece for strip in strips for piece in polygons(overlay(shapely.intersection, strip, part))], joining
