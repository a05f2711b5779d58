"""From nets and parts to tracks: the grid, the kinds of copper, what was there before, and the copper that comes of it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from shapely.geometry import LineString, Point

from .. import compiled
from ..parts import PlacedPad, PlacedPart, Profile
from ..parts.nets import Net
from ..watch import ALONE, Watch
from .classes import NetClass
from .copper import Track, Unjoined, Via, Wires
from .grid import Cells, Grid, grid_over
from .ground import CLOSED, SIDES, Ground, Kind, ViaKind
from .places import Places
from .router import Branch, NetWork, Router


@dataclass(frozen=True)
class Laid:
    """A branch as it is kept: its net, the width of its track, and its corners as (column, row, layer) of a grid through 0."""

    net: str
    width: float
    corners: tuple[tuple[int, int, int], ...]


@dataclass(frozen=True)
class Routed:
    """What was made of the nets: the copper, and the branches it was made from, to be kept; on a grid of that pitch."""

    wires: Wires = Wires()
    laid: tuple[Laid, ...] = ()
    pitch: float = 0.0


@dataclass(frozen=True)
class Wish:
    """How a board is to be wired: whether tracks are made, for which nets (none: all of them), how clean the front is kept, in
    which style, by which seed; what was drawn by hand."""

    made: bool = True
    nets: tuple[str, ...] = ()
    front: str = "few"
    style: str = "straight"
    seed: int = 1
    drawn: tuple[Track, ...] = ()


def route(
    places: Places, nets: Sequence[Net], classes: Mapping[str, NetClass], profile: Profile, wish: Wish,
    before: Routed | None = None, watch: Watch = ALONE,
) -> Routed:  # fmt: skip
    """Tracks and vias for nets. What there was `before` stays as far as it is right."""
    pads = _pads_by_pin(places.parts)
    joined = drawn_vias(wish.drawn, profile)
    if not wish.made or places.copper.is_empty:
        return Routed(Wires(wish.drawn, joined))
    wanted = [net for net in nets if (not wish.nets or net.name in wish.nets) and sum(pin in pads for pin in net.pins) > 1]
    if not wanted:
        return Routed(Wires(wish.drawn, joined))
    compiled.load()
    grid = grid_over(places.copper.bounds, (profile.track_mm + profile.gap_mm) / 2)
    numbers = {net.name: at for at, net in enumerate(wanted)}
    of_pin = {pin: numbers[net.name] for net in wanted for pin in net.pins}
    kinds = _kinds(wanted, classes, profile)
    clearances = [classes[net.name].clearance for net in wanted]
    ground = Ground(grid, places, of_pin, clearances, kinds, ViaKind.of(profile), profile, wish.front)
    fixed = _fixed(wish.drawn, joined, numbers, ground)
    works = [_work_of(net, classes[net.name], kinds, pads, ground, fixed.get(net.name, ())) for net in wanted]
    if before is not None and abs(before.pitch - grid.pitch) < 1e-9:
        _take_up(works, before.laid, kinds, grid)
    order = sorted(range(len(works)), key=lambda at: (_extent(wanted[at], pads), wanted[at].name))
    Router(ground, works, order, wish.seed).run(watch)
    return _made(works, wanted, kinds, ground, pads, wish.drawn, joined)


def drawn_vias(drawn: Sequence[Track], profile: Profile) -> tuple[Via, ...]:
    """Vias where tracks of one net that were drawn on both sides end in one place."""
    via = ViaKind.of(profile)
    ends: dict[tuple[str, float, float], set[str]] = {}
    for one in drawn:
        for x, y in (one.points[0], one.points[-1]):
            ends.setdefault((one.net, round(x, 3), round(y, 3)), set()).add(one.side)
    return tuple(Via(net, x, y, via.drill, via.diameter, True) for (net, x, y), sides in ends.items() if len(sides) > 1)


def _fixed(drawn: Sequence[Track], vias: Sequence[Via], numbers: Mapping[str, int], ground: Ground) -> dict[str, list[Cells]]:
    """The cells of what was drawn by hand, by net; the ground is theirs."""
    out: dict[str, list[Cells]] = {}
    for one in drawn:
        cells = ground.take(one.points, one.width / 2, (SIDES.index(one.side),), numbers.get(one.net, CLOSED))
        out.setdefault(one.net, []).append(cells)
    for via in vias:
        cells = ground.take(((via.x, via.y),), via.diameter / 2, (0, 1), numbers.get(via.net, CLOSED))
        out.setdefault(via.net, []).append(cells)
    return out


def _pads_by_pin(parts: Iterable[PlacedPart]) -> dict[tuple[str, str], list[PlacedPad]]:
    out: dict[tuple[str, str], list[PlacedPad]] = {}
    for part in parts:
        for pad in part.pads():
            out.setdefault((pad.ref, pad.pin), []).append(pad)
    return out


def _kinds(nets: Sequence[Net], classes: Mapping[str, NetClass], profile: Profile) -> list[Kind]:
    """Every kind of track: the width of each class, and the narrowest there is, with each clearance."""
    found = {(classes[net.name].width, classes[net.name].clearance) for net in nets}
    found |= {(profile.track_mm, clearance) for _, clearance in found}
    return [Kind(*one) for one in sorted(found, reverse=True)]


def _work_of(
    net: Net, one: NetClass, kinds: Sequence[Kind], pads: Mapping[tuple[str, str], list[PlacedPad]], ground: Ground,
    fixed: Sequence[Cells],
) -> NetWork:  # fmt: skip
    mine = [at for at, kind in enumerate(kinds) if kind.clearance == one.clearance and kind.width <= one.width + 1e-9]
    cells = [np.unique(np.concatenate([ground.cells_in(pad) for pad in pads[pin]])) for pin in net.pins if pin in pads]
    return NetWork(net.name, mine, [each.astype(np.int32) for each in cells], fixed)


def _extent(net: Net, pads: Mapping[tuple[str, str], list[PlacedPad]]) -> float:
    """Half the way round the box of a net's pads, mm: small nets are joined first."""
    spots = np.array([(pad.x, pad.y) for pin in net.pins for pad in pads.get(pin, ())])
    return float(np.ptp(spots, axis=0).sum())


