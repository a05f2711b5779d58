"""LEDs that take turns: what a pulse may be, and how few pins there are to be (DOMAIN 3 and 5)."""

from __future__ import annotations

import math

#: The most that a pulse carries of what an LED bears all the time, and the exponent between that and the whole (DOMAIN 3).
_MOST_PULSE, _PULSE_EXPONENT = 3.0, -0.477


def allowed_peak(continuous_a: float, duty: float) -> float:
    """The most current of a pulse, A: as much as all the time at a duty of 1, three times as much from a tenth on.

    >>> round(allowed_peak(0.02, 1 / 7), 4), allowed_peak(0.02, 0.01)
    (0.0506, 0.06)
    """
    return float(continuous_a * min(max(duty, 1e-9) ** _PULSE_EXPONENT, _MOST_PULSE))


def charlieplex_pins(lights: int) -> int:
    """The least p with p (p − 1) >= n.

    >>> charlieplex_pins(40), charlieplex_pins(42), charlieplex_pins(43), charlieplex_pins(1)
    (7, 7, 8, 2)
    """
    return max(2, math.ceil((1 + math.sqrt(1 + 4 * max(1, lights))) / 2 - 1e-12))
