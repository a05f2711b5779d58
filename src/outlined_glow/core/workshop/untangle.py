"""Pins of a controller that change places so that the ways to what they drive are shorter, and cross less."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from .compile import Work
from .pin_table import PinLine, pin_table

Spot = tuple[float, float]
#: Pins change places only if all ways together are shorter by this share.
_WORTH = 0.02


@dataclass(frozen=True)
class Untangled:
    """The edits that give pins to nets anew, and how long all straight ways are before and after them, mm."""

    edits: tuple[tuple[str, dict[str, Any]], ...]
    before_mm: float
    after_mm: float


def controller_ref(work: Work) -> str | None:
    """The reference of the board's controller, where its pins drive something."""
    part = next((one for one in work.board.parts if one.part.kind in ("controller", "module")), None)
    return part.ref if part is not None and work.plan.pins else None


def untangled(work: Work) -> Untangled | None:
    """The best change of pins among those that can do the same; None where there is none that is worth it."""
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
