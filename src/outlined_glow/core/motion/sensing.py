"""How a board reads a value: knobs and encoders as they are turned, noise, bits, smoothing, a dead band."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..project import Feed
from .formula import hashed

Numbers = NDArray[np.float64]
#: A board looks at a value so often, s.
_LOOK_S = 0.02
_RESPONSES: dict[str, Callable[[float], float]] = {
    "even": lambda at: at,
    "slow start": lambda at: at * at,
    "slow end": lambda at: 1 - (1 - at) ** 2,
    "slow ends": lambda at: at * at * (3 - 2 * at),
}


def turned(feed: Feed, times: Numbers) -> Numbers:
    """What a knob or an encoder gives (t,), as far as it is turned."""
    at = feed.at
    if feed.kind == "encoder":
        at = round(at * (feed.detents - 1)) / (feed.detents - 1)
    return np.full(len(times), feed.low + (feed.high - feed.low) * _RESPONSES[feed.response](at))


def as_read(feed: Feed, raw: Callable[[Numbers], Numbers], times: Numbers) -> Numbers:
    """A value (t,) with its noise, in its bits, smoothed, and held within its dead band."""
    if not len(times):
        return np.zeros(0)
    # All moments of a score are read from one row of looks, as far as the next power of two.
    end = float(2.0 ** np.ceil(np.log2(max(1.0, float(times.max()) + _LOOK_S))))
    looks = _looks(feed, raw, end)
    return np.asarray(looks[(times / _LOOK_S + 1e-9).astype(int)], float)


def _looks(feed: Feed, raw: Callable[[Numbers], Numbers], end: float) -> Numbers:
    """A row of looks from the beginning on."""
    out, span = raw(np.arange(0.0, end + _LOOK_S, _LOOK_S)), feed.high - feed.low
    if feed.noise:
        number = np.arange(len(out), dtype=np.int64).view(np.uint64) + np.uint64(feed.seed * 7_919)
        out = out + (2 * hashed(number) - 1) * feed.noise * span
    if feed.bits:
        most = (1 << feed.bits) - 1
        share = np.clip((out - feed.low) / span, 0, 1) if span > 0 else np.zeros(len(out))
        out = np.where(np.isnan(out), np.nan, feed.low + np.round(share * most) / most * span)
    if feed.smooth_s or feed.dead_band:
        out = _followed(out.tobytes(), 1 - float(np.exp(-_LOOK_S / feed.smooth_s)) if feed.smooth_s else 1.0, feed.dead_band)
    return out


@lru_cache(maxsize=64)
def _followed(row: bytes, part: float, dead_band: float) -> Numbers:
    """Each look goes a `part` of the way to the value; what is told stays until that is off by more than a dead band. Where
    there is no value, both begin anew. Remembered: it is the slow part."""
    values = np.frombuffer(row)
    out = np.full(len(values), np.nan)
    smooth = told = np.nan
    for at, value in enumerate(values.tolist()):
        if value != value:  # none
            smooth = told = np.nan
            continue
        smooth = value if smooth != smooth else smooth + (value - smooth) * part
        if told != told or abs(smooth - told) > dead_band:
            told = smooth
        out[at] = told
    return out
