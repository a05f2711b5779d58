"""Tracks for all nets of a board by negotiated congestion: every net takes its cheapest ways, places that several want become
dearer, and those that wanted them look anew, until no two are in one place.

What is there already stays, as long as it is right: only what is missing, or in another's way, is made anew.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from ..watch import ALONE, Watch
from .branches import Branch, NetWork, Piece, pieces_of, runs, take_out, trim, ways, yield_to_fixed
from .grid import Cells, offsets_within
from .ground import Ground
from .maze import (
    ASLANT,
    BEHIND,
    BEND,
    CORNER,
    IN_FRONT,
    PAD,
    PRESSURE,
    STEP,
    THROUGH,
    TRACK,
    find_path,
    mark_near,
    stamp,
    walled_in,
)

#: A via costs as much as so many mm of track, a wire in a hole more; an eighth and a quarter of a turn as so many steps.
_VIA_MM, _LINK_MM, _BEND, _CORNER = 2.5, 12.0, 0.4, 1.5
#: Rounds after which the rest is told as impossible; from which a net that is still in another's way is drawn narrow.
_ROUNDS, _NARROW_FROM = 40, 12
#: How dear a used cell is in the first round, and by how much dearer in each that follows; what a cell remembers of it.
_FIRST, _DEARER, _PAST = 0.4, 1.5, 0.6
#: After so many rounds so few nets that are still in each other's way each look once for a way that asks nobody.
_LONG, _FEW = 8, 2
#: After so many cells a search asks whether its goals are walled in; then it goes on to its end.
_LOOKED, _TO_THE_END = 10_000, 2**62
#: A stretch of fewer cells is not made wider.
_WORTH_CELLS = 8
#: Into how many boxes at most the goals of a way are put: how far it is still to the nearest guides the search.
_MOST_BOXES = 8


class Router:
    """The nets of a board on its ground."""

    def __init__(
        self, ground: Ground, nets: Sequence[NetWork], order: Sequence[int], seed: int = 1,
        dear_of: Mapping[int, NDArray[np.float32]] | None = None,
    ) -> None:  # fmt: skip
        """`dear_of` are what steps cost nets, by their number, to which they do not cost what they cost the others."""
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
        other = {id(dear): dear + noise for dear in (dear_of or {}).values()}
        self._dear_of = {at: other[id(dear)] for at, dear in (dear_of or {}).items()}
        known = (self._dear, *self._dear_of.values())
        self._least = {id(dear): 1.0 + dear.reshape(2, -1).min(axis=1) for dear in known}
        self._past = np.zeros(self._size, np.float32)
        self._marks = np.zeros(self._size, np.uint8)
        self._pieces = np.zeros(self._size, np.int32)
        self._trunks = np.zeros(self._size, np.uint16)
        self._drilled = np.zeros(self._size // 2, np.uint8)
        self._costs, self._seen = np.zeros(self._size, np.float32), np.zeros(self._size, np.int32)
        self._came = np.zeros(self._size, np.int8)
        self._heap = np.zeros(3 * self._size + 64, np.float32), np.zeros(3 * self._size + 64, np.int32)
        self._path, self._flooded = np.zeros(self._size, np.int32), np.zeros(self._size, np.int32)
        self._run = 0
        self._alone: dict[int, list[tuple[int, Cells, NDArray[np.int16]]] | None] = {}
        self._prices = np.zeros(8)
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
                yield_to_fixed(net)
            self._stamp(net, 1)
        if any(net.branches for net in self.nets):
            self._join_beside(watch)
        asked: set[int] = set()
        left = len(self.nets)
        for turn in range(_ROUNDS):
            self._prices[PRESSURE] = _FIRST + _DEARER * turn
            before, left = left, 0
            for at, net in enumerate(self.nets[one] for one in self._order):
                watch.at((turn + at / len(self.nets)) / _ROUNDS)
                if watch.enough():
                    self._leave()
                    return False
                if turn and self._is_alone(net):
                    continue
                self._stamp(net, -1)
                clashes = self._clashing(net)
                if clashes or turn == 0:
                    left += bool(clashes)
                    if clashes and turn >= _NARROW_FROM:
                        net.narrow = min(net.narrow + 1, len(net.kinds) - 1)
                    take_out(net, clashes)
                    if turn >= _LONG and before <= _FEW and id(net) not in asked:
                        asked.add(id(net))
                        self._join_round(net)
                    self._join(net)
                self._settle(net)
            if turn and not left:
                break
        else:
            self._give_up(watch)
        for net in self.nets:
            self._stamp(net, -1)
            trim(net)
            self._widen(net)
            self._stamp(net, 1)
        return True

    def _join_beside(self, watch: Watch) -> None:
        """Join what is lacking without asking anything that is there to make way."""
        self._prices[PRESSURE] = -1.0
        for net in (self.nets[one] for one in self._order):
            watch.at(0.0)
            self._stamp(net, -1)
            if not self._clashing(net):
                self._join(net)
            self._stamp(net, 1)

    def _join_round(self, net: NetWork) -> None:
        """Join a net round what lies in its way, as far as that goes. What two nets both want becomes dearer by little, and as
        long as it is the cheapest, both come back to it round after round."""
        pressure, self._prices[PRESSURE] = float(self._prices[PRESSURE]), -1.0
        self._join(net)
        self._prices[PRESSURE] = pressure

    def _leave(self) -> None:
        """Leave it at what there is: what lies in another's way is taken out, and what is not joined is told."""
        for net in self.nets:
            self._stamp(net, -1)
            take_out(net, self._clashing(net))
            trim(net)
            rest = sorted(piece.first for piece in pieces_of(net, self.ground.grid).values())
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
        for start, end in runs(free):
            if end - start < _WORTH_CELLS:
                free[start:end] = False
        out = []
        for start, end in runs(free):
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
            take_out(net, self._clashing(net))
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
        for kind, cells in self._lying(net):
            self._stamp_cells(kind, cells, by)

    def _stamp_cells(self, kind: int, cells: Cells, by: int) -> None:
        for reach, used in zip(self._reach[kind], self._used, strict=True):
            stamp(cells, reach, used, self._sizes, by)

    def _lying(self, net: NetWork) -> list[tuple[int, Cells]]:
        """The cells of a net's tracks, and of its vias, by their kind."""
        of_kind: dict[int, list[Cells]] = {}
        for one in net.branches:
            of_kind.setdefault(one.kind, []).append(one.cells)
            of_kind.setdefault(self._via, []).append(one.vias(self._size // 2))
        return [(kind, np.concatenate(some)) for kind, some in of_kind.items()]

    def _settle(self, net: NetWork) -> None:
        """Have the net keep others off; and remember how its own cells are used, where it is in nobody's way."""
        lying = self._lying(net)
        alone = not any(self._used[kind][cells].any() for kind, cells in lying)
        for kind, cells in lying:
            self._stamp_cells(kind, cells, 1)
        self._alone[id(net)] = [(kind, cells, self._used[kind][cells]) for kind, cells in lying] if alone else None

    def _is_alone(self, net: NetWork) -> bool:
        """Whether a net that was in nobody's way is still as it was, and nothing came near since."""
        known = self._alone[id(net)]
        return known is not None and all(np.array_equal(self._used[kind][cells], used) for kind, cells, used in known)

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

    # -- joining one net -------------------------------------------------------------------------------------------

    def _join(self, net: NetWork) -> None:
        """Join the pieces of a net, the smallest first, each with the one that is the least way off."""
        pieces = pieces_of(net, self.ground.grid)
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
            into.take(np.concatenate([joined.cells, branch.cells]), self.ground.grid)
            into.first = min(into.first, joined.first)
            into.pads += joined.pads
            self._mark(branch, other)
            self._pieces[into.cells] = other
        if alone and not net.lost:
            rest = next(iter(pieces.values())).first
            net.lost = [(one, rest) for one in alone]
        self._lift(net)

    def _lay(self, net: NetWork, pieces: Mapping[int, Piece]) -> None:
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
        np.bitwise_or.at(self._trunks, *ways(cells, self.ground.grid.width))
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

    def _connect(self, net: NetWork, number: int, pieces: Mapping[int, Piece], piece: int) -> tuple[Branch, int] | None:
        """A branch from a piece of a net to the nearest other, as wide as may be; and which that is."""
        dear = self._dear_of.get(number, self._dear)
        boxes = self._boxes(pieces, piece)
        self._prices[[IN_FRONT, BEHIND]] = self._least[id(dear)]
        for kind in net.kinds[net.narrow :]:
            starts = self._starts(net, pieces[piece], kind)
            if not len(starts):
                continue
            self._run += 1
            length = self._search(starts, number, kind, dear, boxes)
            if length:
                cells = self._path[:length].copy()
                return Branch(cells, kind), int(self._pieces[cells[0]])
        return None

    def _search(self, starts: Cells, number: int, kind: int, dear: NDArray[np.float32], boxes: NDArray[np.int64]) -> int:
        """How long the cheapest path of some kind is, which is written; 0 where there is none. A search that grows long asks
        whether its goals are walled in, which is soon known."""
        way = self.ground.owner[kind], self._used[kind], self.ground.owner[self._via], self._used[self._via], self._drilled
        net = self._marks, self._pieces

        def look(waiting: int, most: int) -> int:
            return int(find_path(
                starts, number, *way, dear, self._past, *net, self._trunks, self._sizes, boxes, self._prices, self._costs,
                self._seen, self._came, self._run, *self._heap, self._path, waiting, most,
            ))  # fmt: skip

        length = look(0, _LOOKED)
        if length >= 0:
            return length
        mine = int(self._pieces[starts[0]])
        closed = walled_in(number, mine, *way, *net, self._sizes, boxes, self._prices, self._run, self._flooded, self._path)
        return 0 if closed else look(-length, _TO_THE_END)

    def _boxes(self, pieces: Mapping[int, Piece], piece: int) -> NDArray[np.int64]:
        """Boxes that hold all pieces but one, and the layers of each: of those near it one each, of the rest one."""
        left, bottom, right, top = pieces[piece].box
        boxes = np.array([(*one.box, one.layers) for at, one in pieces.items() if at != piece], np.int64)
        if len(boxes) <= _MOST_BOXES:
            return boxes
        apart = np.maximum(0, np.maximum(boxes[:, :2] - (right, top), (left, bottom) - boxes[:, 2:4])).max(axis=1)
        nearest = np.argsort(apart, kind="stable")
        rest = boxes[nearest[_MOST_BOXES - 1 :]]
        whole = [*rest[:, :2].min(axis=0), *rest[:, 2:4].max(axis=0), np.bitwise_or.reduce(rest[:, 4])]
        return np.ascontiguousarray(np.vstack([boxes[nearest[: _MOST_BOXES - 1]], whole]))

    def _starts(self, net: NetWork, piece: Piece, kind: int) -> Cells:
        """The cells of a piece from which a track of some kind may begin."""
        number = self._numbers[id(net)]
        owner = self.ground.owner[kind][piece.cells]
        return np.ascontiguousarray(piece.cells[(owner == -1) | (owner == number)])
