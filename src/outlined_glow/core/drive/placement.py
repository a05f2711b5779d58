"""Where the parts of the drive go: beside the LED that they serve, or as near to the middle of the board as there is room."""

from __future__ import annotations

import itertools
from collections import deque
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.regions import EMPTY, disc, grow, minus, union, union_of_many
from ..lights import Led
from ..parts import Part, PlacedPart, Profile, lying
from ..parts.nets import Net
from ..project import Finding, PartPlace, Remedy
from ..shape import Outline
from .free_ground import AIR_MM, OFF_WINDOWS_MM, Place, Spots, free_ground, inside
from .near_nets import Pins, places_by_nets, steps_over

#: What is placed by its nets is tried in such steps, with so much room for tracks round a chip, mm; half round smaller parts.
_BY_NETS_MM, _ROOM_MM = 1.0, 0.9
#: How much the way to the middle counts beside that to the edge, for what leads go to.
_TO_THE_MIDDLE = 0.3
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


@dataclass(frozen=True)
class Placing:
    """The parts that found a place, without values, and what stands in the way of the others."""

    parts: tuple[PlacedPart, ...]
    findings: tuple[Finding, ...]


#: The parts of the latest tables of LEDs: several passes ask for them, and their pads are worked out once.
_PARTS: deque[tuple[tuple[Led, ...], tuple[PlacedPart, ...]]] = deque(maxlen=8)


def led_parts(leds: tuple[Led, ...]) -> tuple[PlacedPart, ...]:
    """The LEDs as parts, D1 and on."""
    known = next((parts for these, parts in tuple(_PARTS) if these is leds), None)
    if known is not None:
        return known
    parts = tuple(
        lying(
            f"{led.kind.part.prefix}{led.index}", led.kind.part, led.emitter, led.x, led.y, led.angle_deg,
            led.side, led.index,
        )
        for led in leds
    )  # fmt: skip
    _PARTS.append((leds, parts))
    return parts


def place_parts(
    wanted: tuple[Wanted, ...],
    leds: tuple[Led, ...],
    outline: Outline,
    clear: Mapping[str, BaseGeometry],
    profile: Profile,
    through: BaseGeometry = EMPTY,
    nets: tuple[Net, ...] = (),
    by_hand: tuple[PartPlace, ...] = (),
) -> Placing:
    """Places for parts; a part without one is a stop.

    `clear` says what has to be left free of parts on each side, `through` what no hole of theirs may go through. What lies
    beside an LED comes before what lies near the pins that `nets` join it with, what was placed `by_hand` before all. The
    parts carry no values yet: other currents move nothing.
    """
    if not leds:
        # A board without lights needs nothing of the drive; it may plug onto one that has some.
        wanted = tuple(one for one in wanted if one.part.kind == "plug")
    if not leds and not wanted:
        return Placing((), ())
    used = {one.side for one in wanted} | {one.side for one in by_hand}
    sides = {side: _Side(side, outline, led_parts(leds), clear[side], profile) for side in used}
    by_index = {led.index: led for led in leds}
    pins = Pins(nets)
    pins.add_all(led_parts(leds))
    parts, findings = _by_hand(wanted, by_hand, sides)
    lost: list[Wanted] = []
    for one in sorted(wanted, key=_turn):
        if one.ref in parts:
            pins.add(parts[one.ref])  # in its turn, so that those before it stay where they would be without a hand
            continue
        side = sides[one.side]
        placed = _placed(one, side, by_index, through, pins)
        if placed is None and side.give_ways_up():
            placed = _placed(one, side, by_index, through, pins)
        if placed is not None:
            parts[one.ref] = placed
            pins.add(placed)
            if one.led is None and placed.court().intersects(clear[one.side]):
                findings.append(_covers_window(placed))
        elif one.led is None:
            findings.append(_no_place(one.part))
        else:
            lost.append(one)
    if lost:
        findings.append(_no_places(lost, by_index))
    return Placing(tuple(parts[one.ref] for one in wanted if one.ref in parts), tuple(findings))


