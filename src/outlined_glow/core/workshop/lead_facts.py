"""The leads of a board in figures: for the command line, as a table, and as a printed sheet."""

from __future__ import annotations

import csv
import io
from typing import Any

from ..errors import Trouble
from ..wiring.leads import CONNECTORS, GENDERS, HELD, LeadFacts, wires
from .work import Work

_COLUMNS = (
    "lead", "pin", "name", "net", "colour", "wire", "length_mm", "to", "held", "connector", "keyed", "ohm", "drop_v", "pull_n",
)  # fmt: skip


def leads_there(work: Work) -> tuple[LeadFacts, ...]:
    """The leads whose part is on the board."""
    found: tuple[LeadFacts, ...] = work.values["leads off the board"]
    return found


def takers(work: Work) -> list[tuple[str, str]]:
    """The parts that a lead can be soldered to, with their words; holders first."""
    parts = [one for one in work.board.parts if not one.part.shines and one.part.pads]
    parts.sort(key=lambda one: one.part.kind != "holder")
    return [(one.ref, f"{one.ref}, {one.part.title}") for one in parts]


def lead_rows(work: Work) -> list[dict[str, Any]]:
    """Every lead with its strands, for the command line."""
    return [
        {
            "part": one.lead.part, "to": one.lead.to, "length_mm": one.lead.length_mm, "wire": one.lead.wire,
            "held": one.lead.held, "connector": one.lead.connector,
            "gender": None if one.lead.connector == "none" else one.lead.gender, "keyed": one.lead.keyed,
            "bend_mm": round(one.bend_mm, 2), "pull_n": round(one.pull_n, 3), "drop_v": round(one.drop_v, 6),
            "strands": [
                {
                    "pin": strand.pin, "name": strand.name, "net": strand.net or None, "colour": strand.colour or None,
                    "current_a": round(strand.current_a, 6), "ohm": round(strand.ohm, 6), "drop_v": round(strand.drop_v, 6),
                    "pull_n": round(strand.pull_n, 3),
                }
                for strand in one.strands
            ],
        }
        for one in leads_there(work)
    ]  # fmt: skip


def leads_table(work: Work) -> bytes:
    """A row for each strand."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(_COLUMNS)
    for one in leads_there(work):
        lead = one.lead
        for strand in one.strands:
            rows.writerow([
                lead.part, strand.pin, strand.name, strand.net, strand.colour, lead.wire, f"{lead.length_mm:g}", lead.to,
                dict(HELD)[lead.held], connector_words(one), "yes" if lead.keyed else "no", f"{strand.ohm:.4f}",
                f"{strand.drop_v:.4f}", f"{strand.pull_n:.2f}",
            ])  # fmt: skip
    return out.getvalue().encode()


def connector_words(one: LeadFacts) -> str:
    """The connector at the far end of a lead."""
    words = dict(CONNECTORS).get(one.lead.connector, one.lead.connector)
    if one.lead.connector == "none":
        return words
    return f"{words}, {dict(GENDERS)[one.lead.gender]} on the lead{', keyed' if one.lead.keyed else ''}"


def lead_words(one: LeadFacts) -> list[str]:
    """A lead in sentences, for a sheet."""
    lead, wire = one.lead, wires().get(one.lead.wire)
    to = f" to {lead.to}" if lead.to else ""
    kind = wire.title if wire is not None else lead.wire
    out = [f"{lead.part}{to}: {lead.length_mm:g} mm, {kind}, held: {dict(HELD)[lead.held]}. Connector: {connector_words(one)}."]
    out += [
        f"pin {strand.pin}{f' ({strand.name})' if strand.name else ''}: {strand.net or 'not connected'}"
        f"{f', {strand.colour}' if strand.colour else ''}, {strand.ohm * 1000:.0f} mΩ, {strand.drop_v * 1000:.1f} mV"
        for strand in one.strands
    ]
    return [*out, f"Pull no harder than {one.pull_n:.1f} N; bend no sharper than {one.bend_mm:.1f} mm inside."]


def figures(one: LeadFacts) -> dict[str, str]:
    """A lead in a few figures, for the window."""
    return {"drop": f"{one.drop_v * 1000:.1f} mV", "pull": f"{one.pull_n:.1f} N", "bend": f"{one.bend_mm:.1f} mm"}


def leads_file(work: Work, suffix: str) -> bytes:
    """The leads as a table or a sheet. `Trouble` where there is none."""
    if not leads_there(work):
        raise Trouble("This board has no leads: tell of one with edit P lead part=….")
    if suffix.lower() == ".csv":
        return leads_table(work)
    from ..order.sheets.leads import leads_sheet  # printing is loaded by who prints

    return leads_sheet(work.board, [(one.lead.part, lead_words(one)) for one in leads_there(work)])
