"""Cold-cathode tubes: the resistor before the anode (DOMAIN 11)."""

from __future__ import annotations

from ..errors import Trouble


def anode_resistor(supply_v: float, hold_v: float, current_a: float) -> tuple[float, float]:
    """Resistance and power of the resistor, ohm and W: R = (Vs − Vhold)/I, P = I²R. `Trouble` where the tube takes all.

    >>> anode_resistor(185, 140, 0.002)
    (22500.0, 0.09)
    """
    if supply_v <= hold_v:
        raise Trouble(f"No voltage is left for the resistor: the tube holds at {hold_v:g} V, the supply gives {supply_v:g} V.")
    ohm = (supply_v - hold_v) / current_a
    return ohm, round(current_a**2 * ohm, 12)
