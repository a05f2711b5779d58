"""Colours to appearances: the nearest by CIEDE2000 under the chosen stack, overridden by hand (DOMAIN 1)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..appearances import APPEARANCES
from ..colour import Materials, ciede2000, hex_difference, hex_to_lab
from ..geometry.prepared import prepared
from ..geometry.regions import union
from .painting import Painted

#: What a proposal may choose; veiled and cut come by hand only.
PROPOSED = ("mask", "raised", "metal", "ink", "window")
#: What can be made without mask and ink.
BARE = ("metal", "window")
#: Colours nearer than this may become one; an edge that is lost weighs so much beside a wrong colour.
_APART, _WORST, _EDGE = 10.0, 40.0, 1.2
_HOLE, _NEAR = 20.0, 12.0
_TOUCH_MM = 0.02
_MOST_TOGETHER = 40
_SWEEPS = 12


@dataclass(frozen=True)
class Chosen:
    """One colour, the appearance it gets, whether by hand, and how far (CIEDE2000) that is from it.

    `word` is the appearance its layer's name, or its tone, decided.
    """

    colour: str
    appearance: str
    by_hand: bool
    difference: float
    region: BaseGeometry
    word: str = ""
    side: str = "front"


@dataclass(frozen=True)
class Art:
    """The artwork as appearances: what each colour became, and one region per appearance that is there, by side."""

    chosen: tuple[Chosen, ...]
    regions: Mapping[str, BaseGeometry]
    back: Mapping[str, BaseGeometry]


def difference(colour: str, appearance: str, materials: Materials) -> float:
    """CIEDE2000 between a picture colour and an appearance by day."""
    return hex_difference(colour, materials.colour(appearance))


def propose(colour: str, materials: Materials, printed: bool = True) -> str:
    """The nearest appearance; `printed` is false where neither mask nor ink is printed."""
    offered = PROPOSED if printed else BARE
    lab = hex_to_lab(colour)
    table = np.array([hex_to_lab(materials.colour(appearance)) for appearance in offered])
    return offered[int(np.argmin(ciede2000(lab, table)))]


@dataclass(frozen=True, eq=False)
class Beside:
    """Which swatches touch (pairs of their places), and how much each weighs: the root of its share of the area."""

    pairs: tuple[tuple[int, int], ...]
    weights: tuple[float, ...]


def touching(painted: Painted) -> Beside:
    """The swatches that touch one another on a side, the largest ones."""
    swatches = painted.swatches
    areas = np.array([swatch.region.area for swatch in swatches])
    weights = np.sqrt(areas / max(float(areas.sum()), 1e-12))
    pairs = []
    few = range(min(len(swatches), _MOST_TOGETHER))
    for one in few:
        region = prepared(swatches[one].region)
        for other in few:
            same_side = swatches[one].side == swatches[other].side
            if other > one and same_side and shapely.dwithin(region, swatches[other].region, _TOUCH_MM):
                pairs.append((one, other))
    return Beside(tuple(pairs), tuple(float(weight) for weight in weights))


def choose(
    painted: Painted, beside: Beside, by_hand: Mapping[str, str], materials: Materials, printed: bool = True
) -> tuple[Chosen, ...]:
    """An appearance for every colour: its layer's word, else by hand, else a proposal for the whole picture together.

    Each colour tends to the nearest appearance; two that touch and differ are kept apart where another one will do.
    """
    swatches = painted.swatches
    offered = PROPOSED if printed else BARE
    every = list(APPEARANCES)
    labs = np.array([hex_to_lab(swatch.colour) for swatch in swatches]).reshape(-1, 3)
    looks = np.array([hex_to_lab(materials.colour(appearance)) for appearance in every])
    far = ciede2000(labs[:, None], looks[None])
    fixed = [swatch.word or by_hand.get(swatch.colour, "") for swatch in swatches]
    columns = [every.index(appearance) for appearance in offered]
    # A window is a hole in everything but the laminate: not to be made only to keep two colours apart.
    window = np.array([appearance == "window" for appearance in offered])
    reluctance = np.where(window[None] & (far[:, columns] > _NEAR), _HOLE, 0.0)
    held = [columns.index(every.index(word)) if word in offered else -1 for word in fixed]
    picked = _together(far[:, columns], labs, reluctance, held, [bool(word) for word in fixed], beside)
    rows = []
    for place, swatch in enumerate(swatches):
        appearance = fixed[place] or offered[picked[place]]
        by = bool(swatch.word) or swatch.colour in by_hand
        rows.append(Chosen(swatch.colour, appearance, by, float(far[place, every.index(appearance)]), swatch.region,
                           swatch.word, swatch.side))  # fmt: skip
    return tuple(rows)


def _together(
    far: NDArray[np.float64],
    labs: NDArray[np.float64],
    reluctance: NDArray[np.float64],
    fixed: list[int],
    held: list[bool],
    beside: Beside,
) -> list[int]:
    """The column of each row: nearest, then moved while that makes the sum of differences and of lost edges smaller."""
    out = [fixed[place] if held[place] else int(np.argmin(row)) for place, row in enumerate(far)]
    apart: dict[int, list[tuple[int, float]]] = {}
    pairs = np.array(beside.pairs, int).reshape(-1, 2)
    gaps = ciede2000(labs[pairs[:, 0]], labs[pairs[:, 1]]).tolist()
    for (one, other), gap in zip(beside.pairs, gaps, strict=True):
        if gap >= _APART:
            loss = min(beside.weights[one], beside.weights[other]) * min(gap, _WORST) * _EDGE
            apart.setdefault(one, []).append((other, loss))
            apart.setdefault(other, []).append((one, loss))
    for _ in range(_SWEEPS):
        moved = False
        for place in range(len(out)):
            if held[place] or place not in apart:
                continue
            costs = (far[place] + reluctance[place]) * beside.weights[place]
            costs = costs + [sum(loss for other, loss in apart[place] if out[other] == column) for column in range(len(costs))]
            best = int(np.argmin(costs))
            if costs[best] < costs[out[place]] - 1e-9:
                out[place], moved = best, True
        if not moved:
            break
    return out


def group(painted: Painted, appearances: str, side: str) -> Mapping[str, BaseGeometry]:
    """One region per appearance of a side. `appearances` names that of each swatch in turn, with commas between.

    Apart from `choose`, so that another mask under which nothing changes its appearance moves no region.
    """
    parts: dict[str, list[BaseGeometry]] = {}
    for swatch, appearance in zip(painted.swatches, appearances.split(",") if appearances else (), strict=True):
        if swatch.side == side:
            parts.setdefault(appearance, []).append(swatch.region)
    return {appearance: union(parts[appearance]) for appearance in APPEARANCES if appearance in parts}
