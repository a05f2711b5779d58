"""Polylines of a DXF file that have a width of their own, which may change along them."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np

from ..geometry.flatten import quarter_segments
from .drawing import Points

#: A corner is drawn out to a tip that is at most so many half widths away: beyond some 28 degrees it is cut off.
MITER = 4.0
#: How far a chord may lie inside its arc, mm.
_INSIDE_MM = 0.001


def rows_of(entity: Any, kind: str) -> list[tuple[float, float, float, float, float]]:
    """Each corner of a polyline: x and y, the widths at the start and the end of what begins there, and its bulge; none for
    one that lies in space."""
    if kind == "LWPOLYLINE":
        rows = [tuple(map(float, row)) for row in entity.lwpoints]
        width = float(entity.dxf.get("const_width", 0))
        return [(x, y, width or start, width or end, bulge) for x, y, start, end, bulge in rows]
    if not entity.is_2d_polyline:
        return []
    start, end = entity.dxf.get("default_start_width", 0.0), entity.dxf.get("default_end_width", 0.0)
    return [
        (one.dxf.location.x, one.dxf.location.y, one.dxf.get("start_width", start), one.dxf.get("end_width", end),
         one.dxf.get("bulge", 0.0))
        for one in entity.vertices
    ]  # fmt: skip


def tapered(rows: Points, closed: bool, mm: float) -> list[Points]:
    """The pieces (k, 2) of a polyline of such corners (n, 5): each segment with ends across it, and what lies between two. A
    unit is so many `mm`."""
    ends = np.vstack([rows, rows[:1]]) if closed else rows
    pieces: list[Points] = []
    ways: list[tuple[Points, Points, Points]] = []
    for one, other in pairwise(ends):
        if np.hypot(*(other[:2] - one[:2])) > 0:
            places, left = _along(one[:2], other[:2], float(one[4]), _INSIDE_MM / mm)
            half = np.linspace(one[2], one[3], len(places))[:, None] / 2
            ways.append((places, left, half))
            pieces.append(np.vstack([places + left * half, (places - left * half)[::-1]]))
    around = [*ways, ways[0]] if closed and ways else ways
    for (places, left, half), (_, after, wide) in pairwise(around):
        pieces += _corner(places[-1], left[-1], after[0], float(half[-1, 0]), float(wide[0, 0]))
    return pieces


def _along(start: Points, end: Points, bulge: float, inside: float) -> tuple[Points, Points]:
    """Places along a segment and the way to the left of each, (n, 2): a straight one, or an arc by its bulge."""
    chord = end - start
    across = np.array([-chord[1], chord[0]])
    if abs(bulge) < 1e-9:
        return np.stack([start, end]), np.stack([across, across]) / np.hypot(*chord)
    # A bulge is the tangent of a quarter of the angle; to the left of the chord lies the middle of an arc that turns left.
    angle = 4 * np.arctan(bulge)
    middle = (start + end) / 2 + across * (1 - bulge * bulge) / (4 * bulge)
    off = start - middle
    quarters = abs(angle) / (np.pi / 2)
    turns = np.linspace(0, angle, int(np.ceil(quarters * quarter_segments(float(np.hypot(*off)), inside))) + 1)
    cos, sin = np.cos(turns)[:, None], np.sin(turns)[:, None]
    out = off * cos + np.array([-off[1], off[0]]) * sin
    return middle + out, -np.sign(bulge) * out / np.hypot(*off)


def _corner(at: Points, left: Points, after: Points, half: float, wide: float) -> list[Points]:
    """What fills the outer side of a corner between two segments, by the way to the left of each and half their widths."""
    turn = float(left[0] * after[1] - left[1] * after[0])
    if abs(turn) < 1e-9:
        return []
    outer = -1.0 if turn > 0 else 1.0
    one, other = at + outer * half * left, at + outer * wide * after
    # Where the outer sides of both would meet.
    ahead, back = np.array([left[1], -left[0]]), np.array([after[1], -after[0]])
    far = float((other - one)[0] * back[1] - (other - one)[1] * back[0]) / float(ahead[0] * back[1] - ahead[1] * back[0])
    tip = one + far * ahead
    if far > 0 and np.hypot(*(tip - at)) <= MITER * max(half, wide):
        return [np.array([at, one, tip, other])]
    return [np.array([at, one, other])]
