"""Where a board takes what is drawn on it: copper up to its edge distance, ink up to where the cutter may go."""

from __future__ import annotations

from dataclasses import dataclass

from shapely.geometry.base import BaseGeometry

from ..geometry.offset import grow
from ..geometry.regions import minus
from ..geometry.valid import shifted
from ..parts import Profile
from ..shape import Outline


@dataclass(frozen=True, eq=False)
class PrintableArea:
    """The board, and what of it takes copper and ink."""

    body: BaseGeometry
    copper: BaseGeometry
    ink: BaseGeometry

    def moved(self, dx: float, dy: float) -> PrintableArea:
        """The same elsewhere."""
        return PrintableArea(shifted(self.body, dx, dy), shifted(self.copper, dx, dy), shifted(self.ink, dx, dy))

    def of(self, appearance: str) -> BaseGeometry:
        """What of the board takes an appearance."""
        return {"metal": self.copper, "raised": self.copper, "ink": self.ink}.get(appearance, self.body)


def printable_area_of(outline: Outline, profile: Profile) -> PrintableArea:
    """The room of a board; nothing is drawn where features are kept clear."""
    body: BaseGeometry = outline.region
    copper = minus(grow(body, -outline.edge_mm), outline.cleared)
    return PrintableArea(body, copper, minus(grow(body, -profile.registration.outline_mm), outline.cleared))
