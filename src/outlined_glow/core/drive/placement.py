"""Where the parts of the drive go: beside the LED that they serve, or as near to the middle of the board as there is room."""

from __future__ import annotations

from collections import deque
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from shapely.geometry.base import BaseGeometry

from ..geometry.regions import EMPTY
from ..lights import Led
from ..parts import Part, PlacedPart, Profile, lying
from ..parts.nets import Net
from ..project import Finding, PartPlace, Remedy
from ..project.finding import some_of
from ..shape import Outline
from .near_nets import Pins
from .side import Side
from .standing import Standing
from .wanted import Wanted


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
    standing: tuple[Standing, ...] = (),
) -> Placing:
    """Places for parts; a part without one is a stop.

    `clear` says what has to be left free of parts on each side, `through` what no hole of theirs may go through. What lies
    beside an LED comes before what lies near the pins that `nets` join it with, what was placed `by_hand` before all, and then
    what is `standing` on a wired board where it has room. The parts carry no values yet: other currents move nothing.
    """
    if not leds:
        # A board without lights needs nothing of the drive; it may plug onto one that has some.
        wanted = tuple(one for one in wanted if one.part.kind == "plug")
    if not leds and not wanted:
        return Placing((), ())
    used = sorted({one.side for one in wanted} | {one.side for one in by_hand})
    sides = {side: Side(side, outline, led_parts(leds), clear[side], through, profile) for side in used}
    by_index = {led.index: led for led in leds}
    pins = Pins(nets)
    pins.add_all(led_parts(leds))
    parts, findings = _by_hand(wanted, by_hand, sides)
    parts |= _standing({one.ref: one for one in wanted if one.ref not in parts}, standing, sides)
    lost: list[Wanted] = []
    for one in sorted(wanted, key=_turn):
        if one.ref in parts:
            pins.add(parts[one.ref])  # in its turn, so that those before it stay where they would be without a hand
            continue
        placed = _placed(one, sides[one.side], by_index, pins)
        if placed is not None:
            parts[one.ref] = placed
            pins.add(placed)
            if one.led is None and placed.court().intersects(clear[one.side]):
                findings.append(_covers_window(placed))
        elif one.led is None:
            findings.append(_no_place(one.part))
        else:
            lost.append(one)
    for side in sides.values():
        side.remember()
    if lost:
        findings.append(_no_places(lost, by_index))
    return Placing(tuple(parts[one.ref] for one in wanted if one.ref in parts), tuple(findings))


def _placed(one: Wanted, side: Side, leds: Mapping[int, Led], pins: Pins) -> PlacedPart | None:
    """The place that a part finds on a side, in the ways into holders if there is no other; None where there is none."""
    placed = _found(one, side, leds, pins)
    return _found(one, side, leds, pins) if placed is None and side.give_ways_up() else placed


def _found(one: Wanted, side: Side, leds: Mapping[int, Led], pins: Pins) -> PlacedPart | None:
    if one.led is not None:
        return side.beside(one, leds[one.led])
    return side.by_nets(one, pins) or side.in_the_middle(one)


def _by_hand(
    wanted: Sequence[Wanted], by_hand: Sequence[PartPlace], sides: Mapping[str, Side]
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
            sides[place.side].take_by_hand(placed)
            parts[one.ref] = placed
        else:
            findings.append(_moved(placed))
    return parts, findings


def _standing(wanted: Mapping[str, Wanted], standing: Sequence[Standing], sides: Mapping[str, Side]) -> dict[str, PlacedPart]:
    """The parts that stay where they stand on a wired board. What was placed before them is no longer in their way or has
    taken their place; among one another they had room."""
    parts = {}
    for name, side in sides.items():
        there = [(wanted[one.ref], (one.x, one.y, one.angle_deg)) for one in standing if one.side == name and one.ref in wanted]
        for (one, place), has_room in zip(there, side.have_room(there), strict=True):
            if has_room:
                parts[one.ref] = lying(one.ref, one.part, "", *place, name)
                side.take_by_hand(parts[one.ref])
    return parts


def _turn(one: Wanted) -> tuple[int, int]:
    """In which order parts find their places: what is vast or stands by itself, what lies beside LEDs, chips, the rest."""
    if one.led is not None:
        return 1, 0
    if one.stands_alone:
        return 0, 0
    return (2, -len(one.part.pins)) if len(one.part.pins) > 4 else (3, 0)


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
    names = some_of([one.ref for one in lost])
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
