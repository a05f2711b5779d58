"""Pours: copper of a net wherever there is room on a side, with thermal reliefs at its pads; no piece hangs on nothing."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from ..drive.near_nets import steps_over
from ..geometry.flatten import LONGEST_CHORD, clear_offset
from ..geometry.near import added_near, areas_in, pierced
from ..geometry.offset import grow
from ..geometry.overlay import overlay_each
from ..geometry.prepared import prepared
from ..geometry.regions import EMPTY, common, disc, meeting, minus, polygons, region_of, union, union_of_many
from ..parts import PlacedPad, Profile
from ..parts.nets import Net
from ..project import Pour
from .classes import NetClass, clearance_of
from .copper import Via, Wires
from .ground import OFF_PADS_MM, ViaKind
from .places import Places

#: Pours keep off windows by this, mm.
_OFF_WINDOWS_MM = 0.3
#: Copper this much wider than the narrowest track is left of a pour; hatching: lines and the gaps between, in such widths.
_NECK, _HATCH_LINE, _HATCH_GAP = 1.2, 2.5, 4.0
#: A thermal relief: four bridges, as wide as so many of the narrowest track.
_BRIDGE = 2.0
#: Pours keep so much farther off than they have to, mm.
_SURE_MM = 0.004
#: Vias that join both sides stand no denser than this, mm.
_LEAST_STEP_MM = 1.0
#: A via that joins both sides has copper of each under so much of the square round it.
_ON_COPPER = 0.2


def pours(
    wished: Sequence[Pour], places: Places, wires: Wires, nets: Sequence[Net], classes: Mapping[str, NetClass], profile: Profile
) -> tuple[dict[tuple[str, str], BaseGeometry], tuple[Via, ...]]:
    """The region of every pour by side and net, in the frame of the places, and the vias that join both sides of a net. Those
    named first come first where two want one place. A piece that hangs on nothing of its net is left away."""
    of_pin = {pin: net.name for net in nets for pin in net.pins}
    out: dict[tuple[str, str], BaseGeometry] = {}
    stitched: list[Via] = []
    for net in dict.fromkeys(one.net for one in wished if one.net in classes):
        mine: dict[str, Pour] = {one.side: one for one in reversed(wished) if one.net == net}
        rooms: dict[str, BaseGeometry] = {}
        whole: dict[str, list[Polygon]] = {}
        held: dict[str, list[bool]] = {}
        for side, one in mine.items():
            others = [region for (where, _), region in out.items() if where == side]
            rooms[side], filled, anchors = _room_of(one, places, wires, of_pin, classes, others, profile)
            whole[side] = polygons(filled)
            held[side] = [piece.intersects(anchors) for piece in whole[side]]
        step = max((one.vias_mm for one in mine.values()), default=0.0)
        vias = _stitches(net, step, list(rooms.values()), list(whole.values()), places, wires, profile)
        ends = {side: _held_by(vias, pieces) for side, pieces in whole.items()}
        _hold(ends, held)
        for side, pieces in whole.items():
            out[side, net] = region_of([piece for piece, there in zip(pieces, held[side], strict=True) if there])
        stitched += [via for at, via in enumerate(vias) if all(held[side][piece] for side in ends for piece in ends[side][at])]
    return {key: region for key, region in out.items() if not region.is_empty}, tuple(stitched)


def _held_by(vias: Sequence[Via], pieces: Sequence[Polygon]) -> list[list[int]]:
    """The pieces that each via touches."""
    out: list[list[int]] = [[] for _ in vias]
    if vias and pieces:
        piece, one = meeting(np.array(pieces, dtype=object), np.array([via.region for via in vias], dtype=object))
        for via, at in zip(one.tolist(), piece.tolist(), strict=True):
            out[via].append(at)
    return out


def _hold(ends: Mapping[str, Sequence[Sequence[int]]], held: Mapping[str, list[bool]]) -> None:
    """Pieces that a via joins with one that is held are held too, and so on."""
    vias = zip(*ends.values(), strict=True)
    rows = [[(held[side], piece) for side, at in zip(ends, row, strict=True) for piece in at] for row in vias]
    changed = True
    while changed:
        changed = False
        for row in rows:
            flags = {pieces[at] for pieces, at in row}
            if len(flags) > 1:
                changed = True
                for pieces, at in row:
                    pieces[at] = True


def _stitches(
    net: str, step: float, rooms: Sequence[BaseGeometry], whole: Sequence[Sequence[Polygon]], places: Places, wires: Wires,
    profile: Profile,
) -> list[Via]:  # fmt: skip
    """Vias on a grid of that step, where both sides have room for them and copper they lie on; none for a step of 0."""
    if not profile.plated or step <= 0 or len(rooms) < 2:
        return []
    via = ViaKind.of(profile)
    off_pads, apart = via.diameter / 2 + profile.mask_expansion_mm + OFF_PADS_MM, profile.hole_gap_mm + via.drill / 2
    pads = [pad for part in places.parts for pad in part.pads()]
    taken = [grow(union_of_many([pad.polygon for pad in pads if not pad.drill_mm]), off_pads)]
    taken += [disc(pad.x, pad.y, pad.drill_mm / 2 + apart) for pad in pads if pad.drill_mm]
    taken += [disc(x, y, across / 2 + apart) for x, y, across in places.holes]
    taken += [disc(one.x, one.y, one.drill / 2 + apart) for one in wires.vias]
    room = minus(grow(common(*rooms), -via.diameter / 2 - _SURE_MM), *taken)
    if room.is_empty:
        return []
    left, bottom, right, top = room.bounds
    step = max(step, _LEAST_STEP_MM)
    x, y = (axis.ravel() for axis in np.meshgrid(steps_over(left, right, step), steps_over(bottom, top, step)))
    inside = shapely.contains_xy(prepared(room), x, y)
    spots = zip(x[inside].tolist(), y[inside].tolist(), strict=True)
    made = np.array([Via(net, *spot, via.drill, via.diameter) for spot in spots], dtype=object)
    for pieces in whole:
        regions = np.array([one.region for one in made], dtype=object)
        made = made[areas_in(region_of(pieces), regions) > _ON_COPPER * via.diameter**2]
    return list(made)


def _room_of(
    wished: Pour, places: Places, wires: Wires, of_pin: Mapping[tuple[str, str], str], classes: Mapping[str, NetClass],
    others: Sequence[BaseGeometry], profile: Profile,
) -> tuple[BaseGeometry, BaseGeometry, BaseGeometry]:  # fmt: skip
    """All that a pour may fill on its side, what it fills of that, and what of its net lies there."""
    side, net = wished.side, wished.net
    gap = clear_offset(classes[net].clearance, _SURE_MM, LONGEST_CHORD)
    pads = [pad for part in places.parts for pad in part.pads() if pad.side == side]
    own = [pad for pad in pads if of_pin.get((pad.ref, pad.pin)) == net]
    run: list[tuple[str, BaseGeometry]] = [(one.net, one.region) for one in wires.tracks if one.side == side]
    run += [(one.net, one.region) for one in wires.tears if one.side == side]
    run += [(one.net, one.region) for one in wires.vias if one.on(side)]
    foreign = [one for one in run if one[0] != net]
    foreign += [(name, pad.polygon) for pad in pads if (name := of_pin.get((pad.ref, pad.pin), "")) != net]
    apart: dict[float, list[BaseGeometry]] = {}
    for name, region in foreign:
        apart.setdefault(max(gap, clear_offset(clearance_of(name, classes, 0.0), _SURE_MM, LONGEST_CHORD)), []).append(region)
    away = [grow(union_of_many(some), by) for by, some in apart.items()]
    kept_off = [places.art.hard[side], *others] + ([] if wished.art == "join" else [places.art.soft[side]])
    away += [grow(union(kept_off), gap)]
    away += [disc(x, y, across / 2 + max(gap, profile.hole_gap_mm)) for x, y, across in places.holes]
    away += [grow(places.art.windows, _OFF_WINDOWS_MM)]
    round_own = grow(union_of_many([pad.polygon for pad in own]), gap)
    neck = _NECK * profile.track_mm / 2
    room = filled = _without_necks(minus(places.art.copper, *away, round_own), neck, profile.gap_mm)
    if wished.style == "hatched":
        filled = _hatched(room, profile)
        filled = _without_necks(filled, neck, profile.gap_mm)  # where lines and rim meet, a sliver may be left
    mine = [region for name, region in run if name == net]
    bridges = [_bridges(pad, filled, away, profile, gap) for pad in own]
    anchors = union([union_of_many(mine), *(pad.polygon for pad in own)])
    return room, added_near(filled, union_of_many(bridges)), anchors


def _without_necks(region: BaseGeometry, half_mm: float, gap_mm: float) -> BaseGeometry:
    """What a round pen of that radius can draw of a region, and no hair beyond it. Pieces between which it finds no way keep
    apart: where their round corners would touch, the smaller one ends before that."""
    out: list[Polygon] = []
    inward = -clear_offset(half_mm, chord=LONGEST_CHORD)
    for core in sorted(polygons(grow(region, inward)), key=lambda one: -one.area):
        piece = prepared(grow(core, half_mm))  # what was prepared answers at once
        near = np.array(out, dtype=object)[shapely.dwithin(piece, out, gap_mm)].tolist() if out else []
        if near:
            piece = grow(grow(minus(piece, grow(union(near), gap_mm)), inward), half_mm)
        out += polygons(piece)
    return region_of(out)


def _bridges(
    pad: PlacedPad, room: BaseGeometry, away: Sequence[BaseGeometry], profile: Profile, gap: float
) -> BaseGeometry:  # fmt: skip
    """Four bridges from a pad over the gap round it, where they reach the pour and enter nothing that it keeps away from."""
    wide = min(_BRIDGE * profile.track_mm, pad.width, pad.height)
    out = []
    for turn, half in ((0, pad.width), (90, pad.height), (180, pad.width), (270, pad.height)):
        a = math.radians(pad.angle_deg + turn)
        far = half / 2 + gap + wide
        end = (pad.x + far * math.cos(a), pad.y + far * math.sin(a))
        line = shapely.buffer(LineString([(pad.x, pad.y), end]), wide / 2, cap_style="flat")
        tip = disc(*end, wide / 2)
        if room.contains(tip) and not shapely.intersects(away, line.difference(pad.polygon)).any():
            out.append(line)
    return union(out) if out else EMPTY


def _hatched(room: BaseGeometry, profile: Profile) -> BaseGeometry:
    """A region as lines aslant, both ways, with a rim: square holes between the lines, cut where the rim begins."""
    inner = np.array(polygons(grow(room, -_HATCH_LINE * profile.track_mm)), dtype=object)
    if not len(inner):
        return room
    squares = _squares(room, profile)
    within, square = meeting(inner, squares)
    whole = shapely.contains_properly(inner[within], squares[square])
    cut = overlay_each(shapely.intersection, inner[within[~whole]], squares[square[~whole]])
    holes = np.array([*squares[square[whole]], *(part for one in cut for part in polygons(one))], dtype=object)
    return region_of(pierced(np.array(polygons(room), dtype=object), holes))


def _squares(room: BaseGeometry, profile: Profile) -> NDArray[np.object_]:
    """The holes of a hatching: squares on their corners all over a region."""
    gap, step = _HATCH_GAP * profile.track_mm, (_HATCH_LINE + _HATCH_GAP) * profile.track_mm
    left, bottom, right, top = (round(value / step) * step for value in room.bounds)
    reach = math.ceil((right - left + top - bottom) / step) + 2
    along, across = (grid.ravel() * step for grid in np.meshgrid(np.arange(-reach, reach + 1), np.arange(-reach, reach + 1)))
    x = (left + right) / 2 + (along - across) / math.sqrt(2)
    y = (bottom + top) / 2 + (along + across) / math.sqrt(2)
    inside = (x > left - step) & (x < right + step) & (y > bottom - step) & (y < top + step)
    half = gap / math.sqrt(2)
    corners = np.array([(half, 0.0), (0.0, half), (-half, 0.0), (0.0, -half)])
    return np.asarray(shapely.polygons(np.column_stack([x[inside], y[inside]])[:, None, :] + corners))
