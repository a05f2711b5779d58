"""What is told of the lights: every LED in the order of the chain, and what a light map is taken over."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from typing import Any

from shapely.affinity import translate
from shapely.geometry import Point
from shapely.geometry.base import BaseGeometry

from ..board.light_map import region_named
from ..geometry.regions import polygons
from ..lights import Led
from ..parts import Emitter, Part, Source
from ..project import Change
from ..text_safety import short
from ..units import show, show_si
from .facts import led_row
from .work import Work

#: A drawing of very many windows catches by the first of them.
_MOST_MIDDLES = 40
#: The columns of the table of LEDs, in their order.
COLUMNS = (
    "index", "chain", "array", "place", "x_mm", "y_mm", "angle_deg", "side", "emitter", "group", "groups", "u", "v",
)  # fmt: skip


def led_rows(work: Work) -> list[dict[str, Any]]:
    """Every LED in the order of the chain, with its place on the board as shares of its width and height (u, v) as well."""
    leds = {led.index: led for led in work.leds}
    left, bottom = work.outline.origin
    wide, high = work.outline.size
    rows = []
    for at, index in enumerate(work.values["chain"], 1):
        led = leds[index]
        told = led_row(work, led)
        group = told.pop("group")
        row = {"index": told.pop("index"), "chain": at, "array": led.array, "place": led.place, **told}
        rows.append(
            {
                **row, "group": group, "groups": list(led.groups),
                "u": round((led.x - left) / wide, 6), "v": round((led.y - bottom) / high, 6),
            }
        )  # fmt: skip
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


def middles_beside(work: Work, array: str) -> tuple[tuple[float, float], ...]:
    """What an array may be laid in line with (picture frame): the middles of other arrays, of light windows, and of each
    colour in one piece."""
    out = []
    for name in dict.fromkeys(led.array for led in work.leds if led.array != array):
        x, y = zip(*((led.x, led.y) for led in work.leds if led.array == name), strict=True)
        out.append(((min(x) + max(x)) / 2, (min(y) + max(y)) / 2))
    for one in work.art.chosen:
        parts = polygons(one.region)
        if one.appearance in ("window", "veiled") or len(parts) == 1:
            out += [((a + c) / 2, (b + d) / 2) for a, b, c, d in (part.bounds for part in parts[:_MOST_MIDDLES])]
    return tuple(out)


def least_apart_mm(work: Work) -> float:
    """The least distance of two LEDs that follow one another in an array, mm; as far as anything for fewer than two."""
    pairs = ((a, b) for a, b in itertools.pairwise(work.leds) if a.array == b.array and (a.x, a.y) != (b.x, b.y))
    return min((math.hypot(a.x - b.x, a.y - b.y) for a, b in pairs), default=math.inf)


def first_and_last(work: Work) -> frozenset[int]:
    """The numbers of the first and the last LED of each array."""
    last = {led.array: led.index for led in work.leds}
    first = {led.array: led.index for led in reversed(work.leds)}
    return frozenset((*first.values(), *last.values()))


def ways_to_pick(work: Work, array: str | None) -> list[tuple[str, str, str]]:
    """What LEDs may be taken in hand by, beside the pointer: how, which, and what that is called."""
    ways = [("array", array, f"all of “{array}”")] if array is not None else []
    kinds = dict.fromkeys(led.emitter for led in work.leds)
    ways += [("kind", name, f"every {name}") for name in kinds] if len(kinds) > 1 else []
    sides = dict.fromkeys(led.side for led in work.leds)
    ways += [("side", side, f"all on the {side}") for side in sides] if len(sides) > 1 else []
    groups = dict.fromkeys(name for led in work.leds for name in led.groups)
    ways += [("group", name, f"group “{name}”") for name in groups] if len(groups) > 1 else []
    return ways + [("region", one.colour, f"on the colour #{one.colour}") for one in work.art.chosen if not one.region.is_empty]


def picked_by(work: Work, how: str, which: str) -> frozenset[tuple[str, int]]:
    """The LEDs (array and place) of an array, a kind, a side, a group, or those on a colour of the art."""
    tests: dict[str, Callable[[Led], bool]] = {
        "array": lambda led: led.array == which,
        "kind": lambda led: led.emitter == which,
        "side": lambda led: led.side == which,
        "group": lambda led: which in led.groups,
        "region": lambda led: any(
            one.colour == which and one.region.intersects(Point(led.x, led.y)) for one in work.art.chosen
        ),
    }
    return frozenset((led.array, led.place) for led in work.leds if tests[how](led))


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
        rows += _light_rows(emitter)
    if emitter is not None and emitter.holes_mm:
        rows.append(("hole in a lid", ", ".join(f"{words} {size:g} mm" for words, size in emitter.holes_mm)))
    if part.solder:
        rows.append(("soldered", _SOLDERED[part.solder]))
    if part.fits:
        rows.append(("in its place", ", ".join(part.fits)))
    if part.price is not None:
        rows.append(("example price", f"{part.price:.2f} credits"))
    rows.append(("marked", part.mark or "nothing is known of it"))
    return rows


_SOLDERED = {"by hand": "by hand", "reflow": "by hot plate, hot air or oven", "either": "by hand, hot plate, hot air or oven"}
#: What a part takes to give light.
_FED = {"data": "data; it drives its lights itself", "voltage": "a voltage of its own", "high voltage": "a high voltage"}


def _light_rows(emitter: Emitter) -> list[tuple[str, str]]:
    """What is known of the lights of an emitter: those that are alike together."""
    rows = []
    if len(emitter.lights) > 1:
        rows.append(("lights", f"{len(emitter.lights)}: " + short(", ".join(one.name for one in emitter.lights))))
    if emitter.part.fed_by != "current":
        rows.append(("takes", _FED[emitter.part.fed_by]))
    alike: dict[tuple[object, ...], list[Source]] = {}
    for one in emitter.lights:
        alike.setdefault((one.forward_v, one.forward_a, one.mcd, one.light), []).append(one)
    for some in alike.values():
        one = some[0]
        which = f" of {one.name}" if len(alike) > 1 else ""
        low, typical, high = one.forward_v
        at = show_si(one.forward_a, "A")
        if emitter.part.fed_by == "current":
            rows.append((f"forward voltage{which}", f"{low:g} to {high:g} V, typically {typical:g} V at {at}"))
        rows.append((f"light{which}", f"{show(one.mcd, 0)} mcd at {at}"))
        rows.append((f"current{which}", f"{show_si(one.continuous_a, 'A')} at most, all the time"))
    rows.append(("beam", f"half as bright {emitter.half_angle_deg:g}° off its axis"))
    return rows
