"""What is done about features that are too small, each an ordinary edit: thicken, bridge, smooth, drop, become; raise and
lower the ground under ink; accept."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping, Sequence

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..appearances import APPEARANCES
from ..geometry.flatten import quarter_segments
from ..geometry.narrow.gaps import gap_pieces
from ..geometry.narrow.places import least_widths
from ..geometry.narrow.thin import thin_pieces
from ..geometry.offset import grow
from ..geometry.regions import EMPTY, added, common, disc, minus, parted, region_of, union, union_of_many
from ..geometry.zone import Zone, beside
from ..project import Clean, Design, Mend, Param, Remedy, board_edit
from ..project.bounds import MOST_MENDS
from ..project.numbered import exchanged, numbered
from .edits import SIDES, with_artwork

HOWS = ("thicken", "bridge", "smooth", "drop", "become", "raise", "lower", "accept")


@board_edit(
    "mend",
    "{how} {appearance}",
    how=Param("choice", choices=HOWS, optional=False),
    appearance=Param("choice", choices=APPEARANCES, optional=False),
    width_mm=Param("quantity", "mm", 0.01, 5, optional=False),
    side=Param("choice", choices=SIDES),
    becomes=Param("choice", choices=APPEARANCES),
    finding=Param("text"),
    x_mm=Param("quantity", "mm", -1000, 1000, axis="x"),
    y_mm=Param("quantity", "mm", -1000, 1000, axis="y"),
    reach_mm=Param("quantity", "mm", 0.05, 1000),
)
def mend(
    design: Design,
    *,
    how: str,
    appearance: str,
    width_mm: float,
    side: str | None = None,
    becomes: str | None = None,
    finding: str | None = None,
    x_mm: float | None = None,
    y_mm: float | None = None,
    reach_mm: float | None = None,
) -> Design:
    """Do something about features of an appearance under a width: everywhere on a side, or within reach of a place."""
    one = Mend(
        how=how,  # type: ignore[arg-type]
        appearance=appearance,  # type: ignore[arg-type]
        width_mm=width_mm,
        side=side or "front",  # type: ignore[arg-type]
        becomes=becomes or "mask",  # type: ignore[arg-type]
        finding=finding or "",
        x_mm=x_mm,
        y_mm=y_mm,
        reach_mm=reach_mm or 2.0,
    )
    mends = design.artwork.mends
    kept = tuple(other for other in mends if other != one)[-MOST_MENDS:]
    return with_artwork(design, mends=(*kept, one))


@board_edit("clean", "Cleaned up", strength_percent=Param("quantity", "%", 0, 100, title="thin lines kept", step=10, digits=0))
def clean(design: Design, *, strength_percent: float | None = None) -> Design:
    """Bring every layer to the fabricator's rules at once: thicken, join, close or drop, whichever changes least.

    The strength is how much of what is too thin is kept: 50 % changes least, 100 % keeps all, 0 % drops all.
    """
    before = design.artwork.clean
    keep = before.keep if before is not None else Clean().keep
    return with_artwork(design, clean=Clean(keep=keep if strength_percent is None else strength_percent / 100))


@board_edit("unclean", "Clean-up undone")
def unclean(design: Design) -> Design:
    """Take the art as it is drawn again."""
    return with_artwork(design, clean=None)


@board_edit("unmend", "Mend {number} taken back", number=Param("count", "", 1, MOST_MENDS, optional=False))
def unmend(design: Design, *, number: int) -> Design:
    """Take back what was done about small features; the number is that of the list."""
    numbered(design.artwork.mends, number, "mend")
    return with_artwork(design, mends=exchanged(design.artwork.mends, number))


#: How near a place a feature must come to be meant by it, mm.
_REACH_MM = 0.3


def at_place(remedy: Remedy, place: tuple[float, float]) -> Remedy:
    """A remedy that mends every place of a kind, for one place (board frame) alone."""
    if remedy.edit != "mend":
        return remedy
    x, y = (round(value, 3) for value in place)
    return Remedy(remedy.text, "mend", (*remedy.values, ("x_mm", x), ("y_mm", y), ("reach_mm", _REACH_MM)))


def mended(regions: Mapping[str, BaseGeometry], mends: Sequence[Mend], side: str) -> Mapping[str, BaseGeometry]:
    """The art of a side after its mends, in their order. What is accepted, or about the ground under it, changes nothing."""
    out = dict(regions)
    for one in mends:
        if one.side != side or one.how not in _WAYS or (one.appearance not in out and one.how != "bridge"):
            continue
        out = _WAYS[one.how](out, one)
    return {kind: out[kind] for kind in APPEARANCES if kind in out and not out[kind].is_empty}


Regions = dict[str, BaseGeometry]


def _there(mend: Mend, pieces: Sequence[Polygon]) -> list[Polygon]:
    """The pieces that a mend is about."""
    if mend.x_mm is None or mend.y_mm is None:
        return list(pieces)
    place = disc(mend.x_mm, mend.y_mm, mend.reach_mm)
    return [piece for piece in pieces if piece.intersects(place)]


def _about(art: Regions, one: Mend) -> BaseGeometry:
    """The parts of a mend's appearance that it is about."""
    region = art[one.appearance]
    if one.x_mm is None or one.y_mm is None:
        return region
    return region_of(parted(region, disc(one.x_mm, one.y_mm, one.reach_mm))[0])


def _over(art: Regions, kind: str, laid: BaseGeometry) -> Regions:
    """The art with something of one appearance laid over the others; cuts stay cut."""
    new = minus(laid, art.get("cut", EMPTY))
    out = {other: minus(area, new) if other not in (kind, "cut") else area for other, area in art.items()}
    out[kind] = added(out.get(kind, EMPTY), new)
    return out


