"""Timers and oscillators: resistors and capacitors from preferred values for a period (DOMAIN 8)."""

from __future__ import annotations

import bisect
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

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


@dataclass(frozen=True)
class Oscillator:
    """The oscillator of a ripple counter with its resistor and capacitor, and how often its output is halved."""

    r_ohm: float
    c_f: float
    halvings: int = 0

    @property
    def period_s(self) -> float:
        """Of the output, s."""
        return float(2**self.halvings) / oscillator_hz(self.r_ohm, self.c_f)


@dataclass(frozen=True)
class TwoSpeeds:
    """A timer with a second resistor in series with R2 that a switch bridges: fast without it, slow with it."""

    fast: Astable
    more_ohm: float

    @property
    def slow(self) -> Astable:
        """The timer with its switch open."""
        return Astable(self.fast.r1_ohm, self.fast.r2_ohm + self.more_ohm, self.fast.c_f)


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


@lru_cache(maxsize=256)
def best_two_speeds(one_s: float, other_s: float) -> TwoSpeeds:
    """A timer of two periods: of those near to the shorter one that whose other resistor comes nearest to the longer one.

    >>> two = best_two_speeds(0.2, 1.0)
    >>> abs(two.fast.period_s / 0.2 - 1) < 0.02, abs(two.slow.period_s / 1.0 - 1) < 0.02
    (True, True)
    """
    short, long = sorted((one_s, other_s))
    if long < 1.02 * short:
        raise Trouble(f"The two periods of a timer are {short:.3g} s and {long:.3g} s; they must differ.")
    small = [one for one in CAPACITORS_F if 1e-8 <= one <= (1e-6 if long < 2 else 1e-5)]
    rows = []
    for fast in search_astable(short, None, "E24", small, 600):
        wanted = (long - fast.period_s) / (2 * _LN2 * fast.c_f)
        if not LEAST_OHM <= wanted <= MOST_OHM or not 0.5 <= fast.duty <= 0.75:
            continue
        more = min(values_between("E24", LEAST_OHM, MOST_OHM), key=lambda one: abs(math.log(one / wanted)))
        two = TwoSpeeds(fast, more)
        off = abs(fast.period_s / short - 1) + abs(two.slow.period_s / long - 1)
        rows.append((leaks(two.slow), round(off, 9), more + fast.r1_ohm, two))
    if not rows:
        raise Trouble(f"No timer has periods of both {short:.3g} s and {long:.3g} s; bring them nearer to one another.")
    return min(rows, key=lambda row: row[:3])[3]


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


def built(one: Astable | Oscillator, ohm: float = _OHM_SPREAD, farad: float = _FARAD_SPREAD) -> NDArray[np.float64]:
    """The periods of many such timers, s: each part anywhere within its tolerance; always the same ones."""
    chance = 1 + np.random.default_rng(_SEED).uniform(-1, 1, (3, _BUILT)) * np.array([[ohm], [ohm], [farad]])
    if isinstance(one, Oscillator):
        return np.asarray(one.period_s * chance[0] * chance[2])
    return np.asarray(_LN2 * (one.r1_ohm * chance[0] + 2 * one.r2_ohm * chance[1]) * one.c_f * chance[2])


def spread_of(
    one: Astable | Oscillator, ohm: float = _OHM_SPREAD, farad: float = _FARAD_SPREAD
) -> tuple[float, float]:  # fmt: skip
    """Between which periods nine in ten such timers lie, s.

    >>> low, high = spread_of(Astable(1e5, 1e5, 1e-6))
    >>> low < Astable(1e5, 1e5, 1e-6).period_s < high
    True
    """
    low, high = np.quantile(built(one, ohm, farad), (0.05, 0.95))
    return float(low), float(high)


@dataclass(frozen=True)
class Spread:
    """How the periods of many timers lie: from the least to the most, s; how many in each of equal steps between; the period
    that is meant, and where nine in ten lie."""

    least_s: float
    most_s: float
    counts: tuple[int, ...]
    meant_s: float
    nine_in_ten: tuple[float, float]


def distribution(one: Astable | Oscillator, steps: int = 25) -> Spread:
    """The periods of many such timers as counts in equal steps."""
    periods = built(one)
    counts, edges = np.histogram(periods, steps)
    return Spread(float(edges[0]), float(edges[-1]), tuple(map(int, counts)), one.period_s, spread_of(one))


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


def backup_years(capacity_ah: float, draw_a: float, lost_a_year: float = 0.01) -> float:
    """How long a cell keeps a small draw going, years: what it loses by itself each year is a share of what it held.

    >>> round(backup_years(0.22, 2e-6), 2)
    11.15
    """
    return capacity_ah / (draw_a * 8766 + capacity_ah * lost_a_year)


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
