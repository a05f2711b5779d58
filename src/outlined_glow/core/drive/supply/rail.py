"""The rail that a regulator makes of a supply, and what it takes for it (DOMAIN 5 and 9)."""

from __future__ import annotations

import math

from ...parts import Part
from ...project import Drive
from ..devices import Regulator, regulators

#: A rail keeps so near to what it is set to, as a share.
SPREAD = 0.02
#: The rails that are usual.
USUAL_V = 3.3


def regulator_of(drive: Drive) -> Regulator | None:
    """The regulator of a board, if it has one."""
    return regulators().get(drive.regulator)


def rail_v(drive: Drive) -> float:
    """What it makes."""
    return drive.rail or USUAL_V


def taken_a(one: Regulator, rail: float, current_a: float, source_v: float) -> float:
    """What it takes from the supply for a current of its rail, A, beside what it always draws itself.

    >>> linear = Regulator("", 0.005, dropout_v=1.1)
    >>> taken_a(linear, 3.3, 0.1, 5.0), round(taken_a(Regulator("", 1e-4, efficiency=0.85), 5.0, 0.1, 2.4), 4)
    (0.1, 0.2451)
    """
    if one.efficiency is None:
        return current_a
    return rail * current_a / (one.efficiency * max(source_v, 0.1))


def least_source_v(one: Regulator, rail: float) -> float:
    """The least volts of the supply at which it makes its rail."""
    return rail + one.dropout_v if one.efficiency is None else one.least_in_v


#: How much warmer the middle of a regulator may become than the air about it, K: 125 C in a case of 40 C.
MOST_RISE_K = 85.0
#: Kelvin a watt of a body with a tab: on a lot of copper, how much more on none, and by how much copper that fades, mm².
_WIDE_K_W, _MORE_K_W, _FADES_MM2 = 50.0, 75.0, 250.0


def kelvin_a_watt(copper_mm2: float) -> float:
    """How much a regulator warms for a watt, with so much copper at its tab: typical values of bodies with a tab.

    >>> round(kelvin_a_watt(6.5)), round(kelvin_a_watt(645))
    (123, 56)
    """
    return _WIDE_K_W + _MORE_K_W * math.exp(-copper_mm2 / _FADES_MM2)


def copper_for(watts: float) -> float | None:
    """How much copper at its tab a regulator needs for some heat, mm²; None where no copper is enough."""
    allowed = MOST_RISE_K / watts if watts > 0 else math.inf
    if allowed <= _WIDE_K_W:
        return None
    return max(0.0, _FADES_MM2 * math.log(_MORE_K_W / (allowed - _WIDE_K_W)))


def tab_copper_mm2(body: Part) -> float:
    """The copper at the tab of a regulator: its largest pad. What is poured round it only helps."""
    return max(pad.width_mm * pad.height_mm for pad in body.pads)


def heat_w(one: Regulator, rail: float, current_a: float, source_v: float) -> float:
    """What it turns into heat, W: all that lies between supply and rail, or what a converter loses."""
    if one.efficiency is not None:
        return rail * current_a * (1 / one.efficiency - 1)
    return max(0.0, source_v - rail) * current_a + source_v * one.standing_a
