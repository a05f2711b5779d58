"""The law of a filament: what it takes, and how bright it is (DOMAIN 3 and 5)."""

from __future__ import annotations

#: I = I0·(V/V0)^0.6; a cold one takes so many times as much; its light goes by this power of its volts, as of all that glow.
EXPONENT, COLD, LIGHT = 0.6, 8.0, 3.4


def filament_a(supply_v: float, ohm: float, rated_v: float, rated_a: float) -> float:
    """The current of a filament behind a resistor, A: bisection, for both fall with the other.

    >>> round(filament_a(5.0, 0.0, 5.0, 0.02), 4), round(filament_a(5.0, 75.0, 3.5, 0.02), 4)
    (0.02, 0.02)
    """
    low, high = 0.0, supply_v
    for _ in range(80):
        volts = (low + high) / 2
        if rated_a * (volts / rated_v) ** EXPONENT * ohm + volts > supply_v:
            high = volts
        else:
            low = volts
    return float(rated_a * ((low + high) / 2 / rated_v) ** EXPONENT)


def filament_light(share: float) -> float:
    """The share of its light that a filament gives with a share of its current.

    >>> round(filament_light(0.5 ** (0.6 / 3.4)), 3)
    0.5
    """
    return float(share ** (LIGHT / EXPONENT))
