"""The gaps of a region that are narrower than asked (DOMAIN 1): what a closing by a disc adds, if it is long or joins what is
open, and strips where two points come near."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..clusters import clusters
from ..near import near_pairs
from ..overlay import overlay_each
from ..regions import polygons
from .morphology import LEAST, PLAIN, SLACK, areas, euler, grown, lengths
from .passing import open_between, passed, strips_across, untold
from .tapers import tapering
from .waists import rays, waists

#: A region grown by a radius and drawn in by so much of it is the region itself unless a gap of one width and more is filled:
#: in its middle at least 1.41 radii are needed. Only between three rounds that touch may less be found: a hollow shorter than
#: the width, whatever its curved sides add up to.
_GAP_REACH = 1.4


def gap_pieces(region: BaseGeometry, smallest: float, corners: bool = True) -> list[Polygon]:
    """The gaps of `region` that are narrower than `smallest`; corners of 30 degrees and more are none, but filling them does no
    harm."""
    radius = smallest / 2 - SLACK
    if radius <= 0 or region.is_empty:
        return []
    every = np.array(polygons(region), dtype=object)
    cluster = clusters(len(every), *near_pairs(every, every, smallest))
    filled, banks, closed, spanned = _filled(_clustered(every, cluster), radius)
    counts = lengths(filled) > smallest
    if not corners:
        counts &= ~tapering(filled, smallest, every)
    kept: list[Polygon] = filled[counts].tolist()
    ways = untold(waists(every[spanned[cluster]], 2 * radius, between=True)[0], kept)
    # What is nearer than the noise touches.
    ways = ways[shapely.length(ways) > SLACK]
    beside = rays(ways, radius)
    ways, joining = passed(ways, filled, counts, banks, beside, open_between(beside.ravel(), every, closed).reshape(-1, 2))
    more = filled[joining].tolist()
    kept += more
    return kept + strips_across(untold(ways, more), radius, kept)


def _filled(
    regions: NDArray[np.object_], radius: float
) -> tuple[NDArray[np.object_], NDArray[np.object_], NDArray[np.object_], NDArray[np.bool_]]:
    """What a closing adds to those of some regions that are not seen to be free of gaps, the banks of each piece, and those
    regions closed; and which of all regions may have a gap that a disc spans from bank to bank."""
    wide = grown(regions, radius)
    spanned = _spanned(regions, wide, radius)
    plain = np.flatnonzero(shapely.get_num_coordinates(regions) <= PLAIN)
    suspect = np.ones(len(regions), dtype=bool)
    suspect[plain] = spanned[plain] | ~shapely.covers(regions[plain], grown(wide[plain], -_GAP_REACH * radius))
    banks, closed = grown(regions[suspect], SLACK), grown(wide[suspect], -radius)
    pieces, whose = areas(overlay_each(shapely.difference, closed, banks), LEAST)
    return pieces, banks[whose], closed, spanned


def _spanned(regions: NDArray[np.object_], wide: NDArray[np.object_], radius: float) -> NDArray[np.bool_]:
    """Which regions, that have grown wide by a radius, may have grown over a gap: their parts become fewer then, or their holes
    more, but for holes that are filled."""
    parts, of = shapely.get_parts(regions, return_index=True)
    rings, part = shapely.get_rings(parts, return_index=True)
    inner = np.diff(part, prepend=-1) == 0
    slim = shapely.area(shapely.polygons(rings)) < radius * shapely.length(rings)
    out = euler(wide) < euler(regions)
    out[of[part[inner & slim]]] = True
    return out


def _clustered(every: NDArray[np.object_], cluster: NDArray[np.int64]) -> NDArray[np.object_]:
    """Parts that are near to one another, directly or by way of others, put together: gaps are within such a cluster."""
    order = np.argsort(cluster, kind="stable")
    return np.asarray(shapely.multipolygons(every[order], indices=cluster[order]))
