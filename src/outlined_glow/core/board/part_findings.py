"""Whether the parts can sit where they are: on the board, apart, off art metal, behind their windows."""

from __future__ import annotations

import shapely
from shapely.geometry.base import BaseGeometry

from ..drive.seats import Part
from ..geometry.regions import disc, grow, shifted, union
from ..project import Finding, Remedy
from .layers import ArtLayers
from .model import Board

#: An emitter shines through a window that comes within this of its middle, mm.
_LENS_MM = 1.2


def part_findings(board: Board, art: ArtLayers) -> list[Finding]:
    """Stops for parts outside, overlapping or on metal; a warning for emitters without a window. Board frame."""
    leds = [part for part in board.parts if part.kind == "led"]
    if not leds:
        return []
    metal = shifted(art.front.metal, -board.origin[0], -board.origin[1])
    windows = union([board.windows, board.veiled])
    return [
        *_outside(board, leds),
        *_overlapping(board),
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


def _on_metal(board: Board, leds: list[Part], metal: BaseGeometry) -> list[Finding]:
    """Bare art metal under or beside a pad joins what must stay apart."""
    if metal.is_empty:
        return []
    shapely.prepare(metal)
    clear = board.profile.gap_mm
    lands = {pad.ref: [] for pad in board.pads}  # type: ignore[var-annotated]
    for pad in board.pads:
        lands[pad.ref].append(pad.polygon)
    hit = [
        part
        for part in leds
        if part.side == "front" and any(metal.intersects(land.buffer(clear, quad_segs=2)) for land in lands[part.ref])
    ]
    if not hit:
        return []
    first = hit[0]
    verb = "touches" if len(hit) == 1 else "touch"
    text = f"{_many(hit)} {verb} art metal, which would short the pads or steal the solder."
    return [
        Finding(
            "led-on-metal", "stop", "lights", text, first.x, first.y, 0.0, clear, "front copper",
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
            (Remedy("give a colour there the appearance window or veiled"), Remedy("move it behind one")), len(blind),
            _places(blind),
        )
    ]  # fmt: skip
