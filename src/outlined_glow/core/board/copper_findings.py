"""What else the finished layers of a wired board tell: pours that are too thin, pads that the mask covers, webs of mask between
pads, pins on nets that they cannot be on."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np
import shapely
from shapely.geometry import LineString

from ..geometry.narrow.places import thin_places
from ..geometry.offset import grow
from ..geometry.prepared import prepared
from ..geometry.regions import minus, polygons, union_of_many
from ..parts import PlacedPad, PlacedPart, Profile
from ..parts.nets import Net
from ..passes import Pass
from ..project import Finding, Remedy, Stack
from ..project.finding import some_of
from ..shape import Outline
from ..units import show_under
from ..wiring.copper import Wires
from .layers import ArtLayers, PartLayers
from .model import POUR

SIDES = ("front", "back")
#: What of a pad may be covered before it is told, mm²; two pads nearer than this have no web to measure, mm.
_COVERED_MM2, _TOUCH_MM = 1e-4, 1e-3
#: Arcs are drawn in steps, which makes copper a little narrower than it is, mm.
_SURE_MM = 0.01


def copper_findings(
    laid: PartLayers, parts: tuple[PlacedPart, ...], nets: tuple[Net, ...], rules: Profile, stack: Stack
) -> list[Finding]:
    """What keeps a wired board from being made well, beside opens and shorts. Board frame."""
    if not nets:
        return []
    out = [*_thin_pours(laid, rules), *_wrong_nets(parts, nets)]
    if rules.has_mask:
        web = rules.mask_web(stack.mask)
        out += [*_covered(laid), *_narrow_webs(laid.pads, nets, web, rules.mask_expansion_mm), *_webs_of_art(laid, rules, web)]
    return out


def _thin_pours(laid: PartLayers, rules: Profile) -> list[Finding]:
    """Poured copper that is narrower than the fabricator etches."""
    out = []
    for one in (each for each in laid.copper if each.owner == POUR):
        places = thin_places(one.region, rules.track_mm - _SURE_MM)
        if places:
            worst = places[0]
            told = show_under(worst.width, rules.track_mm)
            text = f"Copper poured for “{one.net}” is {told} mm wide. The fabricator needs {rules.track_mm:g} mm."
            out.append(
                Finding(
                    code="pour-too-thin", severity="warning", stage="wiring", text=text, measured=round(worst.width, 3),
                    allowed=rules.track_mm, layer=f"{one.side} copper", count=len(places),
                    places=tuple((place.x, place.y) for place in places),
                    remedies=(Remedy("remove it", "pour", (("net", one.net), ("side", one.side), ("style", "none"))),),
                )
            )  # fmt: skip
    return out


def _covered(laid: PartLayers) -> list[Finding]:
    """Pads that have no opening in the mask, or not all of one."""
    shut: list[PlacedPad] = []
    for side in SIDES:
        opened = laid.layers[f"{side} mask"]
        pads = [pad for pad in laid.pads if pad.side == side]
        # Thousands of pads lie in thousands of openings: each is asked of the opening that it lies in.
        found = shapely.STRtree(polygons(opened)).query(np.array([pad.polygon for pad in pads], object), predicate="within")[0]
        doubtful = set(range(len(pads))) - set(found.tolist())
        shut += [pads[at] for at in sorted(doubtful) if minus(pads[at].polygon, opened).area > _COVERED_MM2]
    if not shut:
        return []
    text = f"Solder mask covers {some_of([f'{pad.ref}.{pad.pin}' for pad in shut])}: nothing can be soldered there."
    spots = tuple((pad.x, pad.y) for pad in shut)
    return [
        Finding(code="pad-covered", severity="stop", stage="wiring", text=text, layer=f"{shut[0].side} mask", count=len(shut),
                places=spots)
    ]  # fmt: skip


def _narrow_webs(pads: tuple[PlacedPad, ...], nets: Iterable[Net], web_mm: float, expansion_mm: float) -> list[Finding]:
    """Webs of mask between pads of different nets that the fabricator leaves away: solder may join them."""
    of_pin = {pin: net.name for net in nets for pin in net.pins}
    rows: list[tuple[float, PlacedPad, PlacedPad]] = []
    rule = web_mm + 2 * expansion_mm
    for side in SIDES:
        mine = [pad for pad in pads if pad.side == side]
        if len(mine) < 2:
            continue
        shapes = [pad.polygon for pad in mine]
        ones, others = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=rule - 1e-4)
        for one, other in zip(ones.tolist(), others.tolist(), strict=True):
            a, b = mine[one], mine[other]
            nets_of = [of_pin.get((pad.ref, pad.pin), f"{pad.ref}.{pad.pin}") for pad in (a, b)]
            gap = float(shapely.distance(shapes[one], shapes[other]))
            if one < other and nets_of[0] != nets_of[1] and gap > _TOUCH_MM:
                rows.append((gap - 2 * expansion_mm, a, b))
    if not rows:
        return []
    rows.sort(key=lambda row: row[0])
    web, a, b = rows[0]
    pair = f"{a.ref}.{a.pin} and {b.ref}.{b.pin}"
    more = f", and at {len(rows) - 1} more places" if len(rows) > 1 else ""
    text = f"The mask web between {pair} is {show_under(max(0.0, web), web_mm)} mm{more}. "
    text += f"The fabricator needs {web_mm:g} mm and leaves it away; solder may join them."
    spots = tuple(((one.x + other.x) / 2, (one.y + other.y) / 2) for _, one, other in rows)
    return [
        Finding(
            code="pad-web-too-narrow", severity="note", stage="wiring", text=text,
            measured=round(web, 3), allowed=web_mm, layer=f"{a.side} mask", count=len(rows), places=spots,
        )
    ]  # fmt: skip


def _webs_of_art(laid: PartLayers, rules: Profile, web_mm: float) -> list[Finding]:
    """Webs of mask between pads and openings of the art that the fabricator leaves away: solder may run over."""
    rows: list[tuple[float, PlacedPad]] = []
    for side in SIDES:
        mine = [pad for pad in laid.pads if pad.side == side]
        openings = np.array(polygons(laid.openings_without_pads[side]), object)
        if not mine or not len(openings):
            continue
        opened = np.array([pad.opened(rules.mask_expansion_mm) for pad in mine], object)
        pads, near = shapely.STRtree(openings).query(opened, predicate="dwithin", distance=web_mm - _SURE_MM / 2)
        gaps = dict.fromkeys(pads.tolist(), web_mm)
        for pad, gap in zip(pads.tolist(), shapely.distance(opened[pads], openings[near]).tolist(), strict=True):
            gaps[pad] = min(gaps[pad], gap)
        rows += [(gap, mine[pad]) for pad, gap in gaps.items() if gap > _TOUCH_MM]
    if not rows:
        return []
    rows.sort(key=lambda row: row[0])
    gap, first = rows[0]
    more = f", and at {len(rows) - 1} more pads" if len(rows) > 1 else ""
    text = f"The mask web between {first.ref}.{first.pin} and an opening of the art is {show_under(gap, web_mm)} mm{more}. "
    text += f"The fabricator needs {web_mm:g} mm and leaves it away; solder may run over."
    return [
        Finding(
            code="pad-web-too-narrow", severity="note", stage="lights", text=text, measured=round(gap, 3), allowed=web_mm,
            layer=f"{first.side} mask", count=len(rows), places=tuple((pad.x, pad.y) for _, pad in rows),
            remedies=(Remedy("move the part, or the art"),),
        )
    ]  # fmt: skip


def _wrong_nets(parts: Iterable[PlacedPart], nets: tuple[Net, ...]) -> list[Finding]:
    """Pins that their part cannot have on their net: an LED the wrong way round, a chip fed backwards."""
    kinds = {pin: net for net in nets for pin in net.pins}
    wrong = [(part, pin, net) for part in parts for pin, net in _reversed(part, kinds)]
    if not wrong:
        return []
    part, pin, net = wrong[0]
    role = next(one.role for one in part.part.pins if one.number == pin)
    what = role.replace("-", " ") if role not in ("passive", "common") else "pin"
    more = f", and {len(wrong) - 1} more" if len(wrong) > 1 else ""
    text = f"{part.ref}.{pin}, {what} of the {part.part.title}, lies on “{net.name}”{more}: it would not work so."
    spots = tuple((one.x, one.y) for one, _, _ in wrong)
    return [Finding(code="pin-on-wrong-net", severity="stop", stage="wiring", text=text, count=len(wrong), places=spots)]


def _reversed(part: PlacedPart, kinds: Mapping[tuple[str, str], Net]) -> Iterable[tuple[str, Net]]:
    """Pins of a part on nets that they cannot be on."""
    ends = {(die.anode, "ground") for die in part.part.dies if die.anode}
    ends |= {(die.cathode, "supply") for die in part.part.dies if die.cathode}
    never = {"anode": "ground", "cathode": "supply", "supply": "ground", "ground": "supply"}
    ends |= {(pin.number, never[pin.role]) for pin in part.part.pins if pin.role in never and part.part.kind != "holder"}
    for pin, kind in sorted(ends):
        net = kinds.get((part.ref, pin))
        if net is not None and net.kind == kind:
            yield pin, net


def link_findings(wires: Wires, parts: tuple[PlacedPart, ...]) -> list[Finding]:
    """Straight wires over the front that lie across a part there."""
    over = [one for one in wires.links if one.side]
    front = [part for part in parts if part.side == "front"]
    if not over or not front:
        return []
    bodies = [part.court() for part in front]
    lines = [LineString([one.start, one.end]) for one in over]
    one, which = shapely.STRtree(bodies).query(lines, predicate="intersects")
    if not len(one):
        return []
    link, part = over[int(one[0])], front[int(which[0])]
    crossing = sorted({over[at].ref for at in one.tolist()})
    more = f" and {len(crossing) - 1} more do so too" if len(crossing) > 1 else ""
    text = f"The wire {link.ref} lies across {part.ref} on the front{more}. Lead it round, or move the part."
    spots = tuple(bodies[at].centroid.coords[0] for at in which.tolist())
    return [
        Finding(
            code="link-over-part", severity="warning", stage="wiring", text=text, count=len(crossing), places=spots,
            remedies=(Remedy("let tracks run in front too", "wire", (("front", "free"),)),),
        )
    ]  # fmt: skip


def track_findings(wires: Wires, parts: tuple[PlacedPart, ...], art: ArtLayers, outline: Outline) -> list[Finding]:
    """Tracks drawn by hand, and those that are locked, which leave what of the board takes copper."""
    if not wires.tracks:
        return []
    holes = union_of_many([peg for part in parts for peg in part.pegs()])
    allowed = prepared(minus(grow(art.printable.copper, _SURE_MM), holes))
    regions = np.array([one.region for one in wires.tracks], dtype=object)
    out = np.flatnonzero(~shapely.covers(allowed, regions))
    if not len(out):
        return []
    spots = shapely.get_coordinates(shapely.point_on_surface(shapely.difference(regions[out], allowed)))
    first = wires.tracks[out[0]]
    more = f", and {len(out) - 1} more do" if len(out) > 1 else ""
    text = f"A track of “{first.net}” reaches over the edge of the board, a hole or what is kept clear, or is nearer to the "
    text += f"edge than {max(0.0, outline.edge_mm):g} mm{more}. Draw it inside, or remove it."
    return [
        Finding(
            code="track-off-board", severity="stop", stage="wiring", text=text, layer=f"{first.side} copper", count=len(out),
            places=tuple((x, y) for x, y in spots.tolist()),
        )
    ]  # fmt: skip


CHECKS = (
    Pass("track check", ("wires", "parts", "flat here", "outline"), track_findings),
    Pass("copper check", ("wired layers", "parts", "nets", "rules", "stack"), copper_findings, weight=2),
    Pass("link check", ("wires", "parts"), link_findings),
)
