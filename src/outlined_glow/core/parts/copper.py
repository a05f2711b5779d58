"""What copper carries, what it costs in volts, and how far conductors keep apart (DOMAIN 6, 7 and 11)."""

from __future__ import annotations

from ..errors import Trouble
from ..shipped import entries

#: Resistance of copper at 20 C, ohm·m, and how much it rises for each kelvin.
RHO_OHM_M, _RISE = 1.72e-8, 0.00393
#: The law of IPC-2221: I = k·dT^0.44·A^0.725 with A in square mil; k of outer and inner layers.
_K = {"outer": 0.048, "inner": 0.024}
_RISE_EXPONENT, _AREA_EXPONENT, _SQUARE_MIL_UM2 = 0.44, 0.725, 25.4**2


def track_width(current_a: float, rise_k: float, copper_um: float = 35.0, layer: str = "outer") -> float:
    """How wide a track is to be for a current, mm.

    >>> round(track_width(2, 10), 4)
    0.7814
    """
    area = (current_a / (_K[layer] * rise_k**_RISE_EXPONENT)) ** (1 / _AREA_EXPONENT)
    return float(area * _SQUARE_MIL_UM2 / copper_um / 1000)


def track_current(width_mm: float, rise_k: float, copper_um: float = 35.0, layer: str = "outer") -> float:
    """What a track carries, A.

    >>> round(track_current(0.3, 20, 35, "inner"), 4)
    0.6777
    """
    area = width_mm * 1000 * copper_um / _SQUARE_MIL_UM2
    return float(_K[layer] * rise_k**_RISE_EXPONENT * area**_AREA_EXPONENT)


def track_resistance(length_mm: float, width_mm: float, copper_um: float = 35.0, temperature_c: float = 20.0) -> float:
    """The resistance of a track, ohm.

    >>> round(track_resistance(120, 0.5, 35, 45), 5)
    0.12953
    """
    square_m = width_mm * 1e-3 * copper_um * 1e-6
    return RHO_OHM_M * (1 + _RISE * (temperature_c - 20)) * length_mm * 1e-3 / square_m


def rail_drops(count: int, each_a: float, segment_ohm: float, both_ends: bool = False) -> list[float]:
    """What the supply of each of a row of equal, constant currents is lower, V: `segment_ohm` there and back lies before each,
    and after the last where it is fed at both ends.

    >>> rail_drops(2, 1.0, 1.0), rail_drops(3, 1.0, 1.0, both_ends=True)
    ([2.0, 3.0], [1.5, 2.0, 1.5])
    """
    places = range(1, count + 1)
    if both_ends:
        return [each_a * segment_ohm * at * (count + 1 - at) / 2 for at in places]
    return [each_a * segment_ohm * (at * count - at * (at - 1) / 2) for at in places]


def clearance_mm(volts: float, surface: str = "uncoated") -> float:
    """How far apart conductors at a voltage must be: on a bare surface (IPC-2221B column B2), under permanent coating (B4), and
    bare leads and pins (A6). `Trouble` over 500 V.

    >>> clearance_mm(190, "leads"), clearance_mm(30)
    (0.8, 0.1)
    """
    rows = entries("materials", "clearances")[surface]
    found = next((float(apart) for most, apart in rows if volts <= most), None)
    if found is None:
        raise Trouble(f"The table of clearances ends at {rows[-1][0]} V.")
    return found
