"""What is printed beside a part to show which end is which: a bar beside its cathode, or a dot beside pin 1."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.flatten import LONGEST_CHORD, clear_offset
from ..geometry.near import Around
from ..geometry.offset import grow
from ..geometry.prepared import prepared
from ..geometry.regions import box_at, common, disc, minus, polygons
from ..parts import PlacedPart, Profile

_BAR_MM, _DOT_MM, _AIR_MM = 0.2, 0.5, 0.02
#: A bar beside the cathode's half of a part, in lengths of the part: where its middle is, and how long it is.
_FLANK, _ALONG = -5 / 16, 3 / 8


def off_openings(openings: BaseGeometry, profile: Profile) -> BaseGeometry:
    """Mask openings and what ink keeps off round them."""
    return grow(openings, clear_offset(profile.legend_gap_mm, chord=LONGEST_CHORD))


def polarity_marks(
    parts: Iterable[PlacedPart], area: BaseGeometry, openings: Sequence[BaseGeometry], profile: Profile
) -> list[BaseGeometry]:
    """The marks of parts as they are printed: within the `area` that takes ink, clear of openings, whole where they have room
    beyond the end of the part or on either side of it; else what is left beyond its end, without slivers."""
    some = [part for part in parts if _marked(part)]
    if not some:
        return []
    ends = [_mark(part, profile, 0) for part in some]
    whole = _has_room(ends, area, openings, profile).tolist()
    out: list[BaseGeometry] = [end for end, good in zip(ends, whole, strict=True) if good]
    crowded = [(part, end) for part, end, good in zip(some, ends, whole, strict=True) if not good]
    if crowded:
        beside = [_mark(part, profile, side) for part, _ in crowded for side in (1, -1)]
        room = _has_room(beside, area, openings, profile).tolist()
        ground, holes = Around(area), _Openings(openings)
        for at, (_, end) in enumerate(crowded):
            found = [beside[one] for one in (2 * at, 2 * at + 1) if room[one]]
            out += found[:1] or _left_of(end, ground, holes, profile)
    return out


def _marked(part: PlacedPart) -> bool:
    """Whether a part has such a mark at all."""
    return part.part.legend in ("bar", "dot")


def _mark(part: PlacedPart, profile: Profile, side: int) -> Polygon:
    """A bar or a dot: beyond the part's end (0), or on one side of that end or the other (1, -1)."""
    return _bar(part, profile, side) if part.part.legend == "bar" else _dot(part, profile, side)


def _bar(part: PlacedPart, profile: Profile, side: int) -> Polygon:
    length, width = part.part.courtyard
    thick = max(_BAR_MM, profile.legend_line_mm)
    gap = profile.mask_expansion_mm + profile.legend_gap_mm + thick / 2 + _AIR_MM
    if side:
        return box_at(*part.at(_FLANK * length, side * (width / 2 + gap)), _ALONG * length, thick, part.angle_deg)
    a, reach = math.radians(part.angle_deg), length / 2 + gap
    return box_at(part.x - reach * math.cos(a), part.y - reach * math.sin(a), thick, width, part.angle_deg)


def _dot(part: PlacedPart, profile: Profile, side: int) -> Polygon:
    length, width = part.part.courtyard
    radius = max(_DOT_MM, 3 * profile.legend_line_mm) / 2
    gap = profile.mask_expansion_mm + profile.legend_gap_mm + radius + _AIR_MM
    first = next(pad for pad in part.part.pads if pad.pin == part.part.pins[0].number)
    if side:
        nearer = math.copysign(1.0, first.y_mm) * side
        return disc(*part.at(first.x_mm, nearer * (width / 2 + gap)), radius)
    return disc(*part.at(-length / 2 - gap, first.y_mm), radius)


def _has_room(
    marks: Sequence[Polygon], area: BaseGeometry, openings: Sequence[BaseGeometry], profile: Profile
) -> NDArray[np.bool_]:
    """Which marks lie within the area, the legend gap away from every opening. By distance: nothing is grown for those."""
    rows, near = np.array(marks, object), np.zeros(len(marks), bool)
    every: NDArray[np.object_] = np.array([one for one in openings if not one.is_empty], dtype=object)
    many = shapely.get_num_geometries(every) > 1
    for one in every[many].tolist():
        near |= shapely.dwithin(prepared(one), rows, profile.legend_gap_mm)
    near[shapely.STRtree(every[~many]).query(rows, predicate="dwithin", distance=profile.legend_gap_mm)[0]] = True
    return np.asarray(shapely.covers(prepared(area), rows) & ~near)


class _Openings:
    """Openings of which it is asked again and again what of them is about a place."""

    def __init__(self, every: Sequence[BaseGeometry]) -> None:
        self._every = [one for one in every if not one.is_empty]
        self._tree = shapely.STRtree([shapely.box(*one.bounds) for one in self._every])
        self._around: dict[int, Around] = {}

    def near(self, place: BaseGeometry) -> list[BaseGeometry]:
        """What of each is about a place that comes to lie in it."""
        out = []
        for at in sorted(self._tree.query(place).tolist()):
            if at not in self._around:
                self._around[at] = Around(self._every[at])
            here = self._around[at].within(place.bounds)
            out += [here] if shapely.intersects(here, place) else []
        return out


def _left_of(mark: Polygon, area: Around, openings: _Openings, profile: Profile) -> list[BaseGeometry]:
    """What is printed of a mark that has no room: no sliver that is narrower than a line."""
    near = grow(mark, 2 * profile.legend_gap_mm)
    off = [off_openings(common(one, near), profile) for one in openings.near(near)]
    left = polygons(minus(common(mark, area.within(mark.bounds)), *off))
    return [piece for piece in left if not grow(piece, -0.49 * profile.legend_line_mm).is_empty]