def _placed(
    one: Wanted, side: _Side, leds: Mapping[int, Led], through: BaseGeometry, pins: Pins
) -> PlacedPart | None:  # fmt: skip
    """The place that a part finds on a side; None where there is none."""
    if one.led is not None:
        return side.beside(one, leds[one.led], through)
    return side.by_nets(one, through, pins) or side.in_the_middle(one, through)


def _by_hand(
    wanted: Sequence[Wanted], by_hand: Sequence[PartPlace], sides: Mapping[str, _Side]
) -> tuple[dict[str, PlacedPart], list[Finding]]:
    """The parts that were placed by hand, where that is possible still; one that moved is told."""
    known = {one.ref: one for one in wanted}
    parts: dict[str, PlacedPart] = {}
    findings = []
    for place in by_hand:
        one = known.get(place.part)
        if one is None:
            continue
        placed = lying(one.ref, one.part, "", place.x_mm, place.y_mm, place.angle_deg, place.side, one.led)
        if place.locked or sides[place.side].fits(placed):
            sides[place.side].take(placed)
            parts[one.ref] = placed
        else:
            findings.append(_moved(placed))
    return parts, findings


def _turn(one: Wanted) -> tuple[int, int]:
    """In which order parts find their places: what is vast or stands by itself, what lies beside LEDs, chips, the rest."""
    if one.led is not None:
        return 1, 0
    if _stands_alone(one):
        return 0, 0
    return (2, -len(one.part.pins)) if len(one.part.pins) > 4 else (3, 0)


def _takes_leads(one: Wanted) -> bool:
    """Whether leads from elsewhere are soldered to a part."""
    return one.part.kind == "holder" and not _stands_alone(one)


def _stands_alone(one: Wanted) -> bool:
    """Whether a part lies where it has room, whatever it is joined with."""
    length, width = one.part.body_mm
    return one.outside or not one.part.pads or (one.part.kind == "holder" and length * width > _VAST_MM2)


def _pierces(part: Part) -> bool:
    """Whether a part has holes, and so takes room on the other side too."""
    return bool(part.holes) or any(pad.drill_mm for pad in part.pads)


