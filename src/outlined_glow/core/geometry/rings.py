"""Chains of cracks to rings, and rings to polygons: the outer edge and the holes of each piece of equal label."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

from ..watch import give_way
from .cracks import NOTHING, Chains, Cracks, Labels
from .flatten import Points


@dataclass(frozen=True, eq=False)
class Rings:
    """Closed walks along chains with one piece of the picture on the left: chains by number, ~number walked backwards.

    `piece` numbers the piece, `label` is its label; `outside` is all that lies round the picture, within `frame`.
    """

    walks: list[list[int]]
    piece: list[int]
    label: list[int]
    outside: int
    frame: Points


def find_rings(cracks: Cracks, chains: Chains, labels: Labels) -> Rings:
    """The closed walks round every piece of equal label, and round what lies outside."""
    stops = np.append(chains.starts[1:], len(chains.order))
    first, last = chains.order[chains.starts], chains.order[stops - 1]
    ahead, ahead_last = chains.forward[chains.starts], chains.forward[stops - 1]
    begin = np.where(ahead, cracks.tail[first], cracks.head[first])
    end = np.where(ahead_last, cracks.head[last], cracks.tail[last])
    # Directions: 0 +x, 1 +y, 2 -x, 3 -y. Walked backwards, a chain begins where it ended, the other way.
    way_out = np.where(cracks.upright[first], 1, 0) + np.where(ahead, 0, 2)
    way_in = np.where(cracks.upright[last], 1, 0) + np.where(ahead_last, 0, 2)
    outgoing: dict[int, int] = {}
    for place in np.flatnonzero(~chains.looped).tolist():
        give_way()
        outgoing[int(begin[place]) * 4 + int(way_out[place])] = place
        outgoing[int(end[place]) * 4 + (int(way_in[place]) + 2) % 4] = ~place
    padded = _pieces(labels)
    across = labels.shape[1] + 1
    following: dict[int, int] = {}
    for place in np.flatnonzero(~chains.looped).tolist():
        give_way()
        for walk, node, way in ((place, int(end[place]), int(way_in[place])),
                                (~place, int(begin[place]), (int(way_out[place]) + 2) % 4)):  # fmt: skip
            # With the own pixel on the left: round it first (+y is on the left of +x), else straight on, else away.
            turns = [(way + 1) % 4, way, (way + 3) % 4]
            y, x = divmod(node, across)
            around = (padded[y + 1, x], padded[y, x], padded[y, x + 1], padded[y + 1, x + 1])
            if around[way] == around[(way + 2) % 4] and all(node * 4 + turn in outgoing for turn in turns):
                turns.reverse()  # the same piece lies on both sides of the node: a hole of it touches its rim here
            following[walk] = next(outgoing[node * 4 + turn] for turn in turns if node * 4 + turn in outgoing)
    hands = _hands(cracks, first, ahead, labels.shape[1], padded)
    left = np.where(ahead, cracks.left[first], cracks.right[first]).tolist()
    right = np.where(ahead, cracks.right[first], cracks.left[first]).tolist()
    loops = np.flatnonzero(chains.looped)
    walks = _walks(following, [*loops.tolist(), *(~loops).tolist()])
    starts = [walk[0] for walk in walks]
    label = [left[start] if start >= 0 else right[~start] for start in starts]
    piece = [hands[0][start] if start >= 0 else hands[1][~start] for start in starts]
    height, width = labels.shape
    frame = np.array([[-2.0, -2.0], [width + 2.0, -2.0], [width + 2.0, height + 2.0], [-2.0, height + 2.0]])
    return Rings(walks, piece, label, int(padded[0, 0]), frame)


def _walks(following: dict[int, int], loops: list[int]) -> list[list[int]]:
    """The closed walks from each chain to the one that follows it, and those that are loops by themselves."""
    walks: list[list[int]] = []
    seen: set[int] = set()
    for start in (*following, *loops):
        if start in seen:
            continue
        give_way()
        ring = [start]
        while (step := following.get(ring[-1], start)) != start:
            ring.append(step)
        seen.update(ring)
        walks.append(ring)
    return walks


def _pieces(labels: Labels) -> NDArray[np.int32]:
    """A number for each piece of equal label that hangs together by pixel sides, (h + 2, w + 2): with a rim of nothing."""
    padded = np.pad(labels, 1, constant_values=NOTHING)
    out = np.zeros(padded.shape, np.int32)
    above = 0
    for label in np.flatnonzero(np.bincount(padded.ravel(), minlength=256)).tolist():
        mask = padded == label
        many, found = cv2.connectedComponents(mask.astype(np.uint8), connectivity=4)
        found += above
        np.copyto(out, found, where=mask)
        above += many
    return out


def _hands(
    cracks: Cracks, first: NDArray[np.int64], ahead: NDArray[np.bool_], width: int, padded: NDArray[np.int32]
) -> tuple[list[int], list[int]]:
    """The piece on the left and on the right of the first crack of each chain."""
    y, x = np.divmod(cracks.tail[first], width + 1)
    upright = cracks.upright[first]
    # Padded by one, the pixel right of and under vertex (x, y) is [y + 1, x + 1].
    left = np.where(upright, padded[y + 1, x], padded[y + 1, x + 1])
    right = np.where(upright, padded[y + 1, x + 1], padded[y, x + 1])
    return np.where(ahead, left, right).tolist(), np.where(ahead, right, left).tolist()


def assemble(lines: NDArray[np.object_], rings: Rings) -> tuple[NDArray[np.object_], list[int], list[NDArray[np.int64]]]:
    """The polygon of each piece from its outer ring and its holes, its label, and the chains it is made of."""
    points, which = shapely.get_coordinates(lines, return_index=True)
    at = [*np.flatnonzero(np.diff(which, prepend=-1)).tolist(), len(points)]
    shells: dict[int, Points] = {rings.outside: rings.frame}
    holes: dict[int, list[Points]] = {}
    used: dict[int, list[int]] = {}
    label: dict[int, int] = {}
    for walk, piece, key in zip(rings.walks, rings.piece, rings.label, strict=True):
        give_way()
        parts = []
        for step in walk:
            number = step if step >= 0 else ~step
            row = points[at[number] : at[number + 1]]
            parts.append(row[:-1] if step >= 0 else row[:0:-1])
        ring = np.concatenate(parts)
        used.setdefault(piece, []).extend(step if step >= 0 else ~step for step in walk)
        label[piece] = key
        if len(ring) < 3:
            continue
        if _signed_area(ring) > 0:
            shells[piece] = ring
        else:
            holes.setdefault(piece, []).append(ring)
    faces: list[Polygon] = []
    keys: list[int] = []
    chains: list[NDArray[np.int64]] = []
    for piece, shell in shells.items():
        give_way()
        faces.append(Polygon(shell, holes.get(piece, [])))
        keys.append(label[piece])
        chains.append(np.array(used[piece], np.int64))
    return np.array(faces, dtype=object), keys, chains


def _signed_area(ring: Points) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float(x[:-1] @ y[1:] - x[1:] @ y[:-1] + x[-1] * y[0] - x[0] * y[-1]) / 2


def spoiled(faces: NDArray[np.object_]) -> NDArray[np.bool_]:
    """Which pieces cross themselves.

    The pieces and what lies between them fill the plane once and share their edges: while none of them crosses
    itself, no two of them overlap.
    """
    return np.asarray(~shapely.is_valid(faces))
