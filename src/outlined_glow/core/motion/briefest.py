"""How briefly the light of a strip stays as it is: whatever looks at moments of what plays must look that often."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import NamedTuple
from weakref import WeakKeyDictionary

import msgspec
import numpy as np
from numpy.typing import NDArray

from ..project import Feed, Motion, Strip
from .lamps import Lamps
from .pattern import pattern
from .score import levels, strip_levels, strips_of, way_over
from .way import Way

#: Moments of one period that are looked at; a step of so much of full light is a switch; a smooth change is looked at so often.
_IN_A_PERIOD, _SWITCH, _SMOOTH = 1000, 0.1, 24
#: LEDs of a long way that are looked at.
_SOME = 48
#: Moments and levels that are looked at in all.
_MOST_MOMENTS, _MOST_LEVELS = 400_000, 100_000_000


class Briefest(NamedTuple):
    """The shortest time between two switches of one light, and of all of them together, s; how often a second one light is
    switched on and off at most."""

    light_s: float
    all_s: float
    flashes_hz: float


#: How often the briefest light is looked at for the mean of a frame; strips of a table that are remembered.
_IN_A_FRAME, _MOST_KNOWN = 4, 3000
#: How long the window shows a frame, s.
FRAME_S = 1 / 60
_Run = Callable[[Motion, Lamps, NDArray[np.float64]], NDArray[np.float64]]
_KNOWN: WeakKeyDictionary[Lamps, dict[tuple[bytes, bytes], Briefest]] = WeakKeyDictionary()


def briefest(strip: Strip, feeds: tuple[Feed, ...], lamps: Lamps) -> Briefest:
    """That of one turn of a strip: a period, or its length if that is less. What was found is remembered."""
    turn_s = min(strip.period_s, strip.length_s)
    if strip.pattern == "steady":
        return Briefest(turn_s, turn_s, 0.0)
    alone = msgspec.structs.replace(
        strip, number=1, row=1, start_s=0.0, length_s=turn_s, repeats=1, fade_in_s=0.0, fade_out_s=0.0, level=1.0,
        muted=False, blend="over",
    )  # fmt: skip
    known = _KNOWN.setdefault(lamps, {})
    key = (msgspec.msgpack.encode(alone), msgspec.msgpack.encode(feeds) if strip.bound or strip.text else b"")
    if key not in known:
        if len(known) > _MOST_KNOWN:
            known.clear()
        known[key] = _briefest(alone, feeds, lamps)
    return known[key]


def _briefest(alone: Strip, feeds: tuple[Feed, ...], lamps: Lamps) -> Briefest:
    way = way_over(alone, lamps)
    if not pattern(alone.pattern, lamps.patterns).written:
        way = _thinned(way)
    if not len(way.rows):
        return Briefest(alone.length_s, alone.length_s, 0.0)
    step_s = alone.length_s / _IN_A_PERIOD
    moments = np.asarray((np.arange(_IN_A_PERIOD) + 0.5) * step_s, float)
    each = strip_levels(alone, lamps, way, moments, feeds).reshape(_IN_A_PERIOD, -1)
    currents = lamps.currents[way.rows].ravel()
    whole = each @ (currents / max(float(currents.sum()), 1e-12))
    ons, offs = ((_steps(sign * each) >= _SWITCH).sum(axis=0) for sign in (1, -1))
    often = int(np.minimum(ons, offs).max())
    return Briefest(_shortest(each) * step_s, _shortest(whole[:, None]) * step_s, often / alone.length_s)


def _thinned(way: Way) -> Way:
    """A way with some of its LEDs, each in its place."""
    if len(way.rows) <= _SOME:
        return way
    kept = np.linspace(0, len(way.rows) - 1, _SOME).astype(np.intp)
    return replace(way, rows=way.rows[kept], place=way.place[kept], share=way.share[kept], chance=way.chance[kept])


def _steps(rows: NDArray[np.float64]) -> NDArray[np.float64]:
    """What comes on (t, n) until the next moment; after the last one it begins again."""
    return np.asarray(np.roll(rows, -1, axis=0) - rows)


def _shortest(rows: NDArray[np.float64]) -> int:
    """The fewest moments between two switches of one column; all of them without any."""
    columns, times = np.nonzero(np.concatenate([np.abs(_steps(rows)) >= _SWITCH] * 2).T)
    apart = np.diff(times)[np.diff(columns) == 0]
    return int(apart.min()) if len(apart) else len(rows)


def times_as_often(
    strips: Sequence[Strip],
    motion: Motion,
    lamps: Lamps,
    rate: float,
    looks: float,
    *,
    each: bool = False,
    from_hz: float = 0.0,
) -> int:
    """How many times as often as `rate` a second to look at some strips, so that the briefest light is seen `looks` times:
    that of all LEDs together, or of `each` that flashes or goes round at least so often a second. Less where all that plays
    is long: what it takes keeps within bounds."""
    most = 1.0
    for strip in strips:
        found, turn_s = briefest(strip, motion.feeds, lamps), min(strip.period_s, strip.length_s)
        if not each:
            most = max(most, looks / (rate * found.all_s))
        elif max(found.flashes_hz, 1 / turn_s) >= from_hz:
            most = max(most, looks / (rate * min(found.light_s, turn_s / _SMOOTH)))
    moments = rate * motion.seconds
    bound = min(_MOST_MOMENTS / moments, _MOST_LEVELS / (moments * max(1, lamps.kinds.size)))
    return max(1, min(math.ceil(most - 1e-9), int(bound)))


def seen_at(motion: Motion, lamps: Lamps, time_s: float, frame_s: float = FRAME_S, run: _Run = levels) -> NDArray[np.float64]:
    """The levels (n, c) that a frame shows: those of its moment, or the mean over its time where light is briefer than that (a
    frame without a time is a moment). `run` gives levels (t, n, c) at moments."""
    now = time_s % motion.seconds
    playing = [one for one in strips_of(motion) if not motion.score or (one.start_s < now + frame_s and one.end_s > now)]
    many = times_as_often(playing, motion, lamps, 1 / frame_s, 1, each=True) if frame_s > 0 else 1
    many *= _IN_A_FRAME if many > 1 else 1
    return np.asarray(run(motion, lamps, time_s + np.arange(many) * frame_s / many).mean(axis=0), float)
