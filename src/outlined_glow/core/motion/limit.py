"""Frames that would take more current than they may: dimmed as a whole, or their brightest lights clipped."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .lamps import Lamps

Levels = NDArray[np.float64]


def kept_under(levels: Levels, lamps: Lamps, limit_a: float, over: str) -> Levels:
    """Levels (t, n, c) of which no frame takes more than `limit_a`. A frame that would is dimmed evenly, so that its colours
    stay (`dim`), or no light in it is brighter than one level for all (`clip`)."""
    flat = levels.reshape(len(levels), -1)
    currents = lamps.currents.ravel()
    total = flat @ currents
    frames = np.flatnonzero(total > limit_a * (1 + 1e-9))
    if not len(frames):
        return levels
    out = flat.copy()
    if over == "dim":
        out[frames] *= (limit_a / total[frames])[:, None]
    else:
        out[frames] = np.minimum(flat[frames], _ceilings(flat[frames], currents, limit_a)[:, None])
    return np.asarray(out.reshape(levels.shape), float)


def _ceilings(flat: Levels, currents: Levels, limit_a: float) -> Levels:
    """The highest level (t,) that lights may have in each frame (t, lights): with the lights in order of their level, what
    those below take whole and those above take at the ceiling is the limit."""
    order = np.argsort(flat, axis=1)
    level = np.take_along_axis(flat, order, axis=1)
    each = currents[order]
    below = np.cumsum(level * each, axis=1) - level * each
    above = np.cumsum(each[:, ::-1], axis=1)[:, ::-1]
    # The first light that does not fit at its own level, with all above it at that level.
    over = below + level * above > limit_a
    at = np.argmax(over, axis=1)
    rows = np.arange(len(flat))
    return np.asarray(np.clip((limit_a - below[rows, at]) / np.maximum(above[rows, at], 1e-12), 0, 1), float)
