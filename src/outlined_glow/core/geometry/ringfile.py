"""Regions as bytes: rings of whole micrometres, for members of a project file (docs/file-format.md)."""

from __future__ import annotations

import struct
from collections.abc import Sequence

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..text_safety import printable
from .regions import polygons, region_of

_MARK = b"OGR1"
_MOST_CORNERS = 2_000_000
_MOST_UM = 2_000_000
_MOST_LETTERS = 20_000


def pack(region: BaseGeometry, told: Sequence[str] = ()) -> bytes:
    """The mark, the number of rings, and for each whether it is a hole of the one before, its corners, x and y; then a line
    for each thing that is `told` of where it comes from."""
    if not shapely.transform(region, lambda places: np.round(places * 1000)).is_valid:
        # Edges nearer to one another than a micrometre would cross.
        region = shapely.set_precision(region, 1e-3)
    rings = [(number > 0, ring) for part in polygons(region) for number, ring in enumerate((part.exterior, *part.interiors))]
    out = [_MARK, struct.pack("<I", len(rings))]
    for hole, ring in rings:
        corners = np.round(shapely.get_coordinates(ring)[:-1] * 1000).astype("<i4")
        out.append(struct.pack("<BI", hole, len(corners)) + corners.tobytes())
    return b"".join([*out, "\n".join(printable(line, " ") for line in told).encode()])


def told_in(data: bytes) -> tuple[str, ...]:
    """What a good file tells of where its region comes from, in sentences."""
    at = 8
    for _ in range(struct.unpack_from("<I", data, 4)[0]):
        at += 5 + 8 * struct.unpack_from("<BI", data, at)[1]
    lines = data[at : at + _MOST_LETTERS].decode("utf-8", "replace").splitlines()
    return tuple(printable(line, " ") for line in lines if line.strip())


def unpack(data: bytes) -> BaseGeometry:
    """The region, in mm; `ValueError` where the bytes are none."""
    if data[:4] != _MARK or len(data) < 8:
        raise ValueError("no rings")
    count, at = struct.unpack_from("<I", data, 4)[0], 8
    parts: list[list[np.ndarray]] = []
    for _ in range(count):
        if len(data) < at + 5:
            raise ValueError("rings cut short")
        hole, corners = struct.unpack_from("<BI", data, at)
        at += 5
        if not 3 <= corners <= _MOST_CORNERS or len(data) < at + 8 * corners or (hole and not parts):
            raise ValueError("rings cut short")
        ring = np.frombuffer(data, "<i4", 2 * corners, at).reshape(-1, 2)
        at += 8 * corners
        if ring.min() < -_MOST_UM or ring.max() > _MOST_UM:  # the least whole number has no opposite
            raise ValueError("rings out of range")
        if hole:
            parts[-1].append(ring / 1000)
        else:
            parts.append([ring / 1000])
    region = region_of(Polygon(rings[0], rings[1:]) for rings in parts)
    if region.is_empty:
        raise ValueError("no rings")
    if not region.is_valid:
        raise ValueError("rings that cross")
    return region
