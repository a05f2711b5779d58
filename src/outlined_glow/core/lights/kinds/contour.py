"""Arrays along a contour: of the silhouette, of the board, or of a colour."""

from __future__ import annotations

from collections.abc import Callable

from shapely.geometry import Point

from ...geometry.contours import direction_deg
from ...project import Contour, Param
from .kind import INSET, SHARE, Handle, Kind, LightPaths, Spot, Values
from .spacing import SPACED, distances

PATH = Param("path", title="along")


def _course(array: Contour, paths: LightPaths) -> tuple[float, bool]:
    """From start to end, once round where they meet."""
    line = paths.contours(array.path).line(array.inset_mm)
    share = (array.end - array.start) % 1.0 or 1.0
    return (0.0 if line is None else line.length * share), share == 1.0


def contour_spots(array: Contour, paths: LightPaths) -> list[Spot]:
    """Equal arc lengths, clockwise from `start`; none where there is no such contour, or too little of it."""
    line = paths.contours(array.path).line(array.inset_mm)
    if line is None:
        return []
    at = distances(array, *_course(array, paths))
    out = []
    for distance in () if at is None else (array.start * line.length + at) % line.length:
        here = line.interpolate(float(distance))
        out.append((here.x, here.y, direction_deg(line, float(distance))))
    return out


def _handles(array: Contour, paths: LightPaths) -> list[Handle]:
    line = paths.contours(array.path).line(array.inset_mm)
    if line is None:
        return []

    def to_share(key: str) -> Callable[[float, float], Values]:
        return lambda x, y: {key: round(float(line.project(Point(x, y)) / line.length), 5)}

    rows = (("start", "where the array begins", array.start), ("end", "where the array ends", array.end))
    spots = [line.interpolate(share * line.length) for _, _, share in rows]
    return [Handle(key, tip, spot.x, spot.y, to_share(key)) for (key, tip, _), spot in zip(rows, spots, strict=True)]


CONTOUR = Kind(
    Contour,
    "along a contour",
    "Along a contour",
    "Along a contour “{array}”",
    "LEDs at equal steps along the edge of the board, of the silhouette or of a colour, set in from it.",
    {
        "path": PATH,
        **SPACED,
        "inset_mm": INSET,
        "start": SHARE(title="start, % of the way round"),
        "end": SHARE(title="end, % of the way round"),
    },
    (),
    contour_spots,
    _handles,
    lambda size: {},
    course=_course,
    no_room="there; set it in less, give it fewer LEDs, or choose another contour",
)
