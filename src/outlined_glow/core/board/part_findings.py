"""Whether the parts can sit where they are: on the board, apart, off art metal, behind their windows."""

from __future__ import annotations

from collections.abc import Mapping

import shapely
from shapely.geometry.base import BaseGeometry

from ..drive.seats import Part
from ..geometry.regions import disc, grow, shifted, union
from ..project import Finding, Remedy
from ..shape.features import Fixed
from .layers import ArtLayers
from .model import Board

#: An emitter shines through a window that comes within this of its middle, mm.
_LENS_MM = 1.2


def part_findings(board: Board, art: ArtLayers, fixed: Fixed) -> list[Finding]:
    """Stops for parts outside, overlapping, under screws, on metal, and for pads too near one another; a warning for LEDs
    without a window. Board frame."""
    leds = [part for part in board.parts if part.kind == "led"]
    if not leds:
        return []
    metal = {side: shifted(art.sides[side].metal, -board.origin[0], -board.origin[1]) for side in ("front", "back")}
    windows = union([board.windows, board.veiled])
    return [
        *_outside(board, leds),
        *_overlapping(board),
        *_pads_near(board, fixed),
        *_under_screws(board, fixed),
        *_on_metal(board, leds, metal),
        *_without_window(leds, windows),
    ]


def _many(leds: list[Part]) -> str:
    names = ", ".join(part.ref for part in leds[:4])
    return names + (f" and {len(leds) - 4} more" if len(leds) > 4 else "")


def _places(leds: list[Part]) -> tuple[tuple[float, float], ...]:
    return tuple((part.x, part.y) for part in leds)


def _outside(board: Board, leds: list[Part]) -> list[Finding]:
    rule = board.profile.edge_routed_mm
    inside = grow(board.layer("core"), -rule)
    shapely.prepare(inside)
    lost = [part for part in leds if not inside.contains(part.court())]
    if not lost:
        return []
    first = lost[0]
    gap = first.court().distance(board.outline.boundary) if board.outline.contains(first.court()) else 0.0
    verb = "is" if len(lost) == 1 else "are"
    text = f"{_many(lost)} {verb} outside the board, over a hole or nearer than {rule:g} mm to the edge."
    return [
        Finding(
            "led-outside", "stop", "lights", text, first.x, first.y, round(gap, 3), rule, None,
            (Remedy("set the array in further"), Remedy("widen the border")), len(lost), _places(lost),
        )
    ]  # fmt: skip


def _overlapping(board: Board) -> list[Finding]:
    pairs: list[tuple[Part, Part]] = []
    for side in ("front", "back"):
        parts = [part for part in board.parts if part.side == side]
        courts = [part.court() for part in parts]
        if len(courts) < 2:
            continue
        tree = shapely.STRtree(courts)
        for one, other in tree.query(courts, predicate="intersects").T.tolist():
            both_seated = parts[one].kind != "led" and parts[other].kind != "led"
            if one < other and not both_seated and courts[one].intersection(courts[other]).area > 1e-4:
                pairs.append((parts[one], parts[other]))
    if not pairs:
        return []
    one, other = pairs[0]
    more = f" ({len(pairs)} pairs)" if len(pairs) > 1 else ""
    places = tuple(((a.x + b.x) / 2, (a.y + b.y) / 2) for a, b in pairs)
    return [
        Finding(
            "parts-overlap", "stop", "lights", f"{one.ref} and {other.ref} overlap{more}.", *places[0], 0.0, 0.0, None,
            (Remedy("move the arrays apart"), Remedy("use fewer LEDs")), len(pairs), places,
        )
    ]  # fmt: skip


