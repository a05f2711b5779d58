"""The passes that wire a board: its net classes, tracks and vias, pours; and their layers."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from operator import attrgetter
from typing import Any

from shapely.geometry.base import BaseGeometry

from ..board.layers import ArtLayers
from ..board.wired import wired_layers
from ..drive.placement import led_parts
from ..geometry.regions import EMPTY, minus, union
from ..geometry.valid import shifted
from ..lights import Led
from ..parts import PlacedPart, Profile
from ..parts.nets import Net
from ..passes import Pass
from ..project import Pour, Wiring
from ..shape import Outline
from ..watch import Watch
from ..wiring.classes import NetClass, net_classes
from ..wiring.copper import Track, Via, Wires
from ..wiring.leads import leads_of
from ..wiring.made import Routed
from ..wiring.places import ArtPlaces, Places
from ..wiring.pour import pours
from ..wiring.route import Wish, route

SIDES = ("front", "back")


def wish_of(wiring: Wiring) -> Wish | None:
    """How a board is to be wired; None where it is not."""
    if not wiring.made and not wiring.tracks:
        return None
    drawn = tuple(Track(one.net, one.side, one.width_mm, one.points, by_hand=True) for one in wiring.tracks)
    return Wish(
        wiring.made,
        wiring.nets,
        wiring.front,
        wiring.style,
        wiring.seed,
        drawn,
        tuple((one.net, one.times) for one in wiring.anew),
        tuple(one.points for one in wiring.areas),
        wiring.locked,
        wiring.teardrops,
    )


def _is_wired(wish: Wish | None) -> bool:
    return wish is not None


def art_places_of(flat: ArtLayers, outline: Outline, wired: bool, rules: Profile) -> ArtPlaces | None:
    """What art and outline leave to copper, in the picture frame; None where none is made."""
    if not wired:
        return None
    metal = {side: union([flat.sides[side].metal, outline.fixed.lands[side]]) for side in SIDES}
    rest = {side: minus(flat.sides[side].copper, metal[side]) for side in SIDES}
    windows = union([flat.windows, flat.veiled]) if rules.has_mask else EMPTY
    return ArtPlaces(flat.printable.copper, metal, rest, windows)


def places_of(art: ArtPlaces | None, outline: Outline, leds: tuple[Led, ...], placed: tuple[PlacedPart, ...]) -> Places | None:
    """What stands in the way of copper, in the picture frame; None where none is made."""
    if art is None:
        return None
    parts = (*led_parts(leds), *placed)
    bare = [(*part.at(hole.x_mm, hole.y_mm), hole.diameter_mm) for part in parts for hole in part.part.holes]
    bare += [(hole.x, hole.y, hole.diameter) for hole in outline.holes]
    return Places(art, tuple(bare), parts)


def _routed(
    wish: Wish | None, places: Places | None, nets: tuple[Net, ...], classes: Mapping[str, NetClass], rules: Profile,
    before: Routed | None, watch: Watch,
) -> Routed:  # fmt: skip
    if wish is None or places is None:
        return Routed()
    return route(places, nets, classes, rules, wish, before, watch)


def _pour_wishes(wiring: Wiring) -> tuple[Pour, ...]:
    return wiring.pours


def _pours(
    wished: tuple[Pour, ...], places: Places | None, routed: Routed, nets: tuple[Net, ...], classes: Mapping[str, NetClass],
    rules: Profile,
) -> tuple[dict[tuple[str, str], BaseGeometry], tuple[Via, ...]]:  # fmt: skip
    if places is None or not wished:
        return {}, ()
    return pours(wished, places, routed.wires, nets, classes, rules)


def _wires(routed: Routed, poured: tuple[Any, tuple[Via, ...]], outline: Outline) -> Wires:
    stitched = poured[1]
    whole = replace(routed.wires, vias=(*routed.wires.vias, *stitched)) if stitched else routed.wires
    return whole.moved(-outline.origin[0], -outline.origin[1]) if whole else whole


def _poured(found: tuple[dict[tuple[str, str], BaseGeometry], Any], outline: Outline) -> dict[tuple[str, str], BaseGeometry]:
    dx, dy = outline.origin
    return {key: shifted(region, -dx, -dy) for key, region in found[0].items()}


WIRING = (
    Pass("net classes", ("plan", "rules", "current ways"), net_classes),
    Pass("wish", ("wiring",), wish_of),
    Pass("is wired", ("wish",), _is_wired),
    Pass("art in the way", ("flat", "outline", "is wired", "rules"), art_places_of),
    Pass("in the way", ("art in the way", "outline", "leds", "placed parts"), places_of),
    Pass(
        "routed", ("wish", "in the way", "nets", "net classes", "rules"), _routed, aside=("copper before",), watched=True,
        weight=40, words="drawing the tracks",
    ),
    Pass("pour wishes", ("wiring",), _pour_wishes),
    Pass("pours", ("pour wishes", "in the way", "routed", "nets", "net classes", "rules"), _pours, weight=3),
    Pass("wires", ("routed", "pours", "outline"), _wires),
    Pass("poured", ("pours", "outline"), _poured),
    Pass(
        "wired layers", ("part layers", "art round pads", "wires", "poured", "pour wishes", "flat here", "nets", "rules"),
        wired_layers, weight=3,
    ),
    Pass("unjoined", ("wires",), attrgetter("unjoined")),
    Pass("lead wishes", ("wiring",), attrgetter("leads")),
    Pass("leads off the board", ("lead wishes", "parts", "nets", "net classes"), leads_of),
)  # fmt: skip
