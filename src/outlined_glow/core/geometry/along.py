"""Edges that run beside one another."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry


def run_beside(edges: BaseGeometry, others: BaseGeometry, reach: float, step: float = 0.1) -> tuple[float, tuple[float, float]]:
    """How long `edges` run within `reach` of `others` (lines, mm), in steps of `step`, and a place of the longest run."""
    legs, which = _legs(shapely.segmentize(edges, step))
    banks, _ = _legs(others)
    if not len(legs) or not len(banks):
        return 0.0, (0.0, 0.0)
    middles = legs.mean(axis=1)
    tree = shapely.STRtree(list(shapely.linestrings([*banks])))
    near = np.zeros(len(legs), bool)
    near[tree.query(shapely.points(middles), predicate="dwithin", distance=reach)[0]] = True
    if not near.any():
        return 0.0, (0.0, 0.0)
    lengths = np.hypot(*(legs[:, 1] - legs[:, 0]).T)
    # Runs: legs that follow one another on one line and are near.
    starts = near & np.concatenate([[True], ~near[:-1] | (which[1:] != which[:-1])])
    run = np.cumsum(starts)[near] - 1
    longest = int(np.argmax(np.bincount(run, lengths[near])))
    mine = np.flatnonzero(near)[run == longest]
    x, y = middles[mine[len(mine) // 2]]
    return float(lengths[near].sum()), (float(x), float(y))


def _legs(lines: BaseGeometry) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """The straight legs (n, 2, 2) of lines, and which line each is of."""
    points, which = shapely.get_coordinates(shapely.get_parts(lines), return_index=True)
    same = which[1:] == which[:-1]
    return np.stack([points[:-1], points[1:]], axis=1)[same], np.asarray(which[1:][same])
