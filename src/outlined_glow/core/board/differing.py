"""Where two boards look otherwise from one side: an edit mostly changes a small piece of a picture."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..parts import PlacedPart
from .model import Board
from .surface import soldered

Box = tuple[float, float, float, float]

#: Odd numbers that spread the bits of coordinates over one number.
_SPREAD = np.array([0x9E3779B97F4A7C15, 0xC2B2AE3D27D4EB4F], np.uint64)


def looks_otherwise(was: Board, board: Board, side: str) -> Box | None:
    """The box (board frame, mm) round everything that one side shows otherwise; None where it shows nothing otherwise."""
    names = ("core", *(f"{side} {kind}" for kind in ("copper", "mask", "legend")))
    pairs = [(was.layer(name), board.layer(name)) for name in names]
    pairs += [(was.outline, board.outline), (was.windows, board.windows), (was.veiled, board.veiled)]
    boxes = [edges_differ(one, other) for one, other in pairs]
    boxes += _differ(*([(_known(part), part.drawn_bounds) for part in one.parts if part.side == side] for one in (was, board)))
    boxes += _differ(*([(spot.wkb, spot.bounds) for spot in soldered(one)] for one in (was, board)))
    if not (board.windows.is_empty and board.veiled.is_empty):
        boxes += _differ(*([(pad, pad.polygon.bounds) for pad in one.pads if pad.side == "back"] for one in (was, board)))
    found = np.array([box for box in boxes if box is not None])
    if not len(found):
        return None
    left, bottom = found[:, :2].min(axis=0).tolist()
    right, top = found[:, 2:].max(axis=0).tolist()
    return left, bottom, right, top


def shines_otherwise(was: Board, board: Board) -> bool:
    """Whether the LEDs of two boards light them otherwise."""
    return was.lights != board.lights or was.stack.thickness_mm != board.stack.thickness_mm


def _known(part: PlacedPart) -> tuple[object, ...]:
    return part.ref, id(part.part), part.x, part.y, part.angle_deg


def _differ(one: Iterable[tuple[object, Box]], other: Iterable[tuple[object, Box]]) -> list[Box]:
    """The boxes of what is in one of two lists alone."""
    a, b = dict(one), dict(other)
    return [box for key, box in (*a.items(), *b.items()) if key not in a or key not in b]


def edges_differ(one: BaseGeometry, other: BaseGeometry) -> Box | None:
    """The box round the edges that only one of two regions has: within it lies all that only one of them covers. Of parts that
    both have no edge is looked at."""
    if one is other or shapely.equals_identical(one, other):
        return None
    (parts, sums), (others, their_sums) = _parts(one), _parts(other)
    a, edges = _edges_of(parts[~np.isin(sums, their_sums)])
    b, their_edges = _edges_of(others[~np.isin(their_sums, sums)])
    alone = np.concatenate([edges[~np.isin(a, b, assume_unique=True)], their_edges[~np.isin(b, a, assume_unique=True)]])
    if not len(alone):
        return None
    left, bottom = np.minimum(alone[:, :2], alone[:, 2:]).min(axis=0).tolist()
    right, top = np.maximum(alone[:, :2], alone[:, 2:]).max(axis=0).tolist()
    return left, bottom, right, top


_Parts = tuple[NDArray[np.object_], NDArray[np.uint64]]
#: The latest regions with their parts, found again as the same objects.
_LATEST: deque[tuple[BaseGeometry, _Parts]] = deque(maxlen=16)


def _parts(region: BaseGeometry) -> _Parts:
    """The parts of a region, and a number for each that is the same for the same edges."""
    known = next((parts for one, parts in tuple(_LATEST) if one is region), None)
    if known is None:
        known = _numbered(region)
        _LATEST.append((region, known))
    return known


def _numbered(region: BaseGeometry) -> _Parts:
    parts = shapely.get_parts(region)
    rings, of = shapely.get_rings(parts, return_index=True)
    corners, ring = shapely.get_coordinates(rings, return_index=True)
    if not len(corners):
        return parts[:0], np.zeros(0, np.uint64)
    edges = np.append(_along(corners), np.uint64(0))
    edges[:-1][ring[1:] != ring[:-1]] = 0
    first = np.flatnonzero(np.diff(of[ring], prepend=-1))
    return parts[of[ring[first]]], np.add.reduceat(edges, first)


def _along(corners: NDArray[np.float64]) -> NDArray[np.uint64]:
    """A number for each way from one corner (n, 2) to the next, the same whichever way it runs."""
    bits = np.ascontiguousarray(corners + 0.0).view(np.uint64)  # no -0.0
    numbers = np.zeros(len(corners), np.uint64)
    for column, spread in zip(bits.T, _SPREAD, strict=True):
        numbers = (numbers ^ column) * spread
        numbers ^= numbers >> np.uint64(29)
    numbers |= np.uint64(1)
    return numbers[:-1] * numbers[1:]


def _edges_of(parts: NDArray[np.object_]) -> tuple[NDArray[np.uint64], NDArray[np.float64]]:
    """A number for each edge of some parts, whichever way it runs, in rising order; and its ends (n, 4)."""
    points, which = shapely.get_coordinates(shapely.get_rings(parts), return_index=True)
    begins = np.flatnonzero(which[1:] == which[:-1])
    numbers, first = np.unique(_along(points)[begins], return_index=True)
    begins = begins[first]
    return numbers, np.hstack([points[begins], points[begins + 1]])
