"""Lines as areas: width, caps, joins and dashes (SVG 2, 13.5)."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import shapely
from shapely.geometry import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import substring

from ..geometry.flatten import quarter_segments
from ..geometry.prepared import prepared
from ..geometry.regions import EMPTY, box_at, clean, union
from .drawing import Points, Stroke

#: By this share of its last side a line is shorter that ends where it begins.
_SHORTER = 1e-9
#: A line of so few points is put together of its sides.
_FEW = 16
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
    dashes = _dashes(line.length, stroke) if stroke.dashes else [(0.0, line.length)]
    if not dashes:
        return EMPTY
    first, last = dashes[0], dashes[-1]
    if first[0] <= 0 and first[1] >= line.length:
        return _line_area(line, closed, stroke, tolerance)
    over = []
    if closed and first[0] <= 0 < first[1] and last[0] < line.length <= last[1]:
        # A line that is closed in the middle of two dashes goes on from one to the other.
        ends = [shapely.get_coordinates(substring(line, *one)) for one in ((last[0], line.length), (0.0, first[1]))]
        over = [_line_area(LineString(np.vstack([ends[0], ends[1][1:]])), False, stroke, tolerance)]
        dashes = dashes[1:-1]
    return union([*over, *(_dashed_piece(line, begin, end, stroke, tolerance) for begin, end in dashes)])


def _dot(points: Points, stroke: Stroke, tolerance: float) -> BaseGeometry:
    """A subpath without length shows only where its caps reach beyond it."""
    if len(points) == 0 or stroke.cap == "butt":
        return EMPTY
    x, y = map(float, points[0])
    if stroke.cap == "square":
        return box_at(x, y, stroke.width, stroke.width)
    return Point(x, y).buffer(stroke.width / 2, quad_segs=quarter_segments(stroke.width / 2, tolerance))


def _line_area(line: LineString, closed: bool, stroke: Stroke, tolerance: float) -> BaseGeometry:
    points = shapely.get_coordinates(line)
    if 2 < len(points) <= _FEW:
        return union(_sides(points, closed, stroke, tolerance))
    half = stroke.width / 2
    area = union([
        one.buffer(
            half,
            quad_segs=quarter_segments(half, tolerance),
            cap_style="flat" if closed else _CAPS.get(stroke.cap, "flat"),  # type: ignore[arg-type]
            join_style="round" if stroke.join == "round" else "bevel",
        )
        for one in _no_rings(points, closed)
    ])  # fmt: skip
    if not shapely.contains_xy(prepared(area), (points[:-1] + points[1:]) / 2).all():
        return union(_sides(points, closed, stroke, tolerance))  # where it runs back along itself, sides are lost
    joined = [] if stroke.join in ("round", "bevel") else _miters(points, closed, half, stroke.miter_limit, tolerance)
    return union([area, *joined]) if joined else clean(area)


def _no_rings(points: Points, closed: bool) -> list[LineString]:
    """A line as some that do not end where they begin: round a ring the library loses areas, where that is narrower than the
    line is wide, and it sees no ends. What is closed is taken in two that overlap in the middle of a side."""
    if not np.array_equal(points[0], points[-1]):
        return [LineString(points)]
    if not closed:
        nearly = points[-1] + (points[-2] - points[-1]) * _SHORTER
        return [LineString([*points[:-1], nearly])]
    half = len(points) // 2
    one, other = points[-2:], points[half - 1 : half + 1]
    near, far = np.array([0.6, 0.4]), np.array([0.4, 0.6])
    return [
        LineString([near @ one, *points[:half], far @ other]),
        LineString([near @ other, *points[half:-1], far @ one]),
    ]


def _sides(points: Points, closed: bool, stroke: Stroke, tolerance: float) -> list[BaseGeometry]:
    """What a line is made of: each of its sides as wide as it is, its joins and its caps."""
    half = stroke.width / 2
    along = np.diff(points, axis=0)
    length = np.hypot(along[:, 0], along[:, 1])
    along = along / length[:, None]
    across = np.column_stack([-along[:, 1], along[:, 0]]) * half
    begin, end = points[:-1].copy(), points[1:].copy()
    if stroke.cap == "square" and not closed:
        begin[0] -= along[0] * half
        end[-1] += along[-1] * half
    sides: Any = shapely.polygons(np.stack([begin + across, end + across, end - across, begin - across], axis=1))
    parts: list[BaseGeometry] = sides.tolist()
    quarter = quarter_segments(half, tolerance)
    if stroke.cap == "round" and not closed:
        parts += [_fan(points[0], across[0], math.pi, quarter), _fan(points[-1], -across[-1], math.pi, quarter)]
    if stroke.join not in ("round", "bevel"):
        parts += _miters(points, closed, half, stroke.miter_limit, tolerance)
    before, after = (np.roll(across, 1, axis=0), across) if closed else (across[:-1], across[1:])
    for corner, one, other in zip(points[:-1] if closed else points[1:-1], before, after, strict=True):
        turn = math.atan2(one[0] * other[1] - one[1] * other[0], one @ other)
        if turn:
            outer = -one if turn > 0 else one
            parts.append(_fan(corner, outer, turn, quarter if stroke.join == "round" else 0))
    return parts


def _fan(middle: Points, first: Points, turn: float, quarter: int) -> Polygon:
    """A sector of a circle about a point from the end of a radius on, with so many chords to a quarter; one for 0."""
    steps = max(1, math.ceil(abs(turn) / (math.pi / 2) * quarter))
    angle = math.atan2(first[1], first[0]) + turn * np.arange(steps + 1) / steps
    return Polygon([middle, *(middle + math.hypot(*first) * np.column_stack([np.cos(angle), np.sin(angle)]))])


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
