"""What the hardware truly shows of what is wanted, how far that is from it, and what it can do that is nearest."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial

import msgspec
import numpy as np
from numpy.typing import NDArray

from ..colour.difference import lightness
from ..drive.method import Method
from ..drive.methods import METHODS, method
from ..drive.planning import own_drives
from ..drive.shown import Asked, outputs_of
from ..project import Drive, Motion
from .briefest import FRAME_S, seen_at
from .lamps import Lamps
from .score import Times, levels, one_round

Numbers = NDArray[np.float64]
#: Moments of a score that are compared; periods that are tried, as shares of it.
_MOMENTS, _PERIODS = 600, (1, 2, 3, 4, 5, 6, 8, 10, 12, 16, 20, 24, 32)


@dataclass(frozen=True)
class Nearest:
    """The pattern that a way shows which is nearest to what is wanted, its period (None: any), how far it is, 0 to 1, and the
    period that the drive is to have for that (None: any)."""

    pattern: str
    period_s: float | None
    distance: float
    drive_s: float | None = None


@dataclass(frozen=True)
class Truth:
    """How much of what is wanted a way shows, 0 to 1; and, without a program, what is nearest to it."""

    method: str
    title: str
    share: float
    nearest: Nearest | None


def real_levels(drive: Drive, motion: Motion, lamps: Lamps, times_s: Times) -> Numbers:
    """Levels (times, LEDs, lights) that the LEDs give as they are driven."""
    times = np.asarray(times_s, float)
    wanted = levels(motion, lamps, times)
    out = wanted.copy()
    for way, own, rows in shares_of(drive, lamps):
        if len(rows):
            out[:, rows] = _shown(way, own, motion, lamps, rows, times, wanted)
    return out


def real_at(drive: Drive, motion: Motion, lamps: Lamps, time_s: float, frame_s: float = FRAME_S) -> Numbers:
    """The level (n, c) that each light of each LED gives in a frame."""
    return seen_at(motion, lamps, time_s, frame_s, partial(real_levels, drive))


def distance(one: Numbers, other: Numbers, lamps: Lamps) -> float:
    """How far two tables of levels are apart, 0 to 1: the mean difference of lightness (CIE 1976)."""
    there = lamps.kinds > 0
    if not there.any() or not len(one):
        return 0.0
    return float(np.abs(lightness(one) - lightness(other))[:, there].mean()) / 100


def truths(drive: Drive, motion: Motion, lamps: Lamps) -> tuple[Truth, ...]:
    """For every way to drive all LEDs what of the motion it shows."""
    times = one_round(motion, _MOMENTS)
    wanted = levels(motion, lamps, times)
    return tuple(_truth(way, msgspec.structs.replace(drive, method=way.key, groups=()), lamps, times, wanted, motion)
                 for way in METHODS.values())  # fmt: skip


def _truth(way: Method, drive: Drive, lamps: Lamps, times: Numbers, wanted: Numbers, motion: Motion) -> Truth:
    rows = np.arange(lamps.count)

    def far(own: Drive) -> float:
        return distance(wanted, _shown(way, own, motion, lamps, rows, times, wanted), lamps)

    if way.programmed(drive) or way.own_pattern == "steady":
        off = far(drive)
        return Truth(way.key, way.title, 1 - off, None if way.programmed(drive) else Nearest(way.own_pattern, None, off))
    rounds = way.own_pattern == "halves"
    periods = sorted({drive.period_s, *(motion.seconds / part for part in _PERIODS)})
    # A counter that halves is told the period of its first output; the pattern that of its last one.
    best = min(periods, key=lambda period: (far(msgspec.structs.replace(drive, period_s=period)), -period))
    off = far(msgspec.structs.replace(drive, period_s=best))
    count = _outputs(way, lamps, rows)[1]
    near = Nearest(way.own_pattern, best * 2 ** (count - 1) if rounds else best, off, best)
    return Truth(way.key, way.title, 1 - far(drive), near)


def _shown(
    way: Method, drive: Drive, motion: Motion, lamps: Lamps, rows: NDArray[np.intp], times: Numbers, wanted: Numbers
) -> Numbers:
    outputs, count = _outputs(way, lamps, rows)

    def at(moments: Numbers) -> Numbers:
        # Before power-on nothing was lit.
        before = moments < 0
        made = levels(motion, lamps, np.where(before, 0.0, moments))[:, rows]
        made[before] = 0.0
        return made

    return way.truly(drive, Asked(times, wanted[:, rows], outputs, count, lamps.chain[rows], at))


def _outputs(way: Method, lamps: Lamps, rows: NDArray[np.intp]) -> tuple[NDArray[np.intp], int]:
    names: Sequence[str] = [lamps.groups[at] for at in rows.tolist()]
    return outputs_of(names, way.outputs)


def shares_of(drive: Drive, lamps: Lamps) -> list[tuple[Method, Drive, NDArray[np.intp]]]:
    """Every way that LEDs of a board are driven, with the drive as it is for them, and their rows."""
    rest = np.ones(lamps.count, bool)
    out = []
    for own, names in own_drives(drive):
        mine = rest & np.array([bool(names & set(some)) for some in lamps.all_groups], bool)
        rest &= ~mine
        out.append((method(own.method), own, np.flatnonzero(mine)))
    return [(method(drive.method), msgspec.structs.replace(drive, groups=()), np.flatnonzero(rest)), *out]
