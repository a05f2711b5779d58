"""Tracks, vias and pours laid into the layers: the copper of the art gives way to them."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import lru_cache, partial

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..geometry.edges import numbers_of
from ..geometry.flatten import clear_offset
from ..geometry.near import added_near, cut_near
from ..geometry.offset import grow
from ..geometry.overlay import overlay
from ..geometry.regions import clean, disc, meeting, minus, polygons, region_of, union, union_of_many
from ..parts import PlacedPad, Profile
from ..parts.nets import Net
from ..project import Pour
from ..shape import RoundHole
from ..wiring.copper import Wires
from .layers import ArtLayers, PartLayers
from .model import ART, POUR, TEAR, TRACK, Copper

SIDES = ("front", "back")
#: What gives way goes so much farther than it has to, mm.
_SURE_MM = 0.003
#: So often slivers are looked for: to take one away can make another.
_ROUNDS = 3


def wired_layers(
    laid: PartLayers, round_pads: Mapping[str, BaseGeometry], wires: Wires, poured: Mapping[tuple[str, str], BaseGeometry],
    wished: Sequence[Pour], art: ArtLayers, nets: tuple[Net, ...], profile: Profile, quick: bool = False,
) -> PartLayers:  # fmt: skip
    """The layers with their copper, in the board frame. `round_pads` is that of the art, clear of pads; `poured` are the
    regions of pours by side and net, as `wished`. To be seen for a moment, they are made `quick`: slivers of the art stay."""
    joins = {(one.side, one.net) for one in wished if one.art == "join"}
    pads, run = _with_nets(laid.pads, nets) if wires or poured else laid.pads, _run(wires, poured)
    own = dict(round_pads)
    for side in SIDES if run else ():
        apart = [one.region for one in run if one.side == side and (one.owner != POUR or (side, one.net) not in joins)]
        lands = [pad for pad in pads if pad.side == side]
        own[side] = _giving_way(own[side], apart, lands, art.sides[side].metal, profile, quick)
    return _laid_together(laid, own, run, pads, wires, profile, partial(_joined, _net_by_net if quick else _together))


def seen_first(
    laid: PartLayers, wires: Wires, art: ArtLayers, nets: tuple[Net, ...], profile: Profile, before: PartLayers
) -> PartLayers:
    """The layers with their copper, to be seen for a moment: that of the art as it was, clear of pads that came; where tracks
    went it stays away."""
    known = {(pad.side, pad.polygon) for pad in before.pads}
    own = {}
    for side in SIDES:
        new = [pad.polygon for pad in laid.pads if pad.side == side and (side, pad.polygon) not in known]
        away = minus(grow(union_of_many(new), clear_offset(profile.gap_mm, _SURE_MM)), art.sides[side].metal)
        own[side] = cut_near(before.art_copper(side), away)
    pads = _with_nets(laid.pads, nets) if wires else laid.pads
    return _laid_together(laid, own, _run(wires, {}), pads, wires, profile, partial(_as_before, before))


def _with_nets(pads: Sequence[PlacedPad], nets: tuple[Net, ...]) -> tuple[PlacedPad, ...]:
    of_pin = {pin: net.name for net in nets for pin in net.pins}
    return tuple(replace(pad, net=of_pin.get((pad.ref, pad.pin), "")) for pad in pads)


def _run(wires: Wires, poured: Mapping[tuple[str, str], BaseGeometry]) -> list[Copper]:
    """The copper of tracks, vias, teardrops and pours."""
    run = []
    for side in SIDES:
        run += [Copper(side, TRACK, one.net, one.region) for one in wires.tracks if one.side == side]
        run += [Copper(side, TRACK, one.net, one.region) for one in wires.vias if one.on(side)]
        run += [Copper(side, TEAR, one.net, one.region) for one in wires.tears if one.side == side]
        run += [Copper(side, POUR, net, region) for (where, net), region in poured.items() if where == side]
    return run


def _laid_together(
    laid: PartLayers, own: Mapping[str, BaseGeometry], run: Sequence[Copper], pads: tuple[PlacedPad, ...], wires: Wires,
    profile: Profile, copper: Callable[[str, Sequence[Copper]], BaseGeometry],
) -> PartLayers:  # fmt: skip
    """The layers of a board with the copper of the art, of what runs, and of pads; and with the holes of the vias."""
    layers, pieces = dict(laid.layers), []
    for side in SIDES:
        here = [one for one in run if one.side == side]
        lands = [Copper(side, pad.ref, pad.net, pad.polygon) for pad in pads if pad.side == side]
        all_here = [Copper(side, ART, "", own[side]), *here, *lands]
        layers[f"{side} copper"] = copper(side, all_here)
        pieces += all_here
    drilled = _drilled(tuple((via.x, via.y, via.drill) for via in wires.vias))
    if not drilled.is_empty:
        layers["core"] = clean(overlay(shapely.difference, layers["core"], drilled))
        layers["drills"] = union([layers["drills"], drilled])
    what = "via" if profile.plated else "wire link"
    vias = tuple(RoundHole(via.x, via.y, via.drill, profile.plated, what, via.net) for via in wires.vias)
    return replace(laid, layers=layers, copper=tuple(pieces), pads=pads, holes=(*laid.holes, *vias))


@lru_cache(maxsize=8)
def _drilled(vias: tuple[tuple[float, float, float], ...]) -> BaseGeometry:
    """The holes of vias (x, y, drill)."""
    return union_of_many([disc(x, y, drill / 2) for x, y, drill in vias])


def _joined(together: Callable[[Sequence[Copper]], BaseGeometry], _side: str, pieces: Sequence[Copper]) -> BaseGeometry:
    """The copper of a side: that of the art, which comes first, joined with what runs and with pads."""
    return added_near(pieces[0].region, together(pieces[1:]))


def _as_before(before: PartLayers, side: str, pieces: Sequence[Copper]) -> BaseGeometry:
    """The same as it was `before`, but for what of the pieces is other now: what that does not touch stays to the last bit, so
    that its picture does. The art has no copper that it had not."""
    layer = before.layers[f"{side} copper"]
    known = {id(one.region): one.region for one in before.copper if one.side == side}
    kept = {id(one.region) for one in pieces if id(one.region) in known}  # most are the same objects
    every, of = shapely.get_parts([one.region for one in pieces], return_index=True)
    anew = np.array([id(one.region) not in kept for one in pieces])[of]
    was = shapely.get_parts([region for at, region in known.items() if at not in kept])
    numbers, new_numbers = numbers_of(was), numbers_of(every[anew])
    gone, came = was[~np.isin(numbers, new_numbers)], anew.copy()
    came[anew] = ~np.isin(new_numbers, numbers)
    if not len(gone) and not came.any():
        return layer
    parts = np.array(polygons(layer), dtype=object)
    art = np.array([one.owner == ART for one in pieces])[of]
    new = every[came & ~art]
    touched = _marked(len(parts), _holding(parts, gone)[0]) | _marked(len(parts), meeting(parts, new)[0])
    holder, piece = _holding(parts, every)
    near = _marked(len(every), piece[touched[holder]]) | came
    own = region_of(every[near & art])
    return region_of([*parts[~touched], *polygons(added_near(own, union_of_many(every[near & ~art].tolist())))])


def _holding(parts: NDArray[np.object_], pieces: NDArray[np.object_]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Which of some disjoint polygons holds which of the pieces that they were joined of: pairs of places. A piece lies in one
    of them alone, so that a corner of it tells; where a boolean has moved that by a hair, all of the piece is asked for."""
    holder, piece = meeting(parts, shapely.get_point(shapely.get_exterior_ring(pieces), 0))
    lost = np.setdiff1d(np.arange(len(pieces)), piece)
    others, which = meeting(parts, pieces[lost])
    return np.concatenate([holder, others]), np.concatenate([piece, lost[which]])


