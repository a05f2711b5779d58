"""A part that is to be placed."""

from __future__ import annotations

from dataclasses import dataclass

from ..parts import Part

#: Holders with a larger body than this find their place first, mm².
_VAST_MM2 = 60.0


@dataclass(frozen=True)
class Wanted:
    """A part that is to be placed: beside the LED of that index, or in the middle of the board or far from it, on a side."""

    ref: str
    part: Part
    led: int | None = None
    side: str = "back"
    outside: bool = False

    @property
    def takes_leads(self) -> bool:
        """Whether leads from elsewhere are soldered to it."""
        return self.part.kind == "holder" and not self.stands_alone

    @property
    def stands_alone(self) -> bool:
        """Whether it lies where it has room, whatever it is joined with."""
        length, width = self.part.body_mm
        return self.outside or not self.part.pads or (self.part.kind == "holder" and length * width > _VAST_MM2)

    @property
    def pierces(self) -> bool:
        """Whether it has holes, and so takes room on the other side too."""
        return bool(self.part.holes) or any(pad.drill_mm for pad in self.part.pads)
