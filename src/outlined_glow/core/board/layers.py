"""Art, outline, lights and parts to the physical layers (DOMAIN 1), and so to the Board."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, fields, replace

import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..colour import Materials
from ..drive.placement import led_parts
from ..drive.plan import DrivePlan
from ..geometry.flatten import clear_offset
from ..geometry.near import added_near, cut_near
from ..geometry.offset import grow
from ..geometry.overlay import overlay
from ..geometry.regions import EMPTY, added, clean, common, disc, minus, union, union_of_many
from ..geometry.valid import shifted
from ..lights import Led, data_ends
from ..parts import PlacedPad, PlacedPart, Profile
from ..project import LabelPlace, Stack
from ..shape import HOLE_CLEARANCE_MM, Outline, RoundHole
from ..wiring.copper import Wires
from .labels import LabelSpot
from .legend import Mark, back_legend, front_legend
from .model import LAYERS, Board, Copper, LightSpot, copper_of
from .polarity_marks import off_openings
from .printable_area import PrintableArea

Regions = Mapping[str, BaseGeometry]
#: A tone that is drawn up to the copper under metal ends beside it within the rounding of places: with so much more of that
#: copper no cracks are left between the two, mm.
_JOIN_MM = 5e-5


@dataclass(frozen=True)
class SideArt:
    """One side's art clipped to the board: bare metal, its mask openings, the copper under metal and all of it, ink, veils."""

    metal: BaseGeometry
    openings: BaseGeometry
    metal_copper: BaseGeometry
    copper: BaseGeometry
    ink: BaseGeometry
    veiled: BaseGeometry

    def moved(self, dx: float, dy: float) -> SideArt:
        """The same elsewhere."""
        return SideArt(**{one.name: shifted(getattr(self, one.name), dx, dy) for one in fields(self)})


@dataclass(frozen=True)
class ArtLayers:
    """What art and outline alone decide, in the picture frame: made once, kept while lights move.

    Art metal is edged by the mask (its opening is the drawing, its copper reaches under the mask by mask expansion
    plus registration) or by the copper (the opening is grown by the mask expansion instead). Copper stops at
    windows, cuts and the edge distance.
    """

    sides: Mapping[str, SideArt]
    printable: PrintableArea
    windows: BaseGeometry
    veiled: BaseGeometry
    core: BaseGeometry
    holes: BaseGeometry

    @property
    def front(self) -> SideArt:
        """The art in front."""
        return self.sides["front"]

    def in_board_frame(self, outline: Outline) -> ArtLayers:
        """The same in the board frame, where the parts lie."""
        dx, dy = -outline.origin[0], -outline.origin[1]
        return ArtLayers(
            {side: art.moved(dx, dy) for side, art in self.sides.items()},
            self.printable.moved(dx, dy),
            shifted(self.windows, dx, dy),
            shifted(self.veiled, dx, dy),
            shifted(self.core, dx, dy),
            shifted(self.holes, dx, dy),
        )


def art_layers(
    front: Regions,
    back: Regions,
    raised: tuple[BaseGeometry, BaseGeometry],
    outline: Outline,
    printable: PrintableArea,
    edged_by: str,
    profile: Profile,
) -> ArtLayers:
    """The art of both sides clipped to the board and its holes, and the copper under its metal.

    `raised` is each side's raised tone with what goes on under ink (`raised_under_ink`).
    """
    body: BaseGeometry = outline.region
    # Pads that are fixed to the board keep their ground from every light that would shine there.
    seen = minus(body, outline.cleared, *outline.fixed.lands.values())
    holes = union([disc(hole.x, hole.y, hole.diameter / 2) for hole in outline.holes])
    open_ = [art.get("window", EMPTY) for art in (front, back)]
    if not profile.has_mask:
        # There every tone but metal is bare laminate, which on one side says nothing about metal drawn on the other.
        open_ = [minus(open_[0], back.get("metal", EMPTY)), minus(open_[1], front.get("metal", EMPTY))]
    windows = common(union(open_), seen)
    veils = [common(art.get("veiled", EMPTY), seen) for art in (front, back)]
    veiled = union(veils)
    sides = {}
    for side, art, tone, own, others in (
        ("front", front, raised[0], veils[0], veils[1]),
        ("back", back, raised[1], veils[1], veils[0]),
    ):
        clear = union([windows, others])
        drawn = art or not outline.fixed.lands[side].is_empty
        light = (clear, veiled, own)
        sides[side] = (
            _side_art(art, tone, light, outline.fixed.lands[side], printable, edged_by, profile) if drawn else _bare_side(clear)
        )
    return ArtLayers(
        sides,
        printable,
        windows,
        veiled,
        clean(overlay(shapely.difference, body, holes)) if not holes.is_empty else body,
        holes,
    )