class _Side:
    """Free ground on one side of the board, and what has been taken of it."""

    def __init__(self, side: str, outline: Outline, leds: Sequence[PlacedPart], clear: BaseGeometry, profile: Profile) -> None:
        self._side, self._outline, self._clear = side, outline.region, clear
        self._board = grow(outline.region, -max(profile.edge_routed_mm, 0.1))
        self._holes = union([disc(h.x, h.y, h.diameter / 2 + profile.hole_gap_mm + AIR_MM) for h in outline.holes])
        self._leds = [one for part in leds for one in part.taken_on(side, AIR_MM)]
        self._bodies = [part.court() for part in leds if part.side == side]
        self._behind = [part.court(AIR_MM) for part in leds if part.side != side]
        self._taken: list[Polygon] = []
        self._ways: list[Polygon] = []
        self._spots: dict[bool, Spots] = {}

    def in_the_middle(self, one: Wanted, through: BaseGeometry) -> PlacedPart | None:
        """The place nearest the board's middle; off the windows if there is one, else over them but off the LEDs. What has
        holes keeps off the art of both sides."""
        pierces = _pierces(one.part)
        clear = union([self._clear, through]) if pierces else self._clear
        taken = union(self._taken_of(one.part))
        place = _in_the_middle(self._outline, self._board, clear, taken, one.part, self._side, one.outside, self._standing())
        if place is None:
            return None
        placed = lying(one.ref, one.part, "", *place, self._side)
        self.take(placed)
        return placed

    def _standing(self) -> BaseGeometry:
        """What stands on this side already, in the way of what slides into a holder."""
        return union([*self._taken, *self._bodies])

    def fits(self, placed: PlacedPart) -> bool:
        """Whether a part has room where it lies: its pads on the board, all of it off LEDs, holes and other parts."""
        pads = union([pad.polygon for pad in placed.pads()])
        taken = [self._holes, *self._leds, *self._taken]
        apart = not any(placed.court().intersects(one) for one in taken)
        return apart and self._outline.contains(placed.court()) and (pads.is_empty or self._board.contains(pads))

    def take(self, placed: PlacedPart) -> None:
        """A part lies there; nothing else may stand in one of the ways by which something slides into it."""
        standing = self._standing() if placed.part.slides_mm else EMPTY
        self._taken.append(placed.court(AIR_MM))
        free = [way for way in placed.ways_in() if not way.intersects(standing)]
        if free:
            # That which takes less of the board.
            self._ways.append(min(free, key=lambda way: way.intersection(self._outline).area))
        self._spots.clear()

    def give_ways_up(self) -> bool:
        """Let parts stand in the ways by which something slides into holders; whether there were any."""
        if not self._ways:
            return False
        self._ways = []
        self._spots.clear()
        return True

    def _taken_of(self, part: Part) -> list[BaseGeometry]:
        """What is taken of this side, for a part; one with holes is kept off by what stands on the other side too."""
        return [self._holes, union_of_many(self._leds), *self._taken, *self._ways, *(self._behind if _pierces(part) else ())]

    def by_nets(self, one: Wanted, through: BaseGeometry, pins: Pins) -> PlacedPart | None:
        """The place with the shortest ways to the pins that a part is joined with, with room for tracks round it if there is;
        None where nothing draws it."""
        leads = _takes_leads(one)
        pulls = [] if _stands_alone(one) or leads else pins.pulls(one.ref, one.part)
        if not pulls and not leads:
            return None
        pierces = _pierces(one.part)
        clear = union([self._clear, through]) if pierces else self._clear
        taken = union(self._taken_of(one.part))
        free = minus(self._outline, taken, grow(clear, OFF_WINDOWS_MM))
        shapely.prepare(free)
        if leads:
            places = _at_the_edge(self._board)
        else:
            places = places_by_nets(pulls, self._board.bounds, _BY_NETS_MM, self._side)
        length, width = one.part.courtyard
        for room in (_ROOM_MM if len(one.part.pins) > 4 else _ROOM_MM / 2, 0.0):
            for some in _batches(places):
                for spot in inside(free, some, length + 2 * room, width + 2 * room)[0]:
                    x, y, turned = map(float, spot)
                    placed = PlacedPart(one.ref, one.part, "", x, y, turned, self._side)
                    pads = union([pad.polygon for pad in placed.pads()])
                    if self._board.contains(pads) and not pads.intersects(clear):
                        self.take(placed)
                        return placed
        return None

    def beside(self, one: Wanted, led: Led, through: BaseGeometry) -> PlacedPart | None:
        """The free place nearest an LED. What has holes keeps off the art and the LEDs of the other side too."""
        pierces = _pierces(one.part)
        if pierces not in self._spots:
            clear = union([self._clear, through]) if pierces else self._clear
            ground = free_ground(self._board, self._holes, clear, (*self._taken, *self._ways))
            self._spots[pierces] = Spots(ground, [*self._leds, *(self._behind if pierces else ())])
        place = self._spots[pierces].take(led, one.part)
        if place is None:
            return None
        placed = lying(one.ref, one.part, "", *place, self._side, led.index)
        self._taken.append(placed.court(AIR_MM))
        self._spots.pop(not pierces, None)  # it does not know of this part
        return placed


def _batches(places: NDArray[np.float64]) -> Iterator[NDArray[np.float64]]:
    """Places a few at a time, then more and more: one of the first is mostly taken."""
    first, many = 0, 50
    while first < len(places):
        yield places[first : first + many]
        first, many = first + many, min(2 * many, 2000)


@lru_cache(maxsize=32)
def _in_the_middle(
    outline: BaseGeometry, board: BaseGeometry, clear: BaseGeometry, taken: BaseGeometry, part: Part, side: str, outside: bool,
    standing: BaseGeometry,
) -> Place | None:  # fmt: skip
    """Where a part lies nearest the middle of the board, or farthest from it, with a way for what slides into it if there is
    such a place. Remembered: most edits leave that as it was.

    The body may reach to the edge of the outline, its pads only to the edge distance.
    """
    length, width = part.courtyard
    places = _from_the_middle(board)[:: -1 if outside else 1]
    for covers, slides in itertools.product((False, True), (True, False) if part.slides_mm else (False,)):
        free = minus(outline, taken, *(() if covers else (grow(clear, OFF_WINDOWS_MM),)))
        shapely.prepare(free)
        for some in _batches(places):
            for spot in inside(free, some, length, width)[0]:
                x, y, turn = map(float, spot)
                there = PlacedPart("", part, "", x, y, turn, side)
                if slides and all(way.intersects(standing) for way in there.ways_in()):
                    continue
                pads = union([pad.polygon for pad in there.pads()])
                if pads.is_empty or (board.contains(pads) and not pads.intersects(clear)):
                    return x, y, turn
    return None


