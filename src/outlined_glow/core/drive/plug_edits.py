"""The edits of pins and sockets by which boards plug onto one another."""

from __future__ import annotations

from typing import Any

import msgspec

from ..errors import Trouble
from ..project import Design, Param, Plug, board_edit
from ..text_safety import short
from .plugs import KINDS, NO_NET


def _with(design: Design, plugs: tuple[Plug, ...]) -> Design:
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, plugs=plugs))


@board_edit(
    "plug",
    "Plug {name}",
    name=Param("text", optional=False),
    kind=Param("choice", choices=tuple(key for key, _ in KINDS), title="is", titles=KINDS),
    nets=Param("names", title="nets, by pin"),
    rows=Param("count", "", 1, 2, title="rows"),
    onto=Param("text", title="plugs onto"),
    onto_board=Param("text", title="on board"),
    keyed=Param("flag", title="keyed"),
)
def plug(design: Design, *, name: str, **told: Any) -> Design:
    """Pins or a socket by which the board plugs onto another one, or what changes of them: the nets of its pins in their order
    (none: a pin that is joined to nothing), and which plug of another board it goes onto (none: it goes onto nothing)."""
    known = {one.name: one for one in design.drive.plugs}
    if not name.strip() or len(name) > 60:
        raise Trouble("A plug is called by a name of up to 60 letters.")
    chosen = {key: value for key, value in told.items() if value is not None}
    for key in ("onto", "onto_board"):
        chosen |= {key: ""} if chosen.get(key) == NO_NET else {}
    if "nets" in chosen:
        chosen["nets"] = tuple("" if one == NO_NET else one for one in chosen["nets"])
        wrong = next((one for one in chosen["nets"] if len(one) > 60), None)
        if wrong is not None or not 1 <= len(chosen["nets"]) <= 80:
            raise Trouble("A plug has 1 to 80 pins, and names of nets have up to 60 letters.")
    known[name] = msgspec.structs.replace(known.get(name, Plug(name=name)), **chosen)
    return _with(design, tuple(known.values()))


@board_edit("remove-plug", "No plug {name}", name=Param("text", optional=False))
def remove_plug(design: Design, *, name: str) -> Design:
    """Remove a plug."""
    kept = tuple(one for one in design.drive.plugs if one.name != name)
    if len(kept) == len(design.drive.plugs):
        raise Trouble(f"There is no plug “{short(name)}” on this board.")
    return _with(design, kept)
