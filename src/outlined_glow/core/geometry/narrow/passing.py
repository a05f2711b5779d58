"""Which waists lie between places where a disc passes, rather than in a dead end."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..near import Framed
from ..prepared import prepared_some
from ..regions import meeting, minus, polygons, union_of_many
from .morphology import SLACK
from .waists import reached

#: An edge of a piece runs along a bank if its middle is nearer than that, mm.
_ON_BANK = 1e-6


def passed(
    ways: NDArray[np.object_],
    pieces: NDArray[np.object_],
    counts: NDArray[np.bool_],
    banks: NDArray[np.object_],
    beside: NDArray[np.object_],
    free: NDArray[np.bool_],
) -> tuple[NDArray[np.object_], NDArray[np.bool_]]:
    """The ways across what goes on, on either hand, to where a disc passes; and which pieces that do not count yet join such
    places.

    What is `beside` a way is `free` where it is seen to, or leads through a piece that joins. Any other way lies in a dead end.
    `banks`: what each piece lies along or between.
    """
    joining = np.zeros(len(pieces), dtype=bool)
    if not len(ways) or not len(pieces):
        return ways[free.all(axis=1)], joining
    at, which = shapely.STRtree(pieces).query(shapely.get_point(beside.ravel(), 0), predicate="intersects")
    for place in np.unique(which[~counts[which]]).tolist():
        joining[place] = _mouths(pieces[place], banks[place]) > 1
    through = np.zeros(beside.size, dtype=bool)
    through[at[(counts | joining)[which]]] = True
    return ways[(free | through.reshape(free.shape)).all(axis=1)], joining


def open_between(lines: NDArray[np.object_], every: NDArray[np.object_], closed: NDArray[np.object_]) -> NDArray[np.bool_]:
    """Which lines come, between some parts, to where a closing adds nothing."""
    one, which = shapely.STRtree(closed).query(lines) if len(closed) else np.empty((2, 0), dtype=int)
    out = np.ones(len(lines), dtype=bool)
    out[one[shapely.covers(prepared_some(closed, np.unique(which))[which], lines[one])]] = False
    met = np.unique(meeting(every, lines[out])[1])
    grounds, goals = Framed(every), Framed(closed)
    for place in np.flatnonzero(out)[met].tolist():
        frame = lines[place].buffer(SLACK).bounds
        out[place] = reached(lines[place : place + 1], grounds.beside(frame), goals.beside(frame))[0]
    return out


def _mouths(piece: Polygon, banks: BaseGeometry) -> int:
    """How often the outer edge of a piece leaves its banks."""
    points = shapely.get_coordinates(piece.exterior)
    middles = shapely.points((points[:-1] + points[1:]) / 2)
    beside = np.asarray(shapely.distance(middles, banks.boundary)) < _ON_BANK
    return int(np.count_nonzero(beside & ~np.roll(beside, -1)))


def untold(ways: NDArray[np.object_], pieces: list[Polygon]) -> NDArray[np.object_]:
    """The ways that are not across one of some pieces."""
    if not len(ways) or not pieces:
        return ways
    return np.delete(ways, np.unique(shapely.STRtree(pieces).query(ways, predicate="dwithin", distance=4 * SLACK)[0]))


def strips_across(ways: NDArray[np.object_], width: float, pieces: list[Polygon]) -> list[Polygon]:
    """A strip of a width (mm) along each way, a little longer, those that meet as one, beside some pieces."""
    if not len(ways):
        return []
    ends = shapely.get_coordinates(ways).reshape(-1, 2, 2)
    over = np.diff(ends, axis=1)[:, 0]
    over *= 2 * SLACK / np.hypot(*over.T)[:, None]
    longer = shapely.linestrings(ends + np.stack([-over, over], axis=1))
    strips = np.asarray(shapely.buffer(longer, width / 2, cap_style="flat"))
    near = np.unique(shapely.STRtree(pieces).query(strips)[1]).tolist() if pieces else []
    return polygons(minus(union_of_many(strips.tolist()), *(pieces[place] for place in near)))
