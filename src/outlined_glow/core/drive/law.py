"""The LED law (DOMAIN 3): V(I) = Vf + n·Vt·ln(I/If) + Rs·(I − If)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..parts import Source

#: Thermal voltage at 300 K, V.
VT = 0.025852


@dataclass(frozen=True)
class LedLaw:
    """A data-sheet point (`forward_v` at `forward_a`) with ideality and series resistance."""

    forward_v: float
    forward_a: float
    ideality: float = 2.0
    series_ohm: float = 10.0

    def volts(self, current_a: float) -> float:
        """Forward voltage at a current, V."""
        bend = self.ideality * VT * math.log(current_a / self.forward_a)
        return self.forward_v + bend + self.series_ohm * (current_a - self.forward_a)

    def volts_of(self, current_a: NDArray[np.float64]) -> NDArray[np.float64]:
        """Forward voltage of many currents (n,)."""
        bend = self.ideality * VT * np.log(current_a / self.forward_a)
        return self.forward_v + bend + self.series_ohm * (current_a - self.forward_a)


def law_of(light: Source) -> LedLaw:
    """That of a typical light, by its data-sheet point."""
    return LedLaw(light.forward_v[1], light.forward_a)


@lru_cache(maxsize=4096)
def branch_current(supply_v: float, resistor_ohm: float, law: LedLaw, count: int = 1) -> float:
    """The current (A) of `count` LEDs in series with a resistor: bisection on ln I; 0 below 1 pA."""
    low, high = math.log(1e-12), math.log(10.0)

    def over(log_current: float) -> float:
        current = math.exp(log_current)
        return count * law.volts(current) + current * resistor_ohm - supply_v

    if over(low) > 0:
        return 0.0
    for _ in range(80):
        middle = (low + high) / 2
        if over(middle) > 0:
            high = middle
        else:
            low = middle
    return math.exp((low + high) / 2)
