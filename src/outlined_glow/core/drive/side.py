"""One side of a board while parts find their places on it: what is free, and what has been taken."""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.regions import EMPTY, disc, grow, minus, union, union_of_many
from ..lights import Led
from ..parts import Part, PlacedPart, Profile, lying
from ..shape import Outline
from .before import Before, Frame, Step, frame_of
from .board_places import BY_NETS_MM, at_the_edge, batches, in_the_middle, pads_fit
from .free_ground import AIR_MM, OFF_WINDOWS_MM, Place, Spots, free_ground, inside
from .near_nets import Pins, Pull, grid_over, places_by_nets, ways_mm
from .wanted import Wanted

#: Room for tracks round a chip that is placed by its nets, mm; half round smaller parts.
_ROOM_MM = 0.9
#: Ways to pins are compared in steps of this, mm.
_ROUND = 6


class _ByNets(NamedTuple):
    """What a part found that is placed by its nets: where, for which pulls, with which of two rooms, and so long ways, mm."""

    placed: PlacedPart
    pulls: tuple[object, ...]
    room: int
    far: float


@dataclass
class _Beside:
    """Ground for parts beside LEDs: what was taken when the first of them asked, the free spots, once somebody has to look
    for one, and the parts that lie there since."""

    taken: tuple[Polygon, ...]
    since: list[tuple[Place, Part]] = field(default_factory=list)
    spots: Spots | None = None


#: Grounds with the LEDs that stood there and the steps that were taken, of the latest placings.
_LATEST: deque[tuple[tuple[object, ...], tuple[PlacedPart, ...], tuple[Step, ...]]] = deque(maxlen=8)


