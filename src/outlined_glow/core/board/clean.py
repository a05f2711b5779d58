"""Clean up: the art of a side brought to the fabricator's rules, every layer at once, changing as little as that takes.

Metal comes first, for it decides mask and copper; then copper, then ink, which gives way to both. What is too thin is made
thicker, or given up where less would change by that; what is too close is joined, or moved apart. Growing one thing
may bring it near another: the steps are gone through until nothing changes. Copper that lies under ink is kept apart from
its look, so that ink can grow without taking copper away.
"""

from __future__ import annotations

import hashlib
import io
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..appearances import APPEARANCES
from ..artwork.mends import thickened
from ..geometry.narrow.gaps import gap_pieces
from ..geometry.narrow.thin import thin_pieces
from ..geometry.offset import grow, grow_each
from ..geometry.regions import EMPTY, added, clean, common, minus, parted, polygons, region_of, union, union_of_many
from ..geometry.rounded import rounded
from ..geometry.valid import joined
from ..geometry.zone import Zone, beside
from ..parts import Profile
from ..project.storage import UNREADABLE_ZIP
from ..watch import ALONE, Watch

Regions = Mapping[str, BaseGeometry]
#: Raised when what older versions kept would be no clean-up any more: until then what opens is the board that was saved. And
#: what a kept clean-up may unpack to.
_FORM, _MOST_BYTES = 1, 200_000_000
_ROUNDS = 6
#: What is mended is mended a little more, so that the arithmetic of offsets does not bring it back, mm.
_SPARE = 0.012
#: Places are rounded to a hundredth of a micrometre, which a file keeps in half the room.
_DIGITS = 5
#: What is laid on for a piece is enough from this share of its area on.
_LITTLE = 0.02


@dataclass(frozen=True, eq=False)
class Cleaned:
    """The art of a side after clean-up, and where copper lies that is not metal (under ink too)."""

    regions: Regions
    copper: BaseGeometry


@dataclass(frozen=True)
class Rules:
    """What the clean-up has to reach, mm: widths and gaps, and how far copper reaches under the mask round metal."""

    track: float
    gap: float
    web: float
    ink: float
    ink_gap: float
    reach: float
    #: What is thinner than this share of a width is given up rather than made thicker.
    given_up: float

    @property
    def reaching(self) -> float:
        """How far round a change another one may come of it."""
        return 4 * max(self.track, self.gap, self.web, self.ink)

    @classmethod
    def of(cls, profile: Profile, mask: str, edged_by: str, keep: float) -> Rules:
        """`keep` is from 0 (everything too thin is given up) to 1 (everything is made thicker); 0.5 changes least."""
        reach = profile.mask_expansion_mm + profile.registration.mask_mm if edged_by == "mask" else 0.0
        return cls(
            profile.track_mm,
            profile.gap_mm,
            profile.mask_web(mask) if profile.has_mask else 0.0,
            profile.legend_line_mm if profile.has_legend else 0.0,
            profile.legend_gap_mm if profile.has_legend else 0.0,
            reach,
            1.0 - keep,
        )


