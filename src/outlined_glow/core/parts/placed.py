"""A part where it lies on a board, and its pads there."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property
from weakref import WeakValueDictionary

import numpy as np
import shapely
from shapely.geometry import Polygon

from ..geometry.regions import box_at, disc
from .part import Part

#: A round land is flashed as a true circle; its polygon stays this near to it, mm.
DISC_TOLERANCE_MM = 0.0001


@dataclass(frozen=True)
class PlacedPad:
    """A land on a board: part and pin, middle, size, angle, side, shape, and the net it belongs to ("" for none yet)."""

    ref: str
    pin: str
    x: float
    y: float
    width: float
    height: float
    angle_deg: float
    side: str
    polygon: Polygon
    round: bool = False
    drill_mm: float = 0.0
    paste: bool = True
    net: str = ""

    def opened(self, by: float) -> Polygon:
        """The land with so much added on every side, corners square. Remembered."""
        found = self._opened.get(by)
        if found is None:
            found = self._opened[by] = (
                disc(self.x, self.y, self.width / 2 + by, DISC_TOLERANCE_MM)
                if self.round
                else box_at(self.x, self.y, self.width + 2 * by, self.height + 2 * by, self.angle_deg)
            )
        return found

    @cached_property
    def _opened(self) -> dict[float, Polygon]:
        return {}

    def moved(self, dx: float, dy: float) -> PlacedPad:
        """The same pad elsewhere; a box or a disc stays what it is."""
        shift = np.array([dx, dy])
        there = shapely.transform(self.polygon, lambda points: points + shift)
        return replace(self, x=self.x + dx, y=self.y + dy, polygon=there)


@dataclass(frozen=True)
class PlacedPart:
    """A part on a board: reference, value, place (pin 1 toward −x at angle 0), side, and the LED it is or serves."""

    ref: str
    part: Part
    value: str
    x: float
    y: float
    angle_deg: float
    side: str
    led: int | None = None

    def court(self, air: float = 0.0) -> Polygon:
        """The ground that body and pads take, with some air. Remembered."""
        found = self._courts.get(air)
        if found is None:
            length, width = self.part.courtyard
            found = self._courts[air] = box_at(self.x, self.y, length + 2 * air, width + 2 * air, self.angle_deg)
        return found

    @cached_property
    def _courts(self) -> dict[float, Polygon]:
        return {}

    def ways_in(self) -> tuple[Polygon, ...]:
        """The ways, beside its body, by which what lies in it slides in: one of them has to be free."""
        if self.part.slides_mm is None:
            return ()
        wide, long = self.part.slides_mm
        far = (self.part.courtyard[1] + long) / 2
        return tuple(box_at(*self.at(0.0, side * far), wide, long, self.angle_deg) for side in (-1, 1))

    def drawn(self) -> tuple[Polygon, ...]:
        """Its picture from above: where each stroke of it lies, as its pads do."""
        return self._drawn

    @cached_property
    def _drawn(self) -> tuple[Polygon, ...]:
        out = []
        for one in self.part.drawing:
            x, y = self.at(one.x_mm, one.y_mm)
            if one.shape == "disc":
                out.append(disc(x, y, one.width_mm / 2))
            else:
                out.append(box_at(x, y, one.width_mm, one.height_mm, self.angle_deg))
        return tuple(out)

    @cached_property
    def drawn_bounds(self) -> tuple[float, float, float, float]:
        """The box round it and its picture, mm."""
        bounds = np.array([self.court().bounds, *(one.bounds for one in self.drawn())])
        (left, bottom), (right, top) = bounds[:, :2].min(axis=0).tolist(), bounds[:, 2:].max(axis=0).tolist()
        return left, bottom, right, top

    def taken_on(self, side: str, air: float = 0.0) -> list[Polygon]:
        """What it takes of a side, with some air: all its ground on its own, its leads and its holes on the other."""
        if side == self.side:
            return [self.court(air)]
        leads = [pad for pad in self.pads() if pad.side == side]
        lands = [box_at(pad.x, pad.y, pad.width + 2 * air, pad.height + 2 * air, pad.angle_deg) for pad in leads]
        return [*lands, *self.pegs(air)]

    def pegs(self, air: float = 0.0) -> list[Polygon]:
        """The holes without copper that it needs, with some air."""
        return [disc(*self.at(one.x_mm, one.y_mm), one.diameter_mm / 2 + air) for one in self.part.holes]

    def at(self, x_mm: float, y_mm: float) -> tuple[float, float]:
        """A place of the part on the board: parts on the back are mirrored in y, then turned."""
        a = math.radians(self.angle_deg)
        flip = -1.0 if self.side == "back" else 1.0
        x = self.x + x_mm * math.cos(a) - flip * y_mm * math.sin(a)
        y = self.y + x_mm * math.sin(a) + flip * y_mm * math.cos(a)
        return x, y

    def pads(self) -> tuple[PlacedPad, ...]:
        """Its lands; those of a drilled pad lie on both sides."""
        return self._pads

    @cached_property
    def _pads(self) -> tuple[PlacedPad, ...]:
        out = []
        for pad in self.part.pads:
            x, y = self.at(pad.x_mm, pad.y_mm)
            land = (
                disc(x, y, pad.width_mm / 2, DISC_TOLERANCE_MM)
                if pad.shape == "round"
                else box_at(x, y, pad.width_mm, pad.height_mm, self.angle_deg)
            )
            sides = ("front", "back") if pad.drill_mm else (self.side,)
            for side in sides:
                out.append(
                    PlacedPad(
                        self.ref, pad.pin, x, y, pad.width_mm, pad.height_mm, self.angle_deg, side, land,
                        pad.shape == "round", pad.drill_mm, pad.paste and not pad.drill_mm,
                    )
                )  # fmt: skip
        return tuple(out)

    def moved(self, dx: float, dy: float) -> PlacedPart:
        """The same part elsewhere."""
        return lying(self.ref, self.part, self.value, self.x + dx, self.y + dy, self.angle_deg, self.side, self.led)

    def valued(self, value: str) -> PlacedPart:
        """The same part with another value."""
        return lying(self.ref, self.part, value, self.x, self.y, self.angle_deg, self.side, self.led)


#: Parts that somebody holds, by all that they are; a part is known by its object, which the placed one keeps.
_LYING: WeakValueDictionary[tuple[object, ...], PlacedPart] = WeakValueDictionary()


def lying(
    ref: str, part: Part, value: str, x: float, y: float, angle_deg: float, side: str, led: int | None = None
) -> PlacedPart:
    """A part where it lies: the same object as long as anybody holds it, with the pads that were worked out of it."""
    x, y, angle_deg = float(x) + 0.0, float(y) + 0.0, float(angle_deg) + 0.0  # no zero has a sign
    key = (ref, id(part), value, x, y, angle_deg, side, led)
    found = _LYING.get(key)
    if found is None:
        found = _LYING[key] = PlacedPart(ref, part, value, x, y, angle_deg, side, led)
    return found
