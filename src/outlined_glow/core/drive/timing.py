"""Timers and oscillators: resistors and capacitors from preferred values for a period (DOMAIN 8)."""

from __future__ import annotations

import bisect
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..errors import Trouble
from .resistor import series_values

_LN2, _LN3 = math.log(2), math.log(3)
#: What the resistors of a timer may be, ohm; and capacitors of E6 from 100 pF to 1000 uF, F.
LEAST_OHM, MOST_OHM = 1e3, 1e7
_E6 = (1.0, 1.5, 2.2, 3.3, 4.7, 6.8)
CAPACITORS_F = (*tuple(float(f"{value}e{power}") for power in range(-10, -3) for value in _E6), 0.001)
#: An oscillator of a ripple counter: f = 1 / (2.2 R C); its resistor keeps between these, ohm.
_RC, _PACE_OHM = 2.2, (1e4, 1e6)


@dataclass(frozen=True)
class Astable:
    """A timer that runs by itself: its two resistors and its capacitor."""

    r1_ohm: float
    r2_ohm: float
    c_f: float

    @property
    def high_s(self) -> float:
        """How long its output is high, s."""
        return _LN2 * (self.r1_ohm + self.r2_ohm) * self.c_f

    @property
    def low_s(self) -> float:
        """How long it is low, s."""
        return _LN2 * self.r2_ohm * self.c_f

    @property
    def period_s(self) -> float:
        """Both together, s."""
        return self.high_s + self.low_s

    @property
    def duty(self) -> float:
        """The share of the period that it is high."""
        return self.high_s / self.period_s

    @property
    def first_high_s(self) -> float:
        """The first high after power-on, from an empty capacitor, s."""
        return _LN3 * (self.r1_ohm + self.r2_ohm) * self.c_f


def values_between(series: str, low: float, high: float) -> list[float]:
    """Every preferred value in a range."""
    first, last = math.floor(math.log10(low)), math.ceil(math.log10(high))
    every = (float(f"{value * 10.0**power:.6g}") for power in range(first, last + 1) for value in series_values(series))
    return [one for one in every if low <= one <= high]


def search_astable(
    period_s: float, duty: float | None = None, series: str = "E24", capacitors_f: Sequence[float] = CAPACITORS_F, best: int = 5
) -> list[Astable]:
    """The few timers nearest to a period, and to a duty where one is asked for: both resistors and the capacitor together. Of
    equals that with the smaller resistors comes first."""
    values = values_between(series, LEAST_OHM, MOST_OHM)
    found: list[tuple[float, float, Astable]] = []
    for farad in capacitors_f:
        whole = period_s / (_LN2 * farad)
        for r2 in values:
            wanted = whole - 2 * r2
            if duty is not None and wanted <= 0:
                continue
            at = bisect.bisect(values, wanted)
            for r1 in values[max(0, at - 2) : at + 2]:
                one = Astable(r1, r2, farad)
                off = abs(one.period_s / period_s - 1)
                if duty is not None:
                    off += abs(one.duty - duty)
                found.append((round(off, 12), r1 + r2, one))
    if not found:
        raise Trouble("No timer has that period with these capacitors; give others, or another period.")
    found.sort(key=lambda row: row[:2])
    return [one for _, _, one in found[:best]]


@lru_cache(maxsize=256)
def best_astable(period_s: float) -> Astable:
    """A timer of about that period with a small film capacitor where that is enough, and resistors that do not leak."""
    small = [one for one in CAPACITORS_F if 1e-8 <= one <= (1e-6 if period_s < 2 else 1e-5)]
    near = search_astable(period_s, None, "E24", small, 400)
    quiet = [one for one in near if one.r1_ohm + one.r2_ohm < 2e6 and 0.5 <= one.duty <= 0.75]
    return (quiet or near)[0]


def oscillator_hz(r_ohm: float, c_f: float) -> float:
    """The frequency of a ripple counter's own oscillator."""
    return 1 / (_RC * r_ohm * c_f)


