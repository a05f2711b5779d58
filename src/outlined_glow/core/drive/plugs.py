"""Pins and sockets by which boards plug onto one another: their bodies, and the nets that they carry."""

from __future__ import annotations

from functools import cache

from ..parts.part import Pad, Part, Pin, Stroke
from ..project import Drive, Finding, Plug, Remedy
from ..text_safety import short
from .circuit import Circuit

#: Pins of square wire, and the holes they are soldered into (a row of 2.54 mm), mm.
PITCH_MM, _PAD_MM, _DRILL_MM = 2.54, 1.7, 1.0
#: How far the plastic of pins stands up, how far a pin does, and how far a socket does, mm.
BASE_MM, _PIN_MM, SOCKET_MM = 2.5, 8.5, 8.5
#: Two boards that are plugged together are so far apart, mm.
GAP_MM = BASE_MM + SOCKET_MM
KINDS = (("pins", "pins"), ("socket", "a socket"))
#: A pin that is joined to nothing, as it is told.
NO_NET = "none"


@cache
def plug_part(kind: str, rows: int, count: int) -> Part:
    """The body of so many pins: numbered along it, in two rows across it first."""
    columns = -(-count // rows)
    pads, pins = [], []
    for at in range(count):
        column, row = divmod(at, rows)
        x = PITCH_MM * (column - (columns - 1) / 2)
        y = PITCH_MM * ((rows - 1) / 2 - row)
        pads.append(Pad(str(at + 1), x, y, _PAD_MM, _PAD_MM, "box" if at == 0 else "round", _DRILL_MM))
        pins.append(Pin(str(at + 1)))
    length, width = PITCH_MM * columns, PITCH_MM * rows
    title = f"{'pins' if kind == 'pins' else 'socket'}, 2.54 mm, {rows} x {columns}"
    metal = tuple(Stroke("C9A227", 0.64, 0.64, pad.x_mm, pad.y_mm) for pad in pads)
    return Part(
        name=title, kind="plug", title=title, prefix="J", pins=tuple(pins), pads=tuple(pads), body_mm=(length, width),
        height_mm=_PIN_MM if kind == "pins" else SOCKET_MM, behind_mm=2.0, legend="dot", solder="by hand",
        price=round(0.02 * count + 0.05, 2), mark="the square pad is pin 1",
        drawing=(Stroke("1C1C20", length, width), *metal),
    )  # fmt: skip


def join_plugs(circuit: Circuit, drive: Drive) -> list[Finding]:
    """Put the plugs of a board into its circuit; nets of theirs that lead nowhere are told."""
    there = {net.name: len(net.pins) for net in circuit.nets}
    for plug in drive.plugs:
        for net in filter(None, plug.nets):
            there[net] = there.get(net, 0) + 1
    out = []
    for plug in drive.plugs:
        ref = circuit.add(plug_part(plug.kind, plug.rows, len(plug.nets)), plug.name, outside=True)
        for at, net in enumerate(plug.nets, 1):
            if net:
                circuit.join(net, (ref, str(at)))
                out += [_alone(plug, at, net)] if there[net] == 1 else []
    return out


def _alone(plug: Plug, pin: int, net: str) -> Finding:
    text = (
        f"Pin {pin} of “{short(plug.name)}” carries “{short(net)}”, and nothing else on this board does."
        " Take a net of the connection list."
    )
    nets = tuple(NO_NET if not one or at == pin else one for at, one in enumerate(plug.nets, 1))
    leave = Remedy("join that pin to nothing", "plug", (("name", plug.name), ("nets", nets)))
    return Finding(code="plug-net-alone", severity="warning", stage="drive", text=text, remedies=(leave,))
