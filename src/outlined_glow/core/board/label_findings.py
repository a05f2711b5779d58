"""Parts behind whose label found no room on the legend: who solders by hand would look for it in vain."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ..parts import PlacedPart, Profile
from ..passes import Pass
from ..project import Finding, LabelPlace, Remedy
from ..project.finding import some_of
from .labels import LabelSpot


def label_findings(
    parts: Sequence[PlacedPart], spots: Mapping[str, LabelSpot], by_hand: Sequence[LabelPlace], rules: Profile
) -> list[Finding]:
    """One note for all of them, but for labels that are left away on purpose. Board frame."""
    hidden = {one.part for one in by_hand if not one.printed}
    known = {*spots, *hidden}
    lacking = [part for part in parts if part.side == "back" and part.ref not in known]
    if not lacking or not rules.has_legend:
        return []
    names, kept = some_of([part.ref for part in lacking]), "has no label" if len(lacking) == 1 else "have no labels"
    text = f"{names} {kept} on the back: beside the part there is no room for it. The placement table tells where it is."
    return [
        Finding(
            code="no-label", severity="note", stage="wiring", text=text, count=len(lacking),
            remedies=(Remedy("move the part, or a label beside it"), Remedy("free the back of drawn ink there")),
            places=tuple((part.x, part.y) for part in lacking),
        )
    ]  # fmt: skip


CHECKS = (Pass("labels check", ("placements", "label spots", "labels by hand", "rules"), label_findings),)
