"""Gaps that taper to a corner: for a disc of half the radius they are half as long."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from ..near import Framed
from ..overlay import overlay_each
from .morphology import DEAD_END, LEAST, SLACK, grown, lengths

#: Half as long, for corners that were rounded to the places of a drawing, or traced.
_HALF = (0.4, 0.6)


def tapering(filled: NDArray[np.object_], smallest: float, parts: NDArray[np.object_]) -> NDArray[np.bool_]:
    """Which pieces that a closing of some parts fills are corners of 30 degrees and more: no longer than 2.3 widths, mm."""
    out = np.zeros(len(filled), dtype=bool)
    long = lengths(filled)
    short = np.flatnonzero((long > smallest) & (long <= DEAD_END * smallest))
    if not len(short):
        return out
    framed, some = Framed(parts), filled[short]
    grounds = np.empty(len(some), dtype=object)
    for place, (left, bottom, right, top) in enumerate(shapely.bounds(some).tolist()):
        grounds[place] = framed.within((left - smallest, bottom - smallest, right + smallest, top + smallest))
    radius, slack = smallest / 4 - SLACK / 2, SLACK / 2
    less = overlay_each(shapely.difference, grown(grown(grounds, radius), -radius), grown(grounds, slack))
    pieces, whose = shapely.get_parts(less, return_index=True)
    mine = (shapely.area(pieces) > LEAST / 4) & shapely.intersects(pieces, some[whose])
    half = np.zeros(len(some))
    np.maximum.at(half, whose[mine], lengths(pieces[mine]))
    out[short] = (half > _HALF[0] * long[short]) & (half < _HALF[1] * long[short])
    return out