@lru_cache(maxsize=256)
def best_oscillator(period_s: float) -> tuple[float, float]:
    """Resistor (E24) and capacitor (E6) of an oscillator of about that period, the least capacitor that goes.

    >>> best_oscillator(1 / 206.6)
    (470000.0, 4.7e-09)
    """
    rows = []
    for farad in CAPACITORS_F:
        wanted = period_s / (_RC * farad)
        if _PACE_OHM[0] <= wanted <= _PACE_OHM[1]:
            near = min(values_between("E24", *_PACE_OHM), key=lambda one: abs(math.log(one / wanted)))
            rows.append((abs(math.log(near / wanted)), farad, near))
    if not rows:
        raise Trouble(f"An oscillator cannot have a period of {period_s:.3g} s; choose another period.")
    # A smaller capacitor is a better one: what is within a hundredth is near enough.
    _, farad, ohm = min(rows, key=lambda row: (max(row[0], 0.01), row[1]))
    return ohm, farad


#: Tolerances of resistors and capacitors, as shares; so many timers are built by chance, always the same.
_OHM_SPREAD, _FARAD_SPREAD, _BUILT, _SEED = 0.05, 0.10, 2000, 8


def spread_of(one: Astable, ohm: float = _OHM_SPREAD, farad: float = _FARAD_SPREAD) -> tuple[float, float]:
    """Between which periods nine in ten such timers lie, s: each part anywhere within its tolerance.

    >>> low, high = spread_of(Astable(1e5, 1e5, 1e-6))
    >>> low < Astable(1e5, 1e5, 1e-6).period_s < high
    True
    """
    chance = np.random.default_rng(_SEED).uniform(-1, 1, (3, _BUILT))
    r1, r2, c = (value * (1 + share * row) for value, share, row in zip(
        (one.r1_ohm, one.r2_ohm, one.c_f), (ohm, ohm, farad), chance, strict=True))  # fmt: skip
    low, high = np.quantile(_LN2 * (r1 + 2 * r2) * c, (0.05, 0.95))
    return float(low), float(high)


def leaks(one: Astable) -> bool:
    """Whether leakage will show: over 3.3 Mohm, or over 470 kohm with an electrolytic capacitor."""
    most = max(one.r1_ohm, one.r2_ohm)
    return most > 3.3e6 or (most > 4.7e5 and one.c_f > 2e-5)


def hold_up_h(farad: float, from_v: float, to_v: float, draw_a: float, leakage_a: float = 0.0) -> float:
    """How long a capacitor feeds a draw from one voltage to another, hours: t = C·(V1 − V2)/(I + leakage).

    >>> round(hold_up_h(0.47, 4.8, 2.0, 3e-6, 2e-6), 2)
    73.11
    """
    if from_v <= to_v:
        raise Trouble(f"A capacitor falls from a voltage to a lower one; {from_v:g} V is not above {to_v:g} V.")
    if draw_a + leakage_a <= 0:
        raise Trouble("Something must be drawn from the capacitor; a draw of 0 A holds for ever.")
    return farad * (from_v - to_v) / (draw_a + leakage_a) / 3600


#: How a crystal goes with its temperature, ppm/K², about the temperature at which it is right, C.
_CRYSTAL_PPM, _CRYSTAL_C = -0.034, 25.0


def clock_drift_s(ppm: float, days: float, temperature_c: float = _CRYSTAL_C) -> float:
    """How far a clock is off after some days, s; a crystal is slower away from 25 C.

    >>> round(clock_drift_s(20, 30), 2), round(clock_drift_s(0, 1, 35), 3)
    (51.84, -0.294)
    """
    return (ppm + _CRYSTAL_PPM * (temperature_c - _CRYSTAL_C) ** 2) * 1e-6 * days * 86_400


def short_farads(value: float) -> str:
    """A capacitor's value as a legend prints it: 100n, 2u2, 4p7, 0F47.

    >>> short_farads(1e-7), short_farads(2.2e-6), short_farads(4.7e-10), short_farads(0.47)
    ('100n', '2u2', '470p', '0F47')
    """
    if value >= 0.01:
        whole, _, rest = f"{value:.4g}".partition(".")
        return f"{whole}F{rest}"
    for factor, letter in ((1e-6, "u"), (1e-9, "n"), (1e-12, "p")):
        if value >= factor * 0.9999:
            whole, _, rest = f"{value / factor:.4g}".partition(".")
            return f"{whole}{letter}{rest}"
    return f"{value * 1e12:.3g}p"
