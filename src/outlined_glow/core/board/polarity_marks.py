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
from ..geometry.offset import grow
from ..geometry.regions import box_at, common, common_of_many, disc, minus, polygons, union, union_of_many
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
    ways = [_bars(part, profile) if part.part.legend == "bar" else _dots(part, profile) for part in parts if marked(part)]
    if not ways:
        return []
    out: list[BaseGeometry] = []
    whole = _has_room([way[0] for way in ways], area, openings, profile)
    out += [way[0] for way, good in zip(ways, whole.tolist(), strict=True) if good]
    crowded = [way for way, good in zip(ways, whole.tolist(), strict=True) if not good]
    if crowded:
        beside = _has_room([one for way in crowded for one in way[1:]], area, openings, profile).reshape(len(crowded), -1)
        for way, good in zip(crowded, beside.tolist(), strict=True):
            found = next((one for one, room in zip(way[1:], good, strict=True) if room), None)
            out += [found] if found is not None else _left_of(way[0], area, openings, profile)
    return out


def marked(part: PlacedPart) -> bool:
    """Whether a part has such a mark at all."""
    return part.part.legend in ("bar", "dot")


def _bars(part: PlacedPart, profile: Profile) -> list[Polygon]:
    """Beyond the cathode's end; else on either side of its half."""
    length, width = part.part.courtyard
    thick = max(_BAR_MM, profile.legend_line_mm)
    gap = profile.mask_expansion_mm + profile.legend_gap_mm + thick / 2 + _AIR_MM
    a = math.radians(part.angle_deg)
    reach = length / 2 + gap
    end = box_at(part.x - reach * math.cos(a), part.y - reach * math.sin(a), thick, width, part.angle_deg)
    sides = [part.at(_FLANK * length, side * (width / 2 + gap)) for side in (1, -1)]
    return [end, *(box_at(*at, _ALONG * length, thick, part.angle_deg) for at in sides)]


def _dots(part: PlacedPart, profile: Profile) -> list[Polygon]:
    """Beyond the end that pin 1 is at; else on either side of it."""
    radius = max(_DOT_MM, 3 * profile.legend_line_mm) / 2
    first = next(pad for pad in part.part.pads if pad.pin == part.part.pins[0].number)
    length, width = part.part.courtyard
    gap = profile.mask_expansion_mm + profile.legend_gap_mm + radius + _AIR_MM
    places = [(-length / 2 - gap, first.y_mm), *((first.x_mm, side * (width / 2 + gap)) for side in (1, -1))]
    nearest = sorted(places[1:], key=lambda place: abs(place[1] - first.y_mm))
    return [disc(*part.at(*place), radius) for place in (places[0], *nearest)]


def _near(marks: Sequence[Polygon], openings: Sequence[BaseGeometry], profile: Profile) -> BaseGeometry:
    """Openings near marks, and what ink keeps off round them."""
    near = grow(union_of_many(marks), 2 * profile.legend_gap_mm)
    return union([off_openings(common_of_many(one, near), profile) for one in openings if not one.is_empty])


def _has_room(
    marks: Sequence[Polygon], area: BaseGeometry, openings: Sequence[BaseGeometry], profile: Profile
) -> NDArray[np.bool_]:
    off, rows = _near(marks, openings, profile), np.array(marks, object)
    shapely.prepare([area, off])
    return np.asarray(shapely.covers(area, rows) & ~shapely.intersects(off, rows))


def _left_of(mark: Polygon, area: BaseGeometry, openings: Sequence[BaseGeometry], profile: Profile) -> list[BaseGeometry]:
    """What is printed of a mark that has no room: no sliver that is narrower than a line."""
    left = polygons(minus(common(mark, area), _near([mark], openings, profile)))
    return [piece for piece in left if not grow(piece, -0.49 * profile.legend_line_mm).is_empty]
