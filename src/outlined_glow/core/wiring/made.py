"""From the branches of nets to copper: tracks that end in the middle of their pads, vias, and what was not joined."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from shapely.geometry import LineString, Point

from ..drive.standing import Standing
from ..parts import PlacedPad
from ..parts.nets import Net
from .copper import NO_WIRES, Points, Track, Unjoined, Via, Wires
from .grid import Cells, Grid, knots_in

Pin = tuple[str, str]
Pads = Mapping[Pin, list[PlacedPad]]
Corners = tuple[tuple[int, int, int], ...]
Spot = tuple[float, float]
SIDES = ("front", "back")


@dataclass(frozen=True)
class Laid:
    """A branch as it is kept: its net, the width of its track, its corners as (column, row, layer) of a grid through 0, and how
    often its net, and how many areas, had been drawn from nothing then."""

    net: str
    width: float
    corners: Corners
    times: int = 0
    areas: int = 0

    def line(self, pitch: float) -> LineString:
        """The way it runs, mm."""
        return LineString([(x * pitch, y * pitch) for x, y, _ in self.corners])


@dataclass(frozen=True)
class Lost:
    """Two pins of a net that no track joins: none could, or they were `stopped` before one was found."""

    net: str
    start: Pin
    end: Pin
    stopped: bool = False


@dataclass(frozen=True)
class Routed:
    """What was made of the nets: the copper, and to be kept the branches it was made from, on a grid of that pitch, and what
    could not be joined; for such a wish, and (`mark`) from such nets, parts and obstacles. Where tracks flow, the `ways` of all
    of them in their order. And where parts `stood`."""

    wires: Wires = NO_WIRES
    laid: tuple[Laid, ...] = ()
    lost: tuple[Lost, ...] = ()
    pitch: float = 0.0
    wish: str = ""
    mark: str = ""
    ways: tuple[Points, ...] = ()
    stood: tuple[Standing, ...] = ()

    @property
    def stopped(self) -> bool:
        """Whether somebody took what there was before all of it was made."""
        return any(one.stopped for one in self.lost)


def wires_of(
    laid: Sequence[Laid], lost: Sequence[Lost], nets: Sequence[Net], pitch: float, via: tuple[float, float], pads: Pads,
    drawn: Sequence[Track], joined: Sequence[Via],
) -> Wires:  # fmt: skip
    """The copper of branches, with what was drawn by hand; `via` is the hole and the land of one, mm."""
    tracks = list(drawn)
    vias = {(round(one.x / pitch), round(one.y / pitch)): one for one in joined}
    ends = {net.name: _Ends(net, pads, drawn, pitch) for net in nets}
    for one in (each for each in laid if each.net in ends):
        tracks += _tracks(one, pitch, ends[one.net].beyond)
        vias.update(_vias(one, pitch, via))
    told = tuple(_unjoined(one, pads) for one in lost if one.start in pads and one.end in pads)
    return Wires(tuple(tracks), tuple(vias.values()), told)


def bare_wires(laid: Sequence[Laid], pitch: float, via: tuple[float, float]) -> tuple[list[Track], list[Via]]:
    """The tracks and vias of branches, from cell to cell."""
    tracks = [track for one in laid for track in _tracks(one, pitch, lambda x, y, layer: [])]
    return tracks, [made for one in laid for made in _vias(one, pitch, via).values()]


def _vias(one: Laid, pitch: float, via: tuple[float, float]) -> dict[tuple[int, int], Via]:
    """The vias of a branch by their cell."""
    return {
        (x, y): Via(one.net, x * pitch, y * pitch, *via)
        for (x, y, layer), (_, _, below) in itertools.pairwise(one.corners)
        if layer != below
    }


class _Ends:
    """Where a track of a net that ends in a place goes on to: the middle of the pad there, or of a track drawn by hand."""

    def __init__(self, net: Net, pads: Pads, drawn: Sequence[Track], pitch: float) -> None:
        mine = [pad for pin in net.pins for pad in pads.get(pin, ())]
        self._sides = np.array([SIDES.index(pad.side) for pad in mine])
        self._boxes = np.array([(pad.x, pad.y, pad.width / 2, pad.height / 2, math.radians(pad.angle_deg)) for pad in mine])
        self._drawn = [(SIDES.index(one.side), one.width / 2, LineString(one.points)) for one in drawn if one.net == net.name]
        self._near = 0.75 * pitch
        # Only of a pad so small that no cell lies in it does a track end beside it.
        self._reach = np.array([1e-6 if len(knots_in(pad, pitch)) else self._near for pad in mine])

    def beyond(self, x: float, y: float, layer: int) -> list[Spot]:
        """The place, or none."""
        if len(self._boxes):
            dx, dy = x - self._boxes[:, 0], y - self._boxes[:, 1]
            cosine, sine = np.cos(self._boxes[:, 4]), np.sin(self._boxes[:, 4])
            over = np.maximum(
                abs(dx * cosine + dy * sine) - self._boxes[:, 2], abs(dy * cosine - dx * sine) - self._boxes[:, 3]
            )
            over[(self._sides != layer) | (over > self._reach)] = np.inf
            best = int(np.argmin(over))
            if over[best] < np.inf:
                return [(float(self._boxes[best, 0]), float(self._boxes[best, 1]))]
        for side, half, line in self._drawn:
            if side == layer and line.distance(Point(x, y)) < max(half, self._near) + 1e-6:
                spot = line.interpolate(line.project(Point(x, y)))
                return [(float(spot.x), float(spot.y))]
        return []


def _tracks(one: Laid, pitch: float, beyond: Callable[[float, float, int], list[Spot]]) -> list[Track]:
    """The tracks of a branch, one for each stretch on a side; an end goes on to what lies `beyond` it."""
    corners = [(x * pitch, y * pitch, layer) for x, y, layer in one.corners]
    out: list[Track] = []
    run: list[Spot] = beyond(*corners[0])
    layer = corners[0][2]
    for x, y, where in corners:
        if where != layer:
            out += _track(one.net, SIDES[layer], one.width, run)
            run, layer = [], where
        run.append((x, y))
    run += beyond(*corners[-1])
    return out + _track(one.net, SIDES[layer], one.width, run)


def _track(net: str, side: str, width: float, run: Sequence[Spot]) -> list[Track]:
    points = _apart(run)
    return [Track(net, side, width, tuple(points))] if len(points) > 1 else []


def _apart(run: Sequence[Spot]) -> list[Spot]:
    """A run of places without those that are the one before."""
    return [*run[:1], *(b for a, b in itertools.pairwise(run) if abs(a[0] - b[0]) + abs(a[1] - b[1]) > 1e-9)]


def _unjoined(one: Lost, pads: Pads) -> Unjoined:
    a, b = pads[one.start][0], pads[one.end][0]
    why = "stopped before a way was found" if one.stopped else "no room"
    return Unjoined(one.net, ".".join(one.start), ".".join(one.end), why, ((a.x, a.y), (b.x, b.y)))


def cells_of(corners: Sequence[tuple[int, int, int]], grid: Grid) -> Cells | None:
    """The cells along a branch; None where it leaves the grid."""
    x0, y0 = round(grid.x / grid.pitch), round(grid.y / grid.pitch)
    out = []
    for (x, y, layer), (x1, y1, layer1) in itertools.pairwise(corners):
        steps = max(abs(x1 - x), abs(y1 - y), abs(layer1 - layer))
        along = np.arange(steps)[:, None] * np.sign([x1 - x, y1 - y, layer1 - layer]) + [x, y, layer]
        out.append(along)
    whole = np.concatenate([*out, np.array(corners[-1:])]) - [x0, y0, 0]
    if not ((whole[:, :2] >= 0).all() and (whole[:, 0] < grid.width).all() and (whole[:, 1] < grid.height).all()):
        return None
    cells: Cells = (whole[:, 2] * grid.cells + whole[:, 1] * grid.width + whole[:, 0]).astype(np.int32)
    return cells


def corners_of(cells: Cells, grid: Grid) -> Corners:
    """Where a branch turns, or changes the layer, and its ends."""
    x0, y0 = round(grid.x / grid.pitch), round(grid.y / grid.pitch)
    flat = cells % grid.cells
    spots = np.column_stack([flat % grid.width + x0, flat // grid.width + y0, cells // grid.cells])
    if len(spots) > 2:
        steps = np.diff(spots, axis=0)
        kept = np.concatenate([[True], (steps[1:] != steps[:-1]).any(axis=1), [True]])
        spots = spots[kept]
    return tuple((int(x), int(y), int(layer)) for x, y, layer in spots)
