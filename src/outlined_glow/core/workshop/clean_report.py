"""What a clean-up changed, how far the board is from its picture then, and what it left."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from shapely.geometry.base import BaseGeometry

from ..board.clean import changed, mean_delta_e
from ..colour import ciede2000, hex_to_lab
from ..geometry.prepared import prepared
from ..geometry.regions import EMPTY, common, polygons
from ..project import Finding
from .work import Work

#: The five kinds of places that are too thin or too close.
KINDS = {
    "metal-too-thin": "thin metal",
    "copper-too-thin": "thin copper",
    "copper-gap-too-narrow": "narrow copper gaps",
    "mask-web-too-narrow": "narrow mask webs",
    "ink-too-thin": "thin ink",
}


@dataclass(frozen=True)
class CleanReport:
    """Areas in mm², colour differences as means over the picture (CIEDE2000), places left by kind."""

    changed_mm2: float
    share: float
    delta_before: float
    delta_after: float
    left: Mapping[str, int]

    @property
    def places_left(self) -> int:
        """How many places are still under the rules."""
        return sum(self.left.values())

    def words(self) -> tuple[str, ...]:
        """The report in lines."""
        rest = ", ".join(f"{count} {KINDS[code]}" for code, count in self.left.items() if count)
        return (
            f"changed {self.changed_mm2:.1f} mm² ({100 * self.share:.1f} % of the art)",
            f"colour difference from the picture: ΔE {self.delta_before:.1f} before, {self.delta_after:.1f} after",
            f"left: {rest}" if rest else "nothing too thin or too close is left",
        )


def clean_report(work: Work, findings: Sequence[Finding]) -> CleanReport:
    """The report of a work whose art was cleaned up."""
    sides = ((work.drawn.regions, work.art.regions), (work.drawn.back, work.art.back))
    area = sum(float(changed_region(before, after).area) for before, after in sides)
    whole = sum(float(region.area) for before, _ in sides for region in before.values())
    left = dict.fromkeys(KINDS, 0)
    for one in findings:
        if one.code in left:
            left[one.code] += one.count
    delta = [_delta(work, regions) for regions in (work.drawn.regions, work.art.regions)]
    return CleanReport(round(area, 2), area / whole if whole else 0.0, delta[0], delta[1], left)


def changed_region(before: Mapping[str, BaseGeometry], after: Mapping[str, BaseGeometry]) -> BaseGeometry:
    """Where a side looks otherwise after its clean-up, picture frame."""
    return EMPTY if before is after else _changed(tuple(before.items()), tuple(after.items()))


#: The regions of a side by appearance: most edits leave them as they were, so what was measured of them is remembered.
_Regions = tuple[tuple[str, BaseGeometry], ...]


@lru_cache(maxsize=4)
def _changed(before: _Regions, after: _Regions) -> BaseGeometry:
    return changed(dict(before), dict(after))


def _delta(work: Work, regions: Mapping[str, BaseGeometry]) -> float:
    swatches = tuple((one.colour, one.region) for one in work.painted.swatches if one.side == "front")
    colours = tuple((kind, work.board.materials.colour(kind)) for kind in regions)
    return _difference(swatches, colours, tuple(regions.items()))


@lru_cache(maxsize=4)
def _difference(swatches: _Regions, colours: tuple[tuple[str, str], ...], regions: _Regions) -> float:
    """The mean colour difference of regions, each kind in its colour, from the colours of a picture."""
    looks = {kind: hex_to_lab(colour) for kind, colour in colours}
    pairs = []
    regions = tuple((kind, prepared(region)) for kind, region in regions)
    for colour, painted in swatches:
        lab = hex_to_lab(colour)
        whole = [(kind, region) for kind, region in regions if region.covers(painted)]
        for kind, region in whole[:1] or regions:
            # Where nothing was changed a swatch lies in one region, which is seen sooner than it is cut out.
            area = float(painted.area if whole else common(painted, region).area)
            if area > 0:
                pairs.append((area, float(ciede2000(lab, looks[kind]))))
    return mean_delta_e(pairs)


def report(work: Work, findings: Sequence[Finding], most: int) -> tuple[tuple[str, ...], Finding | None]:
    """The lines of a report, and the largest changes as places to be marked (board frame), at most so many."""
    rows: list[tuple[float, float, float]] = []
    for before, after in ((work.drawn.regions, work.art.regions), (work.drawn.back, work.art.back)):
        for piece in polygons(changed_region(before, after)):
            spot = piece.representative_point()
            rows.append((float(piece.area), spot.x - work.board.origin[0], spot.y - work.board.origin[1]))
    rows.sort(reverse=True)
    places = tuple((x, y) for _, x, y in rows[:most])
    mark = (
        Finding(
            code="cleaned-up",
            severity="note",
            stage="artwork",
            text=f"{len(rows)} places changed.",
            count=len(rows),
            places=places,
        )
        if places
        else None
    )
    return clean_report(work, findings).words(), mark
