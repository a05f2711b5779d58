"""The shortest way past all LEDs, both ends free: exact for a few, and very near to it for many.

For many, a greedy way is improved by turning stretches round and by moving short ones (2-opt and Or-opt among near
neighbours), then shaken at random places and improved again, which is kept where it is shorter. A place that is nothing
away from all others, with which the way begins and ends, makes an open way out of a closed one.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..compiled import kernel

Places = NDArray[np.float64]
Order = NDArray[np.intp]

#: Up to so many every way is looked at; how many neighbours of each are tried; how often the way is shaken.
_EXACT, _NEAR, _SHAKES = 10, 8, 600


def shortest_path(places: Places) -> Order:
    """The order (n,) of places (n, 2)."""
    count = len(places)
    if count < 3:
        return np.arange(count)
    apart = np.hypot(*(places[:, None, :] - places[None, :, :]).T) if count <= _EXACT else None
    if apart is not None:
        return _exact(apart)
    from scipy.spatial import cKDTree  # only who asks for it loads it

    near = cKDTree(places).query(places, k=min(_NEAR + 1, count))[1][:, 1:]
    way = np.ascontiguousarray(_greedy(places), np.int64)
    _improve(np.ascontiguousarray(places), np.ascontiguousarray(near, np.int64), way, _SHAKES)
    return _from_above(places, way.astype(np.intp))


def _from_above(places: Places, way: Order) -> Order:
    """Of the two ways round, the one that begins higher, then farther left."""
    first, last = places[way[0]], places[way[-1]]
    return way if (-first[1], first[0]) <= (-last[1], last[0]) else way[::-1]


def _exact(apart: Places) -> Order:
    """The best of all ways, by the best way to each end through each set (Held and Karp)."""
    count = len(apart)
    best = np.full((1 << count, count), np.inf)
    came = np.zeros((1 << count, count), np.intp)
    best[1 << np.arange(count), np.arange(count)] = 0.0
    for known in range(1, 1 << count):
        for end in range(count):
            if known >> end & 1 and known != 1 << end:
                steps = best[known ^ (1 << end)] + apart[:, end]
                came[known, end] = int(np.argmin(steps))
                best[known, end] = steps[came[known, end]]
    known, end, out = (1 << count) - 1, int(np.argmin(best[-1])), []
    while known:
        out.append(end)
        known, end = known ^ (1 << end), int(came[known, end])
    return np.array(out)


def _greedy(places: Places) -> Order:
    """From the left upper end always on to the nearest that is left."""
    left = np.ones(len(places), bool)
    here, out = int(np.argmin(places[:, 0] - places[:, 1])), []
    for _ in range(len(places)):
        out.append(here)
        left[here] = False
        far = np.where(left, np.hypot(*(places - places[here]).T), np.inf)
        here = int(np.argmin(far))
    return np.array(out)


# -- what is compiled: `at` says where in the way a place is, `todo` holds the places to look at, its last number how many


def _apart(places: Any, one: Any, other: Any) -> Any:
    dx, dy = places[one, 0] - places[other, 0], places[one, 1] - places[other, 1]
    return np.sqrt(dx * dx + dy * dy)  # rounded alike wherever it is compiled


def _ask(todo: Any, waiting: Any, way: Any, place: Any) -> None:
    """Have what stands at a place of the way looked at."""
    if 0 <= place < len(way) and not waiting[way[place]]:
        waiting[way[place]] = True
        todo[todo[-1]] = way[place]
        todo[-1] += 1


def _turned(way: Any, at: Any, low: Any, high: Any) -> None:
    """Turn a stretch of the way round."""
    while low < high:
        way[low], way[high] = way[high], way[low]
        at[way[low]], at[way[high]] = low, high
        low += 1
        high -= 1


def _better(places: Any, near: Any, way: Any, at: Any, one: Any, step: Any) -> Any:
    """The stretch (low, high) that, turned round, takes the piece from `one` (`step` on or back) away, and what that gains."""
    count, i = len(way), at[one]
    j = i + step
    old = _apart(places, one, way[j]) if 0 <= j < count else 0.0
    for k in range(near.shape[1]):
        other = near[one, k]
        new = _apart(places, one, other)
        if 0 <= j < count and new >= old:
            break
        p = at[other]
        q = p + step
        cut = _apart(places, other, way[q]) if 0 <= q < count else 0.0
        join = _apart(places, way[j], way[q]) if 0 <= q < count and 0 <= j < count else 0.0
        gain = old + cut - new - join
        if gain > 1e-9:
            low, high = min(i, p), max(i, p)
            return (low + 1, high, gain) if step > 0 else (low, high - 1, gain)
    return 0, 0, 0.0


def _settled(places: Any, near: Any, way: Any, at: Any, todo: Any, waiting: Any, span: Any) -> Any:
    """Turn stretches round until nothing that waits is better so; what that gained. `span` grows to what was changed."""
    gained = 0.0
    while todo[-1]:
        todo[-1] -= 1
        one = todo[todo[-1]]
        waiting[one] = False
        for step in (1, -1):
            low, high, gain = _better(places, near, way, at, one, step)
            if gain > 0:
                gained += gain
                _turned(way, at, low, high)
                span[0], span[1] = min(span[0], low), max(span[1], high)
                for place in (low - 1, low, high, high + 1, at[one]):
                    _ask(todo, waiting, way, place)
    return gained


def _shaken(places: Any, way: Any, kept: Any, at: Any, a: Any, b: Any, c: Any) -> Any:
    """Two neighbouring stretches change places, from a to b and from b to c (a double bridge); what that gains."""
    gain = _apart(places, way[a - 1], way[a]) + _apart(places, way[b - 1], way[b])
    gain -= _apart(places, way[a - 1], way[b]) + _apart(places, way[c - 1], way[a])
    if c < len(way):
        gain += _apart(places, way[c - 1], way[c]) - _apart(places, way[b - 1], way[c])
    for place in range(a, c):
        source = b + place - a if place - a < c - b else place - (c - b)
        way[place] = kept[source]
        at[way[place]] = place
    return gain


@kernel("void(f8[:,::1], i8[:,::1], i8[::1], i8)", (_apart, _ask, _turned, _better, _settled, _shaken), exact=True)
def _improve(places: Any, near: Any, way: Any, shakes: Any) -> Any:
    """Make a way shorter where it stands."""
    count, dice = len(way), 12345
    at, kept = np.empty(count, np.int64), way.copy()
    todo, waiting, span = np.zeros(count + 1, np.int64), np.zeros(count, np.bool_), np.zeros(2, np.int64)
    for place in range(count):
        at[way[place]] = place
    for place in range(count):
        _ask(todo, waiting, way, place)
    _settled(places, near, way, at, todo, waiting, span)
    kept[:] = way
    for _ in range(shakes if count >= 8 else 0):
        cuts = np.zeros(3, np.int64)
        for which in range(3):
            dice = (dice * 1103515245 + 12345) & 0x7FFFFFFF
            cuts[which] = 1 + (dice >> 8) % (count - 2 if which == 0 else min(50, count - 2))
        a, b, c = cuts[0], cuts[0] + cuts[1], cuts[0] + cuts[1] + cuts[2]
        if c > count:
            continue
        gained = _shaken(places, way, kept, at, a, b, c)
        span[0], span[1] = a, c - 1
        for place in (a - 1, a, a + c - b - 1, a + c - b, c - 1, c):
            _ask(todo, waiting, way, place)
        gained += _settled(places, near, way, at, todo, waiting, span)
        source, target = (way, kept) if gained > 1e-9 else (kept, way)
        for place in range(span[0], span[1] + 1):
            target[place] = source[place]
            at[way[place]] = place
