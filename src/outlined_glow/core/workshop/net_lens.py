"""A net seen through the board: its copper on both sides, its pins, what it still lacks; and what lies at a place."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Point
from shapely.geometry.base import BaseGeometry

from ..board.labels import LabelSpot
from ..parts import PlacedPart
from ..wiring.links import shortest_tree
from .net_facts import NetRow, front_track_mm
from .work import Work

Rings = list[NDArray[np.float64]]
#: From a place to a place.
Way = tuple[tuple[float, float], tuple[float, float]]
#: A click this near to copper means it, mm.
_NEAR_MM = 0.6


@dataclass(frozen=True)
class Lens:
    """The copper of a net as rings (n, 2) by side, in the picture frame, and the lines between pins that are not joined yet."""

    net: str
    copper: dict[str, Rings] = field(default_factory=dict)
    lacking: tuple[Way, ...] = ()


def lens(work: Work, net: str) -> Lens:
    """All that a net reaches."""
    dx, dy = work.board.origin
    of_pin = {pin: one.name for one in work.board.nets for pin in one.pins}
    copper: dict[str, Rings] = {}
    for side in ("front", "back"):
        regions = [one.region for one in work.board.copper if one.side == side and one.net == net and one.owner == "pour"]
        regions += [one.region for one in work.board.wires.tracks if one.side == side and one.net == net]
        regions += [one.region for one in work.board.wires.vias if one.net == net and one.on(side)]
        regions += [pad.polygon for pad in work.board.pads if pad.side == side and of_pin.get((pad.ref, pad.pin)) == net]
        copper[side] = [ring + np.array([dx, dy]) for ring in rings(regions)]
    return Lens(net, copper, lacking(work, net))


def lacking(work: Work, net: str | None = None) -> tuple[Way, ...]:
    """The lines between pins of a net, or of all, that are to be joined yet, in the picture frame: the shortest where nothing
    is drawn, else those for which no way was found."""
    dx, dy = work.board.origin
    out: list[Way] = []
    if work.board.wires:
        lost = [one for one in work.board.wires.unjoined if net in (None, one.net)]
        out += [((a[0] + dx, a[1] + dy), (b[0] + dx, b[1] + dy)) for a, b in (one.places for one in lost)]
        return tuple(out)
    places = {(pad.ref, pad.pin): (pad.x + dx, pad.y + dy) for pad in work.board.pads}
    for one in work.board.nets:
        if net in (None, one.name):
            out += shortest_tree([places[pin] for pin in one.pins if pin in places])
    return tuple(out)


def rings(regions: Iterable[BaseGeometry]) -> Rings:
    """The edges of regions (n, 2)."""
    return [shapely.get_coordinates(ring) for ring in shapely.get_rings(shapely.get_parts(list(regions)))]


def part_at(work: Work, x_mm: float, y_mm: float, side: str) -> PlacedPart | None:
    """The part of the drive that lies at a place of the picture frame, on a side; the smallest of several."""
    spot = Point(x_mm - work.board.origin[0], y_mm - work.board.origin[1])
    there = [
        one for one in work.board.parts if one.side == side and not one.part.shines and one.court().distance(spot) < _NEAR_MM
    ]
    return min(there, key=lambda one: (one.court().distance(spot) > 0, one.court().area), default=None)


class _Finder:
    """The copper of a board's nets on a side, to be asked for a place."""

    def __init__(self, work: Work, side: str) -> None:
        self.work = work
        of_pin = {pin: one.name for one in work.board.nets for pin in one.pins}
        rows: list[tuple[str, str, BaseGeometry]] = []
        for pad in work.board.pads:
            if pad.side == side and (pad.ref, pad.pin) in of_pin:
                rows.append((of_pin[pad.ref, pad.pin], f"pin {pad.ref}.{pad.pin}", pad.polygon))
        for track in work.board.wires.tracks:
            if track.side == side:
                rows.append((track.net, f"track {track.width:g} mm", track.region))
        rows += [(via.net, "via", via.region) for via in work.board.wires.vias if via.on(side)]
        for one in work.board.copper:
            if one.side == side and one.owner == "pour":
                rows.append((one.net, "poured", one.region))
        self.rows = rows
        self._tree = shapely.STRtree([region for _, _, region in rows])

    def at(self, x: float, y: float) -> tuple[str, str] | None:
        """The net at a place of the board frame, or nearest to it, and what of it lies there."""
        if not self.rows:
            return None
        found = self._tree.query_nearest(Point(x, y), max_distance=_NEAR_MM)
        return self.rows[int(found.min())][:2] if len(found) else None


_FINDERS: dict[str, _Finder] = {}


