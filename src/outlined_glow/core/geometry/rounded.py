"""Regions side by side whose places are rounded, so that they still meet.

Where a corner of one region lies on an edge of another one, both are moved by rounding, but not alike: a crack would open
between them, or they would lap over one another. So each edge first takes the corners of the others that lie on it.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from .regions import EMPTY, polygons, region_of
from .valid import valid

#: A corner is on an edge if it is nearer than this: what booleans leave of it, mm.
_ON_EDGE = 1e-8


def rounded(regions: Sequence[BaseGeometry], digits: int) -> list[BaseGeometry]:
    """The regions with places rounded to so many decimals of a millimetre; edges that they had in common they have still."""
    corners = [np.unique(shapely.get_coordinates(region), axis=0) for region in regions]
    every = np.unique(np.concatenate(corners), axis=0)
    tree = shapely.STRtree(np.asarray(shapely.points(every)))
    return [_rounded(region, every, tree, digits) for region in regions]


def _rounded(region: BaseGeometry, corners: NDArray[np.float64], tree: shapely.STRtree, digits: int) -> BaseGeometry:
    parts = np.array(polygons(region), dtype=object)
    if not len(parts):
        return EMPTY
    rings, part = shapely.get_rings(parts, return_index=True)
    places, ring = shapely.get_coordinates(rings, return_index=True)
    begins = np.flatnonzero(ring[1:] == ring[:-1])
    edges = shapely.linestrings(np.stack([places[begins], places[begins + 1]], axis=1))
    edge, corner = tree.query(edges, predicate="dwithin", distance=_ON_EDGE)
    begin, end, at = places[begins[edge]], places[begins[edge] + 1], corners[corner]
    between = np.minimum(np.hypot(*(at - begin).T), np.hypot(*(at - end).T)) > _ON_EDGE
    if between.any():
        edge, at, along = edge[between], at[between], np.hypot(*(at - begin)[between].T)
        order = np.lexsort((along, edge))
        after = begins[edge[order]] + 1
        places, ring = np.insert(places, after, at[order], axis=0), np.insert(ring, after, ring[after])
    rings = np.asarray(shapely.linearrings(np.round(places, digits), indices=ring))
    first = np.flatnonzero(np.diff(part, prepend=-1))
    bounds = [*first.tolist(), len(rings)]
    out = [shapely.polygons(rings[begin], rings[begin + 1 : end]) for begin, end in itertools.pairwise(bounds)]
    return valid(region_of(out))
