"""The rail that a regulator makes of a supply, and what it takes for it (DOMAIN 5 and 9)."""

from __future__ import annotations

from ..project import Drive
from .devices import Regulator, regulators

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
    """What it takes from the supply for a current of its rail, A.

    >>> linear = Regulator("", 0.005, dropout_v=1.1)
    >>> taken_a(linear, 3.3, 0.1, 5.0), round(taken_a(Regulator("", 1e-4, efficiency=0.85), 5.0, 0.1, 2.4), 4)
    (0.105, 0.2452)
    """
    if one.efficiency is None:
        return current_a + one.standing_a
    return rail * current_a / (one.efficiency * max(source_v, 0.1)) + one.standing_a


def least_source_v(one: Regulator, rail: float) -> float:
    """The least volts of the supply at which it makes its rail."""
    return rail + one.dropout_v if one.efficiency is None else one.least_in_v


def heat_w(one: Regulator, rail: float, current_a: float, source_v: float) -> float:
    """What it turns into heat, W: all that lies between supply and rail, or what a converter loses."""
    if one.efficiency is not None:
        return rail * current_a * (1 / one.efficiency - 1)
    return max(0.0, source_v - rail) * current_a + source_v * one.standing_a
