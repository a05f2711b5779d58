"""The score: what every light of every LED gives at each moment, strip over strip."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import partial
from typing import Any
from weakref import WeakKeyDictionary

import msgspec
import numpy as np
from numpy.typing import NDArray

from ..colour.difference import from_lightness
from ..project import Feed, Motion, Strip
from .ambient import dimmed
from .feeds import pace_of, passed, shares_of
from .lamps import Lamps
from .limit import kept_under
from .pattern import Key, pattern
from .shades import in_lights, of_colour, of_palette
from .way import Way, way_of
from .written import WRITTEN

Levels = NDArray[np.float64]
Times = Sequence[float] | Levels
#: What a strip may bind to a feed beside the numbers of its pattern.
LEVEL, COLOUR, PACE = "level", "colour", "pace"
#: The number of what is written that says how fast it runs.
SPEED = "speed"
#: Moments whose mean is a softer one.
_SOFT = 12
#: Moments that are worked out at once: a long score costs no more memory than so many.
_AT_ONCE = 2048
#: The ways of strips over a table of LEDs, kept as long as that lives.
_WAYS: WeakKeyDictionary[Lamps, dict[tuple[object, ...], Way]] = WeakKeyDictionary()


def strips_of(motion: Motion) -> tuple[Strip, ...]:
    """The strips that play, the lowest row first; a pattern on all LEDs is one strip that never ends."""
    if not motion.score:
        return (
            Strip(
                number=1, pattern=motion.pattern, length_s=motion.period_s, period_s=motion.period_s, level=motion.brightness
            ),
        )
    return tuple(sorted((one for one in motion.score if not one.muted), key=lambda one: (one.row, one.start_s, one.number)))


def as_looks(strip: Strip, feeds: tuple[Feed, ...] = ()) -> tuple[object, ...]:
    """A strip without what does not change its light, and the feeds it may follow: where they are alike, it looks the same."""
    if strip.bound or strip.text:
        return msgspec.structs.replace(strip, number=1, row=1, muted=False, blend="over"), feeds
    return (msgspec.structs.replace(strip, number=1, row=1, start_s=0.0, muted=False, blend="over"),)


def levels(motion: Motion, lamps: Lamps, times_s: Times, strips: Sequence[Strip] | None = None) -> Levels:
    """Levels (times, LEDs, lights), 0..1, shares of the full light of each; they repeat once all of it has played. None takes
    more current than the motion may. Who knows which `strips` play at these times may tell them."""
    out = wanted_levels(motion, lamps, times_s, strips)
    return kept_under(out, lamps, motion.limit_a, motion.over) if motion.limit_a > 0 else out


def wanted_levels(motion: Motion, lamps: Lamps, times_s: Times, strips: Sequence[Strip] | None = None) -> Levels:
    """The same, whatever current that takes."""
    if motion.soft_s <= 0:
        return _laid(motion, lamps, times_s, strips_of(motion) if strips is None else strips)
    # The mean of some moments about each.
    moments = np.asarray(times_s, float)
    shares = (np.arange(_SOFT) + 0.5) / _SOFT - 0.5
    out = np.zeros((len(moments), lamps.count, lamps.channels))
    for share in shares.tolist():
        out += _laid(motion, lamps, moments + share * motion.soft_s, strips_of(motion))
    return out / _SOFT


def _laid(motion: Motion, lamps: Lamps, times_s: Times, strips: Sequence[Strip]) -> Levels:
    """Strip over strip, as sharp as they are."""
    times = np.asarray(times_s, float) % motion.seconds
    out = np.zeros((len(times), lamps.count, lamps.channels))
    if lamps.count and len(times):
        first, last = float(times.min()), float(times.max())
        for one in strips:
            if one.start_s <= last and one.end_s > first:
                _lay(out, one, lamps, times, motion.feeds)
        share = dimmed(motion, times)
        if share is not None:
            out *= share[:, None, None]
    return out


def _lay(out: Levels, strip: Strip, lamps: Lamps, times: Levels, feeds: Sequence[Feed]) -> None:
    """Lay a strip over what plays below it."""
    when = np.flatnonzero((times >= strip.start_s) & (times < strip.end_s))
    if not len(when):
        return
    way = way_over(strip, lamps)
    if not len(way.rows):
        return
    now = times[when]
    local = within(strip, now)
    made = strip_levels(strip, lamps, way, local, feeds, now)
    there: Any = (_as_slice(when), _as_slice(way.rows))
    if not all(isinstance(one, slice) for one in there):
        there = np.ix_(when, way.rows)
    if strip.blend == "over" and not strip.fade_in_s and not strip.fade_out_s:
        out[there] = made  # it covers what is below
    else:
        out[there] = _BLENDS[strip.blend](out[there], made, fade_of(strip, local)[:, None, None])


def _as_slice(numbers: NDArray[np.intp]) -> Any:
    """Numbers that follow one another as a slice: what that takes is no copy."""
    first, count = int(numbers[0]), len(numbers)
    return slice(first, first + count) if int(numbers[-1]) - first + 1 == count and _rises(numbers) else numbers


def _rises(numbers: NDArray[np.intp]) -> bool:
    return bool((np.diff(numbers) == 1).all())


def within(strip: Strip, times_s: Levels) -> Levels:
    """How long after a start of a strip moments (t,) are: it may play several times."""
    local = times_s - strip.start_s
    return local if strip.repeats == 1 else np.asarray(local % strip.length_s, float)


def strip_levels(
    strip: Strip, lamps: Lamps, way: Way, local_s: Levels, feeds: Sequence[Feed] = (), times_s: Levels | None = None
) -> Levels:
    """Levels (t, m, c) of a strip alone, on the LEDs of its way, so long after a start; feeds are as they are at moments of
    the score (those after its first start unless told)."""
    now = local_s + strip.start_s if times_s is None else times_s
    told = dict(strip.bound)
    fast = next((feed for feed in feeds if feed.name == told.get(PACE)), None)
    past = local_s if fast is None else _since(partial(pace_of, fast), local_s, now)
    turns = past / strip.period_s
    rounds = np.floor(turns)
    one = pattern(strip.pattern, lamps.patterns)
    phases = _PACES[strip.pace](turns - rounds, strip)
    keys: dict[str, Any] = {name: key.value for name, key in one.keys.items()} | dict(strip.keys)
    known = {feed.name: shares_of(feed, now) for feed in feeds if feed.name in told.values()}
    for name, key in one.keys.items():
        if told.get(name) in known:
            low = max(0.0, key.low)
            keys[name] = (low + (key.high - low) * known[told[name]])[:, None]
    share = known[told[LEVEL]][:, None, None] if told.get(LEVEL) in known else 1.0
    if one.written:
        follows = next((feed for feed in feeds if feed.name == told.get(SPEED) and SPEED in one.keys), None)
        if follows is not None:  # what has gone by is not the time by the speed of now
            past, keys[SPEED] = _since(partial(speed_of, one.keys[SPEED], follows, fast), local_s, now), 1.0
        made = WRITTEN[one.written](strip, lamps, way, now, past, keys, feeds)
        level, colour, shown = made[..., 0], None, made * strip.level * share
    else:
        level, colour = one.levels(lamps, way, phases, rounds, keys)
        shown = level[..., None]
        if strip.level != 1.0 or told.get(LEVEL) in known:
            shown = shown * (strip.level * share)
    name = strip.palette or ("" if strip.colour else one.palette)
    if told.get(COLOUR) in known:
        colour = np.broadcast_to(known[told[COLOUR]][:, None] * 0.999, level.shape)
    if name:
        # What has no colours of its own runs through the palette with the level.
        light = of_palette(name, level * 0.999 if colour is None else colour)
    elif strip.colour:
        light = np.broadcast_to(of_colour(strip.colour), (1, len(way.rows), 3))
    else:
        lights = lamps.kinds[way.rows] > 0
        if lights.all() and lamps.channels == 1:
            return np.asarray(shown, float)
        return np.broadcast_to(shown, (*shown.shape[:2], lamps.channels)) * lights
    return np.asarray(shown * in_lights(light, lamps, way.rows))


def _since(rate: Callable[[Levels], Levels], local_s: Levels, now: Levels) -> Levels:
    """What has passed (t,) at a rate since a start of a strip, so long ago."""
    return passed(rate, now) - passed(rate, np.maximum(now - local_s, 0.0))


def speed_of(key: Key, feed: Feed, pace: Feed | None, times_s: Levels) -> Levels:
    """How fast what is written runs (t,): between the lowest and the highest speed, by a feed, and at its pace."""
    speed = max(0.0, key.low) + (key.high - max(0.0, key.low)) * shares_of(feed, times_s)
    return speed if pace is None else speed * pace_of(pace, times_s)


def fade_of(strip: Strip, local_s: Levels) -> Levels:
    """How much of a strip is there (t,), so long after its start: it comes in and goes out."""
    out = np.ones(len(local_s))
    if strip.fade_in_s > 0:
        out = np.minimum(out, local_s / strip.fade_in_s)
    if strip.fade_out_s > 0:
        out = np.minimum(out, (strip.length_s - local_s) / strip.fade_out_s)
    share = np.clip(out, 0, 1)
    return np.asarray(from_lightness(100 * share) if strip.fading == "lightness" else share, float)


def way_over(strip: Strip, lamps: Lamps) -> Way:
    """The way of a strip over a table of LEDs, remembered as long as that lives."""
    known = _WAYS.setdefault(lamps, {})
    key = (strip.limits, strip.leds, strip.along, strip.angle_deg, strip.mirrored, strip.backwards, strip.seed)
    if key not in known:
        if len(known) > 500:
            known.clear()
        known[key] = way_of(strip, lamps)
    return known[key]


def curve_at(points: Sequence[tuple[float, float]], shares: Times) -> Levels:
    """A drawn curve (t,) at shares of the time: smooth through its points, never back where they do not go back."""
    from scipy.interpolate import PchipInterpolator  # only who draws a curve loads it

    # A file from elsewhere may have them in any order.
    sorted_out = sorted(dict(points).items())
    if len(sorted_out) < 2:
        return np.asarray(shares, float)
    x, y = (np.array(row) for row in zip(*sorted_out, strict=True))
    return np.asarray(np.clip(PchipInterpolator(x, y)(np.asarray(shares, float)), 0.0, 1.0))


_PACES: Mapping[str, Callable[[Levels, Strip], Levels]] = {
    "even": lambda phase, strip: phase,
    "slow start": lambda phase, strip: phase**2,
    "slow end": lambda phase, strip: 1 - (1 - phase) ** 2,
    "slow ends": lambda phase, strip: phase * phase * (3 - 2 * phase),
    "steps": lambda phase, strip: np.floor(phase * strip.steps) / strip.steps,
    # The end of a period is not yet the beginning of the next one.
    "curve": lambda phase, strip: np.minimum(curve_at(strip.curve, phase), 1 - 1e-9),
}
#: What is below, what lies over it, and how much of that is there, to what is seen.
_BLENDS: Mapping[str, Callable[[Levels, Levels, Levels], Levels]] = {
    "over": lambda below, made, there: below * (1 - there) + made * there,
    "add": lambda below, made, there: np.minimum(1.0, below + made * there),
    "lighter": lambda below, made, there: np.maximum(below, made * there),
    "mask": lambda below, made, there: below * (1 - there * (1 - made)),
}


def still(motion: Motion, lamps: Lamps) -> Levels:
    """The level (n,) of each LED while nothing plays: all on."""
    return np.full(lamps.count, 1.0 if motion.score else motion.brightness)


def level_at(motion: Motion, lamps: Lamps, time_s: float) -> Levels:
    """The level (n, c) of each light of each LED at one moment."""
    return np.asarray(levels(motion, lamps, [time_s])[0])


def one_round(motion: Motion, samples: int, ends: bool = False) -> Levels:
    """Moments (samples,) of all that plays, s: the middles of equal steps, or from end to end."""
    shares = np.linspace(0, 1, samples) if ends else (np.arange(samples) + 0.5) / samples
    return np.asarray(shares * motion.seconds, float)


def current_shares(
    motion: Motion, lamps: Lamps, times_s: Times, wanted: bool = False, strips: Sequence[Strip] | None = None
) -> Levels:
    """The share (times,) of the current of all LEDs fully on that flows at each moment, or would (`wanted`) without a limit; 0
    without any. Who knows which `strips` play at these times may tell them."""
    times = np.asarray(times_s, float)
    if lamps.full_a <= 0:
        return np.zeros(len(times))
    flat = lamps.currents.ravel() / lamps.full_a
    parts = [times[at : at + _AT_ONCE] for at in range(0, len(times), _AT_ONCE)]
    run = wanted_levels if wanted else levels
    made = [run(motion, lamps, some, strips).reshape(len(some), -1) @ flat for some in parts]
    return np.asarray(np.concatenate(made), float) if made else np.zeros(0)
