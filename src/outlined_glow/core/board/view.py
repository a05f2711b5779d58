"""Where a picture of the board lies: side, scale, and board millimetres to pixels."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..errors import Trouble
from ..geometry.regions import rings

Mask = NDArray[np.uint8]
_SHIFT = 4
_MOST_PIXELS = 60_000_000


@dataclass(frozen=True)
class View:
    """A picture `width` x `height` px at `px_per_mm`, its upper left pixel corner at (`left`, `top`) mm.

    On the back the board's x runs to the left: `left` is then the larger x.
    """

    side: str
    px_per_mm: float
    left: float
    top: float
    width: int
    height: int

    def to_px(self, points: NDArray[np.float64]) -> NDArray[np.float64]:
        """Board mm (n, 2) to pixels (n, 2), the corner of the first pixel at 0."""
        x = (points[:, 0] - self.left) if self.side == "front" else (self.left - points[:, 0])
        return np.column_stack([x, self.top - points[:, 1]]) * self.px_per_mm

    def to_mm(self, x: float, y: float) -> tuple[float, float]:
        """A pixel to board mm."""
        along = x / self.px_per_mm
        return (self.left + along if self.side == "front" else self.left - along), self.top - y / self.px_per_mm


def whole_view(size: tuple[float, float], side: str, px_per_mm: float, margin_mm: float = 3.0) -> View:
    """The whole board with the same margin all round; front and back have the same size in pixels."""
    width = round((size[0] + 2 * margin_mm) * px_per_mm)
    height = round((size[1] + 2 * margin_mm) * px_per_mm)
    if width * height > _MOST_PIXELS or min(width, height) < 1:
        raise Trouble(f"A picture of {width} x {height} pixels is too large; ask for fewer pixels per millimetre.")
    left = -margin_mm if side == "front" else size[0] + margin_mm
    return View(side, px_per_mm, left, size[1] + margin_mm, width, height)


def coverage(region: BaseGeometry, view: View, sharp: int = 3) -> Mask:
    """How much of each pixel the region covers, 0..255 (height, width), by `sharp`² samples a pixel."""
    canvas = np.zeros((view.height * sharp, view.width * sharp), np.uint8)
    contours = []
    low, high = -view.width * sharp, 2 * view.width * sharp
    for ring in rings(region):
        points = view.to_px(ring) * sharp - 0.5
        if points[:, 0].max() < 0 or points[:, 0].min() > canvas.shape[1]:
            continue
        if points[:, 1].max() < 0 or points[:, 1].min() > canvas.shape[0]:
            continue
        if points.min() < low * 4 or points.max() > high * 4:
            points = _clipped(points, canvas.shape)
        if len(points) >= 3:
            contours.append(np.round(points * (1 << _SHIFT)).astype(np.int32))
    if not contours:
        return np.zeros((view.height, view.width), np.uint8)
    cv2.fillPoly(canvas, contours, 255, lineType=cv2.LINE_8, shift=_SHIFT)
    if sharp == 1:
        return canvas
    return np.asarray(cv2.resize(canvas, (view.width, view.height), interpolation=cv2.INTER_AREA), np.uint8)


def _clipped(points: NDArray[np.float64], shape: tuple[int, ...]) -> NDArray[np.float64]:
    """A ring far larger than the picture, cut to its surroundings so that pixel numbers stay small."""
    height, width = shape
    ring = Polygon(points)
    if not ring.is_valid:
        ring = ring.buffer(0)
    kept = shapely.clip_by_rect(ring, -width, -height, 2 * width, 2 * height)
    parts = [part for part in shapely.get_parts(kept) if isinstance(part, Polygon) and not part.is_empty]
    if not parts:
        return np.zeros((0, 2))
    return shapely.get_coordinates(max(parts, key=lambda part: part.area).exterior)[:-1]
