"""What the supply, each pin and each package carry while a score plays: on average, at most, and when."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..drive import DrivePlan
from ..drive.carriers import Carrier, Turn
from ..project import Motion
from ..watch import give_way
from .briefest import times_as_often
from .currents import played
from .lamps import Lamps
from .score import levels, strips_of

Numbers = NDArray[np.float64]
#: What is worked out at once, moments; a light is on from this level.
_AT_ONCE, _ON = 256, 1e-6


@dataclass(frozen=True)
class Load:
    """What something carries, A: on average, and at most (`peak_a`, at `peak_s`), there also with the tolerances of LEDs,
    resistors and supply at their worst (`worst_a`); and what it bears. `ref` and `pin` are those of a part, "" for the
    supply and for a whole package."""

    title: str
    ref: str
    pin: str
    average_a: float
    peak_a: float
    peak_s: float
    worst_a: float
    allowed_a: float

    @property
    def share(self) -> float:
        """Of what it bears, at worst."""
        return self.worst_a / self.allowed_a


def loads(motion: Motion, lamps: Lamps, plan: DrivePlan, through: Sequence[Carrier]) -> tuple[Load, ...]:
    """All that carries current while it plays once round; what is nearest to its limit first. The average counts how bright
    each light is; the peak counts each that is on at all, for its pulses begin with those of the others."""
    if not lamps.count:
        return ()
    out = [_of_supply(motion, lamps, plan)]
    if through:
        out += _of_carriers(motion, lamps, plan, through)
    return tuple(sorted(out, key=lambda one: (-one.share, one.title)))


def most_of(one: Carrier, plan: DrivePlan) -> float:
    """What a part or pin carries at worst with all its lights on, A; no score asks for more."""
    each: dict[int, dict[int, float]] = {}
    for (index, light), (way, turn) in zip(one.lights, one.turns, strict=True):
        branch, turns = plan.branch_of(index, light), each.setdefault(way, {})
        turns[turn] = turns.get(turn, 0.0) + (0.0 if branch is None else branch.current_max_a / branch.duty)
    return sum(max(turns.values()) for turns in each.values())


def _of_supply(motion: Motion, lamps: Lamps, plan: DrivePlan) -> Load:
    made = played(motion, lamps)
    worst = plan.supply_max_a / plan.lit_a if plan.lit_a else 1.0
    peak_a, rests = made.peak * plan.current_a, plan.standing_a
    at_s = (int(np.argmax(made.peaks)) + 0.5) / made.rate
    title = f"supply ({plan.supply.title})"
    average_a = made.average * plan.current_a + rests
    return Load(title, "", "", average_a, peak_a + rests, at_s, peak_a * worst + rests, plan.supply.most_a)


@dataclass(frozen=True)
class _Brings:
    """What each light (rows) brings to each turn of each carrier (columns): on average at full level, while it is on, and
    that at worst, A. `ways` has for each column which way of which carrier that is; `owner` the carrier of each of those."""

    average: Any
    peak: Any
    worst: Any
    ways: NDArray[np.intp]
    owner: NDArray[np.intp]


def _brings(lamps: Lamps, plan: DrivePlan, through: Sequence[Carrier]) -> _Brings | None:
    row = {
        (index, name): at * lamps.channels + light
        for at, (index, names) in enumerate(zip(lamps.indices, lamps.light_names, strict=True))
        for light, name in enumerate(names)
    }
    columns: dict[tuple[int, Turn], int] = {}
    found: list[tuple[int, int, float, float, float]] = []
    for number, one in enumerate(through):
        for light, turn in zip(one.lights, one.turns, strict=True):
            branch, at = plan.branch_of(*light), row.get(light)
            if branch is not None and at is not None:
                column = columns.setdefault((number, turn), len(columns))
                found.append((at, column, branch.current_a, branch.peak_a, branch.current_max_a / branch.duty))
    if not found:
        return None
    from scipy import sparse  # only who asks loads it

    rows, places, *values = (np.array(some) for some in zip(*found, strict=True))
    shape = (lamps.count * lamps.channels, len(columns))
    average, peak, worst = (sparse.csr_array((value, (rows, places)), shape=shape) for value in values)
    ways: dict[tuple[int, int], int] = {}
    of_column = [ways.setdefault((number, way), len(ways)) for number, (way, _) in columns]
    return _Brings(average, peak, worst, np.array(of_column), np.array([number for number, _ in ways]))


def _of_carriers(motion: Motion, lamps: Lamps, plan: DrivePlan, through: Sequence[Carrier]) -> list[Load]:
    """Frame by frame, as products of the levels with what each light brings."""
    brings = _brings(lamps, plan, through)
    if brings is None:
        return []
    rate, count = played(motion, lamps).rate, len(through)
    rate *= times_as_often(strips_of(motion), motion, lamps, rate, 2, each=True)
    moments = np.asarray((np.arange(max(1, round(rate * motion.seconds))) + 0.5) / rate, float)
    mean, most, when, worst = (np.zeros(count) for _ in range(4))
    for first in range(0, len(moments), _AT_ONCE):
        give_way()
        some = moments[first : first + _AT_ONCE]
        flat = levels(motion, lamps, some).reshape(len(some), -1)
        np.add.at(mean, brings.owner[brings.ways], (flat @ brings.average).sum(axis=0) / len(moments))
        lit = (flat > _ON).astype(float)
        now = _together(lit @ brings.peak, brings, count)
        higher = now.max(axis=0) > most
        when[higher] = some[now.argmax(axis=0)[higher]]
        most = np.maximum(most, now.max(axis=0))
        worst = np.maximum(worst, _together(lit @ brings.worst, brings, count).max(axis=0))
    rows = zip(through, mean.tolist(), most.tolist(), when.tolist(), worst.tolist(), strict=True)
    return [Load(one.title, one.ref, one.pin, usual, peak, at_s, bad, one.allowed_a) for one, usual, peak, at_s, bad in rows]


def _together(columns: Numbers, brings: _Brings, count: int) -> Numbers:
    """What each carrier carries (t, count): of each way the heaviest of its turns, for ways know nothing of one another."""
    heaviest, out = np.zeros((len(columns), len(brings.owner))), np.zeros((count, len(columns)))
    for at, way in enumerate(brings.ways):
        np.maximum(heaviest[:, way], columns[:, at], out=heaviest[:, way])
    np.add.at(out, brings.owner, heaviest.T)
    return np.asarray(out.T)