def _finder(work: Work, side: str) -> _Finder:
    known = _FINDERS.get(side)
    if known is None or known.work is not work:
        known = _FINDERS[side] = _Finder(work, side)
    return known


def net_at(work: Work, x_mm: float, y_mm: float, side: str) -> str | None:
    """The net whose copper lies at a place of the picture frame, or nearest to it."""
    ox, oy = work.board.origin
    found = _finder(work, side).at(x_mm - ox, y_mm - oy)
    return None if found is None else found[0]


def net_words(work: Work, x_mm: float, y_mm: float, side: str) -> str:
    """What lies at a place of the board frame, for those who point at it: pin or track, its net, and what that carries."""
    found = _finder(work, side).at(x_mm, y_mm)
    if found is None:
        return ""
    made = work.values["net classes"].get(found[0])
    amps = f", {made.current_a * 1000:.3g} mA" if made is not None and made.current_a > 0 else ""
    return f"{found[0]}: {found[1]}{amps}"


def placed(work: Work, ref: str) -> PlacedPart | None:
    """A part of the drive where it lies in the picture frame."""
    one = next((part for part in work.board.parts if part.ref == ref and not part.part.shines), None)
    return None if one is None else one.moved(*work.board.origin)


def label_of(work: Work, ref: str) -> LabelSpot | None:
    """Where the label of a part stands on the back, in the picture frame; None where none is printed."""
    spots: Mapping[str, LabelSpot] = work.values["label spots"]
    return spots.get(ref)


def twins(work: Work, ref: str) -> tuple[str, ...]:
    """The parts of the drive that are like one, and may change places with it."""
    parts = [one for one in work.board.parts if not one.part.shines]
    mine = next((one for one in parts if one.ref == ref), None)
    return tuple(one.ref for one in parts if mine is not None and one.ref != ref and one.part == mine.part)


def as_placed(part: PlacedPart, like: PlacedPart) -> dict[str, Any]:
    """The values of the edit that places a part by hand where another one, of the picture frame, lies."""
    angle = (like.angle_deg + 180) % 360 - 180
    return {"part": part.ref, "x_mm": round(like.x, 4), "y_mm": round(like.y, 4), "angle_deg": angle, "side": like.side}


def pulls(work: Work, ref: str, x_mm: float, y_mm: float) -> tuple[Way, ...]:
    """The lines from the pins of a part, were it at a place of the picture frame, to the nearest pins of their nets."""
    part = placed(work, ref)
    if part is None:
        return ()
    dx, dy = work.board.origin
    of_pin = {pin: one for one in work.board.nets for pin in one.pins}
    places: dict[tuple[str, str], list[tuple[float, float]]] = {}
    for pad in work.board.pads:
        places.setdefault((pad.ref, pad.pin), []).append((pad.x + dx, pad.y + dy))
    out = []
    for pad in {pad.pin: pad for pad in part.pads()}.values():
        net = of_pin.get((ref, pad.pin))
        others = [spot for pin in (net.pins if net is not None else ()) if pin[0] != ref for spot in places.get(pin, ())]
        here = (pad.x + x_mm - part.x, pad.y + y_mm - part.y)
        if others:
            out.append((here, min(others, key=lambda spot, here=here: math.dist(spot, here))))  # type: ignore[misc]
    return tuple(out)


def row_words(row: NetRow) -> tuple[str, str, str]:
    """A net in the list: what it carries, how wide its tracks are, how long."""
    length = f"{row.length_mm:.0f}" if row.length_mm else "–"
    amps = f"{row.made.current_a * 1000:.3g}" if row.made.current_a > 0 else "–"
    return amps, f"{row.made.width:g}", length


def row_tip(row: NetRow) -> str:
    """All that is known of a net."""
    vias = f", {row.vias} via{'s' if row.vias != 1 else ''}" if row.length_mm else ""
    state = {"joined": "joined", "open": "not joined", "unwired": "no tracks yet"}[row.state]
    return f"{row.name}: {state}. {len(row.pins)} pins, {row.length_mm:.1f} mm of track{vias}."


def totals(work: Work, rows: tuple[NetRow, ...]) -> dict[str, str]:
    """The wiring in a few figures."""
    several = [one for one in rows if len(one.pins) > 1]
    joined = sum(one.state == "joined" for one in several)
    return {
        "joined": f"{joined} of {len(several)}",
        "length": f"{sum(one.length_mm for one in rows):.0f} mm" if work.board.wires else "–",
        "vias": str(len(work.board.wires.vias)) if work.board.wires and not work.board.wires.links else "–",
        "links": str(len(work.board.wires.links)) if work.board.wires.links else "",
        "front": f"{front_track_mm(work):.1f} mm" if work.board.wires else "–",
    }
