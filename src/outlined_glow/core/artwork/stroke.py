"""Lines as areas: width, caps, joins and dashes (SVG 2, 13.5)."""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import substring

from ..geometry.flatten import quarter_segments
from ..geometry.regions import EMPTY, box_at, clean, union
from .drawing import Points, Stroke

_CAPS = {"butt": "flat", "round": "round", "square": "square"}


def stroke_area(points: Points, closed: bool, stroke: Stroke, tolerance: float) -> BaseGeometry:
    """The area of one stroked subpath; `points` (n, 2) in the path's own units."""
    keep = np.ones(len(points), bool)
    keep[1:] = np.any(np.diff(points, axis=0) != 0, axis=1)
    points = points[keep]
    if closed and len(points) > 1 and np.array_equal(points[0], points[-1]):
        points = points[:-1]
    if len(points) < 2:
        return _dot(points, stroke, tolerance)
    line = LineString(np.vstack([points, points[:1]]) if closed else points)
    if stroke.dashes:
        pieces = [_dashed_piece(line, begin, end, stroke, tolerance) for begin, end in _dashes(line.length, stroke)]
        return union(pieces)
    return _line_area(line, closed, stroke, tolerance)


def _dot(points: Points, stroke: Stroke, tolerance: float) -> BaseGeometry:
    """A subpath without length shows only where its caps reach beyond it."""
    if len(points) == 0 or stroke.cap == "butt":
        return EMPTY
    x, y = map(float, points[0])
    if stroke.cap == "square":
        return box_at(x, y, stroke.width, stroke.width)
    return Point(x, y).buffer(stroke.width / 2, quad_segs=quarter_segments(stroke.width / 2, tolerance))


def _line_area(line: LineString, closed: bool, stroke: Stroke, tolerance: float) -> BaseGeometry:
    half = stroke.width / 2
    join = "round" if stroke.join == "round" else "bevel"
    area = line.buffer(
        half,
        quad_segs=quarter_segments(half, tolerance),
        cap_style=_CAPS.get(stroke.cap, "flat"),  # type: ignore[arg-type]
        join_style=join,  # type: ignore[arg-type]
    )
    if stroke.join in ("round", "bevel"):
        return clean(area)
    return union([area, *_miters(shapely.get_coordinates(line), closed, half, stroke.miter_limit, tolerance)])


def _miters(points: Points, closed: bool, half: float, limit: float, tolerance: float) -> list[Polygon]:
    """The corners that a mitred join adds to a bevelled one; beyond the limit it stays bevelled."""
    if closed:
        points = np.vstack([points[-2:-1], points])
    step = np.diff(points, axis=0)
    step /= np.hypot(step[:, 0], step[:, 1])[:, None]
    before, after, corner = step[:-1], step[1:], points[1:-1]
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    cosine = np.clip((before * after).sum(axis=1), -1, 1)
    half_turn = np.sqrt((1 + cosine) / 2)  # cos of half the turning angle = 1 / miter ratio
    wanted = (half_turn * limit >= 1 - 1e-9) & (half * (1 / np.maximum(half_turn, 1e-9) - half_turn) > tolerance / 4)
    out = []
    for place in np.flatnonzero(wanted):
        side = -np.sign(cross[place])
        normal0 = side * np.array([-before[place, 1], before[place, 0]])
        normal1 = side * np.array([-after[place, 1], after[place, 0]])
        middle = normal0 + normal1
        tip = corner[place] + middle / np.hypot(*middle) * half / half_turn[place]
        out.append(Polygon([corner[place], corner[place] + normal0 * half, tip, corner[place] + normal1 * half]))
    return out


#: Dashes of one line; one with more is drawn solid.
MOST_DASHES = 20_000


def _dashes(total: float, stroke: Stroke) -> list[tuple[float, float]]:
    """Where each dash begins and ends along a line; one without length is a dot where its caps reach beyond it."""
    period = sum(stroke.dashes)
    if total / period * len(stroke.dashes) > MOST_DASHES:
        return [(0.0, total)]
    at = -(stroke.dash_offset % period)
    out = []
    place = 0
    while at < total:
        end = at + stroke.dashes[place % len(stroke.dashes)]
        if place % 2 == 0 and end >= 0:
            out.append((at, end))
        at = end
        place += 1
    return out


def _dashed_piece(line: LineString, begin: float, end: float, stroke: Stroke, tolerance: float) -> BaseGeometry:
    if end > max(0.0, begin):
        piece = substring(line, max(0.0, begin), min(line.length, end))
        if isinstance(piece, LineString) and piece.length > 0:
            return _line_area(piece, False, stroke, tolerance)
    if not 0 <= begin <= line.length or stroke.cap == "butt":
        return EMPTY
    spot = line.interpolate(begin)
    if stroke.cap == "round":
        return _dot(shapely.get_coordinates(spot), stroke, tolerance)
    reach = min(1e-3 * line.length, line.length - begin) or -1e-3 * line.length
    other = line.interpolate(begin + reach)
    angle = math.degrees(math.atan2(other.y - spot.y, other.x - spot.x))
    return box_at(spot.x, spot.y, stroke.width, stroke.width, angle)