def _bare_side(clear: BaseGeometry) -> SideArt:
    return SideArt(EMPTY, clear, EMPTY, EMPTY, EMPTY, EMPTY)


def _side_art(
    art: Regions,
    raised: BaseGeometry,
    light: tuple[BaseGeometry, BaseGeometry, BaseGeometry],
    fixed: BaseGeometry,
    printable: PrintableArea,
    edged_by: str,
    profile: Profile,
) -> SideArt:
    clear, veiled, own = light
    inside = printable.copper
    metal = common(art.get("metal", EMPTY), inside)
    lands = common(fixed, printable.body)
    if not lands.is_empty:
        # The metal of pads goes to the holes they stand round, and to the edge where they reach it.
        metal, inside = union([metal, lands]), union([inside, lands])
    join = 0.0 if raised.is_empty else _JOIN_MM
    if edged_by == "mask":
        reach, bared = profile.mask_expansion_mm + profile.registration.mask_mm + join, metal
    else:
        reach, bared = join, common(grow(metal, profile.mask_expansion_mm), inside)
    metal_copper = minus(common(grow(metal, reach), inside) if reach else metal, clear, veiled)
    return SideArt(
        metal=metal,
        openings=union([bared, clear]),
        metal_copper=metal_copper,
        copper=union([minus(common(raised, inside), clear, veiled), metal_copper]),
        ink=common(art.get("ink", EMPTY), printable.ink),
        veiled=own,
    )


@dataclass(frozen=True, eq=False)
class PartLayers:
    """What art, outline and the places of the parts decide, in the board frame: everything but legends and values; the copper
    once tracks have been laid."""

    layers: Mapping[str, BaseGeometry]
    copper: tuple[Copper, ...]
    openings_without_pads: Mapping[str, BaseGeometry]
    #: The mask openings of the pads alone, by side.
    opened: Mapping[str, BaseGeometry]
    outline: Polygon
    pads: tuple[PlacedPad, ...]
    windows: BaseGeometry
    veiled: BaseGeometry
    #: The holes that the parts need.
    holes: tuple[RoundHole, ...] = ()

    def art_copper(self, side: str) -> BaseGeometry:
        """The copper of a side's art, without the lands of parts."""
        return copper_of(self.copper, side)


def placements_of(leds: tuple[Led, ...], placed: tuple[PlacedPart, ...], outline: Outline) -> tuple[PlacedPart, ...]:
    """Every part where it lies in the board frame, the LEDs first; the others carry no values yet."""
    dx, dy = -outline.origin[0], -outline.origin[1]
    return tuple(part.moved(dx, dy) for part in (*led_parts(leds), *placed))


def part_layers(art: ArtLayers, parts: tuple[PlacedPart, ...], profile: Profile) -> PartLayers:
    """Lands and openings of the parts, without copper. Everything in the board frame."""
    lands = [pad for part in parts for pad in part.pads()]
    pads = {side: [pad for pad in lands if pad.side == side] for side in ("front", "back")}
    body = art.printable.body
    assert isinstance(body, Polygon)
    holes = _part_holes(parts)
    drilled = union_of_many([disc(hole.x, hole.y, hole.diameter / 2) for hole in holes])
    openings = _openings(art, parts, profile)
    opened = {side: _opened_pads(pads[side], profile.mask_expansion_mm) for side in pads}
    layers: dict[str, BaseGeometry] = {
        "core": art.core if drilled.is_empty else clean(overlay(shapely.difference, art.core, drilled)),
        "drills": added(art.holes, drilled),
    }
    for side in pads:
        layers[f"{side} paste"] = union_of_many([pad.polygon for pad in pads[side] if pad.paste])
        layers[f"{side} mask"] = added_near(openings[side], opened[side]) if profile.has_mask else body
    every = tuple(pad for side in pads for pad in pads[side])
    return PartLayers(layers, (), openings, opened, body, every, art.windows, art.veiled, tuple(holes))


