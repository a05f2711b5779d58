"""Holes, slots, cuts and pads that are fixed to a board: where each stands, what it takes away and what it adds."""

from __future__ import annotations

import json
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from functools import cache
from importlib import resources
from typing import Any

from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.contours import Contours, direction_deg
from ..geometry.regions import EMPTY, box_at, disc, union
from ..project import Feature


@dataclass(frozen=True)
class RoundHole:
    """A drilled hole, mm: what it is for (a kind of feature, or the part whose it is), and the net of its barrel."""

    x: float
    y: float
    diameter: float
    plated: bool = False
    purpose: str = "hole"
    net: str = ""


@dataclass(frozen=True)
class Spot:
    """Where one of a feature stands: the number of the feature, its kind, place, angle and sizes; whether thread that is
    sewn through it conducts, and whether a rule set it there."""

    number: int
    kind: str
    x: float
    y: float
    angle_deg: float
    size: float
    length: float
    conducts: bool = False
    by_rule: bool = False
    #: Across the head of a screw, on both sides; 0 for what is no screw.
    head: float = 0.0


@dataclass(frozen=True)
class Land:
    """The metal of a feature on one side."""

    spot: Spot
    side: str
    region: Polygon


@dataclass(frozen=True)
class Fixed:
    """What all features do together: cuts, holes, metal by side, and ground that parts keep off."""

    spots: tuple[Spot, ...] = ()
    #: Cut out by the cutter, which leaves its radius in their corners; slots, whose ends are round as they are.
    cuts: BaseGeometry = EMPTY
    slots: BaseGeometry = EMPTY
    holes: tuple[RoundHole, ...] = ()
    lands: dict[str, BaseGeometry] = field(default_factory=lambda: {"front": EMPTY, "back": EMPTY})
    pads: tuple[Land, ...] = ()
    reserved: BaseGeometry = EMPTY


@cache
def fixings() -> dict[str, Any]:
    """The table of usual sizes (data/fixings.json)."""
    return json.loads(resources.files("outlined_glow.data").joinpath("fixings.json").read_text("utf-8"))  # type: ignore[no-any-return]


def sizes_of(one: Feature) -> tuple[float, float]:
    """Size and length of a feature, mm: as told, or as usual."""
    usual = fixings()["kinds"][one.kind]
    size = fixings()["screws"][one.screw]["hole_mm"] if one.kind == "screw" else usual["size_mm"]
    return one.size_mm or size, one.length_mm or usual.get("length_mm", one.size_mm or size)


def fix(features: Sequence[Feature], board: Polygon) -> Fixed:
    """Every feature on a board whose outer edge is given."""
    spots = tuple(spot for number, one in enumerate(features, 1) for spot in _spots(number, one, board))
    if not spots:
        return Fixed()
    holes: list[RoundHole] = []
    cuts: list[BaseGeometry] = []
    slots: list[BaseGeometry] = []
    reserved: list[BaseGeometry] = []
    pads: list[Land] = []
    for spot in spots:
        plate = box_at(spot.x, spot.y, spot.length, spot.size, spot.angle_deg)
        if spot.kind in ("hole", "keyring", "screw", "sew"):
            holes.append(RoundHole(spot.x, spot.y, spot.size, spot.conducts, spot.kind))
        if spot.kind == "screw":
            reserved.append(disc(spot.x, spot.y, spot.head / 2))
        elif spot.conducts:
            land = disc(spot.x, spot.y, spot.size / 2 + fixings()["sew_land_mm"])
            pads += [Land(spot, "front", land), Land(spot, "back", land)]
        elif spot.kind == "slot":
            slots.append(_stadium(spot))
        elif spot.kind in ("notch", "opening"):
            cuts.append(plate)
        elif spot.kind == "pin-pad":
            pads.append(Land(spot, "back", plate))
        elif spot.kind == "magnet-pad":
            pads.append(Land(spot, "back", disc(spot.x, spot.y, spot.size / 2)))
        elif spot.kind == "edge-pad":
            pads += [Land(spot, "front", plate), Land(spot, "back", plate)]
    whole = {side: union([pad.region for pad in pads if pad.side == side]) for side in ("front", "back")}
    return Fixed(spots, union(cuts), union(slots), tuple(holes), whole, tuple(pads), union([*reserved, whole["back"]]))


def _stadium(spot: Spot) -> BaseGeometry:
    a = math.radians(spot.angle_deg)
    half = max(0.0, spot.length - spot.size) / 2
    dx, dy = half * math.cos(a), half * math.sin(a)
    line = LineString([(spot.x - dx, spot.y - dy), (spot.x + dx, spot.y + dy)])
    return line.buffer(spot.size / 2, quad_segs=24) if half else disc(spot.x, spot.y, spot.size / 2)


def _spots(number: int, one: Feature, board: Polygon) -> Iterator[Spot]:
    size, length = sizes_of(one)
    conducts = one.kind == "sew" and one.thread == "conductive"
    head = fixings()["screws"][one.screw]["head_mm"] if one.kind == "screw" else 0.0
    if not one.along:
        yield Spot(number, one.kind, one.x_mm, one.y_mm, one.angle_deg, size, length, conducts, head=head)
        return
    line = Contours(Polygon(board.exterior), (board.bounds[0] + board.bounds[2]) / 2).line(one.inset_mm)
    if line is None:
        return
    for place in range(one.count):
        at = (one.start + place / one.count) % 1.0 * line.length
        here = line.interpolate(at)
        angle = direction_deg(line, at, 0.05) + one.angle_deg
        yield Spot(number, one.kind, here.x, here.y, angle, size, length, conducts, True, head)
