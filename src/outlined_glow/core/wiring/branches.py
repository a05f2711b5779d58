"""The branches of a net while it is made: what of it hangs together, what leads nowhere, what makes way for what is fixed."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from .grid import Cells, Grid
from .maze import STEPS


@dataclass
class Branch:
    """A piece of a net's copper: the cells it runs along, one step or via after another, and its kind of track."""

    cells: Cells
    kind: int
    _vias: Cells | None = None

    def vias(self, layer: int) -> Cells:
        """The cells, of both layers, at which it changes the layer; `layer` is how many cells one has."""
        if self._vias is None:
            flat = self.cells % layer
            through = np.flatnonzero(flat[1:] == flat[:-1])
            self._vias = np.concatenate([self.cells[through], self.cells[through + 1]]).astype(np.int32)
        return self._vias


@dataclass
class NetWork:
    """A net that is being made: the kinds of track it takes, widest first; the cells in each of its pads; of each piece that
    was fixed by hand; the branches that are there of it."""

    name: str
    kinds: Sequence[int]
    pads: Sequence[Cells]
    fixed: Sequence[Cells] = ()
    branches: list[Branch] = field(default_factory=list)
    #: Two of its pads (or fixed pieces) each that no track joins.
    lost: list[tuple[int, int]] = field(default_factory=list)
    narrow: int = 0
    #: Pads that nothing leads to, however little else there is.
    cut_off: set[int] = field(default_factory=set)


@dataclass
class Piece:
    """What of a net hangs together: its first item, its cells, its pads."""

    first: int
    parts: list[Cells] = field(default_factory=list)
    pads: list[int] = field(default_factory=list)
    cells: Cells = field(default_factory=lambda: np.zeros(0, np.int32))
    #: The columns and rows it reaches over: left, bottom, right, top.
    box: tuple[int, int, int, int] = (0, 0, 0, 0)
    #: The layers it lies on, as bits.
    layers: int = 0

    def take(self, cells: Cells, grid: Grid) -> None:
        """More cells, which hang together with it."""
        flat = cells % grid.cells
        x, y = flat % grid.width, flat // grid.width
        box = (int(x.min()), int(y.min()), int(x.max()), int(y.max()))
        if self.layers:
            left, bottom, right, top = self.box
            box = (min(left, box[0]), min(bottom, box[1]), max(right, box[2]), max(top, box[3]))
        in_front = cells < grid.cells
        self.layers |= int(in_front.any()) + 2 * int(not in_front.all())
        self.box = box
        self.cells = np.concatenate([self.cells, cells])


def yield_to_fixed(net: NetWork) -> None:
    """Take out what lies where something was fixed by hand, and what joins nothing that is not joined without it."""
    fixed = np.concatenate(net.fixed)
    outside = []
    for one in net.branches:
        inside = np.isin(one.cells, fixed)
        for start, end in runs(inside):
            # A stretch goes on to the fixed cells at which it ends.
            cells = one.cells[max(start - 1, 0) : end + 1]
            if not inside[start] and len(cells) > 1:
                outside.append(Branch(np.ascontiguousarray(cells), one.kind))
    net.branches = outside
    trim(net)
    groups = _Groups()
    for cells in (*net.pads, *net.fixed):
        groups.add(cells)
    kept = []
    for one in sorted(net.branches, key=lambda one: len(one.cells)):
        if not groups.joins(int(one.cells[0]), int(one.cells[-1])):
            groups.add(one.cells)
            kept.append(one)
    net.branches = kept
    trim(net)


def take_out(net: NetWork, lost: Sequence[Branch]) -> None:
    """Take branches out of a net, and what then leads nowhere."""
    if lost:
        gone = {id(one) for one in lost}
        net.branches = [one for one in net.branches if id(one) not in gone]
        trim(net)


def trim(net: NetWork) -> None:
    """Take away ends that lead nowhere."""
    pads = np.sort(np.concatenate([np.zeros(0, np.int32), *net.pads, *net.fixed]))
    while net.branches:
        cells = np.concatenate([one.cells for one in net.branches])
        shared = _repeated(cells) | _within(cells, pads)
        kept, changed, start = [], False, 0
        for one in net.branches:
            anchors = np.flatnonzero(shared[start : start + len(one.cells)])
            start += len(one.cells)
            if len(anchors) < 2 or anchors[0] == anchors[-1]:
                changed = True
                continue
            if anchors[0] > 0 or anchors[-1] < len(one.cells) - 1:
                changed = True
                one = Branch(one.cells[anchors[0] : anchors[-1] + 1], one.kind)
            kept.append(one)
        net.branches = kept
        if not changed:
            return


