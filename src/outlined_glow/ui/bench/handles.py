"""Handles on the bench: where they are and which edit a drag of each becomes. Places are in the picture frame."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from ..core_door import core

Values = tuple[str, dict[str, Any]]
#: A shorter stretch of a track has no handle, mm.
_WORTH_A_HANDLE_MM = 0.8


@dataclass(frozen=True)
class Handle:
    """A knob: its words, its place, and the edit that putting it elsewhere makes.

    `catch` is where it goes instead, given a place and a reach, because lines of the board catch it.
    """

    name: str
    tip: str
    x: float
    y: float
    drag: Callable[[float, float], Values | None]
    catch: Callable[[float, float, float], Any] | None = None


def handles_for(
    stage: str, work: Any, selected: str | None, picked: frozenset[tuple[str, int]], picture: int, side: str,
    wires: Any = None,
) -> list[Handle]:  # fmt: skip
    """The handles of a stage: on Lights of the array or the one LED in hand, on Artwork of the picture in hand and the words
    in view, on Wiring (`wires` has it) of the part or the track in hand."""
    if work is None:
        return []
    if stage == "artwork":
        return _artwork_handles(work, picture, side)
    if stage == "wiring" and wires is not None:
        return _part_handles(work, wires.part, side) if wires.part is not None else _track_handles(work, wires.track, side)
    if stage == "shape":
        return _shape_handles(work)
    if stage == "lights" and len(picked) == 1:
        return _led_handle(work, *next(iter(picked)))
    if stage == "lights" and selected is not None:
        return _array_handles(work, selected)
    return []


def _catcher(
    work: Any, but: int | None = None, step: float = 0.5, beside: Sequence[tuple[float, float]] = ()
) -> Callable[[float, float, float], Any]:
    """What catches a thing that is dragged over this board."""
    placing = core("placing")
    lines = placing.catching_lines(work.outline, but, beside)
    return lambda x, y, reach: placing.snapped(lines, work.board.origin, x, y, reach, step)


def _shape_handles(work: Any) -> list[Handle]:
    shape = work.design.shape
    border = shape.border_mm
    right = work.outline.region.bounds[2] - border

    def drag_border(x: float, y: float) -> Values:
        return "set-border", {"border_mm": round(min(50.0, max(0.0, x - right)), 2)}

    middle = next((y for x, y in work.outline.region.exterior.coords if abs(x - work.outline.region.bounds[2]) < 1e-6), 0.0)
    out = [Handle("border", f"border {border:g} mm: drag out or in", right + border, middle, drag_border)]
    hanging = work.outline.holes[: 1 if shape.hole is not None else 0]
    for hole in hanging:

        def drag_hole(x: float, y: float) -> Values:
            return "set-hole", {"x_mm": round(x, 3), "y_mm": round(y, 3)}

        out.append(Handle("hole", "hanging hole: drag it where it should be", hole.x, hole.y, drag_hole, _catcher(work)))
    return [*out, *(_feature_handle(work, number, one) for number, one in enumerate(shape.features, 1) if not one.along)]


def _feature_handle(work: Any, number: int, feature: Any) -> Handle:
    """A feature set by hand; it is caught by middles and by other features, else by half millimetres."""

    def move(x: float, y: float) -> Values:
        return "set-feature", {"number": number, "x_mm": round(x, 3), "y_mm": round(y, 3)}

    tip = f"{feature.kind.replace('-', ' ')}: drag it where it should be; Ctrl lets it go anywhere"
    return Handle(f"feature {number}", tip, feature.x_mm, feature.y_mm, move, _catcher(work, number))


def _artwork_handles(work: Any, which: int, side: str) -> list[Handle]:
    art = work.design.artwork
    out = [_words_handle(work, number, one) for number, one in enumerate(art.words, 1) if one.side == side]
    if which > len(art.pictures):
        return out
    one, facts = art.pictures[which - 1], core("facts").picture_facts(work, which)
    x0, y0 = facts.x_mm, facts.y_mm
    a = math.radians(one.angle_deg)
    across = (one.width_mm / 2 * math.cos(a), one.width_mm / 2 * math.sin(a))
    up = (-facts.height_mm / 2 * math.sin(a), facts.height_mm / 2 * math.cos(a))

    def move(x: float, y: float) -> Values:
        return "place-picture", {"picture": which, "x_mm": round(x, 3), "y_mm": round(y, 3)}

    def scale(x: float, y: float) -> Values:
        before = math.hypot(across[0] + up[0], across[1] + up[1])
        wide = one.width_mm * math.hypot(x - x0, y - y0) / before
        values = {"picture": which, "width_mm": round(min(1000.0, max(1.0, wide)), 2)}
        return "place-picture", {**values, "x_mm": round(x0, 3), "y_mm": round(y0, 3)}

    def turn(x: float, y: float) -> Values:
        angle = math.degrees(math.atan2(y - y0, x - x0)) - 90
        snapped = round(angle / 15) * 15 if abs(angle - round(angle / 15) * 15) < 2 else round(angle, 1)
        return "place-picture", {"picture": which, "angle_deg": float((snapped + 180) % 360 - 180)}

    return [
        *out,
        Handle("picture", f"{one.name}: drag it where it should be", x0, y0, move),
        Handle("picture size", "drag it larger or smaller", x0 + across[0] + up[0], y0 + across[1] + up[1], scale),
        Handle("picture turn", "turn it; it snaps to steps of 15°", x0 + up[0], y0 + up[1], turn),
    ]


def _words_handle(work: Any, number: int, words: Any) -> Handle:
    """Added words: those on an edge slide along it, all others go where they are put."""
    tip, edge = f"“{words.text}”: drag them where they should be", core("words").edge_place(words, work.paths)
    if edge is not None:

        def slide(x: float, y: float) -> Values | None:
            there = core("words").edge_share(words, work.paths, x, y)
            return (
                None if there is None else ("set-words", {"number": number, "share": round(there[0], 4), "inset_mm": there[1]})
            )

        x, y = edge
        return Handle(f"words {number}", tip, x, y, slide)

    def move(x: float, y: float) -> Values:
        return "set-words", {"number": number, "x_mm": round(x, 3), "y_mm": round(y, 3)}

    return Handle(f"words {number}", tip, words.x_mm, words.y_mm, move, _catcher(work, step=0.1))


def _part_handles(work: Any, ref: str, side: str) -> list[Handle]:
    """The part of the drive in hand: where it lies, and how it is turned."""
    part = core("net_lens").placed(work, ref)
    if part is None or part.side != side:
        return []

    def move(x: float, y: float) -> Values:
        return "place-part", {"part": ref, "x_mm": round(x, 3), "y_mm": round(y, 3), **as_it_lies}

    def turn(x: float, y: float) -> Values:
        angle = math.degrees(math.atan2(y - part.y, x - part.x))
        snapped = round(angle / 15) * 15.0
        return "place-part", {**as_it_lies, "part": ref, "x_mm": part.x, "y_mm": part.y, "angle_deg": snapped}

    as_it_lies = {"angle_deg": (part.angle_deg + 180) % 360 - 180, "side": part.side}
    reach, a = part.part.courtyard[0] / 2 + 1.2, math.radians(part.angle_deg)
    end = (part.x + reach * math.cos(a), part.y + reach * math.sin(a))
    label = core("net_lens").label_of(work, ref)

    def move_label(x: float, y: float) -> Values:
        return "place-label", {"part": ref, "x_mm": round(x, 2), "y_mm": round(y, 2), "upright": label.upright}

    tip = "the label: drag it where it should be"
    return [
        Handle("part", f"{ref}: drag it where it should be", part.x, part.y, move, _catcher(work, step=0.25)),
        Handle("part turn", "turn it; it snaps to steps of 15°", *end, turn),
        *([Handle("label", tip, label.x, label.y, move_label, _catcher(work, step=0.1))] if label is not None else []),
    ]


def _track_handles(work: Any, held: Any, side: str) -> list[Handle]:
    """The track in hand that was drawn by hand: its ends, and the middles of its stretches."""
    if held is None or held.number is None or held.track.side != side:
        return []
    hand, number, points = core("hand_track"), held.number, held.track.points

    def end(last: bool) -> Callable[[float, float], Values]:
        def drag(x: float, y: float) -> Values:
            spot = hand.caught(work, held.track.net, (x, y), side, number)
            return "set-track", {"number": number, "points": hand.moved_end(points, last, *spot)}

        return drag

    def stretch(at: int) -> Callable[[float, float], Values]:
        def drag(x: float, y: float) -> Values:
            return "set-track", {"number": number, "points": hand.moved_stretch(points, at, x, y)}

        return drag

    ends = [(False, points[0]), (True, points[-1])]
    pairs = list(itertools.pairwise(points))
    wide = [(at, a, b) for at, (a, b) in enumerate(pairs) if math.dist(a, b) > _WORTH_A_HANDLE_MM or len(pairs) == 1]
    return [
        *(Handle(f"track end {'B' if last else 'A'}", "drag the end elsewhere", x, y, end(last)) for last, (x, y) in ends),
        *(
            Handle(f"stretch {at + 1}", "drag this stretch aside", (a[0] + b[0]) / 2, (a[1] + b[1]) / 2, stretch(at))
            for at, a, b in wide
        ),
    ]


def _led_handle(work: Any, array: str, place: int) -> list[Handle]:
    """The one LED in hand: it goes where it is put, from where its array would have it."""
    led = next((one for one in work.leds if (one.array, one.place) == (array, place)), None)
    if led is None or any(one.name == array and one.locked for one in work.design.lights):
        return []
    moved = core("light_facts").change_of(work, array, place)
    x0, y0 = led.x - moved.dx_mm, led.y - moved.dy_mm

    def move(x: float, y: float) -> Values:
        return "nudge", {"array": array, "place": (place,), "dx_mm": round(x - x0, 3), "dy_mm": round(y - y0, 3)}

    return [Handle("LED", f"LED {led.index}: drag it where it should be", led.x, led.y, move)]


def _array_handles(work: Any, name: str) -> list[Handle]:
    array = next((one for one in work.design.lights if one.name == name), None)
    if array is None or array.locked:
        return []
    kinds = core("kinds")
    kind = kinds.kind_of(array)

    def move(held: Any) -> Callable[[float, float], Values | None]:
        def drag(x: float, y: float) -> Values | None:
            values = held.drag(x, y)
            return None if values is None else (kind.tag, {"array": name, **values})

        return drag

    handles = kind.handles(array, work.values["light paths"])
    catch = _catcher(work, beside=core("light_facts").middles_beside(work, name))
    return [
        Handle(held.name, held.tip, held.x, held.y, move(held), catch if held.name == "centre" else None) for held in handles
    ]


def drawing_handle(work: Any, name: str, x: float, y: float) -> Handle | None:
    """What draws an array from a place on: as if it were held by a handle there. None for what is not drawn."""
    array = next((one for one in work.design.lights if one.name == name), None)
    if array is None or array.locked:
        return None
    kind = core("kinds").kind_of(array)
    if kind.drawn is None:
        return None
    way = [(x, y)]

    def draw(to_x: float, to_y: float) -> Values | None:
        way.append((to_x, to_y))
        values = kind.drawn(array, way)
        return (kind.tag, {"array": name, **values}) if values else None

    return Handle("drawing", "", x, y, draw, _catcher(work, beside=core("light_facts").middles_beside(work, name)))
