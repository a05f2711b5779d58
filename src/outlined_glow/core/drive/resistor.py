"""Series resistors: preferred values (IEC 60063) and the current that follows (DOMAIN 4)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from ..errors import Trouble
from .law import LedLaw, branch_current

_E24 = (1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1)


@cache
def series_values(series: str) -> tuple[float, ...]:
    """One decade of a preferred series."""
    if series in ("E6", "E12", "E24"):
        return _E24[:: 24 // int(series[1:])]
    if series in ("E48", "E96"):
        count = int(series[1:])
        return tuple(round(10 ** (place / count), 2) for place in range(count))
    raise Trouble(f"There is no preferred series “{series}”; there are E6, E12, E24, E48 and E96.")


#: A value at hand is taken where it is off by no more than this: one that is farther off costs too much of the light.
_FARTHEST_AT_HAND = 2.0


def preferred(ohm: float, series: str, choose: str, stock: Sequence[float] = ()) -> float:
    """The next preferred value up (`at-most` current), the next one down (`at-least`) or the nearest in ratio (`nearest`): of
    those at hand (`stock`) where one is near enough, else of the series.

    >>> preferred(340.0, "E24", "at-most"), preferred(340.0, "E24", "at-most", (100.0, 470.0))
    (360.0, 470.0)
    >>> preferred(340.0, "E24", "at-least")
    330.0
    >>> preferred(34.0, "E24", "at-most", (100.0,))
    36.0
    """
    fitting = [value for value in stock if _fits(value, ohm, choose)]
    near = min(fitting, key=lambda value: abs(math.log(value / ohm)), default=None)
    if near is not None and 1 / _FARTHEST_AT_HAND <= near / ohm <= _FARTHEST_AT_HAND:
        return near
    decade = 10.0 ** math.floor(math.log10(ohm))
    values = [value * scale for scale in (decade / 10, decade, decade * 10) for value in series_values(series)]
    best = min((value for value in values if _fits(value, ohm, choose)), key=lambda value: abs(math.log(value / ohm)))
    return float(f"{best:.6g}")


def _fits(value: float, ohm: float, choose: str) -> bool:
    if choose == "nearest":
        return True
    return value <= ohm * (1 + 1e-9) if choose == "at-least" else value >= ohm * (1 - 1e-9)


def short_ohms(value: float) -> str:
    """A resistor's value as a legend prints it: 680R, 1k2, 47k.

    >>> short_ohms(680), short_ohms(1200), short_ohms(47000)
    ('680R', '1k2', '47k')
    """
    for factor, letter in ((1e6, "M"), (1e3, "k"), (1.0, "R")):
        if value >= factor:
            whole, _, rest = f"{value / factor:.4g}".partition(".")
            return f"{whole}{letter}{rest}"
    return f"{value:g}R"


@dataclass(frozen=True)
class SeriesResistor:
    """The answer: ideal and preferred value, re-solved current, the resistor's power."""

    ideal_ohm: float
    resistor_ohm: float
    current_a: float
    power_w: float
    headroom_v: float


def series_resistor(
    supply_v: float, law: LedLaw, current_a: float, count: int = 1, series: str = "E24", choose: str = "at-most"
) -> SeriesResistor:
    """R = (Vs − n·V(I))/I with V(I) by the law; `Trouble` when no voltage is left for it."""
    headroom = supply_v - count * law.volts(current_a)
    if headroom <= 0:
        raise Trouble(
            f"No voltage is left for the resistor: {count * law.volts(current_a):.2f} V of LED on {supply_v:.2f} V; "
            "take a higher supply, fewer LEDs in series or another colour."
        )
    ideal = headroom / current_a
    ohm = preferred(ideal, series, choose)
    current = branch_current(supply_v, ohm, law, count)
    return SeriesResistor(ideal, ohm, current, current**2 * ohm, headroom)
