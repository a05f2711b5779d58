"""Whether a desk can cut that outline, and what its size costs."""

from __future__ import annotations

from ..brief.price import over_step
from ..geometry.thin import thin_places
from ..parts import Profile
from ..project import Brief, Finding, Remedy
from .outline import Outline


def shape_findings(outline: Outline, brief: Brief, profile: Profile) -> list[Finding]:
    """Necks under the rule, sides out of range, thickness not offered, and the next price step. Board frame."""
    out: list[Finding] = []
    dx, dy = outline.origin
    necks = thin_places(outline.region, profile.neck_mm)
    if necks:
        worst = necks[0]
        places = tuple((neck.x - dx, neck.y - dy) for neck in necks)
        text = f"The board is only {worst.width:.2f} mm wide at its narrowest neck; {profile.neck_mm:g} mm hold."
        out.append(
            Finding(
                "neck-too-narrow", "stop", "shape", text, *places[0], round(worst.width, 3), profile.neck_mm, "outline",
                (Remedy("widen the border", None),), len(necks), places,
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
        out.append(Finding("over-price-step", "note", "shape", text, measured=round(max(outline.size), 2)))
    return out