def _from_the_middle(board: BaseGeometry) -> NDArray[np.float64]:
    """Places (n, 3: x, y, angle) over the board, those nearest its middle first."""
    middle = board.centroid
    left, bottom, right, top = board.bounds
    xs = np.unique(np.append(np.arange(left, right, 1.0), middle.x))
    ys = np.unique(np.append(np.arange(bottom, top, 0.5), middle.y))
    x, y, angle = (grid.ravel() for grid in np.meshgrid(xs, ys, [0.0, 90.0], indexing="ij"))
    order = np.lexsort((angle, y, x, np.round(np.hypot(x - middle.x, y - middle.y), 6)))
    return np.column_stack([x, y, angle])[order]


def _at_the_edge(board: BaseGeometry) -> NDArray[np.float64]:
    """Places (n, 3: x, y, angle) over the board, those at its edge first, of these the ones nearest its middle."""
    middle, (left, bottom, right, top) = board.centroid, board.bounds
    axes = steps_over(left, right, _BY_NETS_MM), steps_over(bottom, top, _BY_NETS_MM), [0.0, 90.0]
    x, y, angle = (grid.ravel() for grid in np.meshgrid(*axes, indexing="ij"))
    far = shapely.distance(board.boundary, shapely.points(x, y)) + _TO_THE_MIDDLE * np.hypot(x - middle.x, y - middle.y)
    order = np.lexsort((angle, y, x, np.round(far, 6)))
    return np.column_stack([x, y, angle])[order]


def _moved(placed: PlacedPart) -> Finding:
    return Finding(
        code="part-moved",
        severity="warning",
        stage="wiring",
        text=f"{placed.ref} no longer fits where it was placed by hand, and has found another place.",
        x_mm=placed.x,
        y_mm=placed.y,
        remedies=(Remedy("let it find its place", "free-part", (("part", placed.ref),)),),
    )


#: What helps where a part has no room: in words, and as an edit.
_USB = Remedy("power it from USB", "set-supply", (("supply", "usb"),))
_ROOM = {
    "holder": ("Use a smaller cell or a larger board.", (_USB,)),
    "plug": ("Use two rows, fewer pins or a larger board.", ()),
}


def _no_place(part: Part) -> Finding:
    length, width = part.body_mm
    helps, remedies = _ROOM.get(part.kind, ("Use a larger board, or a way of driving with fewer parts.", ()))
    return Finding(
        code=f"{part.kind if part.kind in _ROOM else 'part'}-without-place",
        severity="stop",
        stage="drive",
        text=f"The {part.title} ({length:g} × {width:g} mm) does not fit on the back. {helps}",
        remedies=remedies,
    )


def _covers_window(placed: PlacedPart) -> Finding:
    return Finding(
        code="holder-behind-window",
        severity="note",
        stage="drive",
        text=f"The {placed.part.title} covers part of a window from behind; the LEDs there keep their place.",
        x_mm=placed.x,
        y_mm=placed.y,
    )


def _no_places(lost: Sequence[Wanted], leds: Mapping[int, Led]) -> Finding:
    names = ", ".join(one.ref for one in lost[:4]) + (" and more" if len(lost) > 4 else "")
    places = tuple((leds[one.led].x, leds[one.led].y) for one in lost if one.led is not None)
    return Finding(
        code="resistor-without-place",
        severity="stop",
        stage="drive",
        text=f"{len(lost)} of the resistors find no place on the back: {names}; take smaller ones or move the lights apart.",
        count=len(lost),
        places=places,
        remedies=(Remedy("take 0402 resistors", "set-resistors", (("size", "0402"),)),),
    )
