"""What a project's file keeps of its boards, so that it opens without making that again: clean-ups and tracks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

import msgspec

from ..project import Project
from ..wiring.kept import COPPER, copper_member, pack
from ..wiring.made import Routed
from .board_passes import CLEANED, SIDES, clean_member
from .quick_passes import ROUTED
from .work import Work


def with_kept(project: Project, works: Sequence[Work]) -> Project:
    """The project with the clean-ups and tracks of its boards among its members.

    Those that none of its boards needs any more go, once all of its boards are made.
    """
    whole = {work.design.name for work in works} == {design.name for design in project.designs}
    members = {name: data for name, data in project.members.items() if not (whole and name.startswith((CLEANED, COPPER)))}
    for work in works:
        members.update(kept_of(work))
    return msgspec.structs.replace(project, members=members)


def kept_of(work: Work) -> dict[str, bytes]:
    """The members that keep what was made of one board."""
    values = work.values
    kept = {clean_member(mark): values[f"{side} packed"] for side in SIDES if (mark := values[f"{side} mark"])}
    if values[ROUTED.name].laid:
        kept[copper_member(work.design.name)] = pack(with_standing(values))
    return kept


def with_standing(values: Mapping[str, Any]) -> Routed:
    """The copper of a board, with where the parts stand that it was drawn for."""
    copper: Routed = values[ROUTED.name]
    return replace(copper, stood=values["standing"])
