"""Whether the fabricator drills the holes that parts need, far enough from one another, with enough copper round them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

import numpy as np
import shapely

from ..parts import PlacedPart, Profile
from ..parts.profiles import profiles
from ..passes import Pass
from ..project import Finding, Remedy
from ..project.finding import Severity, some_of
from ..shape import Outline, RoundHole
from ..units import show_under
from .layers import PartLayers

#: Rules are kept to so much, mm.
_SAME_MM = 1e-6


def hole_findings(parts: tuple[PlacedPart, ...], laid: PartLayers, outline: Outline, rules: Profile) -> list[Finding]:
    """What is wrong with the holes of parts. Those of features are looked at with the outline. Board frame."""
    return [*_not_drilled(parts, rules), *_narrow_rings(parts, rules), *_too_near(laid.holes, outline, rules)]


def _not_drilled(parts: Iterable[PlacedPart], rules: Profile) -> list[Finding]:
    """Holes of parts that are narrower or wider than the fabricator drills."""
    wrong = [(part, one) for part in parts for one in _drills(part) if not _drilled(rules, one)]
    if not wrong:
        return []
    first = wrong[0][1]
    text = f"{_names(part for part, _ in wrong)} a hole of {first:g} mm. The fabricator drills {rules.drill_min_mm:g} to "
    text += f"{rules.drill_max_mm:g} mm."
    helps = _elsewhere(rules, lambda other: all(_drilled(other, one) for _, one in wrong))
    return [_told("drill-out-of-range", "stop", text, [part for part, _ in wrong], first, None, helps)]


def _narrow_rings(parts: Iterable[PlacedPart], rules: Profile) -> list[Finding]:
    """Drilled pads with a narrower ring of copper round the hole than the fabricator needs: the drill may run out of it."""
    wrong = sorted(
        ((ring, part) for part in parts for ring in _rings(part) if ring < rules.ring_mm - _SAME_MM), key=lambda row: row[0]
    )
    if not wrong:
        return []
    ring, names = wrong[0][0], _names((part for _, part in wrong), "has", "have")
    told = show_under(ring, rules.ring_mm)
    text = f"{names} only {told} mm of copper round a hole. The fabricator needs {rules.ring_mm:g} mm."
    helps = _elsewhere(rules, lambda other: all(one >= other.ring_mm - _SAME_MM for one, _ in wrong))
    severity: Severity = "warning" if rules.at_home else "stop"
    return [_told("ring-too-narrow", severity, text, [part for _, part in wrong], ring, rules.ring_mm, helps)]


def _too_near(holes: Sequence[RoundHole], outline: Outline, rules: Profile) -> list[Finding]:
    """Holes of parts that are too near to one another, or to one of a feature."""
    if not holes:
        return []
    fixed = [(hole.x - outline.origin[0], hole.y - outline.origin[1], hole.diameter, "a feature") for hole in outline.holes]
    rows = [*((hole.x, hole.y, hole.diameter, hole.purpose) for hole in holes), *fixed]
    at, across = np.array([row[:2] for row in rows], float), np.array([row[2] for row in rows], float)
    points, reach = np.asarray(shapely.points(at)), rules.hole_gap_mm + float(across.max())
    one, other = shapely.STRtree(points).query(points, predicate="dwithin", distance=reach)
    gaps = np.hypot(*(at[one] - at[other]).T) - (across[one] + across[other]) / 2
    near = np.flatnonzero((gaps < rules.hole_gap_mm - _SAME_MM) & (one < other) & (one < len(holes)))
    if not len(near):
        return []
    worst = near[np.argmin(gaps[near])]
    told = show_under(max(0.0, float(gaps[worst])), rules.hole_gap_mm)
    owners = " and ".join(dict.fromkeys((rows[one[worst]][3], rows[other[worst]][3])))
    more = f" ({len(near)} pairs)" if len(near) > 1 else ""
    text = f"Holes of {owners} are {told} mm apart{more}. The fabricator needs {rules.hole_gap_mm:g} mm."
    places = ((at[one[near]] + at[other[near]]) / 2).tolist()
    return [
        Finding(
            code="holes-too-near", severity="stop", stage="lights", text=text, measured=round(float(gaps[worst]), 3),
            allowed=rules.hole_gap_mm, layer="drills", remedies=(Remedy("move them apart"),), count=len(near),
            places=tuple((x, y) for x, y in places),
        )
    ]  # fmt: skip


def _drills(part: PlacedPart) -> list[float]:
    leads = [pad.drill_mm for pad in part.part.pads if pad.drill_mm]
    return [*dict.fromkeys([*leads, *(hole.diameter_mm for hole in part.part.holes)])]


def _rings(part: PlacedPart) -> list[float]:
    sizes = {(min(pad.width_mm, pad.height_mm), pad.drill_mm) for pad in part.part.pads if pad.drill_mm}
    return [(across - drill) / 2 for across, drill in sizes]


def _drilled(rules: Profile, across_mm: float) -> bool:
    return rules.drill_min_mm - _SAME_MM <= across_mm <= rules.drill_max_mm + _SAME_MM


def _names(parts: Iterable[PlacedPart], one: str = "needs", many: str = "need") -> str:
    names = list(dict.fromkeys(part.ref for part in parts))
    return f"{some_of(names)} {one if len(names) == 1 else many}"


def _elsewhere(rules: Profile, good: Callable[[Profile], bool]) -> tuple[Remedy, ...]:
    """A shipped profile that makes it, and a part with other leads."""
    others = (one for one in profiles().values() if one.name != rules.name and not one.at_home and good(one))
    found = [Remedy(f"take the profile “{one.title}”", "set-profile", (("profile", one.name),)) for one in others]
    return (*found[:1], Remedy("take a part with other leads"))


def _told(
    code: str, severity: Severity, text: str, parts: Sequence[PlacedPart], measured: float, allowed: float | None,
    remedies: tuple[Remedy, ...],
) -> Finding:  # fmt: skip
    every = list({part.ref: part for part in parts}.values())
    return Finding(
        code=code, severity=severity, text=text, measured=round(measured, 3),
        allowed=allowed, layer="drills", remedies=remedies, count=len(every), places=tuple((part.x, part.y) for part in every),
        stage="lights" if every[0].part.shines else "wiring",
    )  # fmt: skip


CHECKS = (Pass("part holes check", ("placements", "part layers", "outline", "rules"), hole_findings),)