def _repeated(cells: Cells) -> NDArray[np.bool_]:
    """Which of some cells are there more than once."""
    order = np.argsort(cells, kind="stable")
    same = np.concatenate([[False], cells[order][1:] == cells[order][:-1], [False]])
    out = np.zeros(len(cells), bool)
    out[order] = same[:-1] | same[1:]
    return out


def _within(cells: Cells, some: Cells) -> NDArray[np.bool_]:
    """Which of some cells are among others, which are sorted."""
    if not len(some):
        return np.zeros(len(cells), bool)
    at = np.searchsorted(some, cells)
    found: NDArray[np.bool_] = some[at.clip(0, len(some) - 1)] == cells
    return found


def pieces_of(net: NetWork, grid: Grid) -> dict[int, Piece]:
    """What of a net hangs together: pads and branches that share a cell."""
    items: list[Cells] = [*net.pads, *net.fixed]
    pads = len(items)
    items += [one.cells for one in net.branches]
    parent = list(range(len(items)))

    def root(one: int) -> int:
        while parent[one] != one:
            parent[one] = parent[parent[one]]
            one = parent[one]
        return one

    if items:
        cells = np.concatenate(items)
        whose = np.repeat(np.arange(len(items)), [len(one) for one in items])
        order = np.argsort(cells, kind="stable")
        same = np.flatnonzero(cells[order][1:] == cells[order][:-1])
        for at in same.tolist():
            parent[root(int(whose[order[at + 1]]))] = root(int(whose[order[at]]))
    out: dict[int, Piece] = {}
    for at, one in enumerate(items):
        piece = out.setdefault(root(at) + 1, Piece(at))
        piece.parts.append(one)
        if at < pads:
            piece.pads.append(at)
            piece.first = min(piece.first, at)
    for piece in out.values():
        piece.take(np.unique(np.concatenate(piece.parts)).astype(np.int32), grid)
    kept = {number: piece for number, piece in out.items() if piece.pads}
    # What hangs on no pad is of no use.
    net.branches = [one for at, one in enumerate(net.branches) if root(pads + at) + 1 in kept]
    return kept


class _Groups:
    """Sets of cells that hang together."""

    def __init__(self) -> None:
        self._of_cell: dict[int, int] = {}
        self._parent: list[int] = []

    def _root(self, one: int) -> int:
        while self._parent[one] != one:
            self._parent[one] = self._parent[self._parent[one]]
            one = self._parent[one]
        return one

    def add(self, cells: Cells) -> None:
        """More cells, which hang together, and with those that are there already."""
        new = len(self._parent)
        self._parent.append(new)
        for cell in cells.tolist():
            self._parent[self._root(self._of_cell.setdefault(cell, new))] = self._root(new)

    def joins(self, one: int, other: int) -> bool:
        """Whether two cells hang together."""
        there = one in self._of_cell and other in self._of_cell
        return there and self._root(self._of_cell[one]) == self._root(self._of_cell[other])


def ways(cells: Cells, width: int) -> tuple[Cells, NDArray[np.uint16]]:
    """Cells of a branch, each with the bit of a direction in which its track leaves it."""
    moves = np.array([dx + dy * width for dx, dy in STEPS])
    order = np.argsort(moves)
    step = cells[1:] - cells[:-1]
    which = order[np.searchsorted(moves[order], step).clip(0, 7)]
    along = np.flatnonzero(moves[which] == step)
    way = which[along]
    bits = np.concatenate([1 << way, 1 << ((way + 4) & 7)]).astype(np.uint16)
    return np.concatenate([cells[along], cells[along + 1]]), bits


def runs(flags: NDArray[np.bool_]) -> Iterable[tuple[int, int]]:
    """The stretches of equal flags, as start and end."""
    bounds = [0, *(np.flatnonzero(np.diff(flags)) + 1).tolist(), len(flags)]
    return itertools.pairwise(bounds)
