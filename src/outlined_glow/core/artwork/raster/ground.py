"""What is no part of a raster picture: the transparent, and the ground it stands on."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from ...colour import ciede2000, hex_to_rgb, rgb_to_hex, rgb_to_lab
from ...geometry.cracks import NOTHING, Labels
from ...project import Tones
from .clusters import cell_labs
from .read import Pixels, Raster

Mask = NDArray[np.bool_]
#: A rim is narrower than so many pixels, and of a colour no farther from the ground's (CIEDE2000).
_RIM, _LIKE = 7, 15.0


def ground_colour(pixels: Pixels) -> tuple[str, float]:
    """The commonest colour round the picture's edge, and the share of the edge that looks like it (CIEDE2000 under 6)."""
    edge = np.concatenate([pixels[0], pixels[-1], pixels[:, 0], pixels[:, -1]])
    packed = edge.astype(np.int32) @ np.array([65536, 256, 1], np.int32)
    values, often = np.unique(packed // 0x080808 if len(packed) < 8 else packed, return_counts=True)
    top = int(values[int(np.argmax(often))])
    colour = rgb_to_hex((top >> 16, top >> 8 & 255, top & 255)) if len(packed) >= 8 else rgb_to_hex(edge[0])
    near = ciede2000(rgb_to_lab(edge), rgb_to_lab(hex_to_rgb(colour))) < 6
    return colour, float(near.mean())


def away(raster: Raster, cells: NDArray[np.int32], tones: Tones) -> Mask | None:
    """Pixels that are no part of the picture (h, w): transparent ones, and its ground if that is to go; None for none."""
    gone = raster.solid < 128 if raster.solid is not None else None
    if tones.ground == "keep":
        return gone
    colour = tones.ground_colour or ground_colour(raster.pixels)[0]
    alike = ciede2000(cell_labs(), rgb_to_lab(hex_to_rgb(colour))) <= tones.ground_spread
    same = alike[cells]
    if tones.ground == "outside":
        same = _from_outside(same)
    return same if gone is None else same | gone


def _from_outside(same: Mask) -> Mask:
    """The part of a mask that can be reached from beyond the picture's edge."""
    padded = np.pad(same.astype(np.uint8), 1, constant_values=1)
    cv2.floodFill(padded, None, (0, 0), 2, flags=4)
    return np.asarray(padded[1:-1, 1:-1] == 2)


def take_rims(labels: Labels, colours: NDArray[np.uint8], ground: tuple[int, int, int], mark: int) -> None:
    """Thin rims of a colour like the ground's beside it (`mark`) are the soft edge of what stands there, in place."""
    far = ciede2000(rgb_to_lab(colours), rgb_to_lab(ground))
    brush = np.ones((_RIM, _RIM), np.uint8)
    beside = cv2.dilate((labels == mark).astype(np.uint8), brush)
    for label in np.flatnonzero(far < _LIKE).tolist():
        mine = (labels == label).astype(np.uint8)
        wide = cv2.morphologyEx(mine, cv2.MORPH_OPEN, brush)
        labels[(mine > wide) & (beside > 0)] = mark


def drop_specks(labels: Labels, count: int, smallest_px: float) -> None:
    """Islands of fewer than `smallest_px` pixels take the label of what is nearest to them, in place."""
    if smallest_px < 2:
        return
    specks = np.zeros(labels.shape, bool)
    for label in (*range(count), NOTHING):
        _, pieces, stats, _ = cv2.connectedComponentsWithStats((labels == label).astype(np.uint8), connectivity=4)
        small = stats[:, cv2.CC_STAT_AREA] < smallest_px
        small[0] = False
        if small.any():
            specks |= small[pieces]
    if not specks.any() or specks.all():
        return
    _, nearest = cv2.distanceTransformWithLabels(specks.astype(np.uint8), cv2.DIST_L2, 3, labelType=cv2.DIST_LABEL_PIXEL)
    kept = np.flatnonzero(~specks.ravel())
    of = np.zeros(int(nearest.max()) + 1, np.int64)
    of[nearest.ravel()[kept]] = kept
    places = np.flatnonzero(specks.ravel())
    labels.ravel()[places] = labels.ravel()[of[nearest.ravel()[places]]]
