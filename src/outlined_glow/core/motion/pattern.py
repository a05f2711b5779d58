"""Patterns as pure functions of time and the table of LEDs.

To add one: a function of the table and phases (t,) to levels (t, n), each from 0 to 1, put in `PATTERNS`.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from ..project import Motion
from .lamps import Lamps

Levels = NDArray[np.float64]

#: How many LEDs of a chase trail behind its head.
_TAIL = 3.0


def _steady(lamps: Lamps, phases: Levels) -> Levels:
    return np.ones((len(phases), lamps.count))


def _chase(lamps: Lamps, phases: Levels) -> Levels:
    """One head runs through the chain once a period, its tail fading behind it."""
    behind = (phases[:, None] * lamps.count - lamps.chain) % lamps.count
    return np.clip(1 - behind / min(_TAIL, lamps.count), 0, 1)


def _breathe(lamps: Lamps, phases: Levels) -> Levels:
    """All together, even to the eye: the square of a sine."""
    return np.repeat((0.5 - 0.5 * np.cos(2 * np.pi * phases))[:, None] ** 2, lamps.count, axis=1)


def _twinkle(lamps: Lamps, phases: Levels) -> Levels:
    """Each at its own moments, fixed by its place in the chain: two sines of different whole speeds a period."""
    place, phase = lamps.chain + 1, phases[:, None]
    offset = (place * 0.6180339887498949) % 1.0
    slow = 1 + place % 3
    wave = np.sin(2 * np.pi * (slow * phase + offset)) * np.sin(2 * np.pi * ((slow + 2) * phase + 2 * offset))
    return np.clip(1.5 * wave, 0, 1)


PATTERNS: dict[str, Callable[[Lamps, Levels], Levels]] = {
    "steady": _steady,
    "chase": _chase,
    "breathe": _breathe,
    "twinkle": _twinkle,
}


def levels(motion: Motion, lamps: Lamps, times_s: Sequence[float] | Levels) -> Levels:
    """Levels (times, LEDs, channels), 0..1; they repeat every `period_s`. LEDs of one colour have one channel."""
    phases = (np.asarray(times_s, float) / motion.period_s) % 1.0
    if not lamps.count:
        return np.zeros((len(phases), 0, 1))
    return (PATTERNS[motion.pattern](lamps, phases) * motion.brightness)[..., None]


def still(motion: Motion, lamps: Lamps) -> Levels:
    """The level (n,) of each LED while no pattern plays: all on."""
    return np.full(lamps.count, motion.brightness)


def level_at(motion: Motion, lamps: Lamps, time_s: float) -> Levels:
    """The level (n,) of each LED at one moment."""
    return levels(motion, lamps, [time_s])[0, :, 0]


def one_period(motion: Motion, samples: int, ends: bool = False) -> Levels:
    """Moments (samples,) of one period, s: the middles of equal steps, or from end to end."""
    shares = np.linspace(0, 1, samples) if ends else (np.arange(samples) + 0.5) / samples
    return np.asarray(shares * motion.period_s, float)


def current_shares(motion: Motion, lamps: Lamps, times_s: Sequence[float] | Levels) -> Levels:
    """The share (times,) of the current of all LEDs fully on that flows at each moment; 0 without any."""
    whole = float(lamps.currents.sum())
    if whole <= 0:
        return np.zeros(len(times_s))
    return np.asarray(levels(motion, lamps, times_s)[..., 0] @ lamps.currents / whole, float)


def average_share(motion: Motion, lamps: Lamps, samples: int = 240) -> float:
    """The mean share of the full current over one period."""
    return float(current_shares(motion, lamps, one_period(motion, samples)).mean())


def peak_share(motion: Motion, lamps: Lamps, samples: int = 240) -> float:
    """The largest share of the full current at any moment."""
    return float(current_shares(motion, lamps, one_period(motion, samples)).max())
