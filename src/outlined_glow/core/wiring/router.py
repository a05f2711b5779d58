"""Tracks for all nets of a board by negotiated congestion: every net takes its cheapest ways, places that several want become
dearer, and those that wanted them look anew, until no two are in one place.

What is there already stays, as long as it is right: only what is missing, or in another's way, is made anew.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ..watch import ALONE, Watch
from .grid import Cells, offsets_within
from .ground import Ground
from .maze import ASLANT, BEND, CORNER, PAD, PRESSURE, STEP, STEPS, THROUGH, TRACK, find_path, mark_near, stamp

#: A via costs as much as so many mm of track, a wire in a hole more; an eighth and a quarter of a turn as so many steps.
_VIA_MM, _LINK_MM, _BEND, _CORNER = 2.5, 12.0, 0.4, 1.5
#: Rounds after which the rest is told as impossible; from which a net that is still in another's way is drawn narrow.
_ROUNDS, _NARROW_FROM = 40, 12
#: How dear a used cell is in the first round, and by how much dearer in each that follows; what a cell remembers of it.
_FIRST, _DEARER, _PAST = 0.4, 1.5, 0.6
#: A stretch of fewer cells is not made wider.
_WORTH_CELLS = 8


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


class Router:
    """The nets of a board on its ground."""

    def __init__(self, ground: Ground, nets: Sequence[NetWork], order: Sequence[int], seed: int = 1) -> None:
        self.ground, self.nets, self._order = ground, nets, order
        self._numbers = {id(net): at for at, net in enumerate(nets)}
        self._size = 2 * ground.grid.cells
        self._sizes = ground.grid.sizes
        many = len(ground.kinds)
        self._via = many - 1
        self._used = [np.zeros(self._size, np.int16) for _ in range(many)]
        self._reach = [[offsets_within(self._apart(a, b)) for b in range(many)] for a in range(many)]
        self._holes = offsets_within((ground.via.drill + ground.hole_gap) / ground.grid.pitch)
        noise = np.random.default_rng(seed).random(self._size, np.float32) * np.float32(0.005)
        self._dear = ground.dear + noise
        self._past = np.zeros(self._size, np.float32)
        self._marks = np.zeros(self._size, np.uint8)
        self._pieces = np.zeros(self._size, np.int32)
        self._trunks = np.zeros(self._size, np.uint16)
        self._drilled = np.zeros(self._size // 2, np.uint8)
        self._costs, self._seen = np.zeros(self._size, np.float32), np.zeros(self._size, np.int32)
        self._came = np.zeros(self._size, np.int8)
        self._heap = np.zeros(3 * self._size + 64, np.float32), np.zeros(3 * self._size + 64, np.int32)
        self._path = np.zeros(self._size, np.int32)
        self._run = 0
        self._prices = np.zeros(6)
        self._prices[[STEP, ASLANT, BEND, CORNER]] = 1.0, 2**0.5, _BEND, _CORNER
        self._prices[THROUGH] = (_VIA_MM if ground.plated else _LINK_MM) / ground.grid.pitch

    def _apart(self, one: int, other: int) -> float:
        """How many cells apart two kinds of copper of different nets have to be."""
        a, b = self.ground.kinds[one], self.ground.kinds[other]
        apart = a.width / 2 + b.width / 2 + max(a.clearance, b.clearance)
        if one == other == self._via:
            apart = max(apart, self.ground.via.drill + self.ground.hole_gap)
        return apart / self.ground.grid.pitch

    def run(self, watch: Watch = ALONE) -> bool:
        """Join what can be joined; whether all was tried, and nobody had `enough` of it before."""
        for net in self.nets:
            net.branches = [one for one in net.branches if self._allowed(net, one)]
            if net.fixed:
                self._yield_to_fixed(net)
            self._stamp(net, 1)
        if any(net.branches for net in self.nets):
            self._join_beside(watch)
        for turn in range(_ROUNDS):
            self._prices[PRESSURE] = _FIRST + _DEARER * turn
            clean = True
            for at, net in enumerate(self.nets[one] for one in self._order):
                watch.at((turn + at / len(self.nets)) / _ROUNDS)
                if watch.enough():
                    self._leave()
                    return False
                self._stamp(net, -1)
                clashes = self._clashing(net)
                if clashes or turn == 0:
                    clean = clean and not clashes
                    if clashes and turn >= _NARROW_FROM:
                        net.narrow = min(net.narrow + 1, len(net.kinds) - 1)
                    self._without(net, clashes)
                    self._join(net)
                self._stamp(net, 1)
            if clean and turn:
                break
        else:
            self._give_up(watch)
        for net in self.nets:
            self._stamp(net, -1)
            self._trim(net)
            self._widen(net)
            self._stamp(net, 1)
        return True

    def _yield_to_fixed(self, net: NetWork) -> None:
        """Take out what lies where something was fixed by hand, and what joins nothing that is not joined without it."""
        fixed = np.concatenate(net.fixed)
        outside = []
        for one in net.branches:
            inside = np.isin(one.cells, fixed)
            for start, end in _runs(inside):
                # A stretch goes on to the fixed cells at which it ends.
                cells = one.cells[max(start - 1, 0) : end + 1]
                if not inside[start] and len(cells) > 1:
                    outside.append(Branch(np.ascontiguousarray(cells), one.kind))
        net.branches = outside
        self._trim(net)
        groups = _Groups()
        for cells in (*net.pads, *net.fixed):
            groups.add(cells)
        kept = []
        for one in sorted(net.branches, key=lambda one: len(one.cells)):
            if not groups.joins(int(one.cells[0]), int(one.cells[-1])):
                groups.add(one.cells)
                kept.append(one)
        net.branches = kept
        self._trim(net)

    def _join_beside(self, watch: Watch) -> None:
        """Join what is lacking without asking anything that is there to make way."""
        self._prices[PRESSURE] = -1.0
        for net in (self.nets[one] for one in self._order):
            watch.at(0.0)
            self._stamp(net, -1)
            if not self._clashing(net):
                self._join(net)
            self._stamp(net, 1)

    def _leave(self) -> None:
        """Leave it at what there is: what lies in another's way is taken out, and what is not joined is told."""
        for net in self.nets:
            self._stamp(net, -1)
            self._without(net, self._clashing(net))
            self._trim(net)
            rest = sorted(piece.first for piece in self._pieces_of(net).values())
            net.lost = [(one, rest[0]) for one in rest[1:]]
            self._stamp(net, 1)

    def _widen(self, net: NetWork) -> None:
        """Make stretches as wide as the net would have them, where there is room after all."""
        for kind in net.kinds[:-1]:
            wider = []
            for one in net.branches:
                wider += [one] if net.kinds.index(one.kind) <= net.kinds.index(kind) else self._split(net, one, kind)
            net.branches = wider

    def _split(self, net: NetWork, branch: Branch, kind: int) -> list[Branch]:
        """A branch in pieces, those of a wider kind that have room for it and are long enough to matter."""
        owner = self.ground.owner[kind][branch.cells]
        free = ((owner == -1) | (owner == self._numbers[id(net)])) & (self._used[kind][branch.cells] == 0)
        for start, end in _runs(free):
            if end - start < _WORTH_CELLS:
                free[start:end] = False
        out = []
        for start, end in _runs(free):
            wide, last = bool(free[start]), end == len(free)
            # A narrow stretch goes on to the cells at which the wide ones beside it end.
            first = start if wide or not start else start - 1
            cells = branch.cells[first : end if wide or last else end + 1]
            if len(cells) > 1:
                out.append(Branch(np.ascontiguousarray(cells), kind if wide else branch.kind))
        return out

    def _give_up(self, watch: Watch) -> None:
        """Take out what is still in another's way, and join only what has room of its own."""
        self._prices[PRESSURE] = -1.0
        for net in self.nets:
            self._stamp(net, -1)
            self._without(net, self._clashing(net))
            self._stamp(net, 1)
        for net in self.nets:
            watch.at(0.99)
            self._stamp(net, -1)
            net.narrow = len(net.kinds) - 1
            self._join(net)
            self._stamp(net, 1)

    # -- what lies where -------------------------------------------------------------------------------------------

    def _allowed(self, net: NetWork, branch: Branch) -> bool:
        """Whether a branch may lie where it lies."""
        number = self._numbers[id(net)]
        owner = self.ground.owner[branch.kind][branch.cells]
        if not bool(((owner == -1) | (owner == number)).all()):
            return False
        vias = branch.vias(self._size // 2)
        owner = self.ground.owner[self._via][vias]
        return bool(((owner == -1) | (owner == number)).all())

    def _stamp(self, net: NetWork, by: int) -> None:
        """Have the net keep others off, or no longer."""
        for one in net.branches:
            vias = one.vias(self._size // 2)
            for kind, used in enumerate(self._used):
                stamp(one.cells, self._reach[one.kind][kind], used, self._sizes, by)
                if len(vias):
                    stamp(vias, self._reach[self._via][kind], used, self._sizes, by)

    def _clashing(self, net: NetWork) -> list[Branch]:
        """The branches of a net (which is not stamped) that lie too near to another net; their cells remember it."""
        out = []
        for one in net.branches:
            hit = self._used[one.kind][one.cells] > 0
            vias = one.vias(self._size // 2)
            over = self._used[self._via][vias] > 0
            if hit.any() or over.any():
                self._past[one.cells[hit]] += _PAST
                self._past[vias[over]] += _PAST
                out.append(one)
        return out

    def _without(self, net: NetWork, lost: Sequence[Branch]) -> None:
        if lost:
            gone = {id(one) for one in lost}
            net.branches = [one for one in net.branches if id(one) not in gone]
            self._trim(net)

    def _trim(self, net: NetWork) -> None:
        """Take away ends that lead nowhere."""
        pads = np.concatenate([np.zeros(0, np.int32), *net.pads, *net.fixed])
        while True:
            ends = np.concatenate([np.zeros(0, np.int32), *(one.cells for one in net.branches)])
            cells, counts = np.unique(ends, return_counts=True)
            shared = np.union1d(cells[counts > 1], pads)
            kept, changed = [], False
            for one in net.branches:
                anchors = np.flatnonzero(np.isin(one.cells, shared, assume_unique=False))
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

    # -- joining one net -------------------------------------------------------------------------------------------

    def _join(self, net: NetWork) -> None:
        """Join the pieces of a net, the smallest first, each with the one that is the least way off."""
        pieces = self._pieces_of(net)
        net.lost = []
        if len(pieces) < 2:
            return
        number = self._numbers[id(net)]
        self._lay(net, pieces)
        alone: list[int] = []
        while len(pieces) > 1:
            piece = min(pieces, key=lambda one: (len(pieces[one].cells), one))
            known = not net.cut_off.isdisjoint(pieces[piece].pads)
            made = None if known else self._connect(net, number, pieces, piece)
            if made is None:
                if self._prices[PRESSURE] >= 0:
                    net.cut_off.update(pieces[piece].pads)
                alone.append(pieces.pop(piece).first)
                if len(pieces) == 1:
                    rest = next(iter(pieces.values())).first
                    net.lost = [(one, rest) for one in alone]
                continue
            branch, other = made
            net.branches.append(branch)
            joined, into = pieces.pop(piece), pieces[other]
            into.cells = np.concatenate([into.cells, joined.cells, branch.cells])
            into.first = min(into.first, joined.first)
            into.pads += joined.pads
            self._mark(branch, other)
            self._pieces[into.cells] = other
        if alone and not net.lost:
            rest = next(iter(pieces.values())).first
            net.lost = [(one, rest) for one in alone]
        self._lift(net)

    def _pieces_of(self, net: NetWork) -> dict[int, _Piece]:
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
        out: dict[int, _Piece] = {}
        for at, one in enumerate(items):
            piece = out.setdefault(root(at) + 1, _Piece(at))
            piece.parts.append(one)
            if at < pads:
                piece.pads.append(at)
                piece.first = min(piece.first, at)
        for piece in out.values():
            piece.cells = np.unique(np.concatenate(piece.parts)).astype(np.int32)
        kept = {number: piece for number, piece in out.items() if piece.pads}
        # What hangs on no pad is of no use.
        net.branches = [one for at, one in enumerate(net.branches) if root(pads + at) + 1 in kept]
        return kept

    def _lay(self, net: NetWork, pieces: Mapping[int, _Piece]) -> None:
        """Write a net onto the ground: its tracks with their directions, then its pads."""
        for number, piece in pieces.items():
            self._pieces[piece.cells] = number
        for one in net.branches:
            self._mark(one, 0)
        for cells in (*net.pads, *net.fixed):
            self._marks[cells] = PAD

    def _mark(self, branch: Branch, piece: int) -> None:
        cells = branch.cells
        fresh = cells[self._marks[cells] != PAD]
        self._marks[fresh] = TRACK
        if piece:
            self._pieces[cells] = piece
        np.bitwise_or.at(self._trunks, *_ways(cells, self.ground.grid.width))
        vias = branch.vias(self._size // 2)
        if len(vias):
            mark_near(vias, self._holes, self._drilled, self._sizes, 1)

    def _lift(self, net: NetWork) -> None:
        """Take a net off the ground again."""
        cells = np.concatenate([*net.pads, *net.fixed, *(one.cells for one in net.branches)])
        self._marks[cells], self._pieces[cells], self._trunks[cells] = 0, 0, 0
        for one in net.branches:
            vias = one.vias(self._size // 2)
            if len(vias):
                mark_near(vias, self._holes, self._drilled, self._sizes, 0)

    def _connect(self, net: NetWork, number: int, pieces: Mapping[int, _Piece], piece: int) -> tuple[Branch, int] | None:
        """A branch from a piece of a net to the nearest other, as wide as may be; and which that is."""
        grid = self.ground.grid
        others = [one.cells for at, one in pieces.items() if at != piece]
        flat = np.concatenate(others) % grid.cells
        x, y = flat % grid.width, flat // grid.width
        box = np.array([x.min(), y.min(), x.max(), y.max()], np.int64)
        for kind in net.kinds[net.narrow :]:
            starts = self._starts(net, pieces[piece], kind)
            if not len(starts):
                continue
            self._run += 1
            length = find_path(
                starts, number, self.ground.owner[kind], self._used[kind], self.ground.owner[self._via],
                self._used[self._via], self._drilled, self._dear, self._past, self._marks, self._pieces, self._trunks,
                self._sizes, box, self._prices, self._costs, self._seen, self._came, self._run, *self._heap, self._path,
            )  # fmt: skip
            if length:
                cells = self._path[:length].copy()
                return Branch(cells, kind), int(self._pieces[cells[0]])
        return None

    def _starts(self, net: NetWork, piece: _Piece, kind: int) -> Cells:
        """The cells of a piece from which a track of some kind may begin."""
        number = self._numbers[id(net)]
        owner = self.ground.owner[kind][piece.cells]
        return np.ascontiguousarray(piece.cells[(owner == -1) | (owner == number)])


@dataclass
class _Piece:
    """What of a net hangs together: its first item, its cells, its pads."""

    first: int
    parts: list[Cells] = field(default_factory=list)
    pads: list[int] = field(default_factory=list)
    cells: Cells = field(default_factory=lambda: np.zeros(0, np.int32))


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


def _ways(cells: Cells, width: int) -> tuple[Cells, NDArray[np.uint16]]:
    """Cells of a branch, each with the bit of a direction in which its track leaves it."""
    step = cells[1:] - cells[:-1]
    out, bits = [], []
    for at, (dx, dy) in enumerate(STEPS):
        along = np.flatnonzero(step == dx + dy * width)
        out += [cells[along], cells[along + 1]]
        bits += [np.full(len(along), 1 << at, np.uint16), np.full(len(along), 1 << ((at + 4) & 7), np.uint16)]
    return np.concatenate(out), np.concatenate(bits)


def _runs(flags: NDArray[np.bool_]) -> Iterable[tuple[int, int]]:
    """The stretches of equal flags, as start and end."""
    bounds = [0, *(np.flatnonzero(np.diff(flags)) + 1).tolist(), len(flags)]
    return itertools.pairwise(bounds)
