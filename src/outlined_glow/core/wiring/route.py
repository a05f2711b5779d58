"""From nets and parts to tracks: the grid, the kinds of copper, what was there before, and the copper that comes of it."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from .. import compiled
from ..parts import PlacedPad, PlacedPart, Profile
from ..parts.nets import Net
from ..watch import ALONE, Watch
from .classes import NetClass, is_chosen
from .copper import Track, Via, Wires
from .grid import Cells, Grid, grid_over
from .ground import CLOSED, SIDES, Ground, Kind, ViaKind
from .made import Laid, Lost, Pads, Routed, cells_of, corners_of, wires_of
from .places import Places
from .rounding import rounded
from .router import Branch, NetWork, Router

#: Another one where the same board would be given other tracks than before.
_WAYS = 2


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
    anew: tuple[tuple[str, int], ...] = ()

    @property
    def mark(self) -> str:
        """With another one all tracks are drawn anew."""
        return f"{self.front} {self.seed}"


def route(
    places: Places, nets: Sequence[Net], classes: Mapping[str, NetClass], profile: Profile, wish: Wish,
    before: Routed | None = None, watch: Watch = ALONE,
) -> Routed:  # fmt: skip
    """Tracks and vias for nets. What there was `before` stays as far as it is right."""
    pads = _pads_by_pin(places.parts)
    joined = drawn_vias(wish.drawn, profile)
    if not wish.made or places.art.copper.is_empty:
        return Routed(Wires(wish.drawn, joined))
    wanted = [net for net in nets if is_chosen(net.name, wish.nets) and sum(pin in pads for pin in net.pins) > 1]
    if not wanted:
        return Routed(Wires(wish.drawn, joined))
    mark = fingerprint(places, wanted, classes, profile, wish)
    via = ViaKind.of(profile)
    if before is not None and before.mark == mark:
        laid, lost, pitch = before.laid, before.lost, before.pitch
    else:
        laid, lost, pitch = _routed(places, wanted, classes, profile, wish, pads, before, watch)
    wires = wires_of(laid, lost, wanted, pitch, (via.drill, via.diameter), pads, wish.drawn, joined, profile.plated)
    if wish.style == "rounded":
        wires = rounded(wires, pads, wanted, places, classes, profile)
    return Routed(wires, laid, lost, pitch, wish.mark, mark)


def _routed(
    places: Places, wanted: Sequence[Net], classes: Mapping[str, NetClass], profile: Profile, wish: Wish, pads: Pads,
    before: Routed | None, watch: Watch,
) -> tuple[tuple[Laid, ...], tuple[Lost, ...], float]:  # fmt: skip
    """The branches of nets, what could not be joined, and the pitch of their grid."""
    compiled.load()
    grid = grid_over(places.art.copper.bounds, (profile.track_mm + profile.gap_mm) / 2)
    numbers = {net.name: at for at, net in enumerate(wanted)}
    of_pin = {pin: numbers[net.name] for net in wanted for pin in net.pins}
    kinds = _kinds(wanted, classes, profile)
    clearances = [classes[net.name].clearance for net in wanted]
    ground = Ground(grid, places, of_pin, clearances, kinds, ViaKind.of(profile), profile, wish.front)
    fixed = _fixed(wish.drawn, drawn_vias(wish.drawn, profile), numbers, ground)
    works = [_work_of(net, classes[net.name], kinds, pads, ground, fixed.get(net.name, ())) for net in wanted]
    times = dict(wish.anew)
    if before is not None and abs(before.pitch - grid.pitch) < 1e-9 and before.wish == wish.mark:
        _take_up(works, [one for one in before.laid if one.times == times.get(one.net, 0)], kinds, grid)
    order = sorted(range(len(works)), key=lambda at: (_extent(wanted[at], pads), wanted[at].name))
    Router(ground, works, order, wish.seed).run(watch)
    laid, lost = [], []
    for work, net in zip(works, wanted, strict=True):
        pins = [pin for pin in net.pins if pin in pads]
        names = [*pins, *(pins[:1] * len(work.fixed))]
        lost += [Lost(net.name, names[one], names[other]) for one, other in work.lost]
        laid += [
            Laid(net.name, kinds[one.kind].width, corners_of(one.cells, grid), times.get(net.name, 0)) for one in work.branches
        ]
    return tuple(laid), tuple(lost), grid.pitch


def fingerprint(places: Places, nets: Sequence[Net], classes: Mapping[str, NetClass], profile: Profile, wish: Wish) -> str:
    """What tells one routing from another: nets, parts, obstacles, rules, and what is wished of the ways (not of the lines)."""
    digest = hashlib.sha256(repr((_WAYS, wish.mark, wish.anew, wish.drawn, profile)).encode())
    digest.update(repr([(net.name, net.pins, classes[net.name]) for net in nets]).encode())
    for one in places.parts:
        spot = (round(one.x, 6), round(one.y, 6), round(one.angle_deg, 6))
        digest.update(repr((one.ref, one.part.name, one.part.pads, spot, one.side)).encode())
    digest.update(places.art.digest)
    digest.update(repr(places.holes).encode())
    return digest.hexdigest()[:32]


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


def _take_up(works: Sequence[NetWork], laid: Sequence[Laid], kinds: Sequence[Kind], grid: Grid) -> None:
    """Give each net its branches of before, as far as their kind of track is still one of its own."""
    by_name = {work.name: work for work in works}
    for one in laid:
        work = by_name.get(one.net)
        kind = next((at for at in work.kinds if abs(kinds[at].width - one.width) < 1e-9), None) if work else None
        cells = cells_of(one.corners, grid)
        if work is not None and kind is not None and cells is not None:
            work.branches.append(Branch(cells, kind))
