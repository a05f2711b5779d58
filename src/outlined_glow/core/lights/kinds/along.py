"""Arrays along the silhouette: LEDs at equal steps between two places of it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from shapely.geometry import Point
from shapely.geometry.base import BaseGeometry

from ...geometry.contours import direction_deg
from ...geometry.regions import filled
from ...project import Along, Param
from .kind import LEDS, SHARE, Handle, Kind, LightPaths, Spot, Values


def along_spots(array: Along, paths: LightPaths) -> list[Spot]:
    """Equal arc lengths from start to end."""
    line = paths.contours("silhouette").line(array.inset_mm)
    if line is None:
        return []
    shares = np.linspace(array.start, array.end, array.count) if array.count > 1 else np.array([array.start])
    out = []
    for share in shares:
        at = float(share) * line.length
        here = line.interpolate(at)
        out.append((here.x, here.y, direction_deg(line, at)))
    return out


def share_at(paths: LightPaths, inset: float, x: float, y: float) -> float | None:
    """Where along the contour (0..1) a place of the picture frame is nearest to; None without a contour."""
    line = paths.contours("silhouette").line(inset)
    return None if line is None else float(line.project(Point(x, y)) / line.length)


def inset_at(silhouette: BaseGeometry, x: float, y: float) -> float:
    """How far in from the silhouette's edge a place of the picture frame is, mm; 0 outside."""
    body = filled(silhouette)
    point = Point(x, y)
    return float(body.boundary.distance(point)) if body.contains(point) else 0.0


def _along_handles(array: Along, paths: LightPaths) -> list[Handle]:
    line = paths.contours("silhouette").line(array.inset_mm)
    if line is None:
        return []

    def to_share(key: str) -> Callable[[float, float], Values | None]:
        def drag(x: float, y: float) -> Values | None:
            at = share_at(paths, array.inset_mm, x, y)
            return None if at is None else {key: round(at, 5)}

        return drag

    def inset(x: float, y: float) -> Values:
        return {"inset_mm": round(max(0.3, inset_at(paths.region("silhouette"), x, y)), 2)}

    rows = (
        ("start", "where the array begins", array.start, to_share("start")),
        ("end", "where the array ends", array.end, to_share("end")),
        ("inset", "how far in from the edge", (array.start + array.end) / 2, inset),
    )
    spots = [line.interpolate(share * line.length) for _, _, share, _ in rows]
    return [Handle(name, tip, spot.x, spot.y, drag) for (name, tip, _, drag), spot in zip(rows, spots, strict=True)]


ALONG = Kind(
    Along,
    "along the silhouette",
    "Along the silhouette",
    "Along the edge “{array}”",
    "LEDs at equal steps along the silhouette, set in from it.",
    {
        **LEDS,
        "inset_mm": Param("quantity", "mm", 0.1, 200, title="from the silhouette", step=0.1),
        "start": SHARE(title="start, % of the way round"),
        "end": SHARE(title="end, % of the way round"),
    },
    (),
    along_spots,
    _along_handles,
    lambda size: {},
    no_room="that far in from the silhouette; set it in less",
)
