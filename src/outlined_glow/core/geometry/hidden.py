"""What of a pile of regions is surely hidden by those above it, found on a coarse raster without guessing.

A pixel counts as covered only where one region covers all of it, and a region as hidden only if every pixel it
touches is covered by regions above it: so nothing that shows is ever dropped, while most of what does not show is.
"""

from __future__ import annotations

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from .regions import rings

#: Pixels along the longer side of the pile, and pixels painted in all, at most.
_SIDE = 2048
_MOST_PIXELS = 100e6
#: A pile whose boxes lie less deep than this on average is left alone: little of it is hidden, and looking costs.
_DEPTH = 3.0
#: Fractional bits of OpenCV's coordinates.
_SHIFT = 4


def surely_hidden(pile: NDArray[np.object_]) -> NDArray[np.bool_]:
    """Which regions of a pile (n,), lowest first, cannot be seen for those above them."""
    boxes = shapely.bounds(pile)
    if _depth(boxes) < _DEPTH:
        return np.zeros(len(pile), bool)
    corner = boxes[:, :2].min(axis=0)
    scale = _scale(boxes)
    size = np.ceil((boxes[:, 2:].max(axis=0) - corner) * scale).astype(int) + 5
    top = np.full((size[1], size[0]), -1, np.int32)
    marks: list[tuple[tuple[slice, slice], NDArray[np.bool_]]] = []
    for place, region in enumerate(pile):
        window, touched, covered = _marks(region, boxes[place], corner, scale)
        top[window][covered] = place
        marks.append((window, touched))
    hidden = [bool((top[window][touched] > place).all()) for place, (window, touched) in enumerate(marks)]
    return np.array(hidden, bool)


def _depth(boxes: NDArray[np.float64]) -> float:
    whole = boxes[:, 2:].max(axis=0) - boxes[:, :2].min(axis=0)
    return float(np.prod(boxes[:, 2:] - boxes[:, :2], axis=1).sum() / np.prod(whole))


def _scale(boxes: NDArray[np.float64]) -> float:
    """Pixels per unit, so that neither the raster nor the sum of all windows grows out of hand."""
    whole = boxes[:, 2:].max(axis=0) - boxes[:, :2].min(axis=0)
    areas = np.prod(boxes[:, 2:] - boxes[:, :2], axis=1).sum()
    return float(min(_SIDE / whole.max(), np.sqrt(_MOST_PIXELS / max(areas, 1e-300))))


def _marks(
    region: BaseGeometry, box: NDArray[np.float64], corner: NDArray[np.float64], scale: float
) -> tuple[tuple[slice, slice], NDArray[np.bool_], NDArray[np.bool_]]:
    """The window of a region in the raster, the pixels there that it touches, and those that it covers whole."""
    first = np.floor((box[:2] - corner) * scale).astype(int)
    last = np.ceil((box[2:] - corner) * scale).astype(int) + 5
    wide, high = (last - first).tolist()
    origin = corner + (first - 2) / scale
    outline = [np.round((ring - origin) * (scale * 2**_SHIFT)).astype(np.int32) for ring in rings(region)]
    inside = np.zeros((high, wide), np.uint8)
    edge = np.zeros((high, wide), np.uint8)
    cv2.fillPoly(inside, outline, 1, shift=_SHIFT)
    cv2.polylines(edge, outline, True, 1, thickness=3, shift=_SHIFT)
    window = (slice(first[1], last[1]), slice(first[0], last[0]))
    return window, (inside | edge).astype(bool), (inside > edge)