def clean_art(
    art: Regions, copper: BaseGeometry, rules: Rules, watch: Watch = ALONE, near: BaseGeometry | None = None
) -> Cleaned:
    """The art of a side cleaned up. `copper` is where copper lies that is not metal, as drawn and under its ink.

    It knows nothing of the board's edge: a wider border cleans nothing anew. Art that is clean but for what lies `near`
    something is looked at only there.
    """
    if not any(kind in art for kind in ("metal", "raised", "ink")):
        return Cleaned(art, copper)
    left, bottom, right, top = shapely.total_bounds(list(art.values())).tolist()
    page = shapely.box(left - 1, bottom - 1, right + 1, top + 1)
    fixed = union([art.get("window", EMPTY), art.get("veiled", EMPTY), art.get("cut", EMPTY)])
    windows = art.get("window", EMPTY)
    inside = minus(page, fixed)
    zone = Zone() if near is None else Zone(polygons(near), rules.reaching)
    metal = _metal(common(art.get("metal", EMPTY), inside), windows, inside, rules, zone, watch.part(0.0, 0.5))
    around = minus(grow(metal, rules.reach) if rules.reach else metal, fixed)
    rest = _copper(minus(common(copper, inside), metal), metal, around, inside, rules, zone, watch.part(0.5, 0.8))
    openings = union([metal, windows])
    free = minus(page, fixed, grow(openings, rules.ink_gap + _SPARE) if not openings.is_empty else EMPTY)
    ink = _ink(common(art.get("ink", EMPTY), free), free, rules, zone, watch.part(0.8, 1.0)) if rules.ink else EMPTY
    out = {kind: art[kind] for kind in ("window", "veiled", "cut") if kind in art}
    out |= {"metal": metal, "ink": ink, "raised": minus(rest, metal, ink)}
    if "mask" in art:
        out["mask"] = minus(union(list(art.values())), *out.values())
    kinds = [kind for kind in APPEARANCES if kind in out and not out[kind].is_empty]
    *even, rest = rounded([*(out[kind] for kind in kinds), rest], _DIGITS)
    return Cleaned(dict(zip(kinds, even, strict=True)), rest)


def _metal(
    metal: BaseGeometry, windows: BaseGeometry, inside: BaseGeometry, rules: Rules, first: Zone, watch: Watch
) -> BaseGeometry:
    """Metal as wide as a track, and webs of mask between openings as wide as they must be."""
    zone = first
    for turn in range(_ROUNDS):
        watch.at(turn / _ROUNDS)
        touched: list[Polygon] = []
        metal = _wide(metal, rules.track, inside, rules.given_up if turn == 0 else 0.0, zone, touched)
        metal = _apart(metal, windows, rules.web, inside, rules.track, turn == 0, zone, touched)
        zone = Zone(touched, rules.reaching)
        if zone.empty:
            break
    return _without_thin(metal, rules.track, first)


def _copper(
    rest: BaseGeometry,
    metal: BaseGeometry,
    around: BaseGeometry,
    inside: BaseGeometry,
    rules: Rules,
    first: Zone,
    watch: Watch,
) -> BaseGeometry:
    """Copper that is not metal as wide as a track, and gaps in all copper as wide as they must be."""
    room, drawn = minus(inside, metal), rest
    zone = first
    for turn in range(_ROUNDS):
        watch.at(turn / _ROUNDS)
        touched: list[Polygon] = []
        if turn == 0:
            rest = common(_wide(union([rest, around]), rules.track, room, rules.given_up, zone, touched), room)
        else:
            rest = _thickened((rest, around), rules.track, room, zone, touched)
        rest = _apart(rest, around, rules.gap, room, rules.track, turn == 0, zone, touched)
        zone = Zone(touched, rules.reaching)
        if zone.empty:
            break
        if turn == 0:
            # What was moved apart round metal is there all the same.
            rest = added(rest, common(around, room))
    left = first.within(thin_pieces(first.of(union([rest, around])), rules.track))
    rest = minus(rest, union_of_many(grow_each(left, 0.01))) if left else rest
    # What lies round metal anyway is not drawn as mask over copper unless it was.
    return union([minus(rest, around), common(rest, drawn)])


def _ink(ink: BaseGeometry, free: BaseGeometry, rules: Rules, first: Zone, watch: Watch) -> BaseGeometry:
    """Lines of ink as wide as they print, clear of openings."""
    zone = first
    for turn in range(_ROUNDS):
        watch.at(turn / _ROUNDS)
        touched: list[Polygon] = []
        ink = _wide(ink, rules.ink, free, rules.given_up if turn == 0 else 0.0, zone, touched)
        zone = Zone(touched, rules.reaching)
        if zone.empty:
            break
    return _without_thin(ink, rules.ink, first)


