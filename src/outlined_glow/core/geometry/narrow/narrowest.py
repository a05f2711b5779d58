"""How narrow a thin piece of a region is at its narrowest, and where.

A piece between two banks is as wide as the banks are apart: that is measured. A piece that ends, or stands alone, may taper
as it likes: its least width is the largest one at which nothing of it that is long enough to count is thinner.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, MultiLineString, Polygon
from shapely.geometry.base import BaseGeometry

from ..overlay import overlay_each

#: A side of a piece runs along the edge of its whole: nearer than this, mm.
_ON_EDGE = 2e-4
#: How finely the arcs of offsets follow a circle, and how often a width is halved: to a hundredth of the rule.
_SEGMENTS, _HALVINGS = 6, 7
_SLACK = 0.002
_CRUMB = 1e-5


class Narrowest(NamedTuple):
    """The least width, mm, where it is, and the way across, degrees from 0 to 180."""

    width: float
    x: float
    y: float
    across_deg: float


def narrowest(pieces: Sequence[Polygon], wholes: Sequence[BaseGeometry], smallest: float, dead_end: float) -> list[Narrowest]:
    """The narrowest place of each piece of a whole (its surroundings are enough) that is thinner than `smallest`, mm.

    What ends counts from `dead_end` times its width.
    """
    found: list[Narrowest | None] = [_between_banks(piece, whole) for piece, whole in zip(pieces, wholes, strict=True)]
    rest = [place for place, one in enumerate(found) if one is None]
    if rest:
        ended = _tapering([pieces[place] for place in rest], [wholes[place] for place in rest], smallest, dead_end)
        for place, one in zip(rest, ended, strict=True):
            found[place] = one
    return [one for one in found if one is not None]


def _between_banks(piece: Polygon, whole: BaseGeometry) -> Narrowest | None:
    """The shortest way between two sides of a piece; None for one that has a single side."""
    banks = _banks(piece, whole)
    if len(banks) < 2:
        return None
    ways = [shapely.shortest_line(one, MultiLineString([other for other in banks if other is not one])) for one in banks[:-1]]
    way = min(ways, key=lambda line: float(line.length))
    (x0, y0), (x1, y1) = shapely.get_coordinates(way)[[0, -1]].tolist()
    across = float(np.degrees(np.arctan2(y1 - y0, x1 - x0))) % 180
    return Narrowest(float(way.length), (x0 + x1) / 2, (y0 + y1) / 2, across)


def _banks(piece: Polygon, whole: BaseGeometry) -> list[LineString]:
    """The stretches of a piece's edge that run along the edge of the whole."""
    edge = whole.boundary
    out = []
    for ring in (piece.exterior, *piece.interiors):
        points = shapely.get_coordinates(ring)
        middles = shapely.points((points[:-1] + points[1:]) / 2)
        on = np.asarray(shapely.distance(middles, edge)) < _ON_EDGE
        if on.all():
            out.append(LineString(points))
            continue
        if not on.any():
            continue
        # Begun after a mouth, so that no stretch is cut where the ring begins.
        turn = int(np.flatnonzero(~on)[0])
        on, corners = np.roll(on, -turn), np.roll(points[:-1], -turn, axis=0)
        corners = np.vstack([corners, corners[:1]])
        bounds = np.flatnonzero(np.diff(np.concatenate([[0], on.astype(np.int8), [0]])))
        out += [LineString(corners[begin : end + 1]) for begin, end in zip(bounds[0::2], bounds[1::2], strict=True)]
    return [line for line in out if line.length > 2 * _ON_EDGE]


def _tapering(pieces: Sequence[Polygon], wholes: Sequence[BaseGeometry], smallest: float, dead_end: float) -> list[Narrowest]:
    every, around = np.array(pieces, dtype=object), np.array(wholes, dtype=object)
    low, high = np.zeros(len(every)), np.full(len(every), smallest)
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        thin = np.array([not shapely.is_empty(one) for one in _thinner(every, around, middle, dead_end)])
        low, high = np.where(thin, low, middle), np.where(thin, middle, high)
    width = (low + high) / 2
    # A little above its least width what is thinner is where that is.
    spots = _thinner(every, around, np.minimum(high * 1.1 + 0.01, smallest), dead_end)
    bare = shapely.is_empty(spots)
    spots = np.where(bare, every, spots)
    hearts = shapely.point_on_surface(spots)
    lines = shapely.get_coordinates(shapely.shortest_line(hearts, shapely.boundary(around)))
    at, bank = lines[0::2], lines[1::2]
    across = np.degrees(np.arctan2(*(bank - at).T[::-1])) % 180
    return [Narrowest(*row) for row in zip(width.tolist(), *at.T.tolist(), across.tolist(), strict=True)]


def _thinner(
    pieces: NDArray[np.object_], wholes: NDArray[np.object_], width: NDArray[np.float64], dead_end: float
) -> NDArray[np.object_]:
    """Of each piece the longest stretch that is thinner than a width and counts; nothing where there is none."""
    radius = np.maximum(width / 2 - _SLACK / 2, 1e-4)
    core = shapely.buffer(wholes, -radius, quad_segs=_SEGMENTS)
    opened = shapely.buffer(core, radius + _SLACK, quad_segs=_SEGMENTS)
    parts, owner = shapely.get_parts(overlay_each(shapely.difference, wholes, opened), return_index=True)
    half = shapely.length(parts) / 2
    area = shapely.area(parts)
    length = half / 2 + np.sqrt(np.maximum(0.0, half * half / 4 - area))
    counts = (area > _CRUMB) & (length > dead_end * width[owner])
    counts[counts] = shapely.intersects(parts[counts], pieces[owner[counts]])
    out = np.full(len(pieces), shapely.Polygon(), dtype=object)
    _waists(pieces, core, out)
    for place in np.flatnonzero(counts)[np.argsort(length[counts], kind="stable")]:
        out[owner[place]] = parts[place]
    return out


def _waists(pieces: NDArray[np.object_], cores: NDArray[np.object_], out: NDArray[np.object_]) -> None:
    """Where a piece falls apart when it is drawn in, it is thinner between its parts: a speck there, in place."""
    parts, owner = shapely.get_parts(cores, return_index=True)
    inside = shapely.intersects(parts, pieces[owner])
    parts, owner = parts[inside], owner[inside]
    for place in np.flatnonzero(np.bincount(owner, minlength=len(pieces)) > 1):
        mine = parts[owner == place]
        way = shapely.shortest_line(mine[0], shapely.GeometryCollection(list(mine[1:])))
        out[place] = way.interpolate(0.5, normalized=True).buffer(1e-3, quad_segs=1)
