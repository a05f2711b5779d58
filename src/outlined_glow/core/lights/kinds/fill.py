"""Filled regions: LEDs in squares, in a honeycomb, or scattered."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry.base import BaseGeometry

from ...geometry.offset import grow
from ...geometry.prepared import prepared
from ...geometry.scatter import scattered
from ...project import Fill, Param
from ...project.bounds import MOST_LEDS
from .contour import PATH
from .kind import INSET, PITCH, TURNED, Handle, Kind, LightPaths, Spot

Places = NDArray[np.float64]


def fill_spots(array: Fill, paths: LightPaths) -> list[Spot]:
    """Places at least `inset_mm` from the region's edge; rows from the top, each from left to right."""
    region = grow(paths.region(array.path), -array.inset_mm)
    if region.is_empty:
        return []
    places = _WAYS[array.layout](region, array)
    rows = places[np.lexsort((places[:, 0], -places[:, 1].round(6)))]
    return [(float(x), float(y), array.angle_deg) for x, y in rows]


def too_many(array: Fill, paths: LightPaths) -> bool:
    """Whether the region would take more LEDs than a board may have."""
    area = paths.region(array.path).area
    return bool(area / array.pitch_mm**2 > 2 * MOST_LEDS)


def _lattice(region: BaseGeometry, array: Fill, row_mm: float, shift: float) -> Places:
    """Points in rows about the middle of a region, turned; every second row shifted by a share of the pitch."""
    middle = region.envelope.centroid
    straight = affinity.rotate(region, -array.angle_deg, origin=middle)
    x0, y0, x1, y1 = straight.bounds
    across = math.ceil(max(x1 - middle.x, middle.x - x0) / array.pitch_mm) + 1
    up = math.ceil(max(y1 - middle.y, middle.y - y0) / row_mm)
    column, row = np.meshgrid(np.arange(-across, across + 1), np.arange(-up, up + 1))
    x = middle.x + (column + shift * (row % 2)) * array.pitch_mm
    y = middle.y + row * row_mm
    inside = shapely.contains_xy(prepared(straight), x.ravel(), y.ravel())
    a = math.radians(array.angle_deg)
    dx, dy = x.ravel()[inside] - middle.x, y.ravel()[inside] - middle.y
    turned = (middle.x + dx * math.cos(a) - dy * math.sin(a), middle.y + dx * math.sin(a) + dy * math.cos(a))
    return np.column_stack(turned)


_WAYS: dict[str, Callable[[BaseGeometry, Fill], Places]] = {
    "squares": lambda region, array: _lattice(region, array, array.pitch_mm, 0.0),
    "honeycomb": lambda region, array: _lattice(region, array, array.pitch_mm * math.sqrt(0.75), 0.5),
    "scattered": lambda region, array: scattered(region, array.pitch_mm, array.seed),
}


def _no_handles(array: Fill, paths: LightPaths) -> list[Handle]:
    return []


FILL = Kind(
    Fill,
    "filled region",
    "A filled region",
    "Filled “{array}”",
    "LEDs all over the board, the silhouette or a colour: in squares, in a honeycomb, or scattered.",
    {
        "path": PATH,
        "layout": Param("choice", choices=tuple(_WAYS), title="layout"),
        "pitch_mm": PITCH(title="spacing"),
        "inset_mm": INSET,
        **TURNED,
        "seed": Param("count", "", 1, 9999, title="arrangement"),
    },
    (),
    fill_spots,
    _no_handles,
    lambda size: {"pitch_mm": round(max(4.0, min(size) / 5), 1)},
    no_room="there; set it in less, or choose another region",
)