#: What is laid on or taken away may leave new thin places of the same part: it is done again so often. How much of the art
#: round a piece it takes to see how wide it is, in widths.
_ROUNDS, _BESIDE = 4, 4
#: What is nearly too thin is looked at too, and mended on either hand by a hair more than asked, for the arcs of offsets run a
#: little inside of circles, mm: with less the most of it is found again.
_SPARE, _HAIR, _ARC_MM = 0.01, 0.0022, 0.005
#: A tapering piece is grown in steps: what is thinner than a share of the width, by what is missing from the share below; a
#: thin place is found where it is thinner than what is asked by so much, mm. The step is taken so much short, so that with the
#: hair no line is made wider than it must.
_NOISE, _SHORT = 0.008, 0.0025
_SHARES = (0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875, 1.0)


def _thicken(art: Regions, one: Mend) -> Regions:
    zone = Zone()
    for _ in range(_ROUNDS):
        found = thin_pieces(zone.of(_about(art, one)), one.width_mm + _SPARE / 2)
        pieces = _there(one, zone.within(found))
        if not pieces:
            break
        zone = Zone(pieces, _BESIDE * one.width_mm)
        art = _over(art, one.appearance, thickened(zone.of(art[one.appearance]), pieces, one.width_mm))
    return art


def thickened(region: BaseGeometry, pieces: Sequence[Polygon], width: float) -> BaseGeometry:
    """The pieces of a region that are thinner than a width, grown until they are as wide as that, and hardly wider."""
    grown: list[Polygon] = []
    mine, tree = list(pieces), shapely.STRtree(pieces)
    for below, share in reversed(list(itertools.pairwise((0.0, *_SHARES)))):
        # What of a piece is thinner still is found by the smaller measure, and grown in the next step.
        thinner = thin_pieces(region, below * width + _NOISE) if below else []
        slim = [thinner[place] for place in np.unique(tree.query(thinner, predicate="intersects")[0])] if thinner else []
        tapers = np.isin(np.arange(len(mine)), shapely.STRtree(mine).query(slim, predicate="intersects")[1] if slim else ())
        least = np.full(len(mine), below * width + _SHORT)
        even = [piece for piece, other in zip(mine, tapers, strict=True) if not other]
        least[~tapers] = least_widths(even, region, share * width + _NOISE)
        radii = np.maximum(0.0, (width - least) / 2) + _HAIR
        fine = quarter_segments(float(radii.max()), _ARC_MM)
        grown += shapely.buffer(np.array(mine, dtype=object), radii, quad_segs=fine).tolist()
        if not slim:
            break
        mine, region = slim, beside(region, slim, _BESIDE * width)
    return union_of_many(grown)


#: What lies on either hand of a gap, by what bridges it: copper is one under raised tone and metal.
_BANKS = {"raised": ("raised", "metal"), "metal": ("metal", "window")}


def _bridge(art: Regions, one: Mend) -> Regions:
    # Where a gap is hardly narrower than what is bridged, slits are left: they are looked for by smaller measures.
    for width in (one.width_mm + _SPARE, one.width_mm / 2, one.width_mm / 4):
        for _ in range(_ROUNDS):
            banks = union([art[kind] for kind in _BANKS.get(one.appearance, (one.appearance,)) if kind in art])
            pieces = _there(one, gap_pieces(banks, width))
            if not pieces:
                break
            kept = (art[kind] for kind in ("metal", "window") if kind in art)
            art = _over(art, one.appearance, minus(grow(union(pieces), 0.006), *kept))
    return art


def _smooth(art: Regions, one: Mend) -> Regions:
    """Corners and waves under the width evened out: opened, then closed."""
    region = art[one.appearance]
    radius = one.width_mm / 2
    even = grow(grow(grow(grow(region, -radius), 2 * radius), -2 * radius), radius)
    if one.x_mm is not None and one.y_mm is not None:
        place = disc(one.x_mm, one.y_mm, one.reach_mm)
        even = union([minus(region, place), common(even, place)])
    out = {**art, one.appearance: EMPTY}
    return _over(out, one.appearance, even)


def _taken(art: Regions, one: Mend) -> Iterator[BaseGeometry]:
    """What is too thin, `art` being changed meanwhile, until nothing is."""
    changed = None
    for _ in range(_ROUNDS):
        region = _about(art, one) if changed is None else region_of(parted(_about(art, one), changed)[0])
        pieces = _there(one, thin_pieces(region, one.width_mm + _SPARE))
        gone = common(union([grow(piece, 0.006) for piece in pieces]), art[one.appearance])
        if gone.is_empty:
            return
        yield gone
        changed = union([grow(piece, one.width_mm) for piece in pieces])


def _drop(art: Regions, one: Mend) -> Regions:
    """What is too thin goes to the neighbour that has most of its edge."""
    art = dict(art)
    for gone in _taken(art, one):
        art.update(_given_away(art, one.appearance, gone))
    return art


def _given_away(art: Regions, kind: str, gone: BaseGeometry) -> Regions:
    out = {**art, kind: minus(art[kind], gone)}
    for piece in shapely.get_parts(gone).tolist():
        rim = grow(piece, 0.02)
        beside = {other: rim.intersection(area).area for other, area in out.items() if other not in (kind, "cut")}
        own = rim.area - piece.area - sum(beside.values())
        heir = max(beside, key=lambda other: beside[other], default="")
        if heir and beside[heir] > own:
            out[heir] = union([out[heir], piece])
    return out


def _become(art: Regions, one: Mend) -> Regions:
    art = dict(art)
    for gone in _taken(art, one):
        art.update(_over(art, one.becomes, gone))
    return art


_WAYS = {"thicken": _thicken, "bridge": _bridge, "smooth": _smooth, "drop": _drop, "become": _become}
