"""The nets of a board in figures: how long their tracks are, how many vias they take, whether they are joined."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ..board.wiring_findings import continuity_of, helps
from ..wiring.classes import NetClass
from ..wiring.continuity import Continuity
from ..wiring.copper import Link
from ..wiring.ground import STUB_MM
from ..wiring.links import lengths
from .mating import plug_rows
from .work import Work


@dataclass(frozen=True)
class NetRow:
    """A net: its pins, class, length of all tracks in mm, vias, state (joined, open, unwired)."""

    name: str
    kind: str
    pins: tuple[str, ...]
    made: NetClass
    length_mm: float
    vias: int
    state: str


def continuity_found(work: Work) -> Continuity | None:
    """What the copper of a board joins; None where it is not wired."""
    values = work.values
    return continuity_of(
        values["wired layers"], values["wires"], values["nets"], values["net classes"], values["rules"], values["wiring"]
    )


def net_rows(work: Work, found: Continuity | None = None) -> tuple[NetRow, ...]:
    """Every net of a board, in the order of the drive: joined as the finished copper is `found` to join it, or before anybody
    looked as it was drawn."""
    wires = work.board.wires
    lost = {one.net for one in (wires.unjoined if found is None else found.opens)}
    drawn = {one.net for one in wires.tracks} if found is None else None
    lengths: Counter[str] = Counter()
    for track in wires.tracks:
        lengths[track.net] += track.length  # type: ignore[assignment]
    vias = Counter(via.net for via in wires.vias)
    classes = work.values["net classes"]
    return tuple(
        NetRow(
            net.name, net.kind, tuple(f"{ref}.{pin}" for ref, pin in net.pins), classes[net.name],
            float(lengths[net.name]), vias[net.name], _state(net.name, len(net.pins), lost, drawn),
        )
        for net in work.plan.nets
    )  # fmt: skip


def _state(name: str, pins: int, lost: set[str], drawn: set[str] | None) -> str:
    if pins < 2:
        return "joined"
    if name in lost:
        return "open"
    return "joined" if drawn is None or name in drawn else "unwired"


def front_track_mm(work: Work) -> float:
    """The length of tracks in front beyond the short stubs at pads there, mm."""
    return sum(max(0.0, one.length - STUB_MM) for one in work.board.wires.tracks if one.side == "front")


def net_facts(work: Work, works: Sequence[Work] = ()) -> dict[str, Any]:
    """The nets for the command line: with what is not joined, why, and what would help; and what meets the plugs of the board,
    of all boards of its project."""
    found = continuity_found(work)
    why = {one.net: one for one in work.board.wires.unjoined}
    rows = net_rows(work, found)
    unjoined = [
        {
            "net": one.net, "from": ".".join(one.groups[0][0]), "to": ".".join(group[0]),
            "why": why[one.net].why if one.net in why else "not drawn",
            "remedies": [remedy.text for remedy in helps(one.net in why, work.board.profile, work.design.wiring)],
        }
        for one in (found.opens if found is not None else ())
        for group in one.groups[1:]
    ]  # fmt: skip
    nets = [
        {
            "name": one.name, "class": one.kind, "pins": list(one.pins), "width_mm": one.made.width,
            "clearance_mm": one.made.clearance, "length_mm": round(one.length_mm, 3), "vias": one.vias, "state": one.state,
        }
        for one in rows
    ]  # fmt: skip
    return {
        "nets": nets, "unjoined": unjoined, "front_track_mm": round(front_track_mm(work), 3), "links": link_rows(work),
        "plugs": plug_rows(works or (work,), work),
    }  # fmt: skip


def link_rows(work: Work) -> list[dict[str, Any]]:
    """The wires in the place of plated holes: where each begins and ends in the board frame, how long it is between its
    joints, mm."""
    long = lengths(work.board.wires.links, work.board.stack.thickness_mm)
    return [
        {
            "reference": one.ref,
            "net": one.net,
            "from": _end(one, 0),
            "to": _end(one, 1),
            "length_mm": round(long[one.ref], 2),
        }
        for one in work.board.wires.links
    ]


def _end(link: Link, which: int) -> dict[str, Any]:
    pin, (x, y), side = link.pins[which]
    return {"pin": f"{link.ref}.{pin}", "x_mm": round(x, 3), "y_mm": round(y, 3), "side": side}