def _wide(
    region: BaseGeometry, width: float, room: BaseGeometry, given_up: float, zone: Zone, touched: list[Polygon]
) -> BaseGeometry:
    """A region without what is thinner than a share of the width, the rest of its thin pieces made as wide."""
    if region.is_empty or width <= 0:
        return region
    if given_up > 0:
        hairs = zone.within(thin_pieces(zone.of(region), given_up * width))
        region = minus(region, union_of_many(grow_each(hairs, 0.006))) if hairs else region
        touched += hairs
    return _thickened((region,), width, room, zone, touched)


def _thickened(
    layers: tuple[BaseGeometry, ...], width: float, room: BaseGeometry, zone: Zone, touched: list[Polygon]
) -> BaseGeometry:
    """The first of the layers, grown where all of them together are thinner than the width and where there is room."""
    region = layers[0]
    pieces = zone.within(thin_pieces(union([zone.of(layer) for layer in layers]), width + _SPARE))
    if not pieces:
        return region
    near = union([beside(layer, pieces, 2 * width) for layer in layers])
    grown = common(thickened(near, pieces, width + _SPARE), room)
    served = _served(pieces, minus(grown, near), 2 * width)
    touched += served
    return added(region, region_of(parted(grown, region_of(served))[0]))


def _apart(
    region: BaseGeometry,
    others: BaseGeometry,
    gap: float,
    room: BaseGeometry,
    width: float,
    may_part: bool,
    zone: Zone,
    touched: list[Polygon],
) -> BaseGeometry:
    """Gaps within a region and to `others` closed, or (`may_part`) opened where that changes less and leaves no thin place."""
    if gap <= 0:
        return region
    pieces = zone.within(gap_pieces(union([zone.of(region), zone.of(others)]), gap + _SPARE))
    if not pieces:
        return region
    closing = pieces
    if may_part:
        across = _mean_widths(pieces)
        wide = [piece for piece, width_mm in zip(pieces, across, strict=True) if width_mm > gap / 2]
        closing = [piece for piece, width_mm in zip(pieces, across, strict=True) if width_mm <= gap / 2]
        if wide:
            # Each bank gives half of what is missing.
            cuts = grow_each(wide, (gap - across[across > gap / 2]) / 2 + _SPARE)
            thin = Zone(wide, 3 * gap).within(thin_pieces(minus(beside(region, wide, 3 * gap), union_of_many(cuts)), width))
            spoiled = set(shapely.STRtree(wide).query(grow_each(thin, gap), "intersects")[1].tolist()) if thin else set()
            closing += [wide[place] for place in sorted(spoiled)]
            moved = [place for place in range(len(wide)) if place not in spoiled]
            touched += [wide[place] for place in moved]
            region = minus(region, union_of_many([cuts[place] for place in moved]))
    closing = _served(closing, common(union_of_many(closing), room), 0.0)
    touched += closing
    return added(region, common(union_of_many(grow_each(closing, 0.008)), room))


def _served(pieces: list[Polygon], extra: BaseGeometry, reach: float) -> list[Polygon]:
    """Those of some pieces for which, within reach, enough is laid on: where there is no room for a piece it stays as it is,
    and need not be looked at again."""
    parts = polygons(extra)
    if not parts or not pieces:
        return []
    piece, part = shapely.STRtree(parts).query(pieces, "dwithin", reach)
    areas = np.bincount(piece, shapely.area(parts)[part], minlength=len(pieces))
    return [pieces[place] for place in np.flatnonzero(areas > _LITTLE * shapely.area(pieces)).tolist()]


def _mean_widths(pieces: list[Polygon]) -> NDArray[np.float64]:
    return np.asarray(2 * shapely.area(pieces) / shapely.length(pieces))


