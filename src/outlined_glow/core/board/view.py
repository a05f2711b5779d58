"""Where a picture of the board lies: side, scale, and board millimetres to pixels."""

from __future__ import annotations

import math
import threading
from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..errors import Trouble

Mask = NDArray[np.uint8]
_SHIFT = 4
_MOST_PIXELS = 60_000_000
#: The size of a window: small pictures cost little, and would push out what is used again.
_REMEMBERED_PIXELS = (60_000, 1_200_000)


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

    def near(self, regions: Sequence[BaseGeometry]) -> list[BaseGeometry]:
        """Those of some regions whose boxes meet the picture."""
        (left, top), (right, bottom) = self.to_mm(0, 0), self.to_mm(self.width, self.height)
        low, high = np.array([min(left, right), bottom]), np.array([max(left, right), top])
        bounds = shapely.bounds(np.array(regions, dtype=object)).reshape(-1, 4)
        meet = (bounds[:, 2:] >= low).all(axis=1) & (bounds[:, :2] <= high).all(axis=1)
        return [regions[at] for at in np.flatnonzero(meet).tolist()]


def fitting_scale(size: tuple[float, float], wanted: float, most_pixels: float) -> float:
    """The px/mm `wanted`, or for a large board (size in mm) the most that gives at most so many pixels."""
    return min(wanted, math.floor(10 * math.sqrt(most_pixels / (size[0] * size[1]))) / 10)


def whole_view(size: tuple[float, float], side: str, px_per_mm: float, margin_mm: float = 3.0) -> View:
    """The whole board with the same margin all round; front and back have the same size in pixels."""
    width = round((size[0] + 2 * margin_mm) * px_per_mm)
    height = round((size[1] + 2 * margin_mm) * px_per_mm)
    if width * height > _MOST_PIXELS or min(width, height) < 1:
        most = fitting_scale((size[0] + 2 * margin_mm, size[1] + 2 * margin_mm), math.inf, _MOST_PIXELS)
        raise Trouble(f"The picture would have {width:,} x {height:,} pixels; ask for 0.5 to {most:g} pixels per millimetre.")
    left = -margin_mm if side == "front" else size[0] + margin_mm
    return View(side, px_per_mm, left, size[1] + margin_mm, width, height)


def coverage(region: BaseGeometry, view: View, sharp: int = 3) -> Mask:
    """How much of each pixel the region covers, 0..255 (height, width), by `sharp`² samples a pixel.

    The latest masks of the size of a window are remembered: most layers stay as they are from edit to edit.
    """
    if _REMEMBERED_PIXELS[0] <= view.width * view.height <= _REMEMBERED_PIXELS[1]:
        return _remembered(region, view, sharp)
    return covered(region, view, sharp)


#: The latest masks, the last one asked for at the end.
_LATEST: deque[tuple[BaseGeometry, View, int, Mask]] = deque(maxlen=16)
_TURN = threading.Lock()


def _remembered(region: BaseGeometry, view: View, sharp: int) -> Mask:
    with _TURN:
        for at, (one, seen, sharply, mask) in enumerate(_LATEST):
            if (seen, sharply) == (view, sharp) and (one is region or shapely.equals_identical(one, region)):
                del _LATEST[at]
                _LATEST.append((region, view, sharp, mask))
                return mask
    mask = covered(region, view, sharp)
    mask.flags.writeable = False
    with _TURN:
        _LATEST.append((region, view, sharp, mask))
    return mask


def covered(region: BaseGeometry, view: View, sharp: int) -> Mask:
    """The same, not remembered."""
    out = np.zeros((view.height, view.width), np.uint8)
    points, spans, low, high = _contours(region, view, sharp)
    if not spans:
        return out
    # Only the window round what is seen is painted and averaged.
    x0, y0 = (max(0, math.floor(value / sharp)) for value in low)
    x1 = min(view.width, math.floor(high[0] / sharp) + 2)
    y1 = min(view.height, math.floor(high[1] / sharp) + 2)
    if x0 >= x1 or y0 >= y1:
        return out
    canvas = np.zeros(((y1 - y0) * sharp, (x1 - x0) * sharp), np.uint8)
    fine = float(1 << _SHIFT)
    corner = np.array([x0 * sharp, y0 * sharp], float)
    fixed = np.round((points - corner) * fine).astype(np.int32)
    cv2.fillPoly(canvas, [fixed[start:end] for start, end in spans], 255, lineType=cv2.LINE_8, shift=_SHIFT)
    small = canvas if sharp == 1 else cv2.resize(canvas, (x1 - x0, y1 - y0), interpolation=cv2.INTER_AREA)
    out[y0:y1, x0:x1] = small
    return out


_Contours = tuple[NDArray[np.float64], list[tuple[int, int]], tuple[float, float], tuple[float, float]]


def _contours(region: BaseGeometry, view: View, sharp: int) -> _Contours:
    """The corners (n, 2) of the rings of a region that can be seen, in sample pixels, from where to where each ring lies
    there, and the lowest and highest corner of all of them."""
    none: _Contours = np.zeros((0, 2)), [], (0.0, 0.0), (0.0, 0.0)
    rings = shapely.get_rings(shapely.get_parts(region))
    if len(rings) == 0:
        return none
    points, which = shapely.get_coordinates(rings, return_index=True)
    points = view.to_px(points) * sharp - 0.5
    starts = np.flatnonzero(np.diff(which, prepend=-1))
    many = np.diff(starts, append=len(points))
    lows, highs = np.minimum.reduceat(points, starts), np.maximum.reduceat(points, starts)
    wide, high = view.width * sharp, view.height * sharp
    seen = (highs >= 0).all(axis=1) & (lows[:, 0] <= wide) & (lows[:, 1] <= high) & (many > 3)
    if not seen.any():
        return none
    bounds = tuple(lows[seen].min(axis=0).tolist()), tuple(highs[seen].max(axis=0).tolist())
    vast = seen & ((lows.min(axis=1) < -4 * wide) | (highs.max(axis=1) > 8 * wide))
    near = seen & ~vast
    cut = [one for at in np.flatnonzero(vast) for one in _clipped(points[starts[at] : starts[at] + many[at] - 1], (high, wide))]
    cut = [one for one in cut if len(one) >= 3]
    points = points if near.all() else points[np.repeat(near, many)]
    # A ring ends where it begins, which is drawn once.
    lengths = [*(many[near] - 1).tolist(), *map(len, cut)]
    begins = [*(np.cumsum(many[near]) - many[near]).tolist(), *(len(points) + np.cumsum([0, *map(len, cut)])[:-1]).tolist()]
    spans = [(begin, begin + length) for begin, length in zip(begins, lengths, strict=True)]
    return (np.concatenate([points, *cut]) if cut else points), spans, *bounds


def _clipped(points: NDArray[np.float64], shape: tuple[int, ...]) -> list[NDArray[np.float64]]:
    """A ring far larger than the picture, cut to its surroundings so that pixel numbers stay small; it can fall apart."""
    height, width = shape
    ring = Polygon(points)
    if not ring.is_valid:
        ring = ring.buffer(0)
    kept = shapely.clip_by_rect(ring, -width, -height, 2 * width, 2 * height)
    parts = [part for part in shapely.get_parts(kept) if isinstance(part, Polygon) and not part.is_empty]
    return [shapely.get_coordinates(one)[:-1] for part in parts for one in shapely.get_rings(part)]
