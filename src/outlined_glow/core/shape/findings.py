"""Whether a fabricator can cut that outline, and what its size costs."""

from __future__ import annotations

from collections.abc import Callable

import msgspec

from ..brief.price import fits_box, over_step
from ..errors import Trouble
from ..geometry.narrow.places import thin_places
from ..geometry.ringfile import told_in
from ..parts import Profile
from ..passes import Pass
from ..project import Brief, Finding, Picture, Remedy, Shape, Width
from ..project.frames import all_in_board_frame
from .feature_findings import feature_findings
from .outline import Outline
from .primitives import FORMS

#: The outline as it would be under another shape.
Recut = Callable[[Shape], Outline]


def neck_findings(outline: Outline, shape: Shape, profile: Profile, recut: Recut) -> list[Finding]:
    """Places of the board under the rule; remedies are tried with `recut` before they are offered. Board frame."""
    out: list[Finding] = []
    dx, dy = outline.origin
    necks = thin_places(outline.region, profile.neck_mm)
    if necks:
        worst = necks[0]
        places = tuple((neck.x - dx, neck.y - dy) for neck in necks)
        text = f"The board is {max(0.01, worst.width):.2f} mm wide at its narrowest point. "
        text += f"It needs {profile.neck_mm:g} mm or it may break."
        out.append(
            Finding(
                code="neck-too-narrow", severity="stop", stage="shape", text=text, measured=round(worst.width, 3),
                allowed=profile.neck_mm, layer="outline", remedies=_wider(shape, profile, worst.width, recut),
                count=len(necks), places=places, widths=tuple(Width(neck.width, neck.across_deg) for neck in necks),
            )
        )  # fmt: skip
    return out


def limit_findings(
    outline: Outline, brief: Brief, shape: Shape, pictures: tuple[Picture, ...], profile: Profile
) -> list[Finding]:
    """Sides out of range, thickness not offered, holes that cannot be drilled, and the price break. Board frame."""
    out: list[Finding] = []
    for side in outline.size:
        if not profile.side_min_mm <= side <= profile.side_max_mm:
            limit = profile.side_min_mm if side < profile.side_min_mm else profile.side_max_mm
            text = f"A side of {side:.1f} mm is outside what {profile.title} makes "
            text += f"({profile.side_min_mm:g} to {profile.side_max_mm:g} mm)."
            out.append(
                Finding(
                    code="side-out-of-range", severity="stop", stage="shape", text=text, measured=round(side, 2), allowed=limit
                )
            )
    if brief.stack.thickness_mm not in profile.thickness_mm:
        offered = ", ".join(f"{one:g}" for one in profile.thickness_mm)
        text = f"{profile.title} makes no board {brief.stack.thickness_mm:g} mm thick; it makes {offered}."
        out.append(
            Finding(code="thickness-not-offered", severity="stop", stage="brief", text=text, measured=brief.stack.thickness_mm)
        )
    out += _not_drilled(outline, profile)
    step = over_step(brief, outline.size)
    if step is not None:
        excess, saves = step
        text = f"The board is {excess:.1f} mm larger than the price break; that much narrower saves {saves:.2f} credits"
        text += " an order by the example prices."
        out.append(
            Finding(code="over-price-step", severity="note", stage="shape", text=text, measured=round(max(outline.size), 2),
                    remedies=_narrower(shape, pictures, outline, excess, saves))
        )  # fmt: skip
    if shape.copper_to_edge:
        text = "Copper goes over the edge on purpose: say so with the order, and mind that it costs extra."
        out.append(Finding(code="copper-to-the-edge", severity="note", stage="shape", text=text, layer="outline"))
    return out


def _not_drilled(outline: Outline, profile: Profile) -> list[Finding]:
    out = []
    for hole in outline.holes:
        if not profile.drill_min_mm <= hole.diameter <= profile.drill_max_mm:
            text = f"A hole of {hole.diameter:g} mm cannot be drilled here: {profile.drill_min_mm:g} to "
            text += f"{profile.drill_max_mm:g} mm can."
            out.append(Finding(
                code="drill-out-of-range", severity="stop", stage="shape", text=text, x_mm=hole.x - outline.origin[0],
                y_mm=hole.y - outline.origin[1], measured=hole.diameter, layer="drills",
            ))  # fmt: skip
    return out


def _wider(shape: Shape, profile: Profile, width: float, recut: Recut) -> tuple[Remedy, ...]:
    """The border that makes every neck wide enough or, where none does, the one that gets furthest, and how far."""
    missing = profile.neck_mm - width
    best: tuple[float, float] | None = None
    # Both banks of a neck move, or one of them, or hardly any.
    for more in (missing / 2, missing, 2 * missing):
        border = round(min(50.0, shape.border_mm + more + 0.05), 2)
        try:
            left = thin_places(recut(msgspec.structs.replace(shape, border_mm=border)).region, profile.neck_mm)
        except Trouble:
            continue
        reached = left[0].width if left else profile.neck_mm
        if best is None or reached > best[1] + 0.01:
            best = (border, reached)
        if not left:
            break
    if best is None or best[1] < width + 0.05:
        return (Remedy("widen it in the drawing"),)
    border, reached = best
    far = "" if reached >= profile.neck_mm else f": it is then {reached:.2f} mm wide"
    return (Remedy(f"widen the border to {border:g} mm{far}", "set-border", (("border_mm", border),)),)


def _narrower(shape: Shape, pictures: tuple[Picture, ...], outline: Outline, excess: float, saves: float) -> tuple[Remedy, ...]:
    """The edit that brings the board under the price break, where one edit does."""
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


def taken_findings(shape: Shape, taken: bytes) -> list[Finding]:
    """What was told of the drawing that the outline was taken from."""
    told = told_in(taken) if shape.base == "drawn" and taken else ()
    if not told:
        return []
    more = f" And {len(told) - 1} more." if len(told) > 1 else ""
    text = f"Of the drawing that the outline was taken from: {told[0]}{more}"
    remedies = (Remedy("look at the size and form of the board"), Remedy("mend the drawing and take its outline again"))
    return [Finding(code="outline-from-drawing", severity="warning", stage="shape", text=text, layer="outline",
                    count=len(told), remedies=remedies)]  # fmt: skip


def _of_outline(outline: Outline) -> tuple[Finding, ...]:
    """What was found while the outline was made."""
    return all_in_board_frame(outline.findings, outline.origin)


OUTLINE_CHECKS = (Pass("outline check", ("outline",), _of_outline),)
CHECKS = (
    Pass("features check", ("outline", "rules"), feature_findings),
    Pass("necks check", ("outline", "shape", "rules", "recut"), neck_findings),
    Pass("taken outline check", ("shape", "taken file"), taken_findings),
    Pass("limits check", ("outline", "brief", "shape", "pictures", "rules"), limit_findings),
)
