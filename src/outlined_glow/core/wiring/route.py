"""From nets and parts to tracks: the grid, the kinds of copper, what was there before, and the copper that comes of it."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import Polygon

from .. import compiled
from ..parts import PlacedPad, PlacedPart, Profile
from ..parts.nets import Net
from ..watch import ALONE, Watch
from .branches import Branch, NetWork
from .classes import NetClass, is_chosen
from .copper import Points, Track, Via, Wires
from .flowing import flowing
from .grid import Cells, Grid, grid_over
from .ground import CLOSED, SIDES, Ground, Kind, ViaKind
from .links import behind_only, is_one_sided, with_links
from .made import Laid, Lost, Pads, Routed, bare_wires, cells_of, corners_of, wires_of
from .places import Places
from .quiet import dear_beside_quiet, quiet_nets
from .room import rooms
from .rounding import rounded
from .router import Router
from .teardrops import with_teardrops

#: Another one where the same board would be given other tracks than before.
_WAYS = 5


@dataclass(frozen=True)
class Wish:
    """How a board is to be wired: whether tracks are made, for which nets (none: all of them), how clean the front is kept, in
    which style, by which seed; what was drawn by hand; how often nets, and in which areas tracks, were drawn from nothing; the
    nets whose tracks stay as they are."""

    made: bool = True
    nets: tuple[str, ...] = ()
    front: str = "few"
    style: str = "straight"
    seed: int = 1
    drawn: tuple[Track, ...] = ()
    anew: tuple[tuple[str, int], ...] = ()
    areas: tuple[Points, ...] = ()
    locked: tuple[str, ...] = ()
    teardrops: bool = False

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
    by_hand = Wires(wish.drawn, joined) if profile.plated else with_links(Wires(wish.drawn, joined), False)
    if not wish.made or places.art.copper.is_empty:
        return Routed(by_hand)
    wanted = [net for net in nets if is_chosen(net.name, wish.nets) and sum(pin in pads for pin in net.pins) > 1]
    if not wanted:
        return Routed(by_hand)
    mark = fingerprint(places, wanted, classes, profile, wish)
    via = ViaKind.of(profile)
    ways: tuple[Points, ...] = ()
    if before is not None and before.mark == mark:
        laid, lost, pitch, ways = before.laid, before.lost, before.pitch, before.ways
    else:
        laid, lost, pitch = _routed(places, wanted, classes, profile, wish, pads, before, watch)
    wires = wires_of(laid, lost, wanted, pitch, (via.drill, via.diameter), pads, wish.drawn, joined)
    wires = wires if profile.plated else with_links(wires, is_one_sided(pads, wanted, wish.drawn))
    wires = drawn_as(wires, wish, pads, wanted, places, classes, profile, ways)
    ways = tuple(one.points for one in wires.tracks) if wish.style == "flowing" else ()
    # What was left half done is no answer to the next who asks.
    return Routed(wires, laid, lost, pitch, wish.mark, "" if any(one.stopped for one in lost) else mark, ways)


def drawn_as(
    wires: Wires, wish: Wish, pads: Pads, nets: Sequence[Net], places: Places, classes: Mapping[str, NetClass],
    profile: Profile, ways: Sequence[Points] = (),
) -> Wires:  # fmt: skip
    """The wires in the style that is wished, with teardrops if they are. `ways`: as they flowed when they were drawn before."""
    if wish.style == "rounded":
        wires = rounded(wires, rooms(wires, pads, nets, places, classes, profile))
    elif wish.style == "flowing":
        wires = flowing(wires, places.art, rooms(wires, pads, nets, places, classes, profile), ways)
    if wish.teardrops:
        wires = with_teardrops(wires, pads, nets, rooms(wires, pads, nets, places, classes, profile))
    return wires


def _routed(
    places: Places, wanted: Sequence[Net], classes: Mapping[str, NetClass], profile: Profile, wish: Wish, pads: Pads,
    before: Routed | None, watch: Watch,
) -> tuple[tuple[Laid, ...], tuple[Lost, ...], float]:  # fmt: skip
    """The branches of nets, what could not be joined, and the pitch of their grid."""
    compiled.load()
    if not profile.plated and is_one_sided(pads, wanted, wish.drawn):
        pads = behind_only(pads)
    grid = grid_over(places.art.copper.bounds, (profile.track_mm + profile.gap_mm) / 2)
    numbers = {net.name: at for at, net in enumerate(wanted)}
    of_pin = {pin: numbers[net.name] for net in wanted for pin in net.pins}
    kinds = _kinds(wanted, classes, profile)
    clearances = [classes[net.name].clearance for net in wanted]
    ground = Ground(grid, places, of_pin, clearances, kinds, ViaKind.of(profile), profile, wish.front)
    before = before if before is not None and abs(before.pitch - grid.pitch) < 1e-9 else None
    locked = [one for one in before.laid if one.net in wish.locked and one.net in numbers] if before is not None else []
    made = bare_wires(locked, grid.pitch, (ground.via.drill, ground.via.diameter))
    fixed = _fixed([*wish.drawn, *made[0]], [*drawn_vias(wish.drawn, profile), *made[1]], numbers, ground)
    works = [_work_of(net, classes[net.name], kinds, pads, ground, fixed.get(net.name, ())) for net in wanted]
    if before is not None and before.wish == wish.mark:
        _take_up(works, [one for one in before.laid if one not in locked and _stays(one, wish, grid.pitch)], kinds, grid)
    quiet = quiet_nets(wanted, places.parts)
    order = sorted(range(len(works)), key=lambda at: (wanted[at].name not in quiet, _extent(wanted[at], pads), wanted[at].name))
    complete = Router(ground, works, order, wish.seed, dear_beside_quiet(ground, wanted, places.parts)).run(watch)
    times, many = dict(wish.anew), len(wish.areas)
    laid, lost = locked, []
    for work, net in zip(works, wanted, strict=True):
        pins = [pin for pin in net.pins if pin in pads]
        names = [*pins, *(pins[:1] * len(work.fixed))]
        lost += [Lost(net.name, names[one], names[other], not complete) for one, other in work.lost]
        laid += [
            Laid(net.name, kinds[one.kind].width, corners_of(one.cells, grid), times.get(net.name, 0), many)
            for one in work.branches
        ]
    return tuple(laid), tuple(lost), grid.pitch


def _stays(one: Laid, wish: Wish, pitch: float) -> bool:
    """Whether nobody asked for a branch to be drawn from nothing since it was made."""
    if one.times != dict(wish.anew).get(one.net, 0):
        return False
    later = [Polygon(area) for area in wish.areas[one.areas :]]
    return not later or bool(shapely.disjoint(one.line(pitch), shapely.union_all(shapely.make_valid(later))))


def fingerprint(places: Places, nets: Sequence[Net], classes: Mapping[str, NetClass], profile: Profile, wish: Wish) -> str:
    """What tells one routing from another: nets, parts, obstacles, rules, and what is wished of the ways (not of the lines)."""
    asked = (wish.anew, wish.drawn, *((wish.areas, wish.locked) if wish.areas or wish.locked else ()))
    digest = hashlib.sha256(repr((_WAYS, wish.mark, *asked, profile)).encode())
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
    """The cells of what was drawn by hand, by net; the ground is theirs. What lies beside the board, as after it was made
    smaller, has none."""
    out: dict[str, list[Cells]] = {}
    for one in drawn:
        cells = ground.take(one.points, one.width / 2, (SIDES.index(one.side),), numbers.get(one.net, CLOSED))
        out.setdefault(one.net, []).append(cells)
    for via in vias:
        cells = ground.take(((via.x, via.y),), via.diameter / 2, (0, 1), numbers.get(via.net, CLOSED))
        out.setdefault(via.net, []).append(cells)
    found = {net: [cells for cells in some if len(cells)] for net, some in out.items()}
    return {net: some for net, some in found.items() if some}


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
    widths = [kinds[at].width for at in mine]
    cells = [np.unique(np.concatenate([ground.cells_in(pad, widths) for pad in pads[pin]])) for pin in net.pins if pin in pads]
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
