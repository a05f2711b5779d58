"""Art, outline, lights and parts to the physical layers (DOMAIN 1), and so to the Board."""

from __future__ import annotations

from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..artwork import Art
from ..colour import Materials
from ..drive.plan import DrivePlan
from ..drive.seats import Part, led_parts, pad_polygons
from ..geometry.regions import EMPTY, clean, common, disc, grow, minus, shifted, union
from ..lights import Led
from ..parts import Profile, emitter
from ..project import Stack
from ..shape import Outline, RoundHole
from .legend import back_legend, front_legend
from .model import Board, LightSpot, Pad


def make_board(
    name: str,
    edited: str,
    art: Art,
    outline: Outline,
    leds: tuple[Led, ...],
    plan: DrivePlan,
    seated: tuple[Part, ...],
    stack: Stack,
    profile: Profile,
    materials: Materials,
) -> Board:
    """The board in the board frame."""
    parts = (*led_parts(leds), *seated)
    pads = {side: [row for part in parts if part.side == side for row in _pads(part)] for side in ("front", "back")}
    land = {side: union([pad.polygon for pad in pads[side]]) for side in pads}
    body: BaseGeometry = outline.region
    inside = minus(grow(body, -profile.edge_routed_mm), outline.cleared)
    seen = minus(body, outline.cleared)
    windows, veiled = common(art.region("window"), seen), common(art.region("veiled"), seen)
    metal = common(art.region("metal"), inside)
    openings, copper = _copper_and_openings(art, metal, inside, windows, veiled, land, parts, profile)
    whole_openings = {
        side: union([openings[side], grow(land[side], profile.mask_expansion_mm)]) for side in ("front", "back")
    }
    ink = common(art.region("ink"), minus(grow(body, -profile.registration.outline_mm), outline.cleared))
    holes = union([disc(hole.x, hole.y, hole.diameter / 2) for hole in outline.holes])
    legend_front = front_legend(ink, whole_openings["front"], parts, profile) if profile.has_legend else EMPTY
    legend_back = back_legend(body, whole_openings["back"], outline.cleared, parts, name, profile)
    layers = {
        "front paste": land["front"],
        "front legend": legend_front,
        "front mask": whole_openings["front"],
        "front copper": union([copper["front"], land["front"]]),
        "core": clean(body.difference(holes)) if not holes.is_empty else body,
        "back copper": union([copper["back"], land["back"]]),
        "back mask": whole_openings["back"],
        "back legend": legend_back,
        "back paste": land["back"],
        "drills": holes,
    }
    if not profile.has_mask:
        for side in ("front", "back"):
            layers[f"{side} mask"] = body
    dx, dy = -outline.origin[0], -outline.origin[1]

    def moved(region: BaseGeometry) -> BaseGeometry:
        return shifted(region, dx, dy)

    outline_there = moved(body)
    assert isinstance(outline_there, Polygon)
    return Board(
        name=name,
        edited=edited,
        size=outline.size,
        origin=outline.origin,
        outline=outline_there,
        holes=tuple(RoundHole(hole.x + dx, hole.y + dy, hole.diameter, hole.plated) for hole in outline.holes),
        layers={key: moved(region) for key, region in layers.items()},
        art_copper={side: moved(copper[side]) for side in copper},
        openings_without_pads={side: moved(openings[side]) for side in openings},
        pads=tuple(_moved_pad(pad, dx, dy) for side in ("front", "back") for pad in pads[side]),
        parts=tuple(_moved_part(part, dx, dy) for part in parts),
        lights=tuple(_spot(led, plan, dx, dy) for led in leds),
        windows=moved(windows),
        veiled=moved(veiled),
        stack=stack,
        profile=profile,
        materials=materials,
        drive=plan,
    )


def _copper_and_openings(
    art: Art,
    metal: BaseGeometry,
    inside: BaseGeometry,
    windows: BaseGeometry,
    veiled: BaseGeometry,
    land: dict[str, BaseGeometry],
    parts: tuple[Part, ...],
    profile: Profile,
) -> tuple[dict[str, BaseGeometry], dict[str, BaseGeometry]]:
    """Mask openings without pads, and art copper without pads, per side.

    Art metal is edged by the mask: its opening is the drawing, its copper reaches under the mask by mask
    expansion plus registration, and stops at windows, cuts and the edge distance. Raised copper gives way
    to pads by the larger of copper gap and mask expansion plus registration.
    """
    under = profile.mask_expansion_mm + profile.registration.mask_mm
    free = max(profile.gap_mm, under)
    raised = minus(common(art.region("raised"), inside), grow(land["front"], free))
    reach = common(grow(metal, under), inside) if under else metal
    copper_front = minus(union([raised, reach]), windows, veiled)
    reverse = [part.court() for part in parts if part.led is not None and part.kind == "led" and part.side == "back"]
    webs = grow(union(reverse), profile.mask_expansion_mm + profile.mask_web_other_mm) if reverse else EMPTY
    openings = {
        "front": union([metal, windows]),
        "back": minus(union([windows, veiled]), webs),
    }
    return openings, {"front": copper_front, "back": EMPTY}


def _pads(part: Part) -> list[Pad]:
    return [
        Pad(part.ref, number, x, y, width, height, angle, part.side, polygon)
        for number, (polygon, (x, y, width, height, angle)) in enumerate(pad_polygons(part), 1)
    ]


def _moved_pad(pad: Pad, dx: float, dy: float) -> Pad:
    there = shifted(pad.polygon, dx, dy)
    assert isinstance(there, Polygon)
    return Pad(pad.ref, pad.number, pad.x + dx, pad.y + dy, pad.width, pad.height, pad.angle_deg, pad.side, there)


def _moved_part(part: Part, dx: float, dy: float) -> Part:
    return Part(part.ref, part.kind, part.value, part.body, part.x + dx, part.y + dy, part.angle_deg, part.side, part.led)


def _spot(led: Led, plan: DrivePlan, dx: float, dy: float) -> LightSpot:
    one = emitter(led.emitter)
    current = plan.branch_of(led.index).current_a
    return LightSpot(
        index=led.index,
        x=led.x + dx,
        y=led.y + dy,
        side=led.side,
        group=led.group,
        emitter=led.emitter,
        angle_deg=led.angle_deg,
        colour=one.light,
        mcd=one.mcd * current / one.forward_a,
        current_a=current,
        behind=one.reverse,
    )
