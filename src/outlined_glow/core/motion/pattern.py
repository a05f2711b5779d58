"""Patterns as pure functions of time and the LED table."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from ..project import Motion

Levels = NDArray[np.float64]

#: How many LEDs of a chase trail behind its head.
_TAIL = 3.0


def _steady(count: int, phase: float) -> Levels:
    return np.ones(count)


def _chase(count: int, phase: float) -> Levels:
    """One head runs through the chain once a period, its tail fading behind it."""
    behind = (phase * count - np.arange(count)) % count
    return np.clip(1 - behind / min(_TAIL, count), 0, 1)


def _breathe(count: int, phase: float) -> Levels:
    """All together, even to the eye: the square of a sine."""
    return np.full(count, 0.5 - 0.5 * math.cos(2 * math.pi * phase)) ** 2


def _twinkle(count: int, phase: float) -> Levels:
    """Each at its own moments, fixed by its index: two sines of different whole speeds a period."""
    place = np.arange(1, count + 1)
    offset = (place * 0.6180339887498949) % 1.0
    slow = 1 + place % 3
    wave = np.sin(2 * math.pi * (slow * phase + offset)) * np.sin(2 * math.pi * ((slow + 2) * phase + 2 * offset))
    return np.clip(1.5 * wave, 0, 1)


PATTERNS: dict[str, Callable[[int, float], Levels]] = {
    "steady": _steady,
    "chase": _chase,
    "breathe": _breathe,
    "twinkle": _twinkle,
}


def levels(motion: Motion, count: int, time_s: float) -> Levels:
    """Level (0..1) of each of `count` LEDs at a time; repeats every `period_s`."""
    if count == 0:
        return np.zeros(0)
    phase = (time_s / motion.period_s) % 1.0
    return PATTERNS[motion.pattern](count, phase) * motion.brightness


def level_table(motion: Motion, count: int, samples: int, ends: bool = False) -> Levels:
    """Levels (count, samples) over one period: at the middles of equal steps, or from end to end."""
    shares = np.linspace(0, 1, samples) if ends else (np.arange(samples) + 0.5) / samples
    if count == 0:
        return np.zeros((1, samples))
    return np.stack([levels(motion, count, float(share) * motion.period_s) for share in shares], axis=1)


def average_level(motion: Motion, count: int, samples: int = 240) -> float:
    """Mean level over LEDs and one period: the share of the full current that flows."""
    return float(level_table(motion, count, samples).mean())


def peak_level(motion: Motion, count: int, samples: int = 240) -> float:
    """The largest share of the full current at any moment."""
    return float(level_table(motion, count, samples).mean(axis=0).max())
