"""Corners among pieces that are thin: what tapers to a point is half as long for a disc of half the radius."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import shapely
from numpy.typing import NDArray

from .morphology import DEAD_END, LEAST, SLACK, grown, lengths
from .regions import clipped, overlay_each, polygons, region_of

#: Half as long, for corners that were rounded to the places of a drawing, or traced.
_HALF = (0.4, 0.6)


def long_enough(
    pieces: NDArray[np.object_],
    smallest: float,
    parts: NDArray[np.object_],
    removed: Callable[[NDArray[np.object_], float, float], NDArray[np.object_]],
) -> NDArray[np.bool_]:
    """Which pieces count by their length: those longer than `smallest` (mm), but for corners of 30 degrees and more, which are no
    longer than 2.3 of it. `removed` takes regions, a radius and a slack to what a disc of that radius leaves of them."""
    long = lengths(pieces)
    counts = long > smallest
    doubtful = np.flatnonzero(counts & (long <= DEAD_END * smallest))
    if not len(doubtful):
        return counts
    tree, some = shapely.STRtree(parts), pieces[doubtful]
    grounds = np.empty(len(some), dtype=object)
    for place, (left, bottom, right, top) in enumerate(shapely.bounds(some).tolist()):
        frame = (left - smallest, bottom - smallest, right + smallest, top + smallest)
        near = parts[tree.query(shapely.box(*frame))]
        grounds[place] = region_of(part for one in near for part in polygons(clipped(one, *frame)))
    left_over, whose = shapely.get_parts(removed(grounds, smallest / 4 - SLACK / 2, SLACK / 2), return_index=True)
    mine = (shapely.area(left_over) > LEAST / 4) & shapely.intersects(left_over, some[whose])
    half = np.zeros(len(some))
    np.maximum.at(half, whose[mine], lengths(left_over[mine]))
    share = half / long[doubtful]
    counts[doubtful[(share > _HALF[0]) & (share < _HALF[1])]] = False
    return counts


def opened_away(regions: NDArray[np.object_], radius: float, slack: float) -> NDArray[np.object_]:
    """What an opening takes from some regions."""
    return overlay_each(shapely.difference, regions, grown(grown(regions, -radius), radius + slack))


def closed_up(regions: NDArray[np.object_], radius: float, slack: float) -> NDArray[np.object_]:
    """What a closing adds to some regions."""
    return overlay_each(shapely.difference, grown(grown(regions, radius), -radius), grown(regions, slack))