def art_round_pads(art: ArtLayers, laid: PartLayers, profile: Profile) -> dict[str, BaseGeometry]:
    """The copper of the art of each side. Raised copper gives way to pads by the larger of copper gap and mask expansion plus
    registration; the copper of art metal does not: a part on it is a stop, never a silent cut. All of it gives way to the bare
    holes of parts, as to any other hole."""
    under = profile.mask_expansion_mm + profile.registration.mask_mm
    bare = bare_holes(laid.holes, max(HOLE_CLEARANCE_MM, profile.edge_routed_mm))
    out = {}
    for side in ("front", "back"):
        land = union_of_many([pad.polygon for pad in laid.pads if pad.side == side])
        one = art.sides[side]
        out[side] = cut_near(one.copper, union([minus(grow(land, max(profile.gap_mm, under)), one.metal_copper), bare]))
    return out


def bare_holes(holes: Iterable[RoundHole], round_mm: float) -> BaseGeometry:
    """The holes of parts that have no copper, and so much round them."""
    return union_of_many([disc(hole.x, hole.y, hole.diameter / 2 + round_mm) for hole in holes if not hole.plated])


def _part_holes(parts: tuple[PlacedPart, ...]) -> list[RoundHole]:
    """The holes of drilled pads, which are plated, and the bare ones that a part needs."""
    out = []
    for one in parts:
        for pad in one.part.pads:
            if pad.drill_mm:
                out.append(RoundHole(*one.at(pad.x_mm, pad.y_mm), pad.drill_mm, True, one.ref))
        for hole in one.part.holes:
            out.append(RoundHole(*one.at(hole.x_mm, hole.y_mm), hole.diameter_mm, False, one.ref))
    return out


def pulled_ink(side: str, art: ArtLayers, profile: Profile) -> BaseGeometry:
    """The ink of a side's art, clear of the art's own openings. It stays so while parts move."""
    ink = art.sides[side].ink
    if ink.is_empty or not profile.has_legend:
        return EMPTY
    return minus(ink, off_openings(art.sides[side].openings, profile))


def printed_ink(side: str, pulled: BaseGeometry, laid: PartLayers, profile: Profile) -> BaseGeometry:
    """The ink of a side's art as it is printed, clear of the openings of pads and of bare holes too; labels are no art."""
    if pulled.is_empty:
        return pulled
    return minus(pulled, off_openings(laid.opened[side], profile), bare_holes(laid.holes, HOLE_CLEARANCE_MM))


def front_ink(
    printed: BaseGeometry, art: ArtLayers, laid: PartLayers, parts: tuple[PlacedPart, ...], profile: Profile
) -> BaseGeometry:
    """The front legend."""
    if not profile.has_legend:
        return EMPTY
    off = (art.front.openings, laid.opened["front"], laid.layers["drills"])
    return front_legend(printed, art.printable.ink, off, parts, profile)


def back_ink(legend: tuple[BaseGeometry, Mapping[str, LabelSpot]], outline: Outline) -> BaseGeometry:
    """The back legend in the board frame."""
    return shifted(legend[0], -outline.origin[0], -outline.origin[1])


def back_words(
    name: str,
    art: ArtLayers,
    leds: tuple[Led, ...],
    chain: tuple[int, ...],
    placed: tuple[PlacedPart, ...],
    values: Mapping[str, str],
    outline: Outline,
    profile: Profile,
    labels: tuple[LabelPlace, ...],
) -> tuple[BaseGeometry, Mapping[str, LabelSpot]]:
    """The back legend, and where its labels are. They find their places in the picture frame, so that a wider border moves none
    of them."""
    if not profile.has_legend:
        return EMPTY, {}
    parts = (*led_parts(leds), *(part.valued(values[part.ref]) for part in placed))
    pads = [pad for part in parts for pad in part.pads() if pad.side == "back"]
    openings = added(_openings(art, parts, profile)["back"], _opened_pads(pads, profile.mask_expansion_mm))
    marks = [Mark(word, led.x, led.y) for word, led in zip(("start", "end"), data_ends(leds, chain) or (), strict=False)]
    drawn = art.sides["back"].ink
    area = art.printable.ink
    return back_legend(outline.region, area, openings, outline.cleared, parts, (*marks,), name, drawn, profile, labels)


