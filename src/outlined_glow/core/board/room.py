"""Where a board takes what is drawn on it: copper up to its edge distance, ink up to where the cutter may go."""

from __future__ import annotations

from dataclasses import dataclass

from shapely.geometry.base import BaseGeometry

from ..geometry.regions import grow, minus
from ..parts import Profile
from ..shape import Outline


@dataclass(frozen=True, eq=False)
class Room:
    """The board, and what of it takes copper and ink, in the picture frame."""

    body: BaseGeometry
    copper: BaseGeometry
    ink: BaseGeometry

    def of(self, appearance: str) -> BaseGeometry:
        """What of the board takes an appearance."""
        return {"metal": self.copper, "raised": self.copper, "ink": self.ink}.get(appearance, self.body)


def room_of(outline: Outline, profile: Profile) -> Room:
    """The room of a board; nothing is drawn where features are kept clear."""
    body: BaseGeometry = outline.region
    copper = minus(grow(body, -outline.edge_mm), outline.cleared)
    return Room(body, copper, minus(grow(body, -profile.registration.outline_mm), outline.cleared))
