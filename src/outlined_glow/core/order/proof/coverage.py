"""Coverage pictures: the region drawn by a code apart from the board's, and where two pictures differ."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

#: Two drawing codes differ by less than this share of a cell of a quarter millimetre.
_RASTER = 0.3


def raster(region: BaseGeometry, grid: dict[str, Any], rows_per_cell: int = 4) -> NDArray[np.float64]:
    """The region as coverage (height, width): scan lines with exact run lengths, a code apart from the board's."""
    scale, width, height = grid["px_per_mm"], grid["width"], grid["height"]
    cover = np.zeros((height, width))
    edges = _edges(region)
    if len(edges) == 0:
        return cover
    x0, x1 = (edges[:, 0] - grid["left_mm"]) * scale, (edges[:, 2] - grid["left_mm"]) * scale
    y0, y1 = (grid["top_mm"] - edges[:, 1]) * scale, (grid["top_mm"] - edges[:, 3]) * scale
    for row in range(height):
        for part in range(rows_per_cell):
            y = row + (part + 0.5) / rows_per_cell
            cut = (y0 <= y) != (y1 <= y)
            x = np.sort(x0[cut] + (y - y0[cut]) / (y1[cut] - y0[cut]) * (x1[cut] - x0[cut]))
            ends = np.clip(x, 0, width)
            # Integral of the run from its end to the right, in whole cells and a share of one.
            for sign, places in ((1.0, ends[0::2]), (-1.0, ends[1::2])):
                cell = np.minimum(places.astype(int), width - 1)
                share = 1 - (places - cell)
                np.add.at(cover[row], cell, sign * share / rows_per_cell)
                inner = cell + 1 < width
                np.add.at(cover[row], cell[inner] + 1, sign * (1 - share[inner]) / rows_per_cell)
    return np.asarray(np.cumsum(cover, axis=1), float)


def _edges(region: BaseGeometry) -> NDArray[np.float64]:
    """Every edge of a region: (n, 4) of x0, y0, x1, y1."""
    rows = []
    for part in getattr(region, "geoms", [region]):
        if part.is_empty:
            continue
        for ring in (part.exterior, *part.interiors):
            points = np.asarray(ring.coords)
            rows.append(np.hstack([points[:-1], points[1:]]))
    return np.vstack(rows) if rows else np.zeros((0, 4))


def worst(expected: NDArray[np.float64], seen: NDArray[np.float64], grid: dict[str, Any]) -> tuple[float, float, bool] | None:
    """The place where coverage differs by more than two drawing codes do."""
    gap = expected - seen
    score = np.abs(gap)
    row, column = np.unravel_index(int(np.argmax(score)), score.shape)
    if score[row, column] < _RASTER:
        return None
    scale = grid["px_per_mm"]
    x, y = grid["left_mm"] + (column + 0.5) / scale, grid["top_mm"] - (row + 0.5) / scale
    return round(float(x), 2), round(float(y), 2), bool(gap[row, column] > 0)
