"""Lines that follow a region's edge at a distance, clockwise from the top: for lights and for words."""

from __future__ import annotations

import math

import numpy as np
from shapely.geometry import LineString, Point
from shapely.geometry.base import BaseGeometry

from .offset import grow
from .regions import filled, polygons

#: Half the length over which a direction is measured, mm.
_REACH_MM = 0.6


class Contours:
    """Lines set in from the edge of a region, remembered by their inset."""

    def __init__(self, region: BaseGeometry, middle: float) -> None:
        self._body = filled(region)
        self._middle = middle
        self._known: dict[float, LineString | None] = {}

    def line(self, inset: float) -> LineString | None:
        """The contour clockwise from its highest crossing of the middle; None when nothing is left."""
        if inset not in self._known:
            self._known[inset] = self._make(inset)
        return self._known[inset]

    def _make(self, inset: float) -> LineString | None:
        pieces = polygons(grow(self._body, -inset))
        if not pieces:
            return None
        ring = max(pieces, key=lambda piece: piece.area).exterior
        line = LineString(ring.coords if not ring.is_ccw else list(ring.coords)[::-1])
        top = line.bounds[3]
        vertical = LineString([(self._middle, line.bounds[1] - 1), (self._middle, top + 1)])
        crossing = line.intersection(vertical)
        if crossing.is_empty:
            points = np.array(line.coords)
            start = Point(points[int(np.argmax(points[:, 1]))])
        else:
            start = Point(self._middle, crossing.bounds[3])
        return _rotated(line, line.project(start))


def _rotated(line: LineString, distance: float) -> LineString:
    points = np.array(line.coords)[:-1]
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(np.array(line.coords), axis=0).T))])[:-1]
    first = int(np.searchsorted(along, distance + 1e-9))
    start = np.array(line.interpolate(distance).coords)
    return LineString(np.vstack([start, points[first:], points[:first], start]))


def direction_deg(line: LineString, at: float, reach: float = _REACH_MM) -> float:
    """The way a line goes at a distance along it, measured a little before and after; it does not run round."""
    before, after = line.interpolate(max(0.0, at - reach)), line.interpolate(min(line.length, at + reach))
    return math.degrees(math.atan2(after.y - before.y, after.x - before.x))
