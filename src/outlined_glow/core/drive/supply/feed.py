"""What a supply gives to the circuits on it, as they see it: its volts empty to full, and its own resistance."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ...parts import Supply
from ...parts import supply as named_supply
from ...project import Drive
from ..devices import latch
from .rail import SPREAD, rail_v, regulator_of
from .source import cells_used, source_ohm, source_volts
from .supply_parts import fitted

#: What a diode in the way takes, V.
DIODE_V = 0.3


@dataclass(frozen=True)
class Feed:
    """A supply with its cells: least, usual and most open volts, and the ohms that stand before them, those of what is
    fitted beside it too. Behind a regulator they are those of its rail, and `before` tells of the supply itself. Of a board
    with two sources, the volts reach from the least to the most of either, and `sources` tells of each."""

    supply: Supply
    cells: int
    low_v: float
    open_v: float
    high_v: float
    ohm: float
    before: Feed | None = None
    sources: tuple[Feed, ...] = ()

    @property
    def each(self) -> tuple[Feed, ...]:
        """Every source by itself, the supply first."""
        return self.sources or (self,)

    @property
    def least_v(self) -> float:
        """The least volts while all is well: cells need only feed a circuit while they are new."""
        return min(one.open_v if one.supply.ends else one.low_v for one in self.each)

    @property
    def second(self) -> Feed | None:
        """The other source, if there is one."""
        return self.sources[1] if self.sources else None

    def loaded_v(self, current_a: float) -> float:
        """The volts that are left when so much is drawn."""
        return self.open_v - self.ohm * current_a


def feed_of(drive: Drive, supply: Supply) -> Feed:
    """The feed of a board, behind its regulator if it has one."""
    source = _of(drive, supply, drive.cells, drive.volts)
    if drive.second is not None:
        drop = drop_v(drive)
        other = _of(drive, named_supply(drive.second.supply), drive.second.cells, drive.second.volts)
        both = tuple(
            replace(one, low_v=one.low_v - drop, open_v=one.open_v - drop, high_v=one.high_v - drop) for one in (source, other)
        )
        low, high = min(one.low_v for one in both), max(one.high_v for one in both)
        source = replace(both[0], low_v=low, high_v=high, sources=both)
    if regulator_of(drive) is None:
        return source
    rail = rail_v(drive)
    return Feed(supply, source.cells, rail * (1 - SPREAD), rail, rail * (1 + SPREAD), 0.0, source)


def drop_v(drive: Drive) -> float:
    """What the diodes that keep two sources apart take, V."""
    return DIODE_V if drive.second is not None and drive.second.joined == "diodes" else 0.0


def _of(drive: Drive, supply: Supply, wanted: int, set_v: float | None) -> Feed:
    """A source by itself, with what it needs and the latch behind it."""
    cells = cells_used(supply, wanted)
    low, usual, high = source_volts(supply, cells, set_v)
    return Feed(supply, cells, low, usual, high, source_ohm(supply, cells, drive) + way_ohm(drive, supply))


def way_ohm(drive: Drive, supply: Supply) -> float:
    """What stands in the way of a source before the board: what it needs, and a latch."""
    held = latch(drive.auto_off.by).ohm if drive.auto_off is not None else 0.0
    return sum(one.ohm for one in fitted(drive, supply)) + held
