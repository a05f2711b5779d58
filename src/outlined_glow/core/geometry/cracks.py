"""Cracks, the unit sides between pixels of different labels: found, chained, and laid as lines through sub-pixel places."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from ..errors import Trouble
from ..watch import give_way
from .flatten import Points

Labels = NDArray[np.uint8]
#: The label of what is no region.
NOTHING = 255
#: Sides between pixels of different labels that are taken on.
MOST_CRACKS = 8_000_000
#: Straight runs of at least so many sides on either hand make a corner that is kept.
_CORNER_RUN = 3
#: Cracks of one pixel never meet in its middle.
_FARTHEST = 0.45

#: Where an edge runs between the middles of two pixels, given as flat places (one, other): 0 at one, 1 at the other.
Between = Callable[[NDArray[np.int64], NDArray[np.int64]], NDArray[np.float64]]


@dataclass(frozen=True, eq=False)
class Cracks:
    """Cracks by the ids of their end vertices, along +y (upright) or +x, with the labels on either hand."""

    upright: NDArray[np.bool_]
    tail: NDArray[np.int64]
    head: NDArray[np.int64]
    left: Labels
    right: Labels
    shift: NDArray[np.float64]


def find_cracks(labels: Labels, between: Between | None) -> Cracks:
    """Every crack of a picture (h, w), shifted to where `between` says; `Trouble` for one that is all noise."""
    height, width = labels.shape
    padded = np.full((height + 2, width + 2), NOTHING, np.uint8)
    padded[1:-1, 1:-1] = labels
    rows, columns = np.nonzero(padded[:, :-1] != padded[:, 1:])
    down_rows, down_columns = np.nonzero(padded[:-1] != padded[1:])
    count, down = len(rows), len(down_rows)
    if count + down > MOST_CRACKS:
        raise Trouble("The picture is all noise, with no areas to trace; blur it, or ask for fewer colours.")
    across = width + 1
    tail = np.concatenate([(rows - 1) * across + columns, down_rows * across + down_columns - 1])
    head = np.concatenate([rows * across + columns, down_rows * across + down_columns])
    # Upright, along +y: smaller x on the left hand. Level, along +x: larger y on the left hand.
    left = np.concatenate([padded[rows, columns], padded[down_rows + 1, down_columns]])
    right = np.concatenate([padded[rows, columns + 1], padded[down_rows, down_columns]])
    shift = np.zeros(count + down)
    if between is not None:
        inside = np.concatenate([(columns >= 1) & (columns + 1 <= width), (down_rows >= 1) & (down_rows + 1 <= height)])
        one = np.concatenate([(rows - 1) * width + columns - 1, (down_rows - 1) * width + down_columns - 1])
        other = np.concatenate([(rows - 1) * width + columns, down_rows * width + down_columns - 1])
        shift[inside] = np.clip(between(one[inside], other[inside]) - 0.5, -_FARTHEST, _FARTHEST)
    upright = np.arange(count + down) < count
    return Cracks(upright, tail, head, left, right, shift)


@dataclass(frozen=True, eq=False)
class Chains:
    """Cracks in the order of their chains: which they are, walked from tail to head or not, and where each chain starts."""

    order: NDArray[np.int64]
    forward: NDArray[np.bool_]
    starts: NDArray[np.int64]
    looped: NDArray[np.bool_]


def chain_cracks(cracks: Cracks, across: int, down: int) -> Chains:
    """The cracks joined from node to node, or round to where they began; `across` x `down` vertices."""
    count = len(cracks.tail)
    ends = np.concatenate([cracks.tail, cracks.head])
    degree = np.bincount(ends, minlength=across * down)[ends] if across * down < 40_000_000 else _sparse_degree(ends)
    by_vertex = np.argsort(ends, kind="stable")
    pairs = by_vertex[(degree == 2)[by_vertex]].reshape(-1, 2)
    # `over[e]`: the other crack's end that meets end e; e < count are tails. -1 at nodes.
    over = np.full(2 * count, -1, np.int64)
    over[pairs[:, 0]], over[pairs[:, 1]] = pairs[:, 1], pairs[:, 0]
    follow = np.where(over >= 0, (over + count) % (2 * count), -1)
    steps = follow.tolist()
    seen = bytearray(count)
    order: list[int] = []
    starts: list[int] = []
    # Entering a crack by one end, it is left by the other: that end stands for the walk.
    for leaving in ((np.flatnonzero(over < 0) + count) % (2 * count)).tolist():
        if not seen[leaving % count]:
            give_way()
            starts.append(len(order))
            _walk(leaving, steps, seen, order, count)
    open_ones = len(starts)
    for crack in np.flatnonzero(np.frombuffer(seen, np.uint8) == 0).tolist():
        if not seen[crack]:
            give_way()
            starts.append(len(order))
            _walk(crack + count, steps, seen, order, count)
    ways = np.array(order, np.int64)
    return Chains(ways % count, ways >= count, np.array(starts, np.int64), np.arange(len(starts)) >= open_ones)


def _walk(leaving: int, follow: list[int], seen: bytearray, order: list[int], count: int) -> None:
    """Append cracks by the end they are left by (head: + count) until a node, or round to the first again."""
    while leaving >= 0 and not seen[leaving % count]:
        seen[leaving % count] = 1
        order.append(leaving)
        leaving = follow[leaving]


def _sparse_degree(ends: NDArray[np.int64]) -> NDArray[np.int64]:
    """How many cracks meet at the vertex of each end, without a table of every vertex."""
    _, which, counts = np.unique(ends, return_inverse=True, return_counts=True)
    return np.asarray(counts[which], np.int64)


def chain_lines(cracks: Cracks, chains: Chains, across: int, smooth: bool) -> NDArray[np.object_]:
    """The chains as lines: node, places of the cracks with the corners between them, node; closed where there is no node."""
    order, starts, forward = chains.order, chains.starts, chains.forward
    tail = np.where(forward, cracks.tail[order], cracks.head[order])
    head = np.where(forward, cracks.head[order], cracks.tail[order])
    count = len(order)
    stops = np.append(starts[1:], count)
    chain = np.repeat(np.arange(len(starts)), stops - starts)
    corner_at = np.stack([head % across, head // across], axis=1).astype(float)
    tail_at = np.stack([tail[starts] % across, tail[starts] // across], axis=1).astype(float)
    if not smooth:
        points = np.empty((count + len(starts), 2))
        put = np.arange(count) + chain + 1
        points[put] = corner_at
        points[starts + np.arange(len(starts))] = tail_at
        which = np.empty(len(points), np.int64)
        which[put], which[starts + np.arange(len(starts))] = chain, np.arange(len(starts))
        return np.asarray(shapely.linestrings(points, indices=which))
    upright, shift = cracks.upright[order], cracks.shift[order]
    begin = np.stack([tail % across, tail // across], axis=1).astype(float)
    middle = (begin + corner_at) / 2
    middle[:, 0] += np.where(upright, shift, 0.0)
    middle[:, 1] += np.where(upright, 0.0, shift)
    nodes = _node_places(cracks, across)
    last = stops - 1
    after = np.arange(count) + 1
    after[last] = np.where(chains.looped, starts, -1)
    ahead = np.where(after >= 0, after, 0)
    turns = (after >= 0) & (upright != upright[ahead])
    before_run, after_run = _runs(upright, forward, chain)
    keep = turns & (before_run >= _CORNER_RUN) & (after_run[ahead] >= _CORNER_RUN)
    corners = corner_at.copy()
    corners[:, 0] += np.where(upright, shift, shift[ahead])
    corners[:, 1] += np.where(upright, shift[ahead], shift)
    rank = np.arange(count)
    looped = chains.looped
    first_points = np.where(looped[:, None], middle[starts], nodes.place(tail[starts]))
    last_points = np.where(looped[:, None], middle[starts], nodes.place(head[last]))
    opens = ~looped  # a loop begins with its first middle, which is there already
    points = np.concatenate([first_points[opens], middle, corners[keep], last_points])
    owner = np.concatenate([np.flatnonzero(opens), chain, chain[keep], np.arange(len(starts))])
    ranks = np.concatenate([starts[opens] - 0.5, rank, rank[keep] + 0.25, last + 0.5])
    sorted_ = np.lexsort([ranks, owner])
    return np.asarray(shapely.linestrings(points[sorted_], indices=owner[sorted_]))


def _runs(
    upright: NDArray[np.bool_], forward: NDArray[np.bool_], chain: NDArray[np.int64]
) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """For each crack, how many of its own direction run up to it, and from it on."""
    way = upright * 2 + forward
    fresh = np.ones(len(way), bool)
    fresh[1:] = (way[1:] != way[:-1]) | (chain[1:] != chain[:-1])
    heads = np.flatnonzero(fresh)
    run = np.cumsum(fresh) - 1
    sizes = np.diff(np.append(heads, len(way)))
    so_far = np.arange(len(way)) - heads[run] + 1
    return so_far, sizes[run] - so_far + 1


@dataclass(frozen=True, eq=False)
class _Nodes:
    """Vertices where more or fewer than two cracks meet, and the places they take among their shifted cracks."""

    ids: NDArray[np.int64]
    places: Points
    across: int

    def place(self, vertices: NDArray[np.int64]) -> Points:
        out = np.stack([vertices % self.across, vertices // self.across], axis=1).astype(float)
        if len(self.ids):
            found = np.minimum(np.searchsorted(self.ids, vertices), len(self.ids) - 1)
            hit = self.ids[found] == vertices
            out[hit] = self.places[found[hit]]
        return out


def _node_places(cracks: Cracks, across: int) -> _Nodes:
    ends = np.concatenate([cracks.tail, cracks.head])
    ids, which, counts = np.unique(ends, return_inverse=True, return_counts=True)
    node = counts != 2
    number = np.cumsum(node) - 1
    mine = node[which]
    slot = number[which[mine]]
    shift = np.concatenate([cracks.shift, cracks.shift])[mine]
    upright = np.concatenate([cracks.upright, cracks.upright])[mine]
    ids = ids[node]
    places = np.stack([ids % across, ids // across], axis=1).astype(float)
    for axis, here in ((0, upright), (1, ~upright)):
        total = np.bincount(slot[here], shift[here], len(ids))
        share = np.bincount(slot[here], minlength=len(ids))
        places[:, axis] += total / np.maximum(share, 1)
    return _Nodes(ids, places, across)
