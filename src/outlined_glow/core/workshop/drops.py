"""What the finished copper of a board loses: volts of each net, the LED that has least, the stretch that becomes warmest."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from io import BytesIO
from typing import Any

import numpy as np

from ..drive.current_ways import CurrentWay, ways_to
from ..drive.net_currents import NetCurrents, at_once_a, net_currents
from ..parts.nets import Net
from ..wiring.drop import Drop, Piece, drop_of
from .feeding import given_by
from .work import Work

Pin = tuple[str, str]
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


def drops(work: Work, works: Sequence[Work] = ()) -> Drops:
    """The drops of a wired board with all its LEDs on, and those of the boards that it feeds, of all `works` of its project;
    what the lead costs that the current comes by counts."""
    lit = _at_most(work)
    ways = (*lit, *ways_to(work.plan, work.leds, _converted(work, lit)), *ways_to(work.plan, work.leds, given_by(work, works)))
    flows = net_currents(ways)
    strands = _strands(work)
    leads = {name: strands.get((one.source[0], name), 0.0) * one.most_a for name, one in flows.items()}
    here = {net.name: made for net in work.board.nets if net.name in flows and (made := _drop(work, net, flows[net.name]))}
    lost = _lost(ways, here, leads)
    worst = max(lost, key=lambda one: lost[one], default=None)
    found = {name: one.below(leads[name]) for name, one in here.items()}
    return Drops(found, None if worst is None else (worst, work.plan.supply_v - lost[worst]), lost)


def _at_most(work: Work) -> tuple[CurrentWay, ...]:
    """The ways of all currents, those of lights no more than the supply gives at most."""
    ways, most = work.values["current ways"], work.plan.current_max_a
    lit = [one for one in ways if one.light is not None]
    whole = at_once_a(lit)
    share = min(1.0, most / whole) if whole > 0 else 1.0
    return tuple(one if one.light is None else replace(one, current_a=share * one.current_a) for one in ways)


def _converted(work: Work, ways: Sequence[CurrentWay]) -> dict[tuple[Pin, bool], float]:
    """What a converter takes of the source beside what flows through it: a rail of more volts takes more current."""
    whole = work.plan.current_max_a + work.plan.standing_a
    more = whole - at_once_a(ways)
    for one in work.plan.wanted:
        pins = {pin.role: pin.number for pin in one.part.pins}
        if one.part.kind == "module" and "output" in pins and more > 0:
            return {((one.ref, pins.get("input") or pins["supply"]), True): more, ((one.ref, pins["ground"]), False): more}
    return {}


def _drop(work: Work, net: Net, flows: NetCurrents) -> Drop | None:
    """What a net loses; None where it is not drawn."""
    board, mine = work.board, set(net.pins)
    pads = [pad for pad in board.pads if (pad.ref, pad.pin) in mine]
    tracks = [track for track in board.wires.tracks if track.net == net.name]
    poured = {one.side: one.region for one in board.copper if one.owner == "pour" and one.net == net.name}
    if not (tracks or poured):
        return None
    vias = [via for via in board.wires.vias if via.net == net.name]
    links = [link for link in board.wires.links if link.net == net.name]
    thickness_mm, plating_um = board.stack.thickness_mm, board.profile.barrel_um or 18.0
    return drop_of(
        pads, tracks, vias, poured, flows.always, flows.source, thickness_mm, plating_um, links, flows.turns, _alike(work, net)
    )


def _alike(work: Work, net: Net) -> list[list[Pin]]:
    """The pins of a net that one part joins within: they have one name."""
    parts = {one.ref: one.part for one in work.board.parts}
    out: dict[tuple[str, str], list[Pin]] = {}
    for ref, number in net.pins:
        if ref in parts and (name := parts[ref].pin(number).name):
            out.setdefault((ref, name), []).append((ref, number))
    return [some for some in out.values() if len(some) > 1]


def _strands(work: Work) -> dict[tuple[str, str], float]:
    """The resistance of each lead in each net: of its part and the net, ohm. Strands of one net lie side by side."""
    siemens: dict[tuple[str, str], float] = {}
    for one in work.values["leads off the board"]:
        for strand in one.strands:
            if strand.ohm > 0:
                key = one.lead.part, strand.net
                siemens[key] = siemens.get(key, 0.0) + 1 / strand.ohm
    return {key: 1 / one for key, one in siemens.items()}


def _lost(ways: Iterable[CurrentWay], found: Mapping[str, Drop], leads: Mapping[str, float]) -> dict[int, float]:
    """What each LED loses on the way of its current while it is lit, that of its lights that loses most, by its index, V."""
    lost: dict[int, float] = {}
    if not found:
        return lost
    for way in ways:
        if way.light is None:
            continue
        crossed = [found[hop.net].between(hop.far, hop.near, *way.turn) for hop in way.hops if hop.net in found]
        ends = [hops[-1].net for hops in (way.fed, way.back) if hops]
        volts = sum(crossed) + sum(leads[net] for net in ends)
        index = way.light[0]
        lost[index] = max(lost.get(index, 0.0), volts)
    return lost


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
