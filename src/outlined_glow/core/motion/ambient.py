"""Dimming by the light of the place: what a sensor sees, the board's own light with it, and what the board then does."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..project import Ambient, Feed, Motion
from .feeds import values_of

Numbers = NDArray[np.float64]
#: Light of a place that is tried, so many kinds of it, and levels of the board in it; looks until it has settled, at least, at
#: most, and in times that it goes over in; those that are compared then.
_PLACES, _SHARES = 41, 2001
_LOOKS, _MOST_LOOKS, _SETTLED, _LAST = 600, 20_000, 12, 60
#: What goes up and down by more than this share is seen to hunt; what ends so far apart sticks.
HUNTS, STICKS = 0.02, 0.05


@dataclass(frozen=True)
class Steady:
    """Light of a place in which the board does not come to rest: how far it goes up and down; or that it may stay at one of two
    levels, and how far those are apart."""

    lx: float
    hunts: float
    sticks: float


def dimmed(motion: Motion, times_s: Numbers) -> Numbers | None:
    """The share (t,) to which the place dims the board at moments (t,), s; None without a sensor."""
    one = motion.ambient
    feed = next((feed for feed in motion.feeds if feed.name == one.feed), None)
    if feed is None or not len(times_s):
        return None
    # All moments are read from one row of looks, as far as the next power of two.
    end = float(2.0 ** np.ceil(np.log2(max(1.0, float(times_s.max()) + one.every_s))))
    outside = values_of(feed, np.arange(0.0, end + one.every_s, one.every_s))
    return np.asarray(_row(_key(one), np.nan_to_num(outside).tobytes())[(times_s / one.every_s + 1e-9).astype(int)], float)


def target_of(one: Ambient, lx: Numbers) -> Numbers:
    """The share that the sensor asks for at so much light."""
    low, high = sorted((one.dark_lx, max(one.bright_lx, one.dark_lx * 1.0001)))
    if one.map == "log":
        share = np.log(np.maximum(lx, 1e-3) / low) / np.log(high / low)
    else:
        share = (lx - low) / (high - low)
    share = np.clip(share, 0, 1)
    return np.asarray(one.floor + (one.ceiling - one.floor) * (1 - share if one.falls else share), float)


def unsteady(one: Ambient) -> Steady | None:
    """The light of a place in which the board's own light on the sensor does most harm; None where it does none."""
    if not one.own_lx:
        return None
    places = np.geomspace(max(0.01, one.dark_lx / 10), one.bright_lx * 3, _PLACES)
    shares = np.linspace(min(one.floor, one.ceiling), max(one.floor, one.ceiling), _SHARES)
    asked = target_of(one, places[:, None] + one.own_lx * shares)
    steepest = float(np.abs(np.diff(asked, axis=1)).max()) / max(float(shares[1] - shares[0]), 1e-9)
    if _part(one) * (1 + steepest) <= 1:  # it goes to where it is asked for what it is, and never beyond
        first = np.argmax(asked <= shares, axis=1)
        last = _SHARES - 1 - np.argmax((asked >= shares)[:, ::-1], axis=1)
        hunts, sticks = np.zeros(_PLACES), np.maximum(shares[last] - shares[first], 0.0)
    else:
        hunts, sticks = _looked(one, places)
    at = int(np.argmax(np.maximum(hunts / HUNTS, sticks / STICKS)))
    if hunts[at] <= HUNTS and sticks[at] <= STICKS:
        return None
    return Steady(float(places[at]), float(hunts[at]), float(sticks[at]))


def _looked(one: Ambient, places: Numbers) -> tuple[Numbers, Numbers]:
    """How far a board goes up and down in the light of each place (n,) once it has settled, and how far apart it comes to rest
    from dark and from bright: look by look."""
    part, ends, hunts = _part(one), [], np.zeros(len(places))
    looks = int(min(_MOST_LOOKS, max(_LOOKS, _SETTLED / part)))
    for begin in (one.floor, one.ceiling):
        share, last = np.full(len(places), begin), []
        for look in range(looks):
            share = share + (target_of(one, places + one.own_lx * share) - share) * part
            if look >= looks - _LAST:
                last.append(share)
        row = np.array(last)
        hunts = np.maximum(hunts, row.max(axis=0) - row.min(axis=0))
        ends.append(row.mean(axis=0))
    return hunts, np.where(hunts > HUNTS, 0.0, np.abs(ends[0] - ends[1]))


def feeds_of(motion: Motion) -> Sequence[Feed]:
    """The feed that the sensor reads, if there is one."""
    return [feed for feed in motion.feeds if feed.name == motion.ambient.feed]


def _part(one: Ambient) -> float:
    return 1 - float(np.exp(-one.every_s / one.smooth_s)) if one.smooth_s else 1.0


def _key(one: Ambient) -> tuple[object, ...]:
    return (one.map, one.dark_lx, one.bright_lx, one.floor, one.ceiling, one.falls, one.own_lx, one.every_s, one.smooth_s)


@lru_cache(maxsize=16)
def _row(key: tuple[object, ...], outside: bytes) -> Numbers:
    """The share after each look: the board's own light, as it was at the look before, counts."""
    names = ("map", "dark_lx", "bright_lx", "floor", "ceiling", "falls", "own_lx", "every_s", "smooth_s")
    one = Ambient(**dict(zip(names, key, strict=True)))  # type: ignore[arg-type]
    lx = np.frombuffer(outside)
    part = _part(one)
    if not one.own_lx and part == 1.0:
        return target_of(one, lx)
    out = np.empty(len(lx))
    share = float(target_of(one, lx[:1] + 0.0)[0])
    #: A table of the map: a look is then one reading of it.
    at = np.geomspace(1e-3, max(float(lx.max()) + one.own_lx, 1.0) * 1.01, 4000)
    asked, low, ratio = target_of(one, at), float(np.log(1e-3)), 3999 / float(np.log(at[-1] / 1e-3))
    table = asked.tolist()
    for step, place in enumerate(lx.tolist()):
        where = (np.log(max(place + one.own_lx * share, 1e-3)) - low) * ratio
        share += (table[min(3999, int(where + 0.5))] - share) * part
        out[step] = share
    return out
