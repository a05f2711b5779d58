"""Nets that others disturb, and those that do: oscillators and inputs that measure keep away from data and switched outputs."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from ..parts import PlacedPart
from ..parts.nets import Net
from .copper import Wires
from .ground import Ground

#: The roles of pins that are disturbed, and of those that switch.
_QUIET, _LOUD = frozenset({"oscillator", "sense"}), frozenset({"clock", "data in", "data out", "output"})
#: So near to a quiet net one that switches costs so many times more a step; and so much of it beside one is told, mm.
GUARD_MM, _DEARER, TOLD_MM = 1.5, 4.0, 8.0


def quiet_nets(nets: Sequence[Net], parts: Iterable[PlacedPart]) -> frozenset[str]:
    """The names of the nets with a pin that is disturbed, and of those behind its resistors and capacitors."""
    placed = list(parts)
    found = _with_role(nets, placed, _QUIET)
    of_pin = {pin: net.name for net in nets for pin in net.pins if net.kind == "signal"}
    small = {one.ref: one for one in placed if len(one.part.pins) == 2 and not one.part.shines}
    loud = _with_role(nets, placed, _LOUD)
    for one in small.values():
        ends = {of_pin[one.ref, pin.number] for pin in one.part.pins if (one.ref, pin.number) in of_pin}
        if ends & found and not ends & loud:
            found |= ends
    return frozenset(found)


def loud_nets(nets: Sequence[Net], parts: Iterable[PlacedPart]) -> frozenset[str]:
    """The names of the nets that switch, if others of the board are disturbed by that."""
    placed = list(parts)
    quiet = quiet_nets(nets, placed)
    return frozenset(_with_role(nets, placed, _LOUD) - quiet) if quiet else frozenset()


def _with_role(nets: Sequence[Net], parts: Sequence[PlacedPart], roles: frozenset[str]) -> set[str]:
    pins = {(one.ref, pin.number) for one in parts for pin in one.part.pins if pin.role in roles}
    rails = ("supply", "ground")
    return {
        net.name
        for net in nets
        if net.kind == "signal" and net.name.split()[0] not in rails and any(pin in pins for pin in net.pins)
    }


def dear_beside_quiet(ground: Ground, nets: Sequence[Net], parts: Sequence[PlacedPart]) -> dict[int, NDArray[np.float32]]:
    """What steps cost nets that switch, by their number: dearer near the pads of nets that are disturbed, on both sides."""
    loud, quiet = loud_nets(nets, parts), quiet_nets(nets, parts)
    if not loud:
        return {}
    pins = {pin for net in nets if net.name in quiet for pin in net.pins}
    pads = [pad for part in parts for pad in part.pads() if (pad.ref, pad.pin) in pins]
    near = ground.near(pads, GUARD_MM)
    dear = ground.dear + np.where(np.concatenate([near, near]), np.float32(_DEARER), np.float32(0.0))
    return {at: dear for at, net in enumerate(nets) if net.name in loud}


def beside_quiet(wires: Wires, nets: Sequence[Net], parts: Sequence[PlacedPart]) -> Mapping[tuple[str, str], float]:
    """How many mm of a net that switches run beside one that is disturbed, on its side, by the names of both: (quiet, loud)."""
    quiet, loud = quiet_nets(nets, parts), loud_nets(nets, parts)
    still = [one for one in wires.tracks if one.net in quiet]
    others = [one for one in wires.tracks if one.net in loud]
    out: dict[tuple[str, str], float] = {}
    if not still or not others:
        return out
    lines = [shapely.LineString(one.points) for one in others]
    tree = shapely.STRtree(lines)
    for side in ("front", "back"):
        for name in sorted({one.net for one in still if one.side == side}):
            mine = [shapely.LineString(one.points) for one in still if one.net == name and one.side == side]
            guard = shapely.union_all(mine).buffer(GUARD_MM)
            for at in sorted(tree.query(guard).tolist()):
                if others[at].side == side:
                    key = (name, others[at].net)
                    out[key] = out.get(key, 0.0) + float(lines[at].intersection(guard).length)
    return out
