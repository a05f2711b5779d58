"""Where a strip runs: the LEDs it plays on, and the place of each along its way."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from ..project import Strip
from .formula import hashed
from .lamps import Lamps

Numbers = NDArray[np.float64]
#: LEDs that lie nearer than this along the way are at one place of it, mm or degrees.
_TOGETHER = 0.05


@dataclass(frozen=True, eq=False)
class Way:
    """m LEDs on a way: their rows in the table, the `place` (m,) of each from 0 and how many places there are, the `share`
    (m,) of the way, 0 to 1, and a number (m,) from 0 to 1 left to chance."""

    rows: NDArray[np.intp]
    place: Numbers
    count: float
    share: Numbers
    chance: Numbers


def rows_of(strip: Strip, lamps: Lamps) -> NDArray[np.intp]:
    """The rows of the LEDs that a strip plays on."""
    kept = np.ones(lamps.count, bool)
    if strip.board and strip.board != lamps.board:
        kept[:] = False
    if strip.groups:
        kept &= [any(one in strip.groups for one in some) for some in lamps.all_groups]
    if strip.arrays:
        kept &= [one in strip.arrays for one in lamps.arrays]
    if strip.region:
        kept &= [one == strip.region for one in lamps.regions]
    if strip.leds:
        kept &= np.isin(lamps.indices, strip.leds)
    return np.flatnonzero(kept)


def way_of(strip: Strip, lamps: Lamps) -> Way:
    """The way of a strip over its LEDs."""
    rows = rows_of(strip, lamps)
    numbers = np.array(lamps.indices, np.uint64)[rows] * np.uint64(1_000_003) + np.uint64(strip.seed)
    chance = hashed(numbers) if len(rows) else np.zeros(0)
    if not len(rows):
        return Way(rows, np.zeros(0), 0.0, np.zeros(0), chance)
    places = lamps.places[rows]
    if strip.along == "edge":
        value = _edge(places, lamps)
    else:
        value = _VALUES[strip.along](places, lamps.chain[rows].astype(float), chance, strip.angle_deg)
    if strip.along in ("chain", "shuffled"):
        place = np.argsort(np.argsort(value, kind="stable"), kind="stable").astype(float)
        share = place / max(1.0, len(rows) - 1)
    else:
        steps = np.round(value / _TOGETHER)
        place = np.unique(steps, return_inverse=True)[1].astype(float)
        whole = {"angle": 360.0, "edge": lamps.edge_mm}.get(strip.along, 0.0)
        share = value / whole if whole else _even(value)
    last = float(place.max())
    if strip.backwards:
        place, share = last - place, 1.0 - share
    if strip.mirrored:
        place, share = np.minimum(place, last - place), 1.0 - np.abs(2 * share - 1)
        last = float(place.max())
    return Way(rows, place, last + 1.0, share, chance)


def _even(value: Numbers) -> Numbers:
    low, high = float(value.min()), float(value.max())
    return np.zeros(len(value)) if high - low < _TOGETHER else (value - low) / (high - low)


def _middle(places: Numbers) -> Numbers:
    """The middle of the box round some places."""
    return np.asarray((places.min(axis=0) + places.max(axis=0)) / 2, float)


def _line(places: Numbers, chain: Numbers, chance: Numbers, angle_deg: float) -> Numbers:
    a = math.radians(angle_deg)
    return np.asarray(places @ np.array([math.cos(a), math.sin(a)]), float)


def _distance(places: Numbers, chain: Numbers, chance: Numbers, angle_deg: float) -> Numbers:
    return np.asarray(np.hypot(*(places - _middle(places)).T), float)


def _angle(places: Numbers, chain: Numbers, chance: Numbers, angle_deg: float) -> Numbers:
    x, y = (places - _middle(places)).T
    turned = (np.degrees(np.arctan2(y, x)) - angle_deg) % 360.0
    # Just short of a whole turn is its beginning.
    return np.asarray(np.where(turned > 360.0 - _TOGETHER, 0.0, turned), float)


def _edge(places: Numbers, lamps: Lamps) -> Numbers:
    """How far round the edge of the board each place is, mm anticlockwise from its highest point."""
    if lamps.edge is None:
        return np.zeros(len(places))
    return np.asarray(shapely.line_locate_point(lamps.edge, shapely.points(places)), float)


_VALUES: dict[str, Callable[[Numbers, Numbers, Numbers, float], Numbers]] = {
    "chain": lambda places, chain, chance, angle_deg: chain,
    "shuffled": lambda places, chain, chance, angle_deg: chance,
    "line": _line,
    "distance": _distance,
    "angle": _angle,
}