# -- branches as they are kept -------------------------------------------------------------------------------------------


def _take_up(works: Sequence[NetWork], laid: Sequence[Laid], kinds: Sequence[Kind], grid: Grid) -> None:
    """Give each net its branches of before, as far as their kind of track is still one of its own."""
    by_name = {work.name: work for work in works}
    for one in laid:
        work = by_name.get(one.net)
        kind = next((at for at in work.kinds if abs(kinds[at].width - one.width) < 1e-9), None) if work else None
        cells = _cells_of(one.corners, grid)
        if work is not None and kind is not None and cells is not None:
            work.branches.append(Branch(cells, kind))


def _cells_of(corners: Sequence[tuple[int, int, int]], grid: Grid) -> Cells | None:
    """The cells along a branch; None where it leaves the grid."""
    x0, y0 = round(grid.x / grid.pitch), round(grid.y / grid.pitch)
    out = []
    for (x, y, layer), (x1, y1, layer1) in zip(corners, corners[1:], strict=False):
        steps = max(abs(x1 - x), abs(y1 - y), abs(layer1 - layer))
        along = np.arange(steps)[:, None] * np.sign([x1 - x, y1 - y, layer1 - layer]) + [x, y, layer]
        out.append(along)
    whole = np.concatenate([*out, np.array(corners[-1:])]) - [x0, y0, 0]
    if not ((whole[:, :2] >= 0).all() and (whole[:, 0] < grid.width).all() and (whole[:, 1] < grid.height).all()):
        return None
    cells: Cells = (whole[:, 2] * grid.cells + whole[:, 1] * grid.width + whole[:, 0]).astype(np.int32)
    return cells