def _without_thin(region: BaseGeometry, width: float, zone: Zone) -> BaseGeometry:
    """What is still too thin, for it has no room to grow, is given up."""
    for _ in range(3):
        pieces = zone.within(thin_pieces(zone.of(region), width))
        if not pieces:
            break
        region = clean(minus(region, union_of_many(grow_each(pieces, 0.01))), 1e-4)
        zone = Zone(pieces, 4 * width)
    return region


#: How far from something laid over a clean-up another one may come of it, and how much of the art beyond that is looked at:
#: in so many reaches.
_FAR, _BEYOND = 4, 2


def clean_beside(
    cleaned: Cleaned, art: Regions, copper: BaseGeometry, laid: BaseGeometry, rules: Rules, watch: Watch
) -> Cleaned:
    """A clean-up after something (`laid`) was laid over it: only what lies about that is cleaned again.

    `art` is the art with it, `copper` where copper would lie under that art as it is drawn.
    """
    pieces = polygons(laid)
    changed_there = Zone(pieces, _FAR * rules.reaching).region
    seen = Zone(pieces, (_FAR + _BEYOND) * rules.reaching)
    assert changed_there is not None
    under = union([minus(seen.of(cleaned.copper), laid), common(seen.of(copper), laid)])
    there = clean_art({kind: seen.of(region) for kind, region in art.items()}, under, rules, watch, laid)

    def put(before: BaseGeometry, after: BaseGeometry) -> BaseGeometry:
        return joined([minus(before, changed_there), common(after, changed_there)])

    kinds = [kind for kind in APPEARANCES if kind in art or kind in there.regions]
    regions = {kind: put(art.get(kind, EMPTY), there.regions.get(kind, EMPTY)) for kind in kinds}
    return Cleaned({kind: region for kind, region in regions.items() if not region.is_empty}, put(cleaned.copper, there.copper))


def mark_of(art: Regions, copper: BaseGeometry, rules: Rules) -> str:
    """What tells one clean-up from another: its art and its rules."""
    digest = hashlib.sha256(repr((_FORM, rules)).encode())
    for kind, region in sorted({**art, "copper": copper}.items()):
        digest.update(kind.encode() + shapely.to_wkb(region))
    return digest.hexdigest()[:32]


def pack(cleaned: Cleaned) -> bytes:
    """A clean-up as bytes, to be kept beside the pictures it took long to make it from."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for kind, region in {**cleaned.regions, "copper": cleaned.copper}.items():
            archive.writestr(zipfile.ZipInfo(kind), shapely.to_wkb(region), zipfile.ZIP_DEFLATED)
    return buffer.getvalue()


def unpack(data: bytes) -> Cleaned | None:
    """A clean-up from its bytes; None where they are none."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(entry.file_size for entry in archive.infolist()) > _MOST_BYTES:
                return None
            found = {name: shapely.from_wkb(archive.read(name)) for name in archive.namelist()}
        copper = found.pop("copper")
        return Cleaned({kind: found[kind] for kind in APPEARANCES if kind in found}, copper)
    except (*UNREADABLE_ZIP, KeyError, shapely.GEOSException):
        return None


def changed(before: Regions, after: Regions) -> BaseGeometry:
    """Where the look is another one after a clean-up."""
    kinds = [kind for kind in APPEARANCES if kind != "mask"]
    moved = []
    for kind in kinds:
        one, other = before.get(kind, EMPTY), after.get(kind, EMPTY)
        if one is not other:
            moved.append(minus(other, one))
            moved.append(minus(one, other))
    parts = [piece for region in moved for piece in polygons(region) if piece.area > 1e-4]
    return union([region_of(parts)]) if parts else EMPTY


def mean_delta_e(pairs: list[tuple[float, float]]) -> float:
    """The mean of colour differences weighed by area: (mm², ΔE) each."""
    rows = np.array(pairs, float).reshape(-1, 2)
    total = float(rows[:, 0].sum())
    return float(rows[:, 0] @ rows[:, 1] / total) if total > 0 else 0.0
