"""What the finished copper of a board loses: volts of each net, the LED that has least, the stretch that becomes warmest."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from io import BytesIO
from typing import Any

import numpy as np

from ..drive.plan import DrivePlan
from ..parts.nets import Net
from ..wiring.drop import Drop, Piece, drop_of
from .work import Work

Pin = tuple[str, str]
#: Parts that a current comes from, the likeliest first.
_SOURCES = ("holder", "fuse", "regulator", "switch", "diode", "relay", "transistor", "module", "chip", "controller")
_PX_PER_MM = 12.0
#: From no drop to the most there is.
_COLOURS = ((38, 64, 112), (78, 154, 166), (240, 178, 72), (255, 111, 89))


@dataclass(frozen=True)
class Drops:
    """The drop of every net that carries something; the LED whose supply is least: its index and volts; what each LED loses on
    its way, by its index, V."""

    nets: Mapping[str, Drop]
    worst: tuple[int, float] | None
    lost: Mapping[int, float] = field(default_factory=dict)

    @property
    def worst_v(self) -> float:
        """The most that any net loses."""
        return max((one.worst_v for one in self.nets.values()), default=0.0)


def drops(work: Work) -> Drops:
    """The drops of a wired board with all its LEDs on; what the lead costs that the current comes by counts."""
    board, plan = work.board, work.plan
    kinds = {part.ref: part.part.kind for part in board.parts}
    served = _served(work)
    strands = {(one.lead.part, strand.pin): strand.ohm for one in work.values["leads off the board"] for strand in one.strands}
    found: dict[str, Drop] = {}
    on_board: dict[str, Drop] = {}
    for net in board.nets:
        mine = set(net.pins)
        pads = [pad for pad in board.pads if (pad.ref, pad.pin) in mine]
        tracks = [track for track in board.wires.tracks if track.net == net.name]
        poured = {one.side: one.region for one in board.copper if one.owner == "pour" and one.net == net.name}
        taken, source = _taken(net, plan, kinds, served)
        if source is None or not (tracks or poured):
            continue
        vias = [via for via in board.wires.vias if via.net == net.name]
        thickness, plating = board.stack.thickness_mm, board.profile.barrel_um or 18.0
        links = [link for link in board.wires.links if link.net == net.name]
        made = drop_of(pads, tracks, vias, poured, taken, source, thickness, plating, links)
        on_board[net.name] = made
        found[net.name] = made.below(strands.get(source, 0.0) * sum(taken.values()))
    lost = _lost(work, on_board)
    worst = max(lost, key=lambda one: lost[one], default=None)
    return Drops(found, None if worst is None else (worst, work.plan.supply_v - lost[worst]), lost)


def _taken(
    net: Net, plan: DrivePlan, kinds: Mapping[str, str], served: Mapping[str, int]
) -> tuple[dict[Pin, float], Pin | None]:
    """What the pins of a net take, and the one from which it comes: LEDs and their resistors take what flows in them, chips
    share the rest of what a supply gives."""
    leds = _led_amps(plan)
    taken = {pin: leds[served[pin[0]]] for pin in net.pins if served.get(pin[0]) in leds}
    others = [pin for pin in net.pins if pin not in taken]
    if not others:
        pins = list(net.pins)
        return ({pins[-1]: taken[pins[-1]]}, pins[0]) if len(pins) > 1 else ({}, None)
    source = min(others, key=lambda pin: _SOURCES.index(kinds[pin[0]]) if kinds.get(pin[0]) in _SOURCES else 99)
    rest = [pin for pin in others if pin != source and kinds.get(pin[0]) in ("chip", "controller", "transistor", "regulator")]
    if net.kind in ("supply", "ground") and rest:
        left = max(0.0, plan.current_max_a - sum(taken.values()))
        taken.update(dict.fromkeys(rest, left / len(rest)))
    elif not taken and len(others) > 1:
        whole = plan.current_max_a if net.name.startswith(("supply", "ground")) else 0.0
        taken = {next(pin for pin in others if pin != source): whole}
    return taken, source


def _served(work: Work) -> dict[str, int]:
    """The index of the LED that a part is, or whose resistor it is, by its reference."""
    return {
        part.ref: part.led
        for part in work.board.parts
        if part.led is not None and (part.part.shines or part.part.kind.startswith("resistor"))
    }


def _led_amps(plan: DrivePlan) -> dict[int, float]:
    out: dict[int, float] = {}
    for branch in plan.branches:
        for index in branch.indices:
            out[index] = out.get(index, 0.0) + branch.current_max_a
    return out


def _lost(work: Work, found: Mapping[str, Drop]) -> dict[int, float]:
    """What each LED loses between the supply and the ground that reach it, by its index, V."""
    served = _served(work)
    rails = {net.name: net.kind for net in work.board.nets if net.kind in ("supply", "ground")}
    lost: dict[int, float] = {}
    for name in rails:
        for (ref, _), value in found[name].pins.items() if name in found else ():
            if ref in served:
                lost[served[ref]] = lost.get(served[ref], 0.0) + abs(value)
    ways = [net.name for net in work.board.nets if net.name.split()[0] in ("supply", "ground")]
    ohms = sum(strand.ohm for one in work.values["leads off the board"] for strand in one.strands if strand.net in ways)
    return {index: volts + ohms * work.plan.current_max_a for index, volts in lost.items()}


def drop_facts(work: Work, found: Drops) -> dict[str, Any]:
    """The drops for the command line."""
    rows = []
    for name, one in found.nets.items():
        hot = one.hottest
        spot = None if hot is None else _middle(hot)
        rows.append({
            "name": name, "drop_v": round(one.worst_v, 6),
            "hottest": None if hot is None or spot is None
            else {"x_mm": round(spot[0], 3), "y_mm": round(spot[1], 3), "rise_k": round(hot.rise_k, 3)},
        })  # fmt: skip
    worst = None if found.worst is None else {"index": found.worst[0], "supply_v": round(found.worst[1], 5)}
    return {"worst": worst, "nets": rows}


def _middle(piece: Piece) -> tuple[float, float]:
    return (piece.start[0] + piece.end[0]) / 2, (piece.start[1] + piece.end[1]) / 2


def drop_words(work: Work, found: Drops) -> dict[str, str]:
    """The drops in a few figures, for the window."""
    if not found.nets:
        return {"drop": "–", "led": "–", "hot": "–", "wider": ""}
    name, most = max(found.nets.items(), key=lambda row: row[1].worst_v)
    hot_net, hot = max(
        ((net, one.hottest) for net, one in found.nets.items() if one.hottest is not None), key=lambda row: row[1].rise_k,
        default=("", None),
    )  # fmt: skip
    led = "–" if found.worst is None else f"LED {found.worst[0]}: {found.worst[1]:.2f} V"
    small = most.worst_v < 0.02 * work.plan.supply_v
    advice = "no track needs to be wider" if small else "twice its width would halve that"
    hot_words = "" if hot is None else f"“{hot_net}” becomes warmest."
    return {
        "drop": f"{most.worst_v * 1000:.3g} mV",
        "led": led,
        "hot": "–" if hot is None else f"{hot.rise_k:.2g} K",
        "wider": f"“{name}” loses most: {advice}. {hot_words}".rstrip(),
    }


def drop_lines(
    work: Work, found: Drops
) -> dict[str, list[tuple[tuple[float, float], tuple[float, float], float, tuple[int, int, int]]]]:
    """Every stretch of track by side, in the picture frame, with its width and the colour of its drop."""
    dx, dy = work.board.origin
    most = max(found.worst_v, 1e-9)
    out: dict[str, list[tuple[tuple[float, float], tuple[float, float], float, tuple[int, int, int]]]] = {}
    for one in found.nets.values():
        for piece in one.pieces:
            (x, y), (x1, y1) = piece.start, piece.end
            ends = (x + dx, y + dy), (x1 + dx, y1 + dy)
            out.setdefault(piece.side, []).append((*ends, piece.width, colour_of(abs(piece.drop_v) / most)))
    return out


def drop_picture(work: Work, found: Drops, side: str) -> bytes:
    """A map of the drop on a side as a PNG: the board with its copper, from none (blue) to the most (red)."""
    from PIL import Image, ImageDraw  # only who draws a map loads it

    width, height = (round(size * _PX_PER_MM) for size in work.board.size)
    image = Image.new("RGB", (width + 1, height + 1), (24, 22, 29))
    pen = ImageDraw.Draw(image)

    def spot(x: float, y: float) -> tuple[float, float]:
        return (width - x * _PX_PER_MM if side == "back" else x * _PX_PER_MM), height - y * _PX_PER_MM

    pen.polygon([spot(x, y) for x, y in work.board.outline.exterior.coords], fill=(48, 43, 57))
    most = max(found.worst_v, 1e-9)
    for one in found.nets.values():
        for x, y, value in one.sheets.get(side, np.zeros((0, 3))).tolist():
            a, b = spot(x - 0.1, y + 0.1), spot(x + 0.1, y - 0.1)
            pen.rectangle([min(a[0], b[0]), a[1], max(a[0], b[0]), b[1]], fill=colour_of(abs(value) / most))
    for one in found.nets.values():
        for piece in one.pieces:
            if piece.side == side:
                line = [spot(*piece.start), spot(*piece.end)]
                pen.line(line, fill=colour_of(abs(piece.drop_v) / most), width=max(2, round(piece.width * _PX_PER_MM)))
    for pad in work.board.pads:
        if pad.side == side:
            pen.polygon([spot(x, y) for x, y in pad.polygon.exterior.coords], outline=(181, 167, 102))
    out = BytesIO()
    image.save(out, "PNG", dpi=(_PX_PER_MM * 25.4, _PX_PER_MM * 25.4))
    return out.getvalue()


def colour_of(share: float) -> tuple[int, int, int]:
    """The colour of a share of the most."""
    place = min(max(share, 0.0), 1.0) * (len(_COLOURS) - 1)
    at = min(int(place), len(_COLOURS) - 2)
    rest = place - at
    low, high = _COLOURS[at], _COLOURS[at + 1]
    red, green, blue = (round(a + (b - a) * rest) for a, b in zip(low, high, strict=True))
    return red, green, blue
