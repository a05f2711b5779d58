"""How much lies over one another, told cheaply before the exact work is begun."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from .flatten import Points

_ROWS = 256
#: Segments whose crossings are not worth estimating; pairs of segments that are looked at otherwise: at least, at most, and
#: one of so many of all pairs.
_FEW = 1_500
_SAMPLE, _LARGE_SAMPLE, _ONE_OF = 10_000, 400_000, 200


def count_overlaps(pile: NDArray[np.object_], most: int) -> int:
    """How many pairs of a pile (n,) have boxes that meet; counting ends soon after `most`."""
    tree = shapely.STRtree(pile)
    found = 0
    for first in range(0, len(pile), _ROWS):
        rows = pile[first : first + _ROWS]
        found += tree.query(rows).shape[1] - len(rows)
        if found // 2 > most:
            break
    return found // 2


def estimate_crossings(outlines: Sequence[Points]) -> float:
    """About how often the segments of some outlines (each (n, 2)) cross one another.

    A fixed sample of pairs is looked at, so the answer is the same every time; few segments give 0.
    """
    if sum(max(0, len(points) - 1) for points in outlines) < _FEW:
        return 0.0
    start = np.vstack([points[:-1] for points in outlines])
    end = np.vstack([points[1:] for points in outlines])
    chance = np.random.default_rng(len(start))
    # The more segments there are, the rarer are crossings where there are too many of them, and the larger is the sample.
    many = min(_LARGE_SAMPLE, max(_SAMPLE, len(start) ** 2 // (2 * _ONE_OF)))
    one, other = chance.integers(0, len(start), (2, many))
    a, b, c, d = start[one], end[one], start[other], end[other]
    meet = (_side(a, b, c) * _side(a, b, d) < 0) & (_side(c, d, a) * _side(c, d, b) < 0)
    return float(meet.mean()) * len(start) ** 2 / 2


def _side(a: Points, b: Points, p: Points) -> NDArray[np.float64]:
    return np.asarray((b[:, 0] - a[:, 0]) * (p[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (p[:, 0] - a[:, 0]))
