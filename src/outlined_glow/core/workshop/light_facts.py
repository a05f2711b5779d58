"""What is told of the lights: every LED in the order of the chain, and what a light map is taken over."""

from __future__ import annotations

from typing import Any

from shapely.affinity import translate
from shapely.geometry.base import BaseGeometry

from ..board.light_map import region_named
from ..parts import Emitter, Part
from ..project import Change
from ..units import show, show_si
from .compile import Work
from .facts import led_row

#: The columns of the table of LEDs, in their order.
COLUMNS = (
    "index", "chain", "array", "place", "x_mm", "y_mm", "angle_deg", "side", "emitter", "group", "groups", "u", "v",
)  # fmt: skip


def led_rows(work: Work) -> list[dict[str, Any]]:
    """Every LED in the order of the chain, with its place on the board as shares of its width and height (u, v) as well."""
    spots = {spot.index: spot for spot in work.board.lights}
    places = {led.index: led for led in work.leds}
    wide, high = work.board.size
    rows = []
    for at, index in enumerate(work.values["chain"], 1):
        spot, led = spots[index], places[index]
        told = led_row(spot)
        group = told.pop("group")
        row = {"index": told.pop("index"), "chain": at, "array": led.array, "place": led.place, **told}
        rows.append(
            {**row, "group": group, "groups": list(led.groups), "u": round(spot.x / wide, 6), "v": round(spot.y / high, 6)}
        )
    return rows


def lit_region(work: Work, over: str) -> BaseGeometry:
    """What a light map is taken over, board frame: the board, where its LEDs stand, its windows, or a colour as RRGGBB."""
    colours = {one.colour: one.region for one in work.art.chosen}
    if over.upper() in colours:
        x, y = work.board.origin
        return translate(colours[over.upper()], -x, -y)
    return region_named(work.board, over)


def path_titles(work: Work) -> tuple[tuple[str, str], ...]:
    """What arrays may run along or fill, each with what it is called."""
    colours = tuple((one.colour, f"colour #{one.colour}") for one in work.art.chosen if not one.region.is_empty)
    return (("board", "the board"), ("silhouette", "the silhouette"), *colours)


def change_of(work: Work, array: str, place: int) -> Change:
    """What one LED of an array has of its own."""
    changes = next((one.changes for one in work.design.lights if one.name == array), ())
    return next((one for one in changes if one.place == place), Change(place=place))


def has_its_own(change: Change) -> bool:
    """Whether anything of an LED is not as its array has it."""
    return change != Change(place=change.place)


def part_rows(part: Part, emitter: Emitter | None) -> list[tuple[str, str]]:
    """What is known of a part, row by row."""
    length, width = part.body_mm
    rows = [
        ("body", f"{show(length)} × {show(width)} mm, {show(part.height_mm)} mm high"),
        ("pins", ", ".join(f"{pin.number} {pin.role}" for pin in part.pins)),
    ]
    if part.pads:
        drills = sorted({pad.drill_mm for pad in part.pads if pad.drill_mm})
        rows.append(
            ("pads", f"{len(part.pads)}" + (f", holes of {', '.join(map(show, drills))} mm" if drills else ", on the surface"))
        )
    if emitter is not None:
        low, typical, high = emitter.forward_v
        at = show_si(emitter.forward_a, "A")
        rows.append(("forward voltage", f"{low:g} to {high:g} V, typically {typical:g} V at {at}"))
        rows.append(("light", f"{show(emitter.mcd, 0)} mcd at {at}, half as bright {emitter.half_angle_deg:g}° off its axis"))
        rows.append(("current", f"{show_si(emitter.continuous_a, 'A')} at most, all the time"))
    if emitter is not None and emitter.holes_mm:
        rows.append(("hole in a lid", ", ".join(f"{words} {size:g} mm" for words, size in emitter.holes_mm)))
    if part.price is not None:
        rows.append(("price", f"{part.price:.2f} credits"))
    rows.append(("marked", part.mark or "nothing is known of it"))
    return rows
