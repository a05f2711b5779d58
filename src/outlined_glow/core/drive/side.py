"""One side of a board while parts find their places on it: what is free, and what has been taken."""

from __future__ import annotations

import itertools
import math
from collections import deque
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property, partial
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.offset import grow
from ..geometry.regions import EMPTY, disc, polygons, union
from ..lights import Led
from ..parts import Part, PlacedPart, Profile, lying
from ..shape import Outline
from .again import Asked, Fit, InTheWay
from .before import Before, Frame, Step, frame_of
from .board_places import BY_NETS_MM, at_the_edge, from_the_middle, pads_fit
from .free_ground import AIR_MM, Place, Spots, free_ground, off_windows
from .near_nets import Pins, Pull, places_before, places_by_nets, places_near
from .wanted import Wanted

#: Room for tracks round a chip that is placed by its nets, mm; half round smaller parts.
_ROOM_MM = 0.9


class _ByNets(NamedTuple):
    """What a part found that is placed by its nets: where, for which pulls, with which of two rooms."""

    placed: PlacedPart
    pulls: Sequence[Pull]
    room: int


class _InTheMiddle(NamedTuple):
    """A place near the middle of the board, and whether the part covers a window there."""

    place: Place
    covers: bool


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
        #: Looks over all places that found none: what is taken only grows, so another part like that finds none either.
        self._full: set[tuple[object, ...]] = set()
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

    def _standing(self) -> BaseGeometry:
        """What stands on this side already, in the way of what slides into a holder."""
        return union([*self._taken, *self._bodies])

    @cached_property
    def _clear_behind(self) -> BaseGeometry:
        return union([self._clear, self._through])

    def _clear_of(self, one: Wanted) -> BaseGeometry:
        """What a part keeps off; what has holes keeps off the art of both sides."""
        return self._clear_behind if one.pierces else self._clear

    def fits(self, placed: PlacedPart) -> bool:
        """Whether a part has room where it lies: its pads on the board, all of it off LEDs, holes and other parts."""
        pads = union([pad.polygon for pad in placed.pads()])
        taken = np.array([self._holes, *self._leds, *self._taken], object)
        apart = not shapely.intersects(placed.court(), taken).any()
        return apart and self._outline.contains(placed.court()) and (pads.is_empty or self._board.contains(pads))

    def have_room(self, some: Sequence[tuple[Wanted, Place]]) -> list[bool]:
        """Which parts could be found where they are, as far as others than they are in the way."""
        ways: dict[bool, InTheWay] = {}
        out = []
        for one, place in some:
            if self._before.stood(one.ref, one.part, place):
                out.append(True)
                continue
            if one.pierces not in ways:
                ways[one.pierces] = self._in_the_way(one)
            way = ways[one.pierces]
            fit = self._fit_with_a_way(one) if one.part.slides_mm else self._fit(one)
            free = way.leaves(np.array([place]), one.part.courtyard)
            out.append(bool(len(free)) and bool(fit(free)[0]))
        return out

    def take_by_hand(self, placed: PlacedPart) -> None:
        """Somebody put a part there, or it stood there."""
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
        self._full.clear()
        self._beside.clear()
        return True

    # -- finding --------------------------------------------------------------------------------------------------

    def in_the_middle(self, one: Wanted) -> PlacedPart | None:
        """The place nearest the board's middle, or farthest from it; off the windows if there is one, else over them but off
        the LEDs; with a way for what slides into the part if there is one.

        The body may reach to the edge of the outline, its pads only to the edge distance.
        """
        asked = ("middle", one.ref, id(one.part), one.outside)
        then = self._before.same_question(asked)
        found: _InTheMiddle | None = self._middle_again(one, then.found) if then is not None else None
        found = found or self._look_in_the_middle(one)
        placed = None if found is None else lying(one.ref, one.part, "", *found.place, self._side)
        self._went(then, Step(asked, found, () if placed is None else self._take(placed)))
        return placed

    def _look_in_the_middle(self, one: Wanted) -> _InTheMiddle | None:
        places = from_the_middle(self._board)[:: -1 if one.outside else 1]
        for covers, slides in itertools.product((False, True), (True, False) if one.part.slides_mm else (False,)):
            look = ("middle", id(one.part), one.pierces, covers, slides)
            if look in self._full:
                continue
            asked = Asked(places, one.part.courtyard, self._in_the_way(one, covers))
            place = asked.first(self._fit_with_a_way(one) if slides else self._fit(one))
            if place is not None:
                return _InTheMiddle(place, covers)
            self._full.add(look)
        return None

    def _middle_again(self, one: Wanted, found: _InTheMiddle | None) -> _InTheMiddle | None:
        """What a part finds that found this before; None where it has to look over all places."""
        frames = self._before.differs
        if found is None or not frames:
            return found
        if one.part.slides_mm:
            return None
        places, size = from_the_middle(self._board)[:: -1 if one.outside else 1], one.part.courtyard
        if found.covers:  # by now there may be a place that covers none
            place = Asked(places, size, self._in_the_way(one)).first(self._fit(one), frames)
            if place is not None:
                return _InTheMiddle(place, False)
        before = places[: int(np.flatnonzero((places == found.place).all(axis=1))[0])]
        asked = Asked(before, size, self._in_the_way(one, found.covers))
        place = asked.first(self._fit(one), frames)
        if place is not None:
            return found._replace(place=place)
        return found if asked.holds(found.place, frames) else None

    def _in_the_way(self, one: Wanted, covers: bool = False) -> InTheWay:
        taken = [*polygons(self._holes), *self._leds, *self._taken, *self._ways, *(self._behind if one.pierces else ())]
        return InTheWay(self._outline, taken, EMPTY if covers else off_windows(self._clear_of(one)))

    def _fit(self, one: Wanted) -> Fit:
        """At which of some places the pads of a part lie well."""
        return partial(pads_fit, one.part, self._side, board=self._board, clear=self._clear_of(one))

    def _fit_with_a_way(self, one: Wanted) -> Fit:
        """The same, and something can slide into the part."""
        fit, standing = self._fit(one), self._standing()

        def both(places: NDArray[np.float64]) -> NDArray[np.bool_]:
            out = fit(places)
            for at in np.flatnonzero(out).tolist():
                x, y, angle = places[at].tolist()
                there = PlacedPart("", one.part, "", x, y, angle, self._side)
                out[at] = any(not way.intersects(standing) for way in there.ways_in())
            return out

        return both

    def by_nets(self, one: Wanted, pins: Pins) -> PlacedPart | None:
        """The place with the shortest ways to the pins that a part is joined with, with room for tracks round it if there is;
        None where nothing draws it."""
        pulls = [] if one.stands_alone or one.takes_leads else pins.pulls(one.ref, one.part)
        if not pulls and not one.takes_leads:
            return None
        asked = ("nets", one.ref, id(one.part))
        then = self._before.same_question(asked)
        found: _ByNets | None
        if then is not None and then.found is None and one.takes_leads:
            # At the edge there was no room anywhere: there may be some where other things lie now.
            found = self._look_by_nets(one, pulls, self._before.differs) if self._before.differs else None
        else:
            found = self._by_nets_again(one, then.found, pulls) if then is not None else None
            found = found or self._look_by_nets(one, pulls)
        self._went(then, Step(asked, found, () if found is None else self._take(found.placed)))
        return None if found is None else found.placed

    def _by_nets_again(self, one: Wanted, found: _ByNets | None, pulls: Sequence[Pull]) -> _ByNets | None:
        """What a part finds that found this before; None where it has to look over all places."""
        if found is None:
            return None
        frames, then = self._before.differs, found.pulls
        if not frames and then == pulls:
            return found
        if not pulls:
            return None
        spot = (found.placed.x, found.placed.y, found.placed.angle_deg)
        way, fit, grid = self._in_the_way(one), self._fit(one), (self._board.bounds, BY_NETS_MM, self._side, frames)
        for at, room in enumerate(_rooms(one.part)[: found.room + 1]):
            length, width = (size + 2 * room for size in one.part.courtyard)
            around = math.hypot(length, width) / 2
            if at < found.room:  # by now there may be room for tracks
                asked = Asked(places_near(pulls, *grid, around), (length, width), way)
                place = asked.first(fit, frames)
            else:
                asked = Asked(places_before(spot, pulls, then, *grid, around), (length, width), way)
                place = asked.first(fit) or (spot if asked.holds(spot, frames) else None)
            if place is not None:
                return self._by_nets_at(one, place, pulls, at)
        return None

    def _look_by_nets(self, one: Wanted, pulls: Sequence[Pull], frames: Sequence[Frame] = ()) -> _ByNets | None:
        way, fit = self._in_the_way(one), self._fit(one)
        for at, room in enumerate(_rooms(one.part)):
            look = ("nets", id(one.part), one.pierces, one.takes_leads, at)
            if look in self._full:
                continue
            length, width = (size + 2 * room for size in one.part.courtyard)
            if one.takes_leads:
                rows: Iterable[NDArray[np.float64]] = (at_the_edge(self._board),)
            else:
                rows = places_by_nets(pulls, self._board.bounds, BY_NETS_MM, self._side)
            for places in rows:
                place = Asked(places, (length, width), way).first(fit, frames)
                if place is not None:
                    return self._by_nets_at(one, place, pulls, at)
            if not frames:
                self._full.add(look)
        return None

    def _by_nets_at(self, one: Wanted, place: Place, pulls: Sequence[Pull], room: int) -> _ByNets:
        return _ByNets(lying(one.ref, one.part, "", *place, self._side), pulls, room)

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
        takes = then.takes if then is not None and place is then.found else (frame_of(placed.court(AIR_MM).bounds),)
        self._went(then, Step(asked, place, takes, reach))
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
