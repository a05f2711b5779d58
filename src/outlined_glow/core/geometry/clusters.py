"""Things that are near to one another, directly or by way of others."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def clusters(count: int, one: NDArray[np.int64], other: NDArray[np.int64]) -> NDArray[np.int64]:
    """The cluster (count,) of each of so many things, given pairs of them that are near: 0 and on, in the order of the
    first of each."""
    least = np.arange(count)
    while True:
        # The first of a cluster joins that of the other: a long chain takes few rounds.
        first, second, before = least[one], least[other], least.copy()
        both = np.minimum(first, second)
        np.minimum.at(least, first, both)
        np.minimum.at(least, second, both)
        least = least[least]
        if np.array_equal(least, before):
            return np.unique(least, return_inverse=True)[1]
