"""Pins of a controller, outputs of registers and gates of level shifters that change places, so that the ways to what they
drive are shorter, and cross less."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..drive.channels import channels_of, on_outputs
from ..drive.pins import SHIFTER
from .connections import output_keys
from .pin_table import PinLine, pin_table
from .work import Work

Spot = tuple[float, float]
#: How the nets of the outputs of registers are called.
_OUTPUT = "output "
#: Pins change places only if all ways together are shorter by this share.
_WORTH = 0.02


@dataclass(frozen=True)
class Untangled:
    """The edits that give pins and outputs anew, and how long all straight ways are before and after them, mm."""

    edits: tuple[tuple[str, dict[str, Any]], ...]
    before_mm: float
    after_mm: float


def controller_ref(work: Work) -> str | None:
    """The reference of the board's controller, where its pins drive something."""
    part = next((one for one in work.board.parts if one.part.kind in ("controller", "module")), None)
    return part.ref if part is not None and work.plan.pins else None


def register_refs(work: Work) -> tuple[str, ...]:
    """The references of the registers whose outputs light LEDs, where they may change places."""
    if not output_keys(work):
        return ()
    pins = {pin[0] for net in work.board.nets if net.name.startswith(_OUTPUT) for pin in net.pins}
    return tuple(part.ref for part in work.board.parts if part.ref in pins and part.part.kind == "chip")


def untangled(work: Work) -> Untangled | None:
    """The best change of pins and outputs among those that can do the same; None where there is none that is worth it."""
    found = [one for one in (_pins(work), _outputs(work), _gates(work)) if one is not None]
    if not found:
        return None
    edits = tuple(edit for one in found for edit in one.edits)
    return Untangled(edits, sum(one.before_mm for one in found), sum(one.after_mm for one in found))


def _outputs(work: Work) -> Untangled | None:
    """The lights on the outputs of registers, in another order."""
    refs = set(register_refs(work))
    if not refs:
        return None
    lands = {(pad.ref, pad.pin): (pad.x, pad.y) for pad in work.board.pads}
    channels = on_outputs(channels_of(work.leds), work.design.drive.outputs)
    nets = {net.name: net for net in work.board.nets}
    rows = [nets.get(f"{_OUTPUT}{at + 1}") for at in range(len(channels))]
    if None in rows:
        return None
    starts, ends = [], []
    for net in rows:
        assert net is not None
        own = [lands[pin] for pin in net.pins if pin[0] in refs and pin in lands]
        others = [lands[pin] for pin in net.pins if pin[0] not in refs and pin in lands]
        if not own or not others:
            return None
        starts.append(own[0])
        ends.append(others)
    cost = np.array([[_way(start, end) for start in starts] for end in ends])
    lights, outputs = _assigned(cost)
    before, after = float(np.trace(cost)), float(cost[lights, outputs].sum())
    if after > (1 - _WORTH) * before:
        return None
    order = [""] * len(channels)
    for light, output in zip(lights.tolist(), outputs.tolist(), strict=True):
        order[output] = channels[light].key
    return Untangled((("order-outputs", {"outputs": tuple(order)}),), before, after)


def shifter_refs(work: Work) -> tuple[str, ...]:
    """The references of the level shifters with more than one line."""
    return tuple(ref for ref, lines in _lines_of_shifters(work).items() if len(lines) > 1)


def _lines_of_shifters(work: Work) -> dict[str, dict[int, tuple[str, str]]]:
    """The lines of each level shifter by their gate: the nets before and after it."""
    net_of = {pin: net.name for net in work.board.nets for pin in net.pins}
    out: dict[str, dict[int, tuple[str, str]]] = {}
    for part in work.board.parts:
        if part.part.name == SHIFTER:
            number = {pin.name: pin.number for pin in part.part.pins}
            ends = {at: [net_of.get((part.ref, number[f"{side}{at}"]), "") for side in "AY"] for at in range(1, 5)}
            out[part.ref] = {at: (before, after) for at, (before, after) in ends.items() if before and after}
    return out


def _gates(work: Work) -> Untangled | None:
    """The lines on the gates of each level shifter."""
    lands = {(pad.ref, pad.pin): (pad.x, pad.y) for pad in work.board.pads}
    nets = {net.name: net.pins for net in work.board.nets}
    order: list[str] = []
    before = after = 0.0
    for ref, lines in _lines_of_shifters(work).items():
        number = {pin.name: pin.number for pin in next(one for one in work.board.parts if one.ref == ref).part.pins}
        gates = list(lines)

        def way(line: tuple[str, str], gate: int, ref: str = ref, number: dict[str, str] = number) -> float:
            total = 0.0
            for net, side in zip(line, "AY", strict=True):
                ends = [lands[pin] for pin in nets[net] if pin[0] != ref and pin in lands]
                total += _way(lands[ref, number[f"{side}{gate}"]], ends) if ends else 0.0
            return total

        cost = np.array([[way(lines[one], gate) for gate in gates] for one in gates])
        rows, columns = _assigned(cost)
        before, after = before + float(np.trace(cost)), after + float(cost[rows, columns].sum())
        placed = dict(zip(columns.tolist(), rows.tolist(), strict=True))
        order += [lines[gates[placed[at]]][0] for at in range(len(gates))]
    if not order or after > (1 - _WORTH) * before:
        return None
    return Untangled((("order-gates", {"gates": tuple(order)}),), before, after)


def _pins(work: Work) -> Untangled | None:
    """The pins of the controller."""
    ref, table = controller_ref(work), pin_table(work)
    if ref is None or table is None:
        return None
    lands = {pad.pin: (pad.x, pad.y) for pad in work.board.pads if pad.ref == ref}
    ends = _ends(work, ref)
    groups: dict[tuple[bool, str, bool], list[PinLine]] = {}
    for line in table.lines:
        if line.takes and line.number in lands and (not line.drives or line.drives in ends):
            groups.setdefault((line.pwm, line.at_start, line.lamp), []).append(line)
    edits: list[tuple[str, dict[str, Any]]] = []
    before = after = 0.0
    for lines in groups.values():
        nets = [line for line in lines if line.drives]
        if not nets:
            continue
        cost = np.array([[_way(lands[pin.number], ends[one.drives]) for pin in lines] for one in nets])
        rows, columns = _assigned(cost)
        now = [lines.index(one) for one in nets]
        before += float(cost[np.arange(len(nets)), now].sum())
        after += float(cost[rows, columns].sum())
        for row, column in zip(rows.tolist(), columns.tolist(), strict=True):
            if column != now[row]:
                edits.append(("give-pin", {"net": nets[row].drives, "pin": lines[column].number}))
    if not edits or after > (1 - _WORTH) * before:
        return None
    return Untangled(tuple(edits), before, after)


def _assigned(cost: Any) -> Any:
    from scipy.optimize import linear_sum_assignment  # only who asks loads it

    return linear_sum_assignment(cost)


def _ends(work: Work, ref: str) -> dict[str, list[Spot]]:
    """Where the nets that a controller drives go to."""
    lands: dict[tuple[str, str], list[Spot]] = {}
    for pad in work.board.pads:
        lands.setdefault((pad.ref, pad.pin), []).append((pad.x, pad.y))
    out = {}
    for net in work.board.nets:
        spots = [spot for pin in net.pins if pin[0] != ref for spot in lands.get(pin, ())]
        if spots and any(pin[0] == ref for pin in net.pins):
            out[net.name] = spots
    return out


def _way(land: Spot, ends: list[Spot]) -> float:
    return min(math.dist(land, end) for end in ends)