def lights_of(leds: tuple[Led, ...], plan: DrivePlan, outline: Outline) -> tuple[LightSpot, ...]:
    """Where the LEDs send out light, in the board frame."""
    dx, dy = -outline.origin[0], -outline.origin[1]
    return tuple(spot for led in leds for spot in _spots(led, plan, dx, dy))


def make_board(
    name: str,
    laid: PartLayers,
    inks: tuple[BaseGeometry, BaseGeometry],
    outline: Outline,
    lights: tuple[LightSpot, ...],
    plan: DrivePlan,
    parts: tuple[PlacedPart, ...],
    stack: Stack,
    profile: Profile,
    materials: Materials,
    wires: Wires,
) -> Board:
    """The board in the board frame, its layers in the order of the stack."""
    dx, dy = -outline.origin[0], -outline.origin[1]
    found = {**laid.layers, "front legend": inks[0], "back legend": inks[1]}
    return Board(
        name=name,
        size=outline.size,
        origin=outline.origin,
        outline=laid.outline,
        holes=(*(replace(hole, x=hole.x + dx, y=hole.y + dy) for hole in outline.holes), *laid.holes),
        layers={layer: found[layer] for layer in LAYERS},
        copper=laid.copper,
        openings_without_pads=laid.openings_without_pads,
        pads=laid.pads,
        parts=parts,
        lights=lights,
        windows=laid.windows,
        veiled=laid.veiled,
        stack=stack,
        profile=profile,
        materials=materials,
        drive=plan,
        edge_copper=outline.edge_mm == 0.0,
        nets=plan.nets,
        wires=wires,
    )


def _openings(art: ArtLayers, parts: tuple[PlacedPart, ...], profile: Profile) -> dict[str, BaseGeometry]:
    """Mask openings without pads: metal and windows in front; windows and veils behind, a web left round emitters."""
    behind = [part.court() for part in parts if part.part.shines and part.side == "back"]
    # The corners of a pad's opening are square: they are farther from the pad than its sides.
    wide = clear_offset(math.sqrt(2) * profile.mask_expansion_mm + profile.mask_web_other_mm)
    webs = grow(union(behind), wide) if behind else EMPTY
    return {
        "front": art.front.openings,
        "back": minus(art.sides["back"].openings, webs),
    }


def _opened_pads(pads: list[PlacedPad], by: float) -> BaseGeometry:
    """The mask openings of pads: each land with `by` added on every side, corners square."""
    return union_of_many([pad.opened(by) for pad in pads])


_OTHER = {"front": "back", "back": "front"}


def _spots(led: Led, plan: DrivePlan, dx: float, dy: float) -> list[LightSpot]:
    """The points an LED shines from. What nothing drives yet is shown at its own current: a preview.

    One that shines through a hole of its own is a light on the other side; without one it is behind a window.
    """
    one = led.kind
    side = _OTHER[led.side] if one.reverse and one.part.holes else led.side
    placed = PlacedPart("", one.part, "", led.x + dx, led.y + dy, led.angle_deg, led.side)
    out = []
    for light in one.lights:
        branch = plan.branch_of(led.index, light.name)
        current = 0.0 if branch is None else branch.current_a
        mcd = light.mcd if branch is None else light.mcd * current / light.forward_a
        share = 1 / len(light.points)
        for x_mm, y_mm in light.points:
            x, y = placed.at(x_mm, y_mm)
            out.append(
                LightSpot(
                    led.index, light.name, x, y, side, led.group, one, led.angle_deg, light.light, mcd * share,
                    current * share, one.reverse and side == led.side,
                )
            )  # fmt: skip
    return out