def _marked(many: int, places: NDArray[np.int64]) -> NDArray[np.bool_]:
    out = np.zeros(many, dtype=bool)
    out[places] = True
    return out


def _together(pieces: Sequence[Copper]) -> BaseGeometry:
    """The pieces of all nets together. Pours lie apart from one another, and a hatched one has thousands of holes."""
    poured = region_of(part for one in pieces if one.owner == POUR for part in polygons(one.region))
    return added_near(poured, union_of_many([one.region for one in pieces if one.owner != POUR]))


def _net_by_net(pieces: Sequence[Copper]) -> BaseGeometry:
    """Pieces of nets together: a third of the time of one union where those of different nets lie apart, as they mostly do."""
    of_net: dict[str, list[BaseGeometry]] = {}
    for one in pieces:
        of_net.setdefault(one.net, []).append(one.region)
    apart = region_of(part for some in of_net.values() for part in polygons(_of_net(tuple(some))))
    return apart if apart.is_valid else _together(pieces)


@lru_cache(maxsize=1024)
def _of_net(pieces: tuple[BaseGeometry, ...]) -> BaseGeometry:
    """The pieces of one net together. Most nets stay as they are from edit to edit."""
    return union(pieces)


def _giving_way(
    own: BaseGeometry, run: Sequence[BaseGeometry], lands: Sequence[PlacedPad], metal: BaseGeometry, profile: Profile,
    quick: bool = False,
) -> BaseGeometry:  # fmt: skip
    """The copper of the art, clear of tracks, vias and lands; bare metal stays as it is drawn."""
    if own.is_empty or not run:
        return own
    room = clear_offset(profile.gap_mm, _SURE_MM)
    away = minus(_round(tuple(run), tuple(pad.polygon for pad in lands), room), metal)
    cut = cut_near(own, away)
    return cut if quick or cut is own or cut.is_empty else _without_slivers(cut, away, metal, profile)


@lru_cache(maxsize=8)
def _round(run: tuple[BaseGeometry, ...], lands: tuple[BaseGeometry, ...], room: float) -> BaseGeometry:
    """What lies within so many mm of tracks, vias and lands. An edit of the art leaves it as it was."""
    return union([grow(union_of_many(list(some)), room) for some in (run, lands)])


def _without_slivers(copper: BaseGeometry, away: BaseGeometry, metal: BaseGeometry, profile: Profile) -> BaseGeometry:
    """Copper that was cut, without what is left of it beside the cut that is thinner than the fabricator's tracks. What stays
    on either side of such a neck is a gap apart."""
    half, seen = profile.track_mm / 2, away
    for _ in range(_ROUNDS):
        local = copper
        if shapely.get_num_coordinates(seen) < shapely.get_num_coordinates(copper):
            local = copper.intersection(grow(seen, 4 * profile.track_mm))
        thin = minus(local, grow(grow(local, -half), half + _SURE_MM))
        found = shapely.get_parts(thin)
        found = found[shapely.area(found) > half**2]
        pieces = found[shapely.dwithin(seen, found, _SURE_MM)]
        if not len(pieces):
            break
        lobes = shapely.get_parts(minus(local, union(list(pieces))))
        more = []
        for one in pieces:
            necks = int(np.count_nonzero(shapely.dwithin(lobes, one, _SURE_MM)))
            more.append(grow(one, clear_offset(profile.gap_mm / 2, _SURE_MM) if necks > 1 else _SURE_MM))
        seen = minus(union(more), metal)
        copper = cut_near(copper, seen)
    return copper
