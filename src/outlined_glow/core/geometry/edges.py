"""Regions compared by their edges, without a boolean."""

from __future__ import annotations

from collections import deque
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

Box = tuple[float, float, float, float]
Numbers = NDArray[np.uint64]

#: Odd numbers that spread the bits of coordinates over one number.
_SPREAD = np.array([0x9E3779B97F4A7C15, 0xC2B2AE3D27D4EB4F], np.uint64)


def edges_differ(one: BaseGeometry, other: BaseGeometry) -> Box | None:
    """The box round the edges that only one of two regions has: within it lies all that only one of them covers. Of rings that
    both have no edge is looked at."""
    if one is other or shapely.equals_identical(one, other):
        return None
    (rings, numbers), (others, their_numbers) = _rings(one), _rings(other)
    a, edges = _edges_of(rings[~np.isin(numbers, their_numbers)])
    b, their_edges = _edges_of(others[~np.isin(their_numbers, numbers)])
    alone = np.concatenate([edges[~np.isin(a, b, assume_unique=True)], their_edges[~np.isin(b, a, assume_unique=True)]])
    if not len(alone):
        return None
    left, bottom = np.minimum(alone[:, :2], alone[:, 2:]).min(axis=0).tolist()
    right, top = np.maximum(alone[:, :2], alone[:, 2:]).max(axis=0).tolist()
    return left, bottom, right, top


def numbers_of(parts: NDArray[np.object_]) -> Numbers:
    """A number for each of many polygons, the same for the same edges."""
    rings, of = shapely.get_rings(parts, return_index=True)
    found = np.zeros(len(parts), np.uint64)
    np.add.at(found, of, _numbers(rings))
    return found


_Rings = tuple[NDArray[Any], Numbers]
#: The latest regions with their rings, found again as the same objects.
_LATEST: deque[tuple[BaseGeometry, _Rings]] = deque(maxlen=16)


def _rings(region: BaseGeometry) -> _Rings:
    """The rings of a region, and a number for each that is the same for the same edges of a hole, or of what is no hole."""
    known = next((rings for one, rings in tuple(_LATEST) if one is region), None)
    if known is None:
        rings, part = shapely.get_rings(shapely.get_parts(region), return_index=True)
        numbers = _numbers(rings)
        numbers[np.diff(part, prepend=-1) != 0] ^= _SPREAD[0]
        known = rings, numbers
        _LATEST.append((region, known))
    return known


def _numbers(rings: NDArray[Any]) -> Numbers:
    corners, ring = shapely.get_coordinates(rings, return_index=True)
    if not len(corners):
        return np.zeros(0, np.uint64)
    edges = np.append(_along(corners), np.uint64(0))
    edges[:-1][ring[1:] != ring[:-1]] = 0
    return np.asarray(np.add.reduceat(edges, np.flatnonzero(np.diff(ring, prepend=-1))))


def _along(corners: NDArray[np.float64]) -> Numbers:
    """A number for each way from one corner (n, 2) to the next, the same whichever way it runs."""
    bits = np.ascontiguousarray(corners + 0.0).view(np.uint64)  # no -0.0
    numbers = np.zeros(len(corners), np.uint64)
    for column, spread in zip(bits.T, _SPREAD, strict=True):
        numbers = (numbers ^ column) * spread
        numbers ^= numbers >> np.uint64(29)
    numbers |= np.uint64(1)
    return numbers[:-1] * numbers[1:]


def _edges_of(rings: NDArray[Any]) -> tuple[Numbers, NDArray[np.float64]]:
    """A number for each edge of some rings, whichever way it runs, in rising order; and its ends (n, 4)."""
    points, which = shapely.get_coordinates(rings, return_index=True)
    begins = np.flatnonzero(which[1:] == which[:-1])
    numbers, first = np.unique(_along(points)[begins], return_index=True)
    begins = begins[first]
    return numbers, np.hstack([points[begins], points[begins + 1]])
