"""Colours to appearances: the nearest by CIEDE2000 under the chosen stack, overridden by hand (DOMAIN 1)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from shapely.geometry.base import BaseGeometry

from ..colour import APPEARANCES, Materials, ciede2000, hex_to_rgb, rgb_to_lab
from ..geometry.regions import union
from .painting import Painted

#: What a proposal may choose; veiled and cut come by hand only.
PROPOSED = ("mask", "raised", "metal", "ink", "window")
#: What a desk without mask and ink can make.
BARE = ("metal", "window")


@dataclass(frozen=True)
class Chosen:
    """One colour, the appearance it gets, whether by hand, and how far (CIEDE2000) that is from it."""

    colour: str
    appearance: str
    by_hand: bool
    difference: float
    region: BaseGeometry


@dataclass(frozen=True)
class Art:
    """The picture as appearances: what each colour became, and one region per appearance that is there."""

    chosen: tuple[Chosen, ...]
    regions: Mapping[str, BaseGeometry]


def difference(colour: str, appearance: str, materials: Materials) -> float:
    """CIEDE2000 between a picture colour and an appearance by day."""
    one, two = rgb_to_lab(hex_to_rgb(colour)), rgb_to_lab(hex_to_rgb(materials.colour(appearance)))
    return float(ciede2000(one, two))


def propose(colour: str, materials: Materials, printed: bool = True) -> str:
    """The nearest appearance; `printed` is false at a desk without mask and ink."""
    offered = PROPOSED if printed else BARE
    lab = rgb_to_lab(hex_to_rgb(colour))
    table = np.array([rgb_to_lab(hex_to_rgb(materials.colour(appearance))) for appearance in offered])
    return offered[int(np.argmin(ciede2000(lab, table)))]


def choose(painted: Painted, by_hand: Mapping[str, str], materials: Materials, printed: bool = True) -> tuple[Chosen, ...]:
    """An appearance for every colour: by hand, else by proposal."""
    rows = []
    for swatch in painted.swatches:
        appearance = by_hand.get(swatch.colour) or propose(swatch.colour, materials, printed)
        far = difference(swatch.colour, appearance, materials)
        rows.append(Chosen(swatch.colour, appearance, swatch.colour in by_hand, far, swatch.region))
    return tuple(rows)


def group(painted: Painted, appearances: str) -> Mapping[str, BaseGeometry]:
    """One region per appearance. `appearances` names that of each swatch in turn, with commas between.

    Apart from `choose`, so that another mask under which nothing changes its appearance moves no region.
    """
    parts: dict[str, list[BaseGeometry]] = {}
    for swatch, appearance in zip(painted.swatches, appearances.split(","), strict=True):
        parts.setdefault(appearance, []).append(swatch.region)
    return {appearance: union(parts[appearance]) for appearance in APPEARANCES if appearance in parts}
