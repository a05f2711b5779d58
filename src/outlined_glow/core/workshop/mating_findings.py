"""What is wrong with boards that plug onto one another: nets that do not meet, and parts for which there is no room."""

from __future__ import annotations

from collections.abc import Sequence

from ..drive.plugs import GAP_MM
from ..project import Finding, Plug, Remedy
from ..project.edits import BOARD
from ..text_safety import short
from .feeding import FED, feeding_findings
from .mating import Mated, crowded, mated, partner
from .work import Work

_RAILS = ("supply", "ground")


def mating_findings(works: Sequence[Work]) -> list[Finding]:
    """Of all boards of a project. Each is told of the board whose plug names the other one."""
    out = [one for work in works for one in _of_board(works, work)]
    pairs = mated(works)
    out += feeding_findings(pairs)
    for one in pairs:
        out += [*_nets(one), *_rails(one), *_room(one)]
        if len(one.pairs) < len(one.mine.nets):
            out.append(_apart(one))
    return out


def _of_board(works: Sequence[Work], work: Work) -> list[Finding]:
    """Plugs that go onto nothing, or onto what they cannot go onto."""
    out = []
    for plug in work.design.drive.plugs:
        if not plug.onto:
            continue
        met = partner(works, work, plug)
        if met is None:
            text = (
                f"“{short(plug.name)}” plugs onto “{short(plug.onto)}”, and not just one other board has a plug of that name."
            )
            leave = Remedy(
                "let it plug onto nothing", "plug", (("name", plug.name), ("onto", "none"), (BOARD, work.design.name))
            )
            out.append(_told(work, "plug-alone", "warning", text, leave))
            continue
        other, its = met
        if plug.kind == its.kind or len(plug.nets) != len(its.nets) or plug.rows != its.rows:
            what = (
                "both are pins" if plug.kind == its.kind == "pins"
                else "both are sockets" if plug.kind == its.kind
                else f"one has {_pins(plug)}, the other {_pins(its)}"
            )  # fmt: skip
            text = f"“{short(plug.name)}” does not go onto “{short(its.name)}” of board “{short(other.design.name)}”: {what}."
            kind = "socket" if plug.kind == "pins" else "pins"
            swap = Remedy(f"make it {'a socket' if kind == 'socket' else 'pins'}", "plug",
                          (("name", plug.name), ("kind", kind), (BOARD, work.design.name)))  # fmt: skip
            out.append(_told(work, "plugs-do-not-fit", "stop", text, *([swap] if plug.kind == its.kind else [])))
    return out


def _pins(plug: Plug) -> str:
    return f"{plug.rows} x {len(plug.nets) // plug.rows} pins"


def _nets(one: Mated) -> list[Finding]:
    wrong = one.differing
    if not wrong:
        return _turned(one)
    pin, other = wrong[0]
    mine, its = (net or "nothing" for net in one.nets(wrong[0]))
    many = "" if len(wrong) == 1 else f", and {len(wrong) - 1} more"
    text = (
        f"Plugged together, pin {pin} of “{short(one.mine.name)}” ({short(mine)}) meets pin {other} of “{short(one.its.name)}”"
        f" on board “{short(one.other.design.name)}” ({short(its)}){many}. They face one another: the second is seen in mirror."
    )
    mend = Remedy(
        f"put the nets of “{short(one.its.name)}” as they meet", "plug",
        (("name", one.its.name), ("nets", one.as_it_meets), (BOARD, one.other.design.name)),
    )  # fmt: skip
    return [_told(one.one, "plug-nets-differ", "stop", text, mend, count=len(wrong))]


def _turned(one: Mated) -> list[Finding]:
    """A plug that can be plugged in the other way round, if a supply or ground then meets something else."""
    wrong = next(
        (one.nets(pair) for pair in one.turned if len(set(one.nets(pair))) > 1 and set(one.nets(pair)) & set(_RAILS)), None
    )
    if wrong is None:
        return []
    mine, its = (net or "nothing" for net in wrong)
    text = (
        f"“{short(one.mine.name)}” can be plugged in turned by half; {short(mine)} then meets {short(its)}."
        " Key it, or order its nets so that it does no harm."
    )
    key = Remedy("key it", "plug", (("name", one.mine.name), ("keyed", True), (BOARD, one.one.design.name)))
    return [_told(one.one, "plug-turned", "note", text, key)]


def _rails(one: Mated) -> list[Finding]:
    """Two boards that both bring a supply to one net."""
    both = [work for work in (one.one, one.other) if work.design.drive.supply != FED]
    if not one.joins_supplies or len(both) < 2:
        return []
    names = " and ".join(f"“{short(work.design.name)}” ({work.plan.supply.title})" for work in both)
    text = f"Boards {names} each have a supply, and “{short(one.mine.name)}” joins both. Let one be fed by the other."
    feed = Remedy(f"feed “{short(one.other.design.name)}” by the other board", "set-supply",
                  (("supply", FED), (BOARD, one.other.design.name)))  # fmt: skip
    return [_told(one.one, "two-supplies-joined", "stop", text, feed)]


def _room(one: Mated) -> list[Finding]:
    found = crowded(one)
    if found is None:
        return []
    part, its, tall = found
    what = f"{part.ref} and {its.ref} of the other board need" if its is not None else f"{part.ref} needs"
    text = (
        f"Plugged together, boards “{short(one.one.design.name)}” and “{short(one.other.design.name)}” are {GAP_MM:g} mm apart;"
        f" {what} {tall:.1f} mm. Move it, or put it on the other side."
    )
    return [_told(one.one, "boards-too-near", "stop", text, measured=round(tall, 2), allowed=GAP_MM)]


def _apart(one: Mated) -> Finding:
    text = (
        f"{len(one.mine.nets) - len(one.pairs)} pins of “{short(one.mine.name)}” meet no pin of “{short(one.its.name)}”:"
        " the plugs between these boards do not lie alike. Move one of them."
    )
    return _told(one.one, "plugs-apart", "stop", text, count=len(one.mine.nets) - len(one.pairs))


def _told(work: Work, code: str, severity: str, text: str, *remedies: Remedy, **more: float) -> Finding:
    return Finding(
        code=code, severity=severity, stage="wiring", text=text, board=work.design.name, remedies=remedies, **more,  # type: ignore[arg-type]
    )  # fmt: skip
