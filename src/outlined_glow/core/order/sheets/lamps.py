"""What of a board wants a hole in a lid or panel over it."""

from __future__ import annotations

from dataclasses import dataclass

from shapely.geometry import Polygon

from ...board import Board
from ...errors import Trouble
from ...geometry.regions import box_at
from ...shape.features import RoundHole, fixings

#: A part with more lights than the colours that one can have is a display.
_COLOURS = 4
#: What the hole is called that shows the LED alone.
LENS = "lens"


@dataclass(frozen=True)
class Lamp:
    """A lamp that wants a hole: number and kind of its LED, place (board frame), and the diameter of each kind of hole, mm; a
    display has a window of its body instead."""

    number: int
    name: str
    x: float
    y: float
    holes: tuple[tuple[str, float], ...]
    window: Polygon | None = None


def lamps_of_lid(board: Board) -> list[Lamp]:
    """Every LED of a board. One that no clip or bezel is known for has its lens, or the lesser side of its body. `Trouble`
    without any."""
    if not board.lights:
        raise Trouble("This board has no LEDs, so there is nothing to drill.")
    kinds = {spot.index: spot.kind for spot in board.lights}
    out = []
    for one in board.parts:
        if one.led is not None and one.part.shines:
            kind, window = kinds[one.led], None
            holes: tuple[tuple[str, float], ...] = ()
            if one.part.upright or len(kind.lights) > _COLOURS:
                window = box_at(one.x, one.y, *one.part.body_mm, one.angle_deg)
            else:
                holes = kind.holes_mm or ((LENS, kind.lens_mm or min(kind.part.body_mm)),)
            out.append(Lamp(one.led, kind.name, one.x, one.y, holes, window))
    return out


def holes_of_lid(board: Board) -> list[RoundHole]:
    """The holes of the board that a lid may share: those of screws, rings and threads."""
    return [hole for hole in board.holes if hole.purpose in fixings()["kinds"]]
