"""What a way of driving truly shows of the light that is wanted."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Asked:
    """Levels (t, n, c) that are wanted at moments (t,), s; the number of the output (n,) that each LED hangs on, from 0, and
    how many outputs there are; the place (n,) of each in the chain."""

    times_s: Numbers
    levels: Numbers
    outputs: NDArray[np.intp]
    count: int
    chain: NDArray[np.intp]
    #: What is wanted (t, n, c) at other moments, s.
    at: Callable[[Numbers], Numbers] = lambda times: np.zeros((len(times), 0, 1))

    @property
    def lights(self) -> int:
        """How many lights there are."""
        return int(self.levels.shape[1] * self.levels.shape[2])


def in_steps(levels: Numbers, bits: int) -> Numbers:
    """Levels as a number of so many bits tells them."""
    most = (1 << bits) - 1
    return np.asarray(np.round(levels * most) / most, float)


def most_bits(turn_s: float, step_s: float, most: int = 8) -> int:
    """In how many bits light can be told in a turn whose shortest part takes at least a step: bit planes, each half as long as
    the one before.

    >>> most_bits(1 / 200, 1e-5), most_bits(1 / 3200, 4e-6)
    (8, 6)
    """
    return next((bits for bits in range(most, 1, -1) if turn_s / ((1 << bits) - 1) >= step_s), 1)


def held(asked: Asked, frame_s: float) -> Numbers:
    """What is wanted at the beginning of a frame, for as long as that lasts."""
    return asked.at(np.floor(asked.times_s / frame_s + 1e-9) * frame_s)


def lagging(asked: Asked, lag_s: float) -> Numbers:
    """What is wanted, late as a body that warms and cools: each moment before counts, e-fold less for every lag."""
    # Gauss-Laguerre: the mean of the past under a falling exponential.
    nodes, weights = np.polynomial.laguerre.laggauss(8)
    out = np.zeros_like(asked.levels)
    for node, weight in zip(nodes.tolist(), weights.tolist(), strict=True):
        out += weight * asked.at(asked.times_s - lag_s * node)
    return np.asarray(np.clip(out, 0, 1), float)


def all_on(asked: Asked) -> Numbers:
    """Steady light."""
    return np.ones_like(asked.levels)


def one_after_another(asked: Asked, step_s: float) -> Numbers:
    """One output at a time, each for a step."""
    now = np.floor(asked.times_s / step_s).astype(np.int64) % max(1, asked.count)
    lit = (asked.outputs[None, :] == now[:, None]).astype(float)
    return np.repeat(lit[..., None], asked.levels.shape[2], axis=2)


def halving(asked: Asked, period_s: float) -> Numbers:
    """Each output blinks half as fast as the one before, the first once in a period; lit in the first half."""
    phase = asked.times_s[:, None] / (period_s * 2.0 ** asked.outputs[None, :])
    lit = (phase - np.floor(phase) < 0.5).astype(float)
    return np.repeat(lit[..., None], asked.levels.shape[2], axis=2)


def brightest_alone(asked: Asked) -> Numbers:
    """Of all lights the brightest at each moment, the first of equals in the chain; fully on."""
    if not asked.lights:
        return np.zeros_like(asked.levels)
    order = np.argsort(asked.chain, kind="stable")
    some = asked.levels[:, order].reshape(len(asked.levels), -1)
    at, light = np.divmod(np.argmax(some, axis=1), asked.levels.shape[2])
    out = np.zeros_like(asked.levels)
    rows, led = np.arange(len(some)), order[at]
    out[rows, led, light] = (asked.levels[rows, led, light] > 0).astype(float)
    return out


def outputs_of(names: Sequence[str], most: int) -> tuple[NDArray[np.intp], int]:
    """The output of each LED where each group has one: and where all are in one group, in turn."""
    rank = {name: at for at, name in enumerate(dict.fromkeys(names))}
    if len(rank) > 1:
        return np.array([rank[name] for name in names], np.intp), len(rank)
    many = max(1, min(most, len(names)))
    return np.arange(len(names)) % many, many
