"""What stands in the way of copper on a board, and where it may be."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import shapely
from shapely.geometry.base import BaseGeometry

from ..parts import PlacedPart


@dataclass(frozen=True, eq=False)
class ArtPlaces:
    """What art and outline leave to copper, in one frame: where it may be at all, by side copper that it keeps off (`hard`) or
    that gives way to it (`soft`), and what lets light through. It stays the same object while parts move."""

    copper: BaseGeometry
    hard: Mapping[str, BaseGeometry]
    soft: Mapping[str, BaseGeometry]
    windows: BaseGeometry

    @cached_property
    def digest(self) -> bytes:
        """What tells it from another."""
        out = hashlib.sha256()
        for region in (self.copper, *self.hard.values(), *self.soft.values(), self.windows):
            out.update(shapely.to_wkb(region, output_dimension=2))
        return out.digest()


@dataclass(frozen=True)
class Places:
    """What stands in the way of copper: art and outline, the unplated holes (x, y, diameter), and the parts."""

    art: ArtPlaces
    holes: tuple[tuple[float, float, float], ...]
    parts: tuple[PlacedPart, ...]