class Side:
    """Free ground on one side of the board, and what has been taken of it. `clear` has to be left free of parts, `through` is
    what no hole of theirs may go through."""

    def __init__(
        self, side: str, outline: Outline, leds: tuple[PlacedPart, ...], clear: BaseGeometry, through: BaseGeometry,
        profile: Profile,
    ) -> None:  # fmt: skip
        self._side, self._outline, self._clear, self._through = side, outline.region, clear, through
        self._board = grow(outline.region, -max(profile.edge_routed_mm, 0.1))
        self._holes = union([disc(h.x, h.y, h.diameter / 2 + profile.hole_gap_mm + AIR_MM) for h in outline.holes])
        self._parts = leds
        self._leds = [one for part in leds for one in part.taken_on(side, AIR_MM)]
        self._taken: list[Polygon] = []
        self._ways: list[Polygon] = []
        self._beside: dict[bool, _Beside] = {}
        self._turns = 0  # how often ground for parts beside LEDs was made anew
        self._ground = (side, outline.region, outline.holes, clear, through, profile)
        self._steps: list[Step] = []
        self._before = self._found_before()

    # -- what was found before ------------------------------------------------------------------------------------

    def _found_before(self) -> Before:
        """The steps of the latest placing on the same ground, and where LEDs differ from those that stood there."""
        for ground, leds, steps in reversed(tuple(_LATEST)):
            if all(one is other or one == other for one, other in zip(ground, self._ground, strict=True)):
                now, then = {id(one): one for one in self._parts}, {id(one): one for one in leds}
                other = [one for key, one in (now | then).items() if key not in now or key not in then]
                frames = [
                    frame_of(*(p.bounds for p in (one.court(AIR_MM), *one.taken_on(self._side, AIR_MM)))) for one in other
                ]
                return Before(steps, frames)
        return Before()

    def remember(self) -> None:
        """Keep the steps that were taken, for the next placing."""
        _LATEST.append((self._ground, self._parts, tuple(self._steps)))

    def _went(self, then: Step | None, now: Step) -> None:
        self._before.went(then, now)
        self._steps.append(now)

    # -- taking ---------------------------------------------------------------------------------------------------

    @cached_property
    def _bodies(self) -> list[Polygon]:
        return [part.court() for part in self._parts if part.side == self._side]

    @cached_property
    def _behind(self) -> list[Polygon]:
        return [part.court(AIR_MM) for part in self._parts if part.side != self._side]

    @cached_property
    def _under_leds(self) -> BaseGeometry:
        return union_of_many(self._leds)

    def _standing(self) -> BaseGeometry:
        """What stands on this side already, in the way of what slides into a holder."""
        return union([*self._taken, *self._bodies])

    def _clear_of(self, one: Wanted) -> BaseGeometry:
        """What a part keeps off; what has holes keeps off the art of both sides."""
        return union([self._clear, self._through]) if one.pierces else self._clear

    def _taken_of(self, one: Wanted) -> BaseGeometry:
        """What is taken of this side, for a part; one with holes is kept off by what stands on the other side too."""
        behind = self._behind if one.pierces else ()
        return union([self._holes, self._under_leds, *self._taken, *self._ways, *behind])

    def fits(self, placed: PlacedPart) -> bool:
        """Whether a part has room where it lies: its pads on the board, all of it off LEDs, holes and other parts."""
        pads = union([pad.polygon for pad in placed.pads()])
        taken = np.array([self._holes, *self._leds, *self._taken], object)
        apart = not shapely.intersects(placed.court(), taken).any()
        return apart and self._outline.contains(placed.court()) and (pads.is_empty or self._board.contains(pads))

    def take_by_hand(self, placed: PlacedPart) -> None:
        """Somebody put a part there."""
        asked = ("hand", placed.ref)
        then = self._before.same_question(asked)
        self._went(then, Step(asked, placed, self._take(placed)))

    def _take(self, placed: PlacedPart) -> tuple[Frame, ...]:
        """A part lies there, which takes these frames; nothing else may stand in one of the ways by which something slides
        into it."""
        standing = self._standing() if placed.part.slides_mm else EMPTY
        self._taken.append(placed.court(AIR_MM))
        self._beside.clear()
        free = [way for way in placed.ways_in() if not way.intersects(standing)]
        # That which takes less of the board.
        way = [min(free, key=lambda one: one.intersection(self._outline).area)] if free else []
        self._ways += way
        return tuple(frame_of(one.bounds) for one in (placed.court(AIR_MM), *way))

    def give_ways_up(self) -> bool:
        """Let parts stand in the ways by which something slides into holders; whether there were any."""
        if not self._ways:
            return False
        asked = ("ways",)
        then = self._before.same_question(asked)
        now = Step(asked, None, tuple(frame_of(way.bounds) for way in self._ways))
        self._before.differs.extend(now.takes)  # what was found while they were kept free may lie there by now
        self._went(then, now)
        self._ways = []
        self._beside.clear()
        return True

    # -- finding --------------------------------------------------------------------------------------------------

    def in_the_middle(self, one: Wanted) -> PlacedPart | None:
        """The place nearest the board's middle; off the windows if there is one, else over them but off the LEDs."""
        asked = ("middle", one.ref)
        then = self._before.same_question(asked)
        place = in_the_middle(
            self._outline, self._board, self._clear_of(one), self._taken_of(one), one.part, self._side, one.outside,
            self._standing(),
        )  # fmt: skip
        placed = None if place is None else lying(one.ref, one.part, "", *place, self._side)
        self._went(then, Step(asked, placed, () if placed is None else self._take(placed)))
        return placed

    def by_nets(self, one: Wanted, pins: Pins) -> PlacedPart | None:
        """The place with the shortest ways to the pins that a part is joined with, with room for tracks round it if there is;
        None where nothing draws it."""
        pulls = [] if one.stands_alone or one.takes_leads else pins.pulls(one.ref, one.part)
        if not pulls and not one.takes_leads:
            return None
        asked = ("nets", one.ref, id(one.part))
        then = self._before.same_question(asked)
        stays = then is not None and self._stays_by_nets(then.found, pulls)
        found: _ByNets | None = then.found if then is not None and stays else self._look_by_nets(one, pulls)
        self._went(then, Step(asked, found, () if found is None else self._take(found.placed)))
        return None if found is None else found.placed

    def _stays_by_nets(self, found: _ByNets | None, pulls: Sequence[Pull]) -> bool:
        """Whether a part finds the place that it found before: nothing it looks over differs where ways are as short."""
        if found is None or found.pulls != _known_by(pulls):
            return False
        if not self._before.differs:
            return True
        if found.room or not pulls:
            return False
        room = 2 * _rooms(found.placed.part)[0]
        length, width = (size + room for size in found.placed.part.courtyard)
        around = math.hypot(length, width) / 2
        left, bottom, right, top = self._board.bounds
        grids = [
            grid_over(
                (max(x0 - around, left), max(y0 - around, bottom), min(x1 + around, right), min(y1 + around, top)), BY_NETS_MM
            )
            for x0, y0, x1, y1 in self._before.differs
        ]
        x, y, angle = np.concatenate(grids, axis=1)
        return not len(x) or float(ways_mm(pulls, x, y, angle, self._side).min()) > found.far + 0.1**_ROUND

    def _look_by_nets(self, one: Wanted, pulls: Sequence[Pull]) -> _ByNets | None:
        clear = self._clear_of(one)
        free = minus(self._outline, self._taken_of(one), grow(clear, OFF_WINDOWS_MM))
        shapely.prepare(free)
        if one.takes_leads:
            places = at_the_edge(self._board)
        else:
            places = places_by_nets(pulls, self._board.bounds, BY_NETS_MM, self._side)
        length, width = one.part.courtyard
        for at, room in enumerate(_rooms(one.part)):
            for some in batches(places):
                spots = inside(free, some, length + 2 * room, width + 2 * room)[0]
                fitting = np.flatnonzero(pads_fit(one.part, self._side, spots, self._board, clear))
                if len(fitting):
                    spot = spots[fitting[0]]
                    x, y, turned = spot.tolist()
                    placed = lying(one.ref, one.part, "", x, y, turned, self._side)
                    far = float(ways_mm(pulls, spot[:1], spot[1:2], spot[2:], self._side)[0])
                    return _ByNets(placed, _known_by(pulls), at, far)
        return None

    def beside(self, one: Wanted, led: Led) -> PlacedPart | None:
        """The free place nearest an LED. What has holes keeps off the art and the LEDs of the other side too."""
        pierces = one.pierces
        ground = self._beside.setdefault(pierces, _Beside((*self._taken, *self._ways)))
        asked = ("beside", led.x, led.y, led.angle_deg, one.part.courtyard, pierces, self._turns)
        then = self._before.same_question(asked)
        place: Place | None
        if then is not None and self._before.stays(led.x, led.y, then.reach_mm):
            place, reach = then.found, then.reach_mm
        else:
            place, reach = self._spots(ground, one).nearest(led, one.part)
        if place is None:
            self._went(then, Step(asked, None, (), reach))
            return None
        ground.since.append((place, one.part))
        placed = lying(one.ref, one.part, "", *place, self._side, led.index)
        self._taken.append(placed.court(AIR_MM))
        self._went(then, Step(asked, place, (frame_of(placed.court(AIR_MM).bounds),), reach))
        if self._beside.pop(not pierces, None) is not None:  # it does not know of this part
            self._turns += 1
        return placed

    def _spots(self, ground: _Beside, one: Wanted) -> Spots:
        """The free spots beside LEDs, by now."""
        if ground.spots is None:
            free = free_ground(self._board, self._holes, self._clear_of(one), ground.taken)
            ground.spots = Spots(free, [*self._leds, *(self._behind if one.pierces else ())])
        for place, part in ground.since:
            ground.spots.keep(place, part)
        ground.since.clear()
        return ground.spots


def _rooms(part: Part) -> tuple[float, float]:
    """The room round a part that is tried first, and then, mm."""
    return (_ROOM_MM if len(part.pins) > 4 else _ROOM_MM / 2), 0.0


def _known_by(pulls: Sequence[Pull]) -> tuple[object, ...]:
    """What is the same for the same pulls."""
    return tuple((one.x_mm, one.y_mm, one.weight, one.places.tobytes()) for one in pulls)
