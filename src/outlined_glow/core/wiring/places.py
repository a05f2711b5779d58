"""What stands in the way of copper on a board, and where it may be."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from shapely.geometry.base import BaseGeometry

from ..parts import PlacedPart


@dataclass(frozen=True)
class Places:
    """What stands in the way of copper, in one frame: where copper may be at all, by side copper that it keeps off (`hard`)
    or that gives way to it (`soft`), what lets light through, the unplated holes (x, y, diameter); and the parts."""

    copper: BaseGeometry
    hard: Mapping[str, BaseGeometry]
    soft: Mapping[str, BaseGeometry]
    windows: BaseGeometry
    holes: tuple[tuple[float, float, float], ...]
    parts: tuple[PlacedPart, ...]
