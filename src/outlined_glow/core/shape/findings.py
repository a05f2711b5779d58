"""Whether a desk can cut that outline, and what its size costs."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from dataclasses import replace

from shapely.geometry import Point, Polygon
from shapely.ops import nearest_points

from ..brief.price import fits_box, over_step
from ..geometry.regions import grow
from ..geometry.thin import thin_places
from ..parts import Profile
from ..project import Finding, Project, Remedy, Shape, Width
from .features import Spot, fixings
from .outline import Outline
from .primitives import FORMS

#: Features that are drilled, and so must lie whole within the board.
_DRILLED = ("hole", "keyring", "screw", "sew")


def shape_findings(outline: Outline, project: Project, profile: Profile) -> list[Finding]:
    """Necks under the rule, sides out of range, thickness not offered, and the next price step. Board frame."""
    out: list[Finding] = _feature_findings(outline, profile)
    brief, shape = project.brief, project.design.shape
    dx, dy = outline.origin
    necks = thin_places(outline.region, profile.neck_mm)
    if necks:
        worst = necks[0]
        places = tuple((neck.x - dx, neck.y - dy) for neck in necks)
        text = f"The board is only {max(0.01, worst.width):.2f} mm wide at its narrowest neck; {profile.neck_mm:g} mm hold."
        out.append(
            Finding(
                "neck-too-narrow", "stop", "shape", text, *places[0], round(worst.width, 3), profile.neck_mm, "outline",
                (_wider(shape, (profile.neck_mm - worst.width) / 2),), len(necks), places,
                tuple(Width(neck.width, neck.across_deg) for neck in necks),
            )
        )  # fmt: skip
    for side in outline.size:
        if not profile.side_min_mm <= side <= profile.side_max_mm:
            limit = profile.side_min_mm if side < profile.side_min_mm else profile.side_max_mm
            text = f"A side of {side:.1f} mm is outside what the {profile.title} desk makes "
            text += f"({profile.side_min_mm:g} to {profile.side_max_mm:g} mm)."
            out.append(Finding("side-out-of-range", "stop", "shape", text, measured=round(side, 2), allowed=limit))
    if brief.stack.thickness_mm not in profile.thickness_mm:
        offered = ", ".join(f"{one:g}" for one in profile.thickness_mm)
        text = f"The {profile.title} desk has no board {brief.stack.thickness_mm:g} mm thick; it has {offered}."
        out.append(Finding("thickness-not-offered", "stop", "brief", text, measured=brief.stack.thickness_mm))
    for hole in outline.holes:
        if not profile.drill_min_mm <= hole.diameter <= profile.drill_max_mm:
            text = f"A hole of {hole.diameter:g} mm cannot be drilled here: {profile.drill_min_mm:g} to "
            text += f"{profile.drill_max_mm:g} mm can."
            out.append(
                Finding("drill-out-of-range", "stop", "shape", text, hole.x - dx, hole.y - dy, hole.diameter, layer="drills")
            )
    step = over_step(outline.size) if profile.name != "home-etch" else None
    if step is not None:
        excess, saves = step
        text = f"The board is {excess:.1f} mm over a price step; that much narrower saves {saves:.2f} an order."
        out.append(
            Finding("over-price-step", "note", "shape", text, measured=round(max(outline.size), 2),
                    remedies=_narrower(project, outline, excess, saves))
        )  # fmt: skip
    if shape.copper_to_edge:
        text = "Copper goes over the edge on purpose: say so with the order, and mind that it costs extra."
        out.append(Finding("copper-to-the-edge", "note", "shape", text, layer="outline"))
    return out


def _wider(shape: Shape, by: float) -> Remedy:
    border = round(min(50.0, shape.border_mm + by + 0.05), 2)
    return Remedy(f"border {border:g} mm", "set-border", (("border_mm", border),))


def _narrower(project: Project, outline: Outline, excess: float, saves: float) -> tuple[Remedy, ...]:
    """The edit that brings the board under the price step, where one edit does."""
    shape, pictures = project.design.shape, project.design.artwork.pictures
    rim = 2 * shape.border_mm
    shares = [1 - (excess + 0.02) / max(1e-6, side - rim) for side in outline.size]
    fitting = [share for share in shares if fits_box(tuple((side - rim) * share + rim for side in outline.size))]  # type: ignore[arg-type]
    share = max(fitting, default=0.0)
    words = f"{excess:.1f} mm narrower saves {saves:.2f}"
    if shape.base == "silhouette" and len(pictures) == 1 and share > 0.5:
        width = round(pictures[0].width_mm * share - 0.005, 2)
        return (Remedy(words, "set-width", (("width_mm", width),)),)
    if shape.base in FORMS and not shape.with_picture and share > 0.5:
        values = (("width_mm", round(shape.width_mm * share, 2)), ("height_mm", round(shape.height_mm * share, 2)))
        return (Remedy(words, "set-shape", values),)
    return ()


def _web(outline: Outline, x: float, y: float, diameter: float) -> float:
    """Board between a hole and the nearest edge, mm."""
    place, edge = Point(x, y), outline.region.exterior
    inward = 1 if Polygon(edge).contains(place) else -1
    return inward * float(edge.distance(place)) - diameter / 2


def _feature_findings(outline: Outline, profile: Profile) -> list[Finding]:
    """Features off the board, slots too narrow, holes too near to one another or to the edge, threads too near."""
    dx, dy = outline.origin
    found = [one for look in _LOOKS for one in look(outline, profile)]
    return [
        replace(one, x_mm=_less(one.x_mm, dx), y_mm=_less(one.y_mm, dy), places=tuple((x - dx, y - dy) for x, y in one.places))
        for one in found
    ]


def _less(value: float | None, by: float) -> float | None:
    return None if value is None else value - by


def _off_board(outline: Outline, profile: Profile) -> list[Finding]:
    lost = [spot for spot in outline.fixed.spots if not _on_board(spot, outline)]
    if not lost:
        return []
    first = lost[0]
    drop = Remedy("take it away", "remove-feature", (("number", first.number),))
    text = f"A {first.kind} stands off the board, or breaks through its edge ({len(lost)} of them)."
    inward = _further_in(first, outline, profile) if first.kind in _DRILLED else ()
    return [
        Finding("feature-off-board", "stop", "shape", text, first.x, first.y, layer="outline", remedies=(*inward, drop),
                count=len(lost), places=tuple((spot.x, spot.y) for spot in lost))
    ]  # fmt: skip


def _on_board(spot: Spot, outline: Outline) -> bool:
    """Whether a hole is whole, and whether anything else is near enough to the edge to have to do with the board."""
    if spot.kind in _DRILLED:
        return _web(outline, spot.x, spot.y, spot.size) > 0
    return Polygon(outline.region.exterior).buffer(spot.size).contains(Point(spot.x, spot.y))


def _further_in(spot: Spot, outline: Outline, profile: Profile) -> tuple[Remedy, ...]:
    """The edit that sets a hole so far in that enough of the board is left beside it."""
    room = grow(Polygon(outline.region.exterior), -(spot.size + profile.neck_mm) / 2 - 0.01)
    if spot.by_rule or room.is_empty:
        return ()
    x, y = nearest_points(room, Point(spot.x, spot.y))[0].coords[0]
    values = (("number", spot.number), ("x_mm", round(x, 3)), ("y_mm", round(y, 3)))
    return (Remedy("set it further in", "set-feature", values),)


def _narrow_slots(outline: Outline, profile: Profile) -> list[Finding]:
    spots = [spot for spot in outline.fixed.spots if spot.kind in ("slot", "notch", "opening")]
    narrow = [spot for spot in spots if min(spot.size, spot.length) < profile.slot_mm]
    if not narrow:
        return []
    first = narrow[0]
    width = min(first.size, first.length)
    text = f"A {first.kind} is {width:g} mm wide; this desk cuts {profile.slot_mm:g} mm and more."
    values = (("number", first.number), ("size_mm", profile.slot_mm))
    wider = Remedy(f"make it {profile.slot_mm:g} mm", "set-feature", values)
    return [Finding("slot-too-narrow", "stop", "shape", text, first.x, first.y, width, profile.slot_mm, "outline", (wider,),
                    len(narrow))]  # fmt: skip


def _near_holes(outline: Outline, profile: Profile) -> list[Finding]:
    near = []
    for one, other in itertools.combinations(outline.holes, 2):
        gap = math.hypot(one.x - other.x, one.y - other.y) - (one.diameter + other.diameter) / 2
        if gap < profile.hole_gap_mm:
            near.append((gap, (one.x + other.x) / 2, (one.y + other.y) / 2))
    if not near:
        return []
    gap, x, y = min(near)
    text = f"Holes are only {max(gap, 0):.2f} mm apart, under {profile.hole_gap_mm:g} mm ({len(near)} pairs)."
    return [Finding("holes-too-near", "stop", "shape", text, x, y, round(gap, 3), profile.hole_gap_mm, "drills",
                    (Remedy("move them apart"),), len(near), tuple((a, b) for _, a, b in near))]  # fmt: skip


def _holes_at_edge(outline: Outline, profile: Profile) -> list[Finding]:
    enough = profile.neck_mm / 2
    thin = [(web, hole) for hole in outline.holes if 0 < (web := _web(outline, hole.x, hole.y, hole.diameter)) < enough]
    if not thin:
        return []
    web, hole = min(thin, key=lambda one: one[0])
    text = f"A hole leaves only {web:.2f} mm of board beside it; {enough:g} mm hold ({len(thin)} of them)."
    spot = next((one for one in outline.fixed.spots if (one.x, one.y) == (hole.x, hole.y)), None)
    inward = _further_in(spot, outline, profile) if spot is not None else ()
    advice = (*(inward or (Remedy("set it further in"),)), Remedy("widen the border"))
    return [Finding("hole-near-edge", "warning", "shape", text, hole.x, hole.y, round(web, 3), enough, "outline", advice,
                    len(thin), tuple((one.x, one.y) for _, one in thin))]  # fmt: skip


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
    return [Finding("sew-pads-too-near", "warning", "shape", text, spot.x, spot.y, round(gap, 2), apart, "front copper",
                    (fewer,), len(close))]  # fmt: skip


#: Looks at the features of a board, in the picture frame.
_LOOKS: tuple[Callable[[Outline, Profile], list[Finding]], ...] = (
    _off_board, _narrow_slots, _near_holes, _holes_at_edge, _near_threads,
)  # fmt: skip
