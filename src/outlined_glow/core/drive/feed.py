"""What a supply gives to the circuits on it, as they see it: its volts empty to full, and its own resistance."""

from __future__ import annotations

from dataclasses import dataclass

from ..parts import Supply
from ..project import Drive
from .rail import SPREAD, rail_v, regulator_of
from .source import cells_used, source_ohm, source_volts
from .supply_parts import fitted


@dataclass(frozen=True)
class Feed:
    """A supply with its cells: least, usual and most open volts, and the ohms that stand before them, those of what is
    fitted beside it too. Behind a regulator they are those of its rail, and `before` tells of the supply itself."""

    supply: Supply
    cells: int
    low_v: float
    open_v: float
    high_v: float
    ohm: float
    before: Feed | None = None

    def loaded_v(self, current_a: float) -> float:
        """The volts that are left when so much is drawn."""
        return self.open_v - self.ohm * current_a


def feed_of(drive: Drive, supply: Supply) -> Feed:
    """The feed of a board, behind its regulator if it has one."""
    cells = cells_used(supply, drive.cells)
    low, usual, high = source_volts(supply, cells, drive.volts)
    ohm = source_ohm(supply, cells) + sum(one.ohm for one in fitted(drive, supply))
    source = Feed(supply, cells, low, usual, high, ohm)
    if regulator_of(drive) is None:
        return source
    rail = rail_v(drive)
    return Feed(supply, cells, rail * (1 - SPREAD), rail, rail * (1 + SPREAD), 0.0, source)
