"""What tracks, vias and pours cost in volts, and how warm they become (DOMAIN 7): the copper of a net as a network of
resistances, solved for the currents that its pins take.

A track is a line of resistors, a via its barrel, a pour a sheet of squares; a pad is one node.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Point
from shapely.geometry.base import BaseGeometry

from ..geometry.regions import disc
from ..parts.copper import RHO_OHM_M, track_resistance
from ..parts.placed import PlacedPad
from .classes import COPPER_UM
from .copper import Link, Track, Via
from .grid import grid_over
from .joints import SAME_MM, Land, Stretch, stretches_of

#: What a wire of 0.6 mm has across, m².
_WIRE_M2 = math.pi * 0.3e-3**2

Pin = tuple[str, str]
#: What pins take in each turn of ways of driving, by the number of the way.
Turns = Mapping[int, Sequence[Mapping[Pin, float]]]
#: Ohm a square of the copper of an outer layer.
SHEET_OHM = RHO_OHM_M / (COPPER_UM * 1e-6)
#: What a contact is worth that is smaller than a square of the sheet: a node stands for a disc of so many squares; and how
#: many squares beyond its edge a contact takes.
_NODE_SQUARES, _HALF = 0.2, 0.45
#: Squares of a sheet: their side where there is room for so many, mm.
_SQUARE_MM, _MOST_SQUARES = 0.2, 60_000
#: The law of IPC-2221 for outer layers.
_K, _RISE_EXPONENT, _AREA_EXPONENT, _SQUARE_MIL_UM2 = 0.048, 0.44, 0.725, 25.4**2
#: What lies on one another is joined as good as without any resistance.
_TOUCH_OHM = 1e-9


@dataclass(frozen=True)
class Piece:
    """A stretch of copper as it carries current: side, ends, width, the current in it (what warms it, where it changes from
    turn to turn) and how much lower than the source its middle lies at most, V."""

    side: str
    start: tuple[float, float]
    end: tuple[float, float]
    width: float
    current_a: float
    drop_v: float

    @property
    def rise_k(self) -> float:
        """How much warmer than the board it becomes."""
        return rise_of(abs(self.current_a), self.width)


@dataclass(frozen=True)
class Drop:
    """The volts that a net loses at most: at each pin, in each stretch of track; and on pours at places (n, 3: x, y, V) by
    side. `turned` are those at each pin in each turn of a way of driving, by its number.
    """

    pins: Mapping[Pin, float]
    pieces: tuple[Piece, ...]
    sheets: Mapping[str, NDArray[np.float64]] = field(default_factory=dict)
    turned: Mapping[int, Sequence[Mapping[Pin, float]]] = field(default_factory=dict)

    def between(self, pin: Pin, other: Pin, number: int, turn: int) -> float:
        """The volts between two pins in a turn of a way of driving."""
        a, b = (self._when(one, number, turn) for one in (pin, other))
        return abs(a - b)

    def _when(self, pin: Pin, number: int, turn: int) -> float:
        whole = self.pins.get(pin, 0.0)
        if number not in self.turned or pin not in self.pins:
            return whole
        return whole - max(one[pin] for one in self.turned[number]) + self.turned[number][turn - 1][pin]

    def below(self, volts: float) -> Drop:
        """The same, with so much lost before the current comes to the board."""
        if not volts:
            return self
        pins = {pin: value + volts for pin, value in self.pins.items()}
        sheets = {side: rows + np.array([0.0, 0.0, volts]) for side, rows in self.sheets.items()}
        return Drop(pins, tuple(replace(one, drop_v=one.drop_v + volts) for one in self.pieces), sheets, self.turned)

    @property
    def worst_v(self) -> float:
        """The most that any pin loses."""
        return max((abs(value) for value in self.pins.values()), default=0.0)

    @property
    def hottest(self) -> Piece | None:
        """The stretch that becomes warmest."""
        return max(self.pieces, key=lambda one: one.rise_k, default=None)


def rise_of(current_a: float, width_mm: float) -> float:
    """How much warmer than the board a track becomes, K: the law of IPC-2221 the other way round.

    >>> round(rise_of(2.0, 0.7814), 2)
    10.0
    """
    area = width_mm * 1000 * COPPER_UM / _SQUARE_MIL_UM2
    return float((current_a / (_K * area**_AREA_EXPONENT)) ** (1 / _RISE_EXPONENT))


def drop_of(
    pads: Sequence[PlacedPad], tracks: Sequence[Track], vias: Sequence[Via], poured: Mapping[str, BaseGeometry],
    taken: Mapping[Pin, float], source: Pin, thickness_mm: float, plating_um: float, links: Sequence[Link] = (),
    turns: Turns | None = None, alike: Iterable[Sequence[Pin]] = (),
) -> Drop:  # fmt: skip
    """The drop of one net, of which its pads, tracks, vias and pours (by side) are given. `taken` is what each pin takes, A,
    and `turns` what it takes besides in each turn of ways of driving; it all comes from `source`. `links` are the wires in
    holes that are not plated; pins that are `alike` are joined within their part."""
    net = _Network(pads, vias)
    net.touch()
    net.tie(alike)
    net.lay_tracks(tracks, poured)
    net.drill(vias if not links else (), thickness_mm, plating_um)
    net.link(links, thickness_mm)
    for side, region in poured.items():
        net.pour(side, region)
    return net.solved(taken, turns or {}, source)


class _Network:
    """Nodes and resistors of a net."""

    def __init__(self, pads: Sequence[PlacedPad], vias: Sequence[Via]) -> None:
        self._pads, self._vias = pads, vias
        self._nodes: dict[object, int] = {}
        self._ends: list[tuple[int, int, float]] = []
        self._pieces: list[tuple[int, int, str, tuple[float, float], tuple[float, float], float]] = []
        self._sheets: dict[str, tuple[NDArray[np.float64], NDArray[np.int64]]] = {}
        self._at: dict[str, list[tuple[int, BaseGeometry]]] = {"front": [], "back": []}
        for pad in pads:
            self._at[pad.side].append((self._node((pad.ref, pad.pin)), pad.polygon))
        for via in vias:
            for side in (side for side in ("front", "back") if via.on(side)):
                self._at[side].append((self._node(("via", via.x, via.y, side)), via.region))
        self._trees = {side: shapely.STRtree([region for _, region in some]) for side, some in self._at.items()}
        self._known: dict[tuple[str, float, float], int] = {}

    def _node(self, key: object) -> int:
        return self._nodes.setdefault(key, len(self._nodes))

    def _place(self, side: str, spot: tuple[float, float]) -> int:
        """The node of a place: that of the pad or via there, or one of its own."""
        key = _key(side, spot)
        if key not in self._known:
            self._find(side, [spot])
        return self._known[key]

    def _find(self, side: str, spots: Sequence[tuple[float, float]]) -> None:
        """Look up the nodes of places, or make them."""
        new = list({key: spot for spot in spots if (key := _key(side, spot)) not in self._known}.items())
        lands: dict[int, int] = {}
        at, land = self._trees[side].query(
            shapely.points(np.array([spot for _, spot in new]).reshape(-1, 2)), "dwithin", SAME_MM
        )
        for one, hit in zip(at.tolist(), land.tolist(), strict=True):
            lands[one] = min(hit, lands.get(one, hit))
        for one, (key, _) in enumerate(new):
            self._known[key] = self._at[side][lands[one]][0] if one in lands else self._node(key)

    def lay_tracks(self, tracks: Sequence[Track], poured: Mapping[str, BaseGeometry]) -> None:
        """Tracks, cut where anything meets them; what touches is joined."""
        for side in self._at:
            lands = [
                *(Land(pad.polygon, (pad.x, pad.y)) for pad in self._pads if pad.side == side),
                *(Land(via.region, (via.x, via.y)) for via in self._vias if via.on(side)),
            ]
            stretches, ties = stretches_of([one for one in tracks if one.side == side], lands, poured.get(side))
            self._find(side, [spot for one in stretches for spot in (one.start, one.end)])
            for one in stretches:
                self._resistor(one)
            self._ends += [(self._place(side, a), self._place(side, b), _TOUCH_OHM) for a, b in ties]

    def _resistor(self, one: Stretch) -> None:
        side, width = one.track.side, one.track.width
        a, b = self._place(side, one.start), self._place(side, one.end)
        length = math.dist(one.start, one.end)
        if a == b:
            return
        if length <= SAME_MM:
            self._ends.append((a, b, _TOUCH_OHM))
            return
        self._ends.append((a, b, track_resistance(length, width, COPPER_UM)))
        self._pieces.append((a, b, side, one.start, one.end, width))

    def touch(self) -> None:
        """Lands that touch one another: vias in pads."""
        for side, some in self._at.items():
            for a, b in zip(
                *self._trees[side].query(np.array([region for _, region in some], dtype=object), "intersects").tolist(),
                strict=True,
            ):
                if a < b and some[a][0] != some[b][0]:
                    self._ends.append((some[a][0], some[b][0], _TOUCH_OHM))

    def tie(self, alike: Iterable[Sequence[Pin]]) -> None:
        """Pins that are joined within their part."""
        for one, *others in alike:
            self._ends += [(self._node(one), self._node(other), _TOUCH_OHM) for other in others]

    def drill(self, vias: Sequence[Via], thickness_mm: float, plating_um: float) -> None:
        """The barrels of vias."""
        for via in vias:
            front, back = (self._node(("via", via.x, via.y, side)) for side in ("front", "back"))
            ring_m2 = math.pi * via.drill * 1e-3 * plating_um * 1e-6
            self._ends.append((front, back, RHO_OHM_M * thickness_mm * 1e-3 / ring_m2))

    def link(self, links: Sequence[Link], thickness_mm: float) -> None:
        """The wires in the place of plated holes."""
        for one in links:
            a, b = (self._place(side, spot) for _, spot, side in one.pins)
            self._ends.append((a, b, RHO_OHM_M * (one.length + thickness_mm) * 1e-3 / _WIRE_M2))

    def pour(self, side: str, region: BaseGeometry) -> None:
        """A sheet: squares of its copper, joined with what stands on it."""
        square = max(_SQUARE_MM, math.sqrt(region.area / _MOST_SQUARES))
        grid = grid_over(region.bounds, square)
        inside = grid.within(region)
        cells = np.flatnonzero(inside)
        nodes = np.full(grid.cells, -1, np.int64)
        nodes[cells] = np.arange(len(cells)) + len(self._nodes)
        for cell in cells.tolist():
            self._nodes[side, "sheet", cell] = len(self._nodes)
        rows = nodes.reshape(grid.height, grid.width)
        for one, other in ((rows[:, :-1], rows[:, 1:]), (rows[:-1], rows[1:])):
            joined = (one >= 0) & (other >= 0)
            self._ends += [(a, b, SHEET_OHM) for a, b in zip(one[joined].tolist(), other[joined].tolist(), strict=True)]
        places = grid.places(cells.astype(np.int32))
        self._sheets[side] = (places, nodes[cells])
        tree = shapely.STRtree([Point(spot) for spot in places.tolist()])
        for node, touching in [*self._at[side], *self._lying_in(side, region)]:
            # Squares reach half their side beyond their middles.
            under = tree.query(touching, predicate="dwithin", distance=_HALF * square)
            if not len(under) and touching.distance(region) < SAME_MM:
                under = tree.query_nearest(touching)[:1]
            radius = math.sqrt(touching.area / math.pi)
            beside = max(0.0, SHEET_OHM / (2 * math.pi) * math.log(_NODE_SQUARES * square / radius)) if len(under) == 1 else 0.0
            self._ends += [(node, int(nodes[cells[at]]), beside + _TOUCH_OHM) for at in under.tolist()]

    def _lying_in(self, side: str, region: BaseGeometry) -> list[tuple[int, BaseGeometry]]:
        """The nodes of tracks that lie in a pour, each with the copper there."""
        lands = {node for node, _ in self._at[side]}
        pens: dict[int, BaseGeometry] = {}
        for a, b, where, start, end, width in self._pieces:
            if where == side:
                pens |= {node: disc(*spot, width / 2) for node, spot in ((a, start), (b, end)) if node not in lands}
        return [(node, pen) for node, pen in pens.items() if pen.intersects(region)]

    def solved(self, taken: Mapping[Pin, float], turns: Turns, source: Pin) -> Drop:
        """The volts at every node, that at the source being none."""
        if source not in self._nodes or not self._ends:
            return Drop(dict.fromkeys(taken, 0.0), ())
        columns: dict[frozenset[tuple[Pin, float]], int] = {}
        at = {number: [columns.setdefault(frozenset(one.items()), len(columns) + 1) for one in some]
              for number, some in turns.items()}  # fmt: skip
        amps = np.zeros((len(self._nodes), 1 + len(columns)))
        for column, one in enumerate([taken, *map(dict, columns)]):
            for pin, value in one.items():
                if pin in self._nodes and pin != source:
                    amps[self._nodes[pin], column] += value
        # What a net takes counts like what it gives: as volts that are lost.
        amps *= np.where(amps.sum(axis=0) < 0, -1.0, 1.0)
        volts = self._volts(amps, self._nodes[source])
        ways = [np.unique(some, return_counts=True) for some in at.values()]
        worst = volts[:, 0] + sum((volts[:, some].max(axis=1) for some, _ in ways), np.zeros(len(volts)))
        pins = {pin: self._nodes[pin] for pin in self._pins() if pin in self._nodes}
        each = [{pin: float(volts[node, column]) for pin, node in pins.items()} for column in range(volts.shape[1])]
        sheets = {side: np.column_stack([places, worst[nodes]]) for side, (places, nodes) in self._sheets.items()}
        return Drop(
            {pin: float(worst[node]) for pin, node in pins.items()}, tuple(self._carrying(volts, worst, ways)), sheets,
            {number: [each[column] for column in some] for number, some in at.items()},
        )  # fmt: skip

    def _volts(self, amps: NDArray[np.float64], source: int) -> NDArray[np.float64]:
        """The volts at every node for columns of currents that the nodes take."""
        from scipy.sparse import coo_matrix, diags_array  # only who asks loads them
        from scipy.sparse.csgraph import connected_components
        from scipy.sparse.linalg import splu

        count = len(amps)
        a, b = (np.array([row[at] for row in self._ends], np.int64) for at in (0, 1))
        siemens = 1 / np.array([row[2] for row in self._ends])
        joined = coo_matrix((siemens, (a, b)), shape=(count, count)).tocsr()
        joined = joined + joined.T
        root = connected_components(joined, directed=False)[1]
        kept = np.flatnonzero(root == root[source])
        kept = kept[kept != source]
        matrix = (diags_array(np.asarray(joined.sum(axis=1)).ravel()) - joined).tocsc()[kept][:, kept]
        volts = np.zeros(amps.shape)
        if len(kept):
            volts[kept] = splu(matrix).solve(amps[kept])
        return volts

    def _carrying(
        self, volts: NDArray[np.float64], worst: NDArray[np.float64],
        ways: Sequence[tuple[NDArray[np.int64], NDArray[np.int64]]],
    ) -> Iterator[Piece]:  # fmt: skip
        """The stretches of track, with the current that warms each as much as those of all turns do: by which columns, and
        how often each, the `ways` of driving have."""
        for one, two, side, start, end, width in self._pieces:
            flows = (volts[two] - volts[one]) / track_resistance(math.dist(start, end), width)
            means = [float(np.average(flows[some], weights=often)) for some, often in ways]
            spread = sum(float(np.average(flows[some] ** 2, weights=often)) - mean**2
                         for (some, often), mean in zip(ways, means, strict=True))  # fmt: skip
            amps = math.sqrt((flows[0] + sum(means)) ** 2 + max(spread, 0.0))
            yield Piece(side, start, end, width, amps, float(worst[one] + worst[two]) / 2)

    def _pins(self) -> list[Pin]:
        return list(dict.fromkeys((pad.ref, pad.pin) for pad in self._pads))


def _key(side: str, spot: tuple[float, float]) -> tuple[str, float, float]:
    return side, round(spot[0], 3), round(spot[1], 3)
