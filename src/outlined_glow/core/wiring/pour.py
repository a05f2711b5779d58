"""Pours: copper of a net wherever there is room on a side, with thermal reliefs at its pads; no piece hangs on nothing."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon, box
from shapely.geometry.base import BaseGeometry

from ..geometry.regions import EMPTY, common, disc, grow, minus, polygons, region_of, union, union_of_many
from ..parts import PlacedPad, Profile
from ..parts.nets import Net
from ..project import Pour
from .classes import NetClass, clearance_of
from .copper import Wires
from .places import Places

#: Pours keep off windows by this, mm.
_OFF_WINDOWS_MM = 0.3
#: Copper this much wider than the narrowest track is left of a pour; hatching: lines and the gaps between, in such widths.
_NECK, _HATCH_LINE, _HATCH_GAP = 1.2, 2.5, 4.0
#: A thermal relief: four bridges, as wide as so many of the narrowest track.
_BRIDGE = 2.0
#: An arc is drawn a little inside the circle it stands for, mm.
_SURE_MM = 0.004


def pours(
    wished: Sequence[Pour], places: Places, wires: Wires, nets: Sequence[Net], classes: Mapping[str, NetClass],
    profile: Profile,
) -> dict[tuple[str, str], BaseGeometry]:  # fmt: skip
    """The region of every pour by side and net, in the frame of the places. Those named first come first where two want one
    place."""
    of_pin = {pin: net.name for net in nets for pin in net.pins}
    out: dict[tuple[str, str], BaseGeometry] = {}
    for one in wished:
        if one.net in classes and (one.side, one.net) not in out:
            others = [region for (side, _), region in out.items() if side == one.side]
            out[one.side, one.net] = _pour(one, places, wires, of_pin, classes, others, profile)
    return {key: region for key, region in out.items() if not region.is_empty}


def _pour(
    wished: Pour, places: Places, wires: Wires, of_pin: Mapping[tuple[str, str], str], classes: Mapping[str, NetClass],
    others: Sequence[BaseGeometry], profile: Profile,
) -> BaseGeometry:  # fmt: skip
    side, net = wished.side, wished.net
    gap = classes[net].clearance + _SURE_MM
    pads = [pad for part in places.parts for pad in part.pads() if pad.side == side]
    own = [pad for pad in pads if of_pin.get((pad.ref, pad.pin)) == net]
    apart: dict[float, list[BaseGeometry]] = {}
    for pad in pads:
        name = of_pin.get((pad.ref, pad.pin), "")
        apart.setdefault(max(gap, clearance_of(name, classes, 0.0) + _SURE_MM), []).append(pad.polygon)
    for track in wires.tracks:
        if track.side == side and track.net != net:
            apart.setdefault(max(gap, clearance_of(track.net, classes, 0.0) + _SURE_MM), []).append(track.region)
    for via in wires.vias:
        if via.net != net:
            apart.setdefault(max(gap, clearance_of(via.net, classes, 0.0) + _SURE_MM), []).append(via.region)
    away = [grow(union_of_many(some), by) for by, some in apart.items()]
    away += [grow(union([places.art.hard[side], places.art.soft[side], *others]), gap)]
    away += [disc(x, y, across / 2 + max(gap, profile.hole_gap_mm)) for x, y, across in places.holes]
    away += [grow(places.art.windows, _OFF_WINDOWS_MM)]
    neck = _NECK * profile.track_mm / 2
    room = grow(grow(minus(places.art.copper, *away), -neck), neck)
    if wished.style == "hatched":
        room = common(room, union([_hatching(room, profile), _rim(room, profile)]))
    tracks = [track.region for track in wires.tracks if track.side == side and track.net == net]
    tracks += [via.region for via in wires.vias if via.net == net]
    held = union_of_many(tracks)
    bridges = [_bridges(pad, room, profile, gap) for pad in own]
    whole = union([room, *(one for one in bridges if not one.is_empty)])
    anchors = union([held, *(pad.polygon for pad in own)])
    return region_of([piece for piece in polygons(whole) if piece.intersects(anchors)])


def _bridges(pad: PlacedPad, room: BaseGeometry, profile: Profile, gap: float) -> BaseGeometry:
    """Four bridges from a pad over the gap round it, where they reach the pour."""
    wide = min(_BRIDGE * profile.track_mm, pad.width, pad.height)
    out = []
    for turn, half in ((0, pad.width), (90, pad.height), (180, pad.width), (270, pad.height)):
        a = math.radians(pad.angle_deg + turn)
        far = half / 2 + gap + wide
        end = (pad.x + far * math.cos(a), pad.y + far * math.sin(a))
        line = shapely.buffer(LineString([(pad.x, pad.y), end]), wide / 2, cap_style="flat")
        tip = disc(*end, wide / 2)
        if room.contains(tip):
            out.append(line)
    return union(out) if out else EMPTY


def _rim(room: BaseGeometry, profile: Profile) -> BaseGeometry:
    return minus(room, grow(room, -_HATCH_LINE * profile.track_mm))


def _hatching(room: BaseGeometry, profile: Profile) -> BaseGeometry:
    """Lines aslant over a region, both ways: a plate with square holes between them."""
    if room.is_empty:
        return EMPTY
    gap, step = _HATCH_GAP * profile.track_mm, (_HATCH_LINE + _HATCH_GAP) * profile.track_mm
    left, bottom, right, top = (round(value / step) * step for value in room.bounds)
    reach = math.ceil((right - left + top - bottom) / step) + 2
    along, across = (grid.ravel() * step for grid in np.meshgrid(np.arange(-reach, reach + 1), np.arange(-reach, reach + 1)))
    x = (left + right) / 2 + (along - across) / math.sqrt(2)
    y = (bottom + top) / 2 + (along + across) / math.sqrt(2)
    inside = (x > left - step) & (x < right + step) & (y > bottom - step) & (y < top + step)
    half = gap / math.sqrt(2)
    corners = np.array([(half, 0.0), (0.0, half), (-half, 0.0), (0.0, -half)])
    holes = np.column_stack([x[inside], y[inside]])[:, None, :] + corners
    return Polygon(box(left - 3 * step, bottom - 3 * step, right + 3 * step, top + 3 * step).exterior, list(holes))