def _pads_near(board: Board, fixed: Fixed) -> list[Finding]:
    """Pads of different parts, and of features, with less between them than the fabricator etches."""
    rule = board.profile.gap_mm
    pairs: list[tuple[float, str, str, float, float]] = []
    for side in ("front", "back"):
        rows: list[tuple[str, BaseGeometry]] = []
        rows += [(pad.ref, pad.polygon) for pad in board.pads if pad.side == side]
        lands = [land for land in fixed.pads if land.side == side]
        rows += [
            (f"the {land.spot.kind} {land.spot.number}", shifted(land.region, -board.origin[0], -board.origin[1]))
            for land in lands
        ]
        shapes = [shape for _, shape in rows]
        if len(shapes) < 2:
            continue
        ones, others = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=rule - 1e-6)
        for one, other in zip(ones.tolist(), others.tolist(), strict=True):
            if one < other and rows[one][0] != rows[other][0] and one < len(rows) - len(lands):
                way = shapely.shortest_line(shapes[one], shapes[other])
                middle = way.interpolate(0.5, normalized=True)
                pairs.append((float(way.length), rows[one][0], rows[other][0], middle.x, middle.y))
    if not pairs:
        return []
    pairs.sort(key=lambda pair: pair[0])
    gap, one_ref, other_ref, x, y = pairs[0]
    many = f" ({len(pairs)} pairs)" if len(pairs) > 1 else ""
    text = f"The pads of {one_ref} and {other_ref} are {gap:.2f} mm apart{many}. They need {rule:g} mm."
    return [
        Finding(
            "pads-too-near", "stop", "lights", text, x, y, round(gap, 3), rule, "copper",
            (Remedy("move the LEDs apart"), Remedy("use fewer LEDs")), len(pairs), tuple((a, b) for *_, a, b in pairs),
        )
    ]  # fmt: skip


def _under_screws(board: Board, fixed: Fixed) -> list[Finding]:
    """Parts under the head of a screw, or its nut on the other side."""
    heads = [disc(spot.x - board.origin[0], spot.y - board.origin[1], spot.head / 2) for spot in fixed.spots if spot.head > 0]
    if not heads:
        return []
    ground = union(heads)
    hit = [part for part in board.parts if part.court().intersects(ground)]
    if not hit:
        return []
    first = hit[0]
    text = f"{_many(hit)} {'is' if len(hit) == 1 else 'are'} under the head of a screw. Move the part or the screw."
    return [
        Finding(
            "part-under-screw", "stop", "lights", text, first.x, first.y, 0.0, None, None,
            (Remedy("move the LEDs"), Remedy("move the screw")), len(hit), _places(hit),
        )
    ]  # fmt: skip


def _on_metal(board: Board, leds: list[Part], metal: Mapping[str, BaseGeometry]) -> list[Finding]:
    """Bare art metal under or beside a pad joins what must stay apart."""
    clear = board.profile.gap_mm
    lands: dict[str, list[BaseGeometry]] = {pad.ref: [] for pad in board.pads}
    for pad in board.pads:
        lands[pad.ref].append(pad.polygon)
    for one in metal.values():
        shapely.prepare(one)
    hit = [
        part for part in leds if any(metal[part.side].intersects(land.buffer(clear, quad_segs=2)) for land in lands[part.ref])
    ]
    if not hit:
        return []
    first = hit[0]
    verb = "touch"
    text = f"The pads of {_many(hit)} {verb} bare art metal and would short. Move the LEDs or cut back the metal."
    return [
        Finding(
            "led-on-metal", "stop", "lights", text, first.x, first.y, 0.0, clear, f"{first.side} copper",
            (Remedy("move along"), Remedy("break the metal there in the drawing")), len(hit), _places(hit),
        )
    ]  # fmt: skip


def _without_window(leds: list[Part], windows: BaseGeometry) -> list[Finding]:
    blind = [part for part in leds if part.side == "back" and not windows.intersects(disc(part.x, part.y, _LENS_MM))]
    if not blind:
        return []
    first = blind[0]
    verb = "shines" if len(blind) == 1 else "shine"
    text = f"{_many(blind)} {verb} through the board but stand behind no window: hardly any light comes through."
    return [
        Finding(
            "no-window", "warning", "lights", text, first.x, first.y, None, None, None,
            (Remedy("make a colour there a light window"), Remedy("move the LED behind a window")), len(blind),
            _places(blind),
        )
    ]  # fmt: skip
