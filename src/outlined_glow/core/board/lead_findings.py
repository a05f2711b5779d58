"""Leads that go off the board: those that hang on their joints, and those whose part is gone."""

from __future__ import annotations

from collections.abc import Iterable

from ..passes import Pass
from ..project import Finding, Lead, Remedy
from ..text_safety import short
from ..wiring.leads import USUAL, LeadFacts, wires

#: So long a lead is pulled at sooner or later, mm; and what a hand pulls without meaning to, N.
_LONG_MM, _HAND_N = 60.0, 15.0
#: A lead that costs more than this is told, V.
_MUCH_V = 0.2


def lead_findings(wished: Iterable[Lead], there: tuple[LeadFacts, ...]) -> list[Finding]:
    """What of the leads will not last, or not work."""
    known = {one.lead.part for one in there}
    out = [_gone(one) for one in wished if one.part not in known]
    out += [_unknown(one.lead) for one in there if one.lead.wire not in wires()]
    for one in there:
        lead = one.lead
        if lead.held == "joints" and lead.length_mm > _LONG_MM and one.pull_n < _HAND_N:
            text = (
                f"The lead of {lead.part} ({lead.length_mm:g} mm) hangs on its joints: pull no harder than {one.pull_n:.1f} N. "
            )
            out.append(
                Finding(
                    code="lead-on-its-joints", severity="note", stage="wiring", text=text + "A hand does.",
                    measured=round(one.pull_n, 2), allowed=_HAND_N,
                    remedies=(Remedy("hold it with glue", "lead", (("part", lead.part), ("held", "glue"))),),
                )
            )  # fmt: skip
        if one.drop_v > _MUCH_V:
            text = f"The lead of {lead.part} loses {one.drop_v:.2f} V there and back. Take thicker wire, or a shorter lead."
            out.append(
                Finding(code="lead-drops", severity="warning", stage="wiring", text=text, measured=round(one.drop_v, 3),
                        allowed=_MUCH_V)
            )  # fmt: skip
    return out


def _unknown(lead: Lead) -> Finding:
    return Finding(
        code="lead-wire-unknown", severity="warning", stage="wiring",
        text=f"Nobody knows a wire “{short(lead.wire)}”: the lead of {lead.part} is reckoned as the usual one.",
        remedies=(Remedy("take the usual wire", "lead", (("part", lead.part), ("wire", USUAL))),),
    )  # fmt: skip


def _gone(lead: Lead) -> Finding:
    return Finding(
        code="lead-without-part", severity="warning", stage="wiring",
        text=f"A lead is told for {lead.part}, and the board has no such part with pads for one.",
        remedies=(Remedy("remove it", "remove-lead", (("part", lead.part),)),),
    )  # fmt: skip


CHECKS = (Pass("lead check", ("lead wishes", "leads off the board"), lead_findings),)
