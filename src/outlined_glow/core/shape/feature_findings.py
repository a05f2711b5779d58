"""Whether what is fixed to a board can be made where it is: holes, slots, cuts and metal pads."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from shapely.geometry import Point, Polygon
from shapely.ops import nearest_points

from ..geometry.narrow.places import thin_places
from ..geometry.offset import grow
from ..parts import Profile
from ..project import Finding, Remedy, Width
from ..project.frames import in_board_frame
from ..units import show_under
from .features import RoundHole, Spot, fixings
from .outline import Outline

#: Features that are drilled, and so must lie whole within the board.
_DRILLED = ("hole", "keyring", "screw", "sew")


def feature_findings(outline: Outline, profile: Profile) -> list[Finding]:
    """Features off the board, slots and cuts too narrow, holes and pads too near to something. Board frame."""
    return [in_board_frame(one, outline.origin) for look in _LOOKS for one in look(outline, profile)]


def _web(outline: Outline, x: float, y: float, diameter: float) -> float:
    """Board between a hole and the nearest edge, slot or cut-out, mm; negative where the hole breaks through."""
    place = Point(x, y)
    inward = 1 if outline.region.contains(place) else -1
    return inward * float(outline.region.boundary.distance(place)) - diameter / 2


def _off_board(outline: Outline, profile: Profile) -> list[Finding]:
    lost = [spot for spot in outline.fixed.spots if not _on_board(spot, outline)]
    if not lost:
        return []
    first = lost[0]
    drop = Remedy("remove it", "remove-feature", (("number", first.number),))
    many = f"{len(lost)} features are" if len(lost) > 1 else f"A {first.kind} is"
    text = f"{many} off the board, or over its edge, a slot or a cut-out. Move it inside or remove it."
    inward = _further_in(first, outline, (first.size + profile.neck_mm) / 2) if first.kind in _DRILLED else ()
    return [
        Finding(
            code="feature-off-board", severity="stop", stage="shape", text=text, x_mm=first.x, y_mm=first.y, layer="outline",
            remedies=(*inward, drop), count=len(lost), places=tuple((spot.x, spot.y) for spot in lost),
        )
    ]  # fmt: skip


def _on_board(spot: Spot, outline: Outline) -> bool:
    """Whether a hole is whole, and whether anything else is near enough to the edge to have to do with the board."""
    if spot.kind in _DRILLED:
        return _web(outline, spot.x, spot.y, spot.size) > 0
    return Polygon(outline.region.exterior).buffer(spot.size).contains(Point(spot.x, spot.y))


def _further_in(spot: Spot, outline: Outline, reach: float) -> tuple[Remedy, ...]:
    """The edit that sets a feature so far in that it has `reach` (mm) of board round its middle."""
    if spot.by_rule:
        line = f"{reach + 0.05:.2f}".rstrip("0").rstrip(".")
        values = (("number", spot.number), ("inset_mm", round(reach + 0.05, 2)))
        return (Remedy(f"set them {line} mm in from the board edge", "set-feature", values),)
    room = grow(outline.region, -reach - 0.01)
    if room.is_empty:
        return ()
    x, y = nearest_points(room, Point(spot.x, spot.y))[0].coords[0]
    return (Remedy("move it inside", "set-feature", (("number", spot.number), ("x_mm", round(x, 3)), ("y_mm", round(y, 3)))),)


def _narrow_slots(outline: Outline, profile: Profile) -> list[Finding]:
    spots = [spot for spot in outline.fixed.spots if spot.kind in ("slot", "notch", "opening")]
    narrow = [spot for spot in spots if min(spot.size, spot.length) < profile.slot_mm]
    if not narrow:
        return []
    first = narrow[0]
    width = min(first.size, first.length)
    text = f"A {first.kind} is {width:g} mm wide; {profile.title} cuts {profile.slot_mm:g} mm and more."
    values = (("number", first.number), ("size_mm", profile.slot_mm))
    wider = Remedy(f"make it {profile.slot_mm:g} mm", "set-feature", values)
    return [Finding(
        code="slot-too-narrow", severity="stop", stage="shape", text=text, x_mm=first.x, y_mm=first.y, measured=width,
        allowed=profile.slot_mm, layer="outline", remedies=(wider,), count=len(narrow),
    )]  # fmt: skip


def _narrow_cuts(outline: Outline, profile: Profile) -> list[Finding]:
    """Cuts of the picture, and holes of it that are kept, that no cutter passes through."""
    places = thin_places(outline.cuts, profile.slot_mm) if profile.slot_mm and not outline.cuts.is_empty else ()
    if not places:
        return []
    worst = places[0]
    text = f"A cut through the board is {worst.width:.2f} mm wide{_at(places)}. "
    text += f"The fabricator cuts {profile.slot_mm:g} mm and wider."
    values = (("how", "thicken"), ("appearance", "cut"), ("width_mm", profile.slot_mm))
    return [
        Finding(
            code="cut-too-narrow", severity="stop", stage="shape", text=text, x_mm=worst.x, y_mm=worst.y,
            measured=round(worst.width, 3), allowed=profile.slot_mm, layer="outline",
            remedies=(Remedy(f"widen the cut to {profile.slot_mm:g} mm", "mend", values),), count=len(places),
            places=tuple((one.x, one.y) for one in places), widths=tuple(Width(one.width, one.across_deg) for one in places),
        )
    ]  # fmt: skip


def _at(places: Sequence[object]) -> str:
    return f" at {len(places)} places" if len(places) > 1 else ""


def _near_holes(outline: Outline, profile: Profile) -> list[Finding]:
    near = []
    for one, other in itertools.combinations(outline.holes, 2):
        gap = math.hypot(one.x - other.x, one.y - other.y) - (one.diameter + other.diameter) / 2
        if gap < profile.hole_gap_mm:
            near.append((gap, (one.x + other.x) / 2, (one.y + other.y) / 2))
    if not near:
        return []
    gap, x, y = min(near)
    told = show_under(max(gap, 0), profile.hole_gap_mm)
    text = f"Holes are only {told} mm apart, under {profile.hole_gap_mm:g} mm ({len(near)} pairs)."
    return [Finding(
        code="holes-too-near", severity="stop", stage="shape", text=text, x_mm=x, y_mm=y, measured=round(gap, 3),
        allowed=profile.hole_gap_mm, layer="drills", remedies=(Remedy("move them apart"),), count=len(near),
        places=tuple((a, b) for _, a, b in near),
    )]  # fmt: skip


def _holes_at_edge(outline: Outline, profile: Profile) -> list[Finding]:
    """Holes beside an edge, a slot or a cut-out: a stop where the web is none at all, a warning where it may break."""
    enough = profile.neck_mm / 2
    webs = [(_web(outline, hole.x, hole.y, hole.diameter), hole) for hole in outline.holes]
    drilled = {(spot.x, spot.y): spot for spot in outline.fixed.spots}
    # A feature that breaks through is told of by itself.
    thin = sorted(
        ((web, hole) for web, hole in webs if web < enough and (web > 0 or (hole.x, hole.y) not in drilled)),
        key=lambda one: one[0],
    )
    broken = [row for row in thin if row[0] < profile.hole_gap_mm]
    near = [row for row in thin if row[0] >= profile.hole_gap_mm]
    out = []
    if broken:
        told = _web_told(broken, profile.hole_gap_mm, drilled, outline, profile)
        out.append(Finding(code="hole-breaks-through", severity="stop", stage="shape", **told))
    if near:
        out.append(
            Finding(
                code="hole-near-edge", severity="warning", stage="shape", **_web_told(near, enough, drilled, outline, profile)
            )
        )
    return out


def _web_told(
    rows: Sequence[tuple[float, RoundHole]], least: float, drilled: Mapping[tuple[float, float], Spot], outline: Outline,
    profile: Profile,
) -> dict[str, Any]:  # fmt: skip
    """What is told of holes with too little board beside them, the worst first."""
    web, hole = rows[0]
    many = f" ({len(rows)} holes)" if len(rows) > 1 else ""
    spot = drilled.get((hole.x, hole.y))
    inward = _further_in(spot, outline, (spot.size + profile.neck_mm) / 2) if spot is not None else ()
    told = show_under(max(0.0, web), least)
    return {
        "text": f"A hole leaves {told} mm of board to the edge, a slot or a cut-out{many}. It needs {least:g} mm.",
        "x_mm": hole.x, "y_mm": hole.y, "measured": round(web, 3), "allowed": least, "layer": "outline",
        "remedies": inward or (Remedy("move the hole inside"), Remedy("widen the border")), "count": len(rows),
        "places": tuple((one.x, one.y) for _, one in rows),
    }  # fmt: skip


def _lands_at_edge(outline: Outline, profile: Profile) -> list[Finding]:
    """Metal pads over or near an edge, a slot or a cut-out; an edge pad is meant to reach it."""
    near = []
    for land in outline.fixed.pads:
        if land.spot.kind == "edge-pad":
            continue
        inside = outline.region.contains(land.region)
        gap = float(outline.region.boundary.distance(land.region)) if inside else 0.0
        if gap < profile.edge_routed_mm - 1e-6:
            near.append((gap, land))
    if not near:
        return []
    gap, land = min(near, key=lambda one: one[0])
    spots = list(dict.fromkeys(one.spot for _, one in near))
    verb = "reaches over an edge, a slot or a cut-out" if gap <= 0 else f"is {gap:.2f} mm from the edge"
    many = f" ({len(spots)} pads)" if len(spots) > 1 else ""
    text = f"A {_pad_name(land.spot)} {verb}{many}. Copper needs {profile.edge_routed_mm:g} mm of board round it."
    left, bottom, right, top = land.region.bounds
    reach = math.hypot(right - left, top - bottom) / 2 if land.spot.kind == "pin-pad" else (right - left) / 2
    remedies = _further_in(land.spot, outline, reach + profile.edge_routed_mm)
    return [Finding(
        code="pad-near-edge", severity="stop", stage="shape", text=text, x_mm=land.spot.x, y_mm=land.spot.y,
        measured=round(gap, 3), allowed=profile.edge_routed_mm, layer=f"{land.side} copper",
        remedies=remedies or (Remedy("make it smaller, or the board larger"),), count=len(spots),
        places=tuple((spot.x, spot.y) for spot in spots),
    )]  # fmt: skip


def _edge_pads(outline: Outline, profile: Profile) -> list[Finding]:
    """Edge pads come nearer to the edge than other copper may: whoever makes the board should know that it is meant."""
    edge = outline.region.boundary
    rows = [(float(edge.distance(land.region)), land.spot) for land in outline.fixed.pads if land.spot.kind == "edge-pad"]
    near = sorted((row for row in rows if row[0] < profile.edge_routed_mm - 1e-6), key=lambda row: row[0])
    if not near:
        return []
    gap, first = near[0]
    spots = list(dict.fromkeys(spot for _, spot in near))
    told = show_under(gap, profile.edge_routed_mm)
    text = f"Edge pads come within {told} mm of the edge on purpose: say so with the order, for other copper stays "
    text += f"{profile.edge_routed_mm:g} mm away from it."
    return [Finding(
        code="copper-to-the-edge", severity="note", stage="shape", text=text, x_mm=first.x, y_mm=first.y, layer="outline",
        measured=round(gap, 3), allowed=profile.edge_routed_mm, count=len(spots),
        places=tuple((spot.x, spot.y) for spot in spots),
    )]  # fmt: skip


def _lands_at_holes(outline: Outline, profile: Profile) -> list[Finding]:
    """Metal pads over or near holes that are not their own."""
    near = []
    for land in outline.fixed.pads:
        for hole in outline.holes:
            if (hole.x, hole.y) == (land.spot.x, land.spot.y):
                continue
            least = profile.gap_mm + profile.ring_mm if hole.plated else profile.edge_routed_mm
            gap = float(land.region.distance(Point(hole.x, hole.y))) - hole.diameter / 2
            if gap < least - 1e-6:
                near.append((gap, least, land, hole))
    if not near:
        return []
    gap, least, land, hole = min(near, key=lambda one: one[0])
    where = "lies over a hole" if gap <= 0 else f"is {gap:.2f} mm from a hole"
    many = f" ({len(near)} times)" if len(near) > 1 else ""
    text = f"A {_pad_name(land.spot)} {where}{many}. It needs {least:g} mm. Move one of them."
    return [Finding(
        code="pad-over-hole", severity="stop", stage="shape", text=text, x_mm=hole.x, y_mm=hole.y,
        measured=round(max(0.0, gap), 3), allowed=least, layer=f"{land.side} copper", remedies=(Remedy("move them apart"),),
        count=len(near), places=tuple((one.x, one.y) for *_, one in near),
    )]  # fmt: skip


def _lands_near_lands(outline: Outline, profile: Profile) -> list[Finding]:
    pairs = []
    for one, other in itertools.combinations(outline.fixed.pads, 2):
        if one.side == other.side and one.spot != other.spot:
            gap = float(one.region.distance(other.region))
            if gap < profile.gap_mm:
                pairs.append((gap, one.spot, other.spot))
    if not pairs:
        return []
    gap, one_spot, other_spot = min(pairs, key=lambda pair: pair[0])
    many = f" ({len(pairs)} pairs)" if len(pairs) > 1 else ""
    told, pads = show_under(gap, profile.gap_mm), f"A {_pad_name(one_spot)} and a {_pad_name(other_spot)}"
    text = f"{pads} are {told} mm apart{many}. They need {profile.gap_mm:g} mm."
    places = tuple(((a.x + b.x) / 2, (a.y + b.y) / 2) for _, a, b in pairs)
    return [Finding(code="lands-too-near", severity="stop", stage="shape", text=text, measured=round(gap, 3),
                    allowed=profile.gap_mm, layer="copper", remedies=(Remedy("move them apart"),), count=len(pairs),
                    places=places)]  # fmt: skip


def _pad_name(spot: Spot) -> str:
    return {"sew": "sewing pad", "pin-pad": "pin pad", "magnet-pad": "magnet pad", "edge-pad": "edge pad"}.get(
        spot.kind, spot.kind
    )


def _near_threads(outline: Outline, profile: Profile) -> list[Finding]:
    sewn = [spot for spot in outline.fixed.spots if spot.conducts]
    apart, lands = fixings()["thread_apart_mm"], 2 * fixings()["sew_land_mm"]
    pairs = ((math.hypot(a.x - b.x, a.y - b.y) - a.size - lands, a) for a, b in itertools.combinations(sewn, 2))
    close = [(gap, spot) for gap, spot in pairs if gap < apart]
    if not close:
        return []
    gap, spot = min(close, key=lambda one: one[0])
    text = f"Sewing pads are {max(gap, 0):.1f} mm apart; conductive thread wants {apart:g} mm ({len(close)} pairs)."
    fewer = Remedy("use fewer of them") if spot.number else Remedy("move them apart")
    return [Finding(
        code="sew-pads-too-near", severity="warning", stage="shape", text=text, x_mm=spot.x, y_mm=spot.y,
        measured=round(gap, 2), allowed=apart, layer="front copper", remedies=(fewer,), count=len(close),
    )]  # fmt: skip


#: Looks at the features of a board, in the picture frame.
_LOOKS: tuple[Callable[[Outline, Profile], list[Finding]], ...] = (
    _off_board, _narrow_slots, _narrow_cuts, _near_holes, _holes_at_edge, _lands_at_edge, _edge_pads, _lands_at_holes,
    _lands_near_lands, _near_threads,
)  # fmt: skip