def _corners_of(cells: Cells, grid: Grid) -> tuple[tuple[int, int, int], ...]:
    x0, y0 = round(grid.x / grid.pitch), round(grid.y / grid.pitch)
    flat = cells % grid.cells
    spots = np.column_stack([flat % grid.width + x0, flat // grid.width + y0, cells // grid.cells])
    if len(spots) > 2:
        steps = np.diff(spots, axis=0)
        kept = np.concatenate([[True], (steps[1:] != steps[:-1]).any(axis=1), [True]])
        spots = spots[kept]
    return tuple((int(x), int(y), int(layer)) for x, y, layer in spots)


# -- copper ----------------------------------------------------------------------------------------------------------------


def _made(
    works: Sequence[NetWork], nets: Sequence[Net], kinds: Sequence[Kind], ground: Ground,
    pads: Mapping[tuple[str, str], list[PlacedPad]], drawn: Sequence[Track], joined: Sequence[Via],
) -> Routed:  # fmt: skip
    laid, tracks, lost = [], list(drawn), []
    vias = {(round(one.x / ground.grid.pitch), round(one.y / ground.grid.pitch)): one for one in joined}
    grid, via = ground.grid, ground.via
    for work, net in zip(works, nets, strict=True):
        pins = [pin for pin in net.pins if pin in pads]
        ends = _ends(net, [pad for pin in pins for pad in pads[pin]], drawn, work.fixed, ground)
        for branch in work.branches:
            corners = _corners_of(branch.cells, grid)
            width = kinds[branch.kind].width
            laid.append(Laid(net.name, width, corners))
            tracks += _tracks(net.name, width, corners, grid, ends, branch.cells)
            for (x, y, layer), (_, _, below) in zip(corners, corners[1:], strict=False):
                if layer != below:
                    vias[x, y] = Via(net.name, x * grid.pitch, y * grid.pitch, via.drill, via.diameter)
        names = [*pins, *(pins[:1] * len(work.fixed))]
        lost += [_unjoined(net.name, names[one], names[other], pads) for one, other in work.lost]
    return Routed(Wires(tuple(tracks), tuple(vias.values()), tuple(lost)), tuple(laid), grid.pitch)


def _ends(
    net: Net, pads: Sequence[PlacedPad], drawn: Sequence[Track], fixed: Sequence[Cells], ground: Ground
) -> dict[int, tuple[float, float]]:
    """Where a track that ends in a cell goes on to: the middle of the pad there, or of the track that was drawn by hand."""
    mine = [one for one in drawn if one.net == net.name]
    out: dict[int, tuple[float, float]] = {}
    for one, cells in zip(mine, fixed, strict=False):
        line = LineString(one.points)
        for cell, place in zip(cells.tolist(), ground.grid.places(cells), strict=True):
            spot = line.interpolate(line.project(Point(place)))
            out[cell] = (float(spot.x), float(spot.y))
    out.update({int(cell): (pad.x, pad.y) for pad in pads for cell in ground.cells_in(pad)})
    return out


def _tracks(
    net: str, width: float, corners: Sequence[tuple[int, int, int]], grid: Grid,
    ends: Mapping[int, tuple[float, float]], cells: Cells,
) -> list[Track]:  # fmt: skip
    """The tracks of a branch, one for each stretch on a side; an end in a pad goes on to its middle."""
    out: list[Track] = []
    run: list[tuple[float, float]] = []
    if int(cells[0]) in ends:
        run.append(ends[int(cells[0])])
    layer = corners[0][2]
    for x, y, where in corners:
        if where != layer:
            out += _track(net, SIDES[layer], width, run)
            run, layer = [], where
        run.append((x * grid.pitch, y * grid.pitch))
    if int(cells[-1]) in ends:
        run.append(ends[int(cells[-1])])
    return out + _track(net, SIDES[layer], width, run)


def _track(net: str, side: str, width: float, run: Sequence[tuple[float, float]]) -> list[Track]:
    points = (
        [run[0], *(b for a, b in zip(run, run[1:], strict=False) if abs(a[0] - b[0]) + abs(a[1] - b[1]) > 1e-9)] if run else []
    )
    return [Track(net, side, width, tuple(points))] if len(points) > 1 else []


def _unjoined(
    net: str, one: tuple[str, str], other: tuple[str, str], pads: Mapping[tuple[str, str], list[PlacedPad]]
) -> Unjoined:
    a, b = pads[one][0], pads[other][0]
    return Unjoined(net, ".".join(one), ".".join(other), "no room", ((a.x, a.y), (b.x, b.y)))
