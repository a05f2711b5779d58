"""The nets of a board as single wires, for those who join its parts by hand: from pin to pin, how long each is cut, in which
colour; as a table and as a printed sheet."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterator
from dataclasses import dataclass

from ..errors import Trouble
from ..wiring.links import tree_over
from .work import Work

#: A wire is cut so much longer than its straight way, and by so much more for both stripped ends, mm.
_SLACK, _ENDS_MM = 1.15, 10.0
#: The colours of the supply and the ground, and of all other nets in turn.
_SUPPLY, _GROUND = "red", "black"
_OTHERS = ("yellow", "green", "blue", "white", "orange", "violet", "brown", "grey")
_COLUMNS = ("number", "net", "from", "to", "straight_mm", "cut_mm", "colour")


@dataclass(frozen=True)
class HandWire:
    """A wire from a pin to another (“D1.2”), with their places in the board frame and its colour."""

    number: int
    net: str
    start: str
    end: str
    places: tuple[tuple[float, float], tuple[float, float]]
    colour: str

    @property
    def straight_mm(self) -> float:
        """How far its ends are apart."""
        return math.dist(*self.places)

    @property
    def cut_mm(self) -> int:
        """How long it is cut, in whole millimetres."""
        return math.ceil(_SLACK * self.straight_mm + _ENDS_MM)


def hand_wires(work: Work) -> tuple[HandWire, ...]:
    """As few and as short wires as join every net, net by net."""
    return tuple(_wires(work))


def _wires(work: Work) -> Iterator[HandWire]:
    lands = {(pad.ref, pad.pin): (pad.x, pad.y) for pad in reversed(work.board.pads)}
    number, turn = 0, 0
    for net in work.board.nets:
        pins = [pin for pin in net.pins if pin in lands]
        places = [lands[pin] for pin in pins]
        ways = tree_over(places)
        if not ways:
            continue
        rail = net.name.split()[0]
        colour = {"supply": _SUPPLY, "ground": _GROUND}.get(rail, _OTHERS[turn % len(_OTHERS)])
        turn += colour in _OTHERS
        for a, b in ways:
            number += 1
            yield HandWire(number, net.name, ".".join(pins[a]), ".".join(pins[b]), (places[a], places[b]), colour)


def wires_table(work: Work) -> bytes:
    """A row for each wire."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(_COLUMNS)
    for one in hand_wires(work):
        rows.writerow([one.number, one.net, one.start, one.end, f"{one.straight_mm:.1f}", one.cut_mm, one.colour])
    return out.getvalue().encode()


def wires_file(work: Work, suffix: str) -> bytes:
    """The wires as a table or a sheet. `Trouble` where there is nothing to join."""
    wires = hand_wires(work)
    if not wires:
        raise Trouble("This board has no nets to join: it has no LEDs yet.")
    if suffix.lower() == ".csv":
        return wires_table(work)
    from ..order.sheets.wires import wires_sheet  # printing is loaded by who prints

    return wires_sheet(work.board, [(one.net, _words(one), one.places) for one in wires])


def _words(one: HandWire) -> str:
    return f"{one.number}   {one.start} – {one.end}   {one.colour}, cut {one.cut_mm} mm"
