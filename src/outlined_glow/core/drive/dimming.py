"""Dimming in steps that look even, and by the light of the room (DOMAIN 8)."""

from __future__ import annotations

import math

from ..errors import Trouble

#: From what share of the light on an exponential table begins; CIE 1976 lightness under which it is linear.
_FAINTEST, _LINEAR_L = 1 / 1000, 8.0


def luminance_of(lightness: float) -> float:
    """The share of the light that looks as light as `lightness`, 0 to 100 (CIE 1976).

    >>> luminance_of(0), luminance_of(100), round(luminance_of(50), 4)
    (0.0, 1.0, 0.1842)
    """
    if lightness <= _LINEAR_L:
        return lightness / 903.296296
    return float(((lightness + 16) / 116) ** 3)


def dimming_table(steps: int, bits: int, how: str, gamma: float = 2.2, inverted: bool = False) -> list[int]:
    """The levels of steps that look even, from dark to full, in whole numbers of so many bits.

    By lightness, by a gamma, or each so many times the one before (exponential). Inverted where the enable is active low.

    >>> dimming_table(5, 8, "lightness"), dimming_table(3, 4, "gamma", inverted=True)
    ([0, 11, 47, 123, 255], [15, 12, 0])
    """
    if steps < 2:
        raise Trouble("A table of dimming has two steps at least.")
    most = 2**bits - 1
    shares = [at / (steps - 1) for at in range(steps)]
    if how == "lightness":
        light = [luminance_of(100 * share) for share in shares]
    elif how == "gamma":
        light = [share**gamma for share in shares]
    else:
        light = [0.0, *(_FAINTEST ** (1 - share) for share in shares[1:])]
    table = [round(most * share) for share in light]
    return [most - level for level in table] if inverted else table


def ambient_level(reading: float, dark: float, bright: float, floor: float, ceiling: float, how: str = "logarithmic") -> float:
    """The level for a reading of a light sensor, between floor and ceiling: in even steps of the reading, or of its logarithm.

    >>> ambient_level(10, 1, 1000, 0.1, 1.0), ambient_level(5000, 1, 1000, 0.1, 1.0)
    (0.4, 1.0)
    """
    if not bright > dark or (how == "logarithmic" and dark <= 0):
        raise Trouble(f"The bright reading must be above the dark one, and both above 0; {bright:g} and {dark:g} are not.")
    low, high, now = (math.log(max(one, 1e-12)) if how == "logarithmic" else one for one in (dark, bright, reading))
    share = min(1.0, max(0.0, (now - low) / (high - low)))
    return round(floor + share * (ceiling - floor), 12)
