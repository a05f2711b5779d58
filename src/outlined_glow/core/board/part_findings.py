"""Whether the parts can sit where they are: on the board, apart, off art metal, behind their windows."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

import shapely
from shapely.geometry.base import BaseGeometry

from ..geometry.offset import grow
from ..geometry.prepared import prepared
from ..geometry.regions import disc, union
from ..geometry.valid import shifted
from ..parts import PlacedPart, Profile
from ..passes import Pass
from ..project import Finding, PartPlace, Remedy
from ..project.finding import some_of
from ..shape import Outline
from ..shape.features import Fixed
from ..units import show_under
from .layers import ArtLayers, PartLayers

#: An emitter shines through a window that comes within this of its middle, mm.
_LENS_MM = 1.2


class Placed(NamedTuple):
    """The parts of a board (board frame), and all they may come too near to."""

    parts: tuple[PlacedPart, ...]
    laid: PartLayers
    art: ArtLayers
    outline: Outline
    rules: Profile
    by_hand: tuple[PartPlace, ...] = ()

    @property
    def origin(self) -> tuple[float, float]:
        """Where the board frame begins in the picture frame."""
        return self.outline.origin

    @property
    def fixed(self) -> Fixed:
        """What is fixed to the board."""
        return self.outline.fixed


def part_findings(here: Placed) -> list[Finding]:
    """Stops for parts outside, overlapping, under screws, on metal, and for pads too near one another; a warning for LEDs
    without a window. Board frame."""
    leds = [part for part in here.parts if part.part.shines]
    metal = {side: here.art.sides[side].metal for side in ("front", "back")}
    windows = union([here.laid.windows, here.laid.veiled])
    return [
        *_outside(here, leds),
        *_pads_outside(here, [part for part in here.parts if not part.part.shines]),
        *_overlapping(here),
        *_blocked(here),
        *_pads_near(here),
        *_under_screws(here),
        *_on_metal(here, leds, metal),
        *_without_window(leds, windows),
    ]


def _many(leds: list[PlacedPart]) -> str:
    return some_of([part.ref for part in leds])


def _places(leds: list[PlacedPart]) -> tuple[tuple[float, float], ...]:
    return tuple((part.x, part.y) for part in leds)


def _outside(here: Placed, leds: list[PlacedPart]) -> list[Finding]:
    rule = here.rules.edge_routed_mm
    inside = _inside(here, leds)
    lost = [part for part in leds if not inside.contains(part.court())]
    if not lost:
        return []
    first = lost[0]
    gap = first.court().distance(here.laid.outline.boundary) if here.laid.outline.contains(first.court()) else 0.0
    verb = "is" if len(lost) == 1 else "are"
    text = f"{_many(lost)} {verb} outside the board, over a hole or nearer than {rule:g} mm to the edge."
    return [
        Finding(
            code="led-outside", severity="stop", stage="lights", text=text, x_mm=first.x, y_mm=first.y,
            measured=round(gap, 3), allowed=rule, remedies=(Remedy("set the array in further"), Remedy("widen the border")),
            count=len(lost), places=_places(lost),
        )
    ]  # fmt: skip


def _inside(here: Placed, parts: list[PlacedPart]) -> BaseGeometry:
    """Where on the board parts can be: a hole for a lead is no hole to its own part."""
    leads = [disc(pad.x, pad.y, pad.drill_mm / 2 + 0.01) for part in parts for pad in part.pads() if pad.drill_mm]
    leads += [peg for part in parts for peg in part.pegs(0.01)]
    return prepared(grow(union([here.laid.layers["core"], *leads]), -here.rules.edge_routed_mm))


def _pads_outside(here: Placed, others: list[PlacedPart]) -> list[Finding]:
    """Pads of what is locked where it lies, wherever that is: the body of a plug may stand over the edge, its pads not."""
    inside, rule = _inside(here, others), here.rules.edge_routed_mm
    lost = [part for part in others if not all(inside.contains(pad.polygon) for pad in part.pads())]
    if not lost:
        return []
    text = f"Pads of {_many(lost)} lie outside the board, over a hole or nearer than {rule:g} mm to the edge."
    placed = {one.part for one in here.by_hand}
    by_hand = [part.ref for part in lost if part.ref in placed]
    free = tuple(Remedy(f"let {ref} find its place", "free-part", (("part", ref),)) for ref in by_hand[:3])
    return [
        Finding(
            code="part-outside", severity="stop", stage="wiring", text=text, x_mm=lost[0].x, y_mm=lost[0].y, allowed=rule,
            remedies=(*free, Remedy("move it further in")), count=len(lost), places=_places(lost),
        )
    ]  # fmt: skip


def _overlapping(here: Placed) -> list[Finding]:
    pairs: list[tuple[PlacedPart, PlacedPart]] = []
    for side in ("front", "back"):
        taken = [(part, court) for part in here.parts for court in part.taken_on(side)]
        parts, courts = [part for part, _ in taken], [court for _, court in taken]
        if len(courts) < 2:
            continue
        tree = shapely.STRtree(courts)
        for one, other in tree.query(courts, predicate="intersects").T.tolist():
            apart = parts[one] is not parts[other]
            if one < other and apart and courts[one].intersection(courts[other]).area > 1e-4:
                pairs.append((parts[one], parts[other]))
    if not pairs:
        return []
    one, other = pairs[0]
    more = f" ({len(pairs)} pairs)" if len(pairs) > 1 else ""
    places = tuple(((a.x + b.x) / 2, (a.y + b.y) / 2) for a, b in pairs)
    return [
        Finding(
            code="parts-overlap", severity="stop", stage="lights", text=f"{one.ref} and {other.ref} overlap{more}.",
            measured=0.0, allowed=0.0, remedies=(Remedy("move the arrays apart"), Remedy("use fewer LEDs")), count=len(pairs),
            places=places,
        )
    ]  # fmt: skip


def _blocked(here: Placed) -> list[Finding]:
    """Holders into which nothing can be slid, for something stands on either side of them."""
    out = []
    for one in (part for part in here.parts if part.part.slides_mm):
        ways = one.ways_in()
        others = [part for part in here.parts if part is not one and part.side == one.side]
        stands = [next((part for part in others if part.court().intersects(way)), None) for way in ways]
        if all(part is not None for part in stands):
            names = " and ".join(dict.fromkeys(part.ref for part in stands if part is not None))
            text = f"{names} {'stands' if ' and ' not in names else 'stand'} in the way by which a cell slides into {one.ref}."
            out.append(
                Finding(
                    code="cell-cannot-slide", severity="warning", stage="wiring", text=f"{text} Turn the holder, or move them.",
                    x_mm=one.x, y_mm=one.y, remedies=(Remedy("turn the holder"), Remedy("move them")),
                )
            )  # fmt: skip
    return out


def _pads_near(here: Placed) -> list[Finding]:
    """Pads of different parts, and of features, with less between them than the fabricator etches."""
    rule = here.rules.gap_mm
    pairs: list[tuple[float, str, str, float, float]] = []
    for side in ("front", "back"):
        rows: list[tuple[str, BaseGeometry]] = []
        rows += [(pad.ref, pad.polygon) for pad in here.laid.pads if pad.side == side]
        lands = [land for land in here.fixed.pads if land.side == side]
        rows += [
            (f"the {land.spot.kind} {land.spot.number}", shifted(land.region, -here.origin[0], -here.origin[1]))
            for land in lands
        ]
        shapes = [shape for _, shape in rows]
        if len(shapes) < 2:
            continue
        ones, others = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=rule - 1e-6)
        for one, other in zip(ones.tolist(), others.tolist(), strict=True):
            if one < other and rows[one][0] != rows[other][0] and one < len(rows) - len(lands):
                way = shapely.shortest_line(shapes[one], shapes[other])
                middle = way.interpolate(0.5, normalized=True)
                pairs.append((float(way.length), rows[one][0], rows[other][0], middle.x, middle.y))
    if not pairs:
        return []
    pairs.sort(key=lambda pair: pair[0])
    gap, one_ref, other_ref, x, y = pairs[0]
    many = f" ({len(pairs)} pairs)" if len(pairs) > 1 else ""
    text = f"The pads of {one_ref} and {other_ref} are {show_under(gap, rule)} mm apart{many}. They need {rule:g} mm."
    return [
        Finding(
            code="pads-too-near", severity="stop", stage="lights", text=text, x_mm=x, y_mm=y, measured=round(gap, 3),
            allowed=rule, layer="copper", remedies=(Remedy("move the LEDs apart"), Remedy("use fewer LEDs")),
            count=len(pairs), places=tuple((a, b) for *_, a, b in pairs),
        )
    ]  # fmt: skip


def _under_screws(here: Placed) -> list[Finding]:
    """Parts under the head of a screw, or its nut on the other side."""
    heads = [
        disc(spot.x - here.origin[0], spot.y - here.origin[1], spot.head / 2) for spot in here.fixed.spots if spot.head > 0
    ]
    if not heads:
        return []
    covered = union(heads)
    hit = [part for part in here.parts if part.court().intersects(covered)]
    if not hit:
        return []
    first = hit[0]
    text = f"{_many(hit)} {'is' if len(hit) == 1 else 'are'} under the head of a screw. Move the part or the screw."
    return [
        Finding(
            code="part-under-screw", severity="stop", stage="lights", text=text, x_mm=first.x, y_mm=first.y, measured=0.0,
            remedies=(Remedy("move the LEDs"), Remedy("move the screw")), count=len(hit), places=_places(hit),
        )
    ]  # fmt: skip


def _on_metal(here: Placed, leds: list[PlacedPart], metal: Mapping[str, BaseGeometry]) -> list[Finding]:
    """Bare art metal under or beside a pad joins what must stay apart."""
    if all(one.is_empty for one in metal.values()):
        return []
    clear = here.rules.gap_mm
    lands: dict[str, list[BaseGeometry]] = {pad.ref: [] for pad in here.laid.pads}
    for pad in here.laid.pads:
        lands[pad.ref].append(pad.polygon)
    there = {side: prepared(region) for side, region in metal.items()}
    hit = [
        part for part in leds if any(there[part.side].intersects(land.buffer(clear, quad_segs=2)) for land in lands[part.ref])
    ]
    if not hit:
        return []
    first = hit[0]
    verb = "touch"
    text = f"The pads of {_many(hit)} {verb} bare art metal and would short. Move the LEDs or cut back the metal."
    return [
        Finding(
            code="led-on-metal", severity="stop", stage="lights", text=text, x_mm=first.x, y_mm=first.y, measured=0.0,
            allowed=clear, layer=f"{first.side} copper",
            remedies=(Remedy("move along"), Remedy("break the metal there in the drawing")), count=len(hit),
            places=_places(hit),
        )
    ]  # fmt: skip


def _without_window(leds: list[PlacedPart], windows: BaseGeometry) -> list[Finding]:
    behind = [part for part in leds if part.part.shines == "through" and not part.part.holes]
    blind = [part for part in behind if not windows.intersects(disc(part.x, part.y, _LENS_MM))]
    if not blind:
        return []
    first = blind[0]
    verb = "shines" if len(blind) == 1 else "shine"
    text = f"{_many(blind)} {verb} through the board but stand behind no window: hardly any light comes through."
    return [
        Finding(
            code="no-window", severity="warning", stage="lights", text=text, x_mm=first.x, y_mm=first.y,
            remedies=(Remedy("make a colour there a light window"), Remedy("move the LED behind a window")), count=len(blind),
            places=_places(blind),
        )
    ]  # fmt: skip


def _checked(
    parts: tuple[PlacedPart, ...], laid: PartLayers, art: ArtLayers, outline: Outline, rules: Profile,
    by_hand: tuple[PartPlace, ...],
) -> list[Finding]:  # fmt: skip
    return part_findings(Placed(parts, laid, art, outline, rules, by_hand))


CHECKS = (Pass("parts check", ("placements", "part layers", "flat here", "outline", "rules", "by hand"), _checked),)
