"""Pixels of equal label to disjoint regions that share their edges.

Where exactly two cracks meet they go on into one another; where three or four meet there is a node. The chains
between nodes are the edges that neighbouring regions share, so that regions can neither overlap nor leave a gap,
whatever is smoothed away.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from ..watch import ALONE, Watch
from .cracks import NOTHING, Between, Chains, Cracks, Labels, chain_cracks, chain_lines, find_cracks
from .regions import region_of
from .rings import Rings, assemble, find_rings, spoiled
from .valid import valid

#: How often straightened edges that met are taken back.
_ROUNDS = 6


def trace(labels: Labels, tolerance: float, between: Between | None = None, watch: Watch = ALONE) -> Mapping[int, BaseGeometry]:
    """Label -> region in pixels (x right, y down), from `labels` (h, w); `NOTHING` gives no region.

    With `between` edges run through sub-pixel places, corners kept, and are simplified within `tolerance`
    pixels; without it they follow the pixels exactly. `Trouble` for a picture that is all noise.
    """
    height, width = labels.shape
    cracks = find_cracks(labels, between)
    if len(cracks.tail) == 0:
        return {}
    watch.at(0.2)
    chains = chain_cracks(cracks, width + 1, height + 1)
    lines = chain_lines(cracks, chains, width + 1, between is not None)
    watch.at(0.4)
    rings = find_rings(cracks, chains, labels)
    watch.at(0.5)
    faces, keys = _apart(cracks, chains, rings, lines, tolerance, width + 1, watch.part(0.5, 1.0))
    out: dict[int, list[Polygon]] = {}
    for key, face in zip(keys, faces.tolist(), strict=True):
        if key != NOTHING:
            out.setdefault(key, []).append(face)
    # Where what lay between two pieces was smoothed away to nothing, they share an edge: then they are one.
    return {key: valid(region_of(out[key])) for key in sorted(out)}


def _apart(
    cracks: Cracks, chains: Chains, rings: Rings, lines: NDArray[np.object_], tolerance: float, across: int, watch: Watch
) -> tuple[NDArray[np.object_], list[int]]:
    """The pieces as polygons and their labels. Where straightened edges would meet they are taken back:

    first to all the places of their cracks, then to the pixels' own sides, at last with the nodes too.
    """
    simple = _simplified(lines, tolerance)
    faces, keys, used = assemble(simple, rings)
    step = np.zeros(len(lines), np.int64)
    exact = None
    for round_ in range(_ROUNDS):
        watch.at(round_ / _ROUNDS)
        bad = np.flatnonzero(spoiled(faces))
        if not len(bad):
            break
        again = np.unique(np.concatenate([used[place] for place in bad]))
        step[again] += 1
        if exact is None and (step > 1).any():
            exact = chain_lines(cracks, chains, across, False)
        if (step > 2).any():
            assert exact is not None
            return assemble(exact, rings)[:2]
        simple[again] = lines[again]
        for place in again[step[again] == 2].tolist():
            assert exact is not None
            own, ends = shapely.get_coordinates(exact[place]), shapely.get_coordinates(lines[place])
            if not chains.looped[place]:
                own[0], own[-1] = ends[0], ends[-1]
            simple[place] = LineString(own)
        faces, keys, used = assemble(simple, rings)
    return faces, keys


def _simplified(lines: NDArray[np.object_], tolerance: float) -> NDArray[np.object_]:
    if not tolerance:
        return lines.copy()
    simple = np.asarray(shapely.simplify(lines, tolerance, preserve_topology=False))
    collapsed = shapely.is_closed(simple) & (shapely.get_num_coordinates(simple) < 4)
    simple[collapsed] = lines[collapsed]
    return simple
