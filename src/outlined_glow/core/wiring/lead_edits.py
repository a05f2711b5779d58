"""The edits of leads that go off the board."""

from __future__ import annotations

from typing import Any

import msgspec

from ..errors import Trouble
from ..project import Design, Lead, Param, board_edit
from ..text_safety import short
from .leads import CONNECTORS, GENDERS, HELD, wires

_PART = Param("text", optional=False)


def _keys(rows: tuple[tuple[str, str], ...]) -> tuple[str, ...]:
    return tuple(key for key, _ in rows)


def _with(design: Design, leads: tuple[Lead, ...]) -> Design:
    return msgspec.structs.replace(design, wiring=msgspec.structs.replace(design.wiring, leads=leads))


@board_edit(
    "lead",
    "Lead of {part}",
    part=_PART,
    to=Param("text", title="to"),
    length_mm=Param("quantity", "mm", 1, 100_000, title="length", step=10),
    wire=Param("choice", choices=lambda: tuple(wires()), title="wire"),
    colours=Param("text", title="colours, by pin"),
    held=Param("choice", choices=_keys(HELD), title="held", titles=HELD),
    connector=Param("choice", choices=_keys(CONNECTORS), title="connector", titles=CONNECTORS),
    gender=Param("choice", choices=_keys(GENDERS), title="on the lead", titles=GENDERS),
    keyed=Param("flag", title="keyed"),
)
def lead(design: Design, *, part: str, **told: Any) -> Design:
    """Solder a lead to a part, or change it: how long, of which wire, where to, how it is held, with which connector."""
    leads = {one.part: one for one in design.wiring.leads}
    chosen = {key: value for key, value in told.items() if value is not None}
    leads[part] = msgspec.structs.replace(leads.get(part, Lead(part=part)), **chosen)
    return _with(design, tuple(leads.values()))


@board_edit("remove-lead", "No lead at {part}", part=_PART)
def remove_lead(design: Design, *, part: str) -> Design:
    """Remove the lead of a part."""
    kept = tuple(one for one in design.wiring.leads if one.part != part)
    if len(kept) == len(design.wiring.leads):
        raise Trouble(f"“{short(part)}” has no lead.")
    return _with(design, kept)
