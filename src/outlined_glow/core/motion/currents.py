"""The current of all that plays, over time: worked out in spans, of which an edit changes only those that it touches."""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from weakref import WeakKeyDictionary

import numpy as np
from numpy.typing import NDArray

from ..project import Motion, Scene, Strip
from ..watch import give_way
from .ambient import feeds_of
from .briefest import times_as_often
from .lamps import Lamps
from .score import current_shares, strips_of

Numbers = NDArray[np.float64]
#: Moments a second, and at least for all that plays; the spans in which a score is worked out, s; the longest one with so many.
_A_SECOND, _LEAST, _SPAN_S = 30, 240, 10.0


@dataclass(frozen=True, eq=False)
class Played:
    """The share (n,) of the current of all LEDs fully on, `rate` times a second, once round: the mean about each moment, and
    the most."""

    rate: float
    shares: Numbers
    peaks: Numbers

    @cached_property
    def average(self) -> float:
        """The mean."""
        return float(self.shares.mean())

    @cached_property
    def peak(self) -> float:
        """The most at any moment."""
        return float(self.peaks.max())

    def between(self, start_s: float, end_s: float) -> float:
        """The mean from a moment to another one; what lies beyond the end is that of the beginning."""
        first, last = int(start_s * self.rate), max(int(start_s * self.rate) + 1, int(end_s * self.rate))
        return float(np.take(self.shares, range(first, last), mode="wrap").mean())

    def worst_second_s(self) -> float:
        """When the second begins that takes the most."""
        wide = max(1, min(len(self.shares), round(self.rate)))
        # It begins again: the last second goes on into the first.
        whole = np.concatenate([[0.0], np.cumsum(np.concatenate([self.shares, self.shares[: wide - 1]]))])
        sums = whole[wide:] - whole[:-wide]
        return float(np.argmax(np.round(sums, 9)) / self.rate)


#: What a span was worked out from: its strips, the feeds they follow, and what dims or limits all; and its shares, the mean
#: and the most about each moment.
_Span = tuple[tuple[object, ...], Numbers, Numbers]
#: The spans of a score over a table of LEDs, by their number, and the latest whole ones.
_SPANS: WeakKeyDictionary[Lamps, dict[int, _Span]] = WeakKeyDictionary()
_LATEST: deque[tuple[Motion, Lamps, Played]] = deque(maxlen=8)


def played(motion: Motion, lamps: Lamps) -> Played:
    """The current of all that plays. The latest are remembered, and of a score every span in which nothing changed."""
    for known, table, made in tuple(_LATEST):
        if table is lamps and known == motion:
            return made
    made = _played(motion, lamps)
    _LATEST.append((motion, lamps, made))
    return made


def _played(motion: Motion, lamps: Lamps) -> Played:
    rate = max(float(_A_SECOND), _LEAST / motion.seconds)
    if not motion.score:
        count = max(_LEAST, round(rate * motion.seconds))
        rate = count / motion.seconds
        return Played(rate, *_about(motion, lamps, 0, count, rate, strips_of(motion)))
    known = _SPANS.setdefault(lamps, {})
    strips, parts = [(one, one.start_s, one.end_s) for one in strips_of(motion)], []
    whole = (motion.ambient, tuple(feeds_of(motion)), motion.limit_a, motion.over, motion.soft_s)
    count = max(1, round(rate * motion.seconds))
    moments: Numbers = np.asarray((np.arange(count) + 0.5) / rate, float)
    edges, soft_s = np.searchsorted(moments, np.arange(0.0, motion.seconds, _SPAN_S)), motion.soft_s / 2
    for number, (first, last) in enumerate(zip(edges, [*edges[1:], count], strict=True)):
        times = moments[first:last]
        start, end = number * _SPAN_S, min((number + 1) * _SPAN_S, motion.seconds)
        mine = tuple(one for one, begins, ends in strips if _meets(begins, ends, start - soft_s, end + soft_s, motion.seconds))
        before = known.get(number)
        feeds = motion.feeds if any(one.bound or one.text for one in mine) else ()
        made_of = (mine, feeds, *whole)
        if before is None or len(before[1]) != len(times) or before[0] != made_of:
            give_way()
            before = (made_of, *_about(motion, lamps, int(first), int(last), rate, mine))
            known[number] = before
        parts.append(before[1:])
    means, peaks = (np.concatenate(some) for some in zip(*parts, strict=True))
    return Played(rate, means, peaks)


def _meets(begins: float, ends: float, start: float, end: float, round_s: float) -> bool:
    """Whether a strip plays in a span, which may go on beyond the end of all that plays, or begin before it."""
    return any(begins < end + by and ends > start + by for by in (-round_s, 0.0, round_s))


#: The briefest light of all LEDs together is looked at so often.
_LOOKS = 8


def _about(
    motion: Motion, lamps: Lamps, first: int, last: int, rate: float, strips: Sequence[Strip]
) -> tuple[Numbers, Numbers]:
    """The mean and the most (n,) about each moment from the first to the last, as these `strips` play."""
    many = times_as_often(strips, motion, lamps, rate, _LOOKS) if lamps.full_a > 0 else 1
    times = (np.arange(first * many, last * many) + 0.5) / (rate * many)
    made = current_shares(motion, lamps, np.asarray(times, float), strips=strips).reshape(-1, many)
    return np.asarray(made.mean(axis=1), float), np.asarray(made.max(axis=1), float)


def average_share(motion: Motion, lamps: Lamps) -> float:
    """The mean share of the full current: over the day where scenes tell their share of it, else over all that plays."""
    made = played(motion, lamps)
    if any(one.share > 0 for one in motion.scenes):
        return sum(one.share * _of_scene(made, one) for one in motion.scenes)
    return made.average


def _of_scene(made: Played, scene: Scene) -> float:
    return made.between(scene.start_s, scene.start_s + scene.length_s)


def peak_share(motion: Motion, lamps: Lamps) -> float:
    """The largest share of the full current at any moment."""
    return played(motion, lamps).peak
