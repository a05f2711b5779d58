"""The passes that drive the LEDs of a board, and find places for the parts which that takes."""

from __future__ import annotations

from dataclasses import replace
from operator import attrgetter

from shapely.geometry.base import BaseGeometry

from ..board.layers import Regions, placements_of
from ..drive import DrivePlan, plan_drive
from ..drive.current_ways import current_ways
from ..drive.placement import Placing, place_parts
from ..drive.standing import Standing, standing_of, still_standing
from ..drive.wanted import Wanted
from ..geometry.regions import EMPTY, union
from ..lights import Led
from ..parts import Library, Part, PlacedPart, Profile
from ..parts.nets import Net
from ..passes import Pass
from ..project import Array, Grid, PartPlace, Wiring
from ..shape import Outline
from .wiring_passes import wish_of


def _driven(leds: tuple[Led, ...]) -> tuple[Led, ...]:
    """The LEDs as the drive sees them, for which it does not matter where they are."""
    return tuple(replace(led, x=0.0, y=0.0, angle_deg=0.0) for led in leds)


def grids_of(arrays: tuple[Array, ...]) -> dict[str, tuple[int, int]]:
    """The rows and columns of the arrays that have them."""
    return {one.name: (one.rows, one.columns) for one in arrays if isinstance(one, Grid)}


def _kept_clear(front: Regions, back: Regions, outline: Outline, rules: Profile) -> dict[str, BaseGeometry]:
    """Where no part may lie, by side: on what lets light through, on the metal there, under screw heads. Without a mask all
    that is no metal lets light through, and parts lie there."""
    kinds = ("window", "veiled") if rules.has_mask else ()
    light = [art[kind] for art in (front, back) for kind in kinds if kind in art]
    return {
        side: union([*light, art.get("metal", EMPTY), outline.fixed.reserved])
        for side, art in (("front", front), ("back", back))
    }


def _not_pierced(front: Regions, back: Regions, wanted: tuple[Wanted, ...], rules: Profile) -> BaseGeometry:
    """What no hole of a part may go through: ink, metal and windows of either side; nothing where no part has holes."""
    if not any(one.part.holes or any(pad.drill_mm for pad in one.part.pads) for one in wanted):
        return EMPTY
    kinds = ("ink", "metal", "window", "veiled") if rules.has_mask else ("metal",)
    return union([art[kind] for art in (front, back) for kind in kinds if kind in art])


def _with_own(plan: DrivePlan, library: Library) -> DrivePlan:
    """The plan with the project's own parts in the place of the library's."""
    if not library.own:
        return plan
    return replace(plan, wanted=tuple(replace(one, part=library.own_of(one.part)) for one in plan.wanted))


def _part_kinds(wanted: tuple[Wanted, ...]) -> tuple[Part, ...]:
    return tuple({one.part.name: one.part for one in wanted}.values())


def places_kept(wiring: Wiring) -> str:
    """What tells apart the ways to wire a board: in the same one its parts stay where they stood. "" where it is not wired."""
    wish = wish_of(wiring)
    return wish.mark if wish is not None and wish.made else ""


def _placing(
    wanted: tuple[Wanted, ...], leds: tuple[Led, ...], outline: Outline, clear: dict[str, BaseGeometry], rules: Profile,
    through: BaseGeometry, nets: tuple[Net, ...], by_hand: tuple[PartPlace, ...], kept: str, stood: tuple[Standing, ...],
) -> Placing:  # fmt: skip
    standing = still_standing(stood, wanted, nets) if kept else ()
    return place_parts(wanted, leds, outline, clear, rules, through, nets, by_hand, standing)


def _with_values(placements: tuple[PlacedPart, ...], plan: DrivePlan) -> tuple[PlacedPart, ...]:
    """The parts with what the plan gives them."""
    return tuple(part.valued(plan.values.get(part.ref, part.value)) for part in placements)


DRIVEN = (
    Pass("driven", ("leds",), _driven),
    Pass("grids", ("arrays",), grids_of),
    Pass("planned", ("drive", "driven", "grids"), plan_drive),
    Pass("plan", ("planned", "library"), _with_own),
    Pass("current ways", ("plan", "drive", "driven"), current_ways),
    Pass("kept clear", ("front art", "back art", "outline", "rules"), _kept_clear),
    Pass("wanted", ("plan",), attrgetter("wanted")),
    Pass("part kinds", ("wanted",), _part_kinds),
    Pass("not pierced", ("front art", "back art", "wanted", "rules"), _not_pierced),
    Pass("nets", ("plan",), attrgetter("nets")),
    Pass("by hand", ("wiring",), attrgetter("places")),
    Pass("places kept", ("wiring",), places_kept),
    Pass(
        "placing",
        ("wanted", "leds", "outline", "kept clear", "rules", "not pierced", "nets", "by hand", "places kept"),
        _placing,
        aside=("stood before",),
        weight=12,
    ),
    Pass("placed parts", ("placing",), attrgetter("parts")),
    Pass("standing", ("placed parts", "wanted", "nets", "by hand"), standing_of),
    Pass("placing findings", ("placing",), attrgetter("findings")),
    Pass("placements", ("leds", "placed parts", "outline"), placements_of),
    Pass("parts", ("placements", "plan"), _with_values),
)
