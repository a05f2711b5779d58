"""What a supply always needs beside it: switch, fuse, protection, charger, strain relief (DOMAIN 9). Each is fitted, or left
away on purpose; what is neither is missing."""

from __future__ import annotations

from collections.abc import Sequence

from ...parts import Part, Supply, part
from ...project import Drive, Finding, Remedy
from ..circuit import GROUND, SUPPLY, Circuit, pin_named
from ..devices import Need, needs

#: What resettable fuses of this body hold without end in a cool room, A; in a warm case they hold that share of it. Those for
#: less than half an ampere have ohms, not a tenth of one.
_HOLD_A, _WARM = (0.5, 0.75, 1.1, 1.5, 2.0), 0.8


def fuse_values(circuit: Circuit, most_a: float) -> dict[str, str]:
    """What the fuses of a circuit have to hold, by their references: the least usual current that holds the most it draws."""
    hold = next((one for one in _HOLD_A if _WARM * one >= most_a), _HOLD_A[-1])
    return {one.ref: f"{hold:g}A hold" for one in circuit.wanted if one.part.kind == "fuse"}


def fitted(drive: Drive, source: Supply) -> list[Need]:
    """What is fitted of what a supply needs, in the order of the current."""
    return [one for key, one in needs().items() if key in source.needs and key in drive.fitted]


def feed_through(circuit: Circuit, ref: str, holder: Part, chosen: list[Need], to: str = SUPPLY, of: str = "") -> None:
    """Join a supply to a net of the circuit through what is fitted, one part after another; the nets between are named after
    what they are `of`."""
    if not any(one.ohm for one in chosen):
        circuit.feed(ref, holder, to)
        for one in chosen:
            circuit.add(part(one.part), outside=True)
        return
    ahead, cell = f"{of}supply +", f"{of}cell -"
    behind = cell if any(one.part == "charger module" for one in chosen) else GROUND
    for pin in holder.pins:
        if pin.role in (SUPPLY, GROUND):
            circuit.join(ahead if pin.role == SUPPLY else behind, (ref, pin.number))
    last = [one for one in chosen if one.ohm][-1]
    for one in chosen:
        after = to if one is last else f"{of}supply after the {one.title.split()[0]}"
        _between(circuit, part(one.part), ahead, after, cell)
        ahead = after if one.ohm else ahead


def _between(circuit: Circuit, body: Part, ahead: str, after: str, cell: str) -> None:
    """A part in the way of the supply; what only holds a lead lies where the lead comes from."""
    ref = circuit.add(body, outside=not body.pads)
    names = {pin.name for pin in body.pins}
    if "B+" in names:
        circuit.join(ahead, (ref, pin_named(body, "B+")))
        circuit.join(cell, (ref, pin_named(body, "B-")))
        circuit.join(after, (ref, pin_named(body, "OUT+")))
        circuit.join(GROUND, (ref, pin_named(body, "OUT-")))
    elif "gate" in names:
        circuit.join(ahead, (ref, pin_named(body, "drain")))
        circuit.join(after, (ref, pin_named(body, "source")))
        circuit.join(GROUND, (ref, pin_named(body, "gate")))
    elif "common" in names:
        circuit.join(ahead, (ref, pin_named(body, "common")))
        circuit.join(after, (ref, pin_named(body, "on")))
    elif body.pads:
        circuit.join(ahead, (ref, body.pins[0].number))
        circuit.join(after, (ref, body.pins[1].number))


def missing_findings(drive: Drive, sources: Sequence[Supply]) -> list[Finding]:
    """What the sources need and have not, and what was left away on purpose."""
    out = []
    for key, one in needs().items():
        source = next((source for source in sources if key in source.needs), None)
        if source is None or key in drive.fitted:
            continue
        if key in drive.left_away:
            text = f"There is no {one.title} for the {source.title}, on purpose: {one.why}."
            out.append(Finding(code="supply-part-left-away", severity="note", stage="drive", text=text))
            continue
        price = part(one.part).price or 0.0
        out.append(
            Finding(
                code="supply-part-missing", severity="warning", stage="drive",
                text=f"The {source.title} needs a {one.title} ({price:.2f}): {one.why}.",
                remedies=(
                    Remedy(f"add the {one.title}", "drive", (("fit", (key,)),)),
                    Remedy("leave it away", "drive", (("leave_away", (key,)),)),
                ),
            )
        )  # fmt: skip
    return out
