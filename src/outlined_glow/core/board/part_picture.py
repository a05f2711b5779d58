"""A part of the library alone, as it lies on a board: lands, holes, and its picture from above."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon, box

from ..colour.difference import hex_to_rgb
from ..geometry.regions import disc
from ..parts import Part

#: Edges are made this often finer and averaged.
_FINER = 4
_LAND, _HOLE, _AROUND = "D9B25A", "17141B", 1.12


def draw_part(part: Part, size: tuple[int, int], background: str, bare: bool = False) -> NDArray[np.uint8]:
    """Pixels (h, w, 3) sRGB of a part in the middle, as large as fits; `bare`: without its body."""
    wide, high = size[0] * _FINER, size[1] * _FINER
    length, width = part.courtyard
    scale = min(wide / length, high / width) / _AROUND
    out = np.empty((size[1], size[0], 3), np.float32)
    out[:] = hex_to_rgb(background)

    def cover(shape: Polygon, colour: str, strength: float = 1.0) -> None:
        points = np.array(shape.exterior.coords) * (scale, -scale) + (wide / 2, high / 2)
        # Only the pixels that it lies on are looked at: a display has dozens of strokes.
        left, top = np.maximum(0, np.floor(points.min(axis=0) / _FINER)).astype(int)
        right, bottom = np.minimum(size, np.ceil(points.max(axis=0) / _FINER) + 1).astype(int)
        mask = np.zeros(((bottom - top) * _FINER, (right - left) * _FINER), np.uint8)
        cv2.fillPoly(mask, [np.round(points - (left * _FINER, top * _FINER)).astype(np.int32)], 255)
        small = cv2.resize(mask, (int(right - left), int(bottom - top)), interpolation=cv2.INTER_AREA)
        share = (small.astype(np.float32) / 255 * strength)[..., None]
        there = out[top:bottom, left:right]
        there[:] = there * (1 - share) + np.array(hex_to_rgb(colour), np.float32) * share

    for pad in part.pads:
        cover(_area(pad.x_mm, pad.y_mm, pad.width_mm, pad.height_mm, pad.shape == "round"), _LAND)
    for hole in part.holes:
        cover(_area(hole.x_mm, hole.y_mm, hole.diameter_mm, hole.diameter_mm, True), _HOLE)
    for pad in part.pads:
        if pad.drill_mm:
            cover(_area(pad.x_mm, pad.y_mm, pad.drill_mm, pad.drill_mm, True), _HOLE)
    for piece in () if bare else part.drawing:
        high_mm = piece.height_mm or piece.width_mm
        cover(_area(piece.x_mm, piece.y_mm, piece.width_mm, high_mm, piece.shape == "disc"), piece.colour, piece.strength)
    return np.ascontiguousarray(np.clip(out.round(), 0, 255).astype(np.uint8))


def _area(x: float, y: float, width: float, height: float, round_: bool) -> Polygon:
    if round_:
        return disc(x, y, width / 2)
    return box(x - width / 2, y - height / 2, x + width / 2, y + height / 2)
