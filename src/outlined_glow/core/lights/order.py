"""The order in which LEDs are chained: a row of their places, whatever their numbers are (DESIGN 4.4)."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, MultiPoint, Polygon

from ..project import Chain
from .place import Led
from .shortest import shortest_path

Places = NDArray[np.float64]
Order = NDArray[np.intp]

#: Of the usual distance between neighbours, how far apart two LEDs of one row may be across it.
_TOGETHER = 0.25


def chain_of(leds: tuple[Led, ...], chain: Chain) -> tuple[int, ...]:
    """The indices of the LEDs in the order in which they are chained."""
    if not leds:
        return ()
    if chain.how == "hand":
        return _by_hand(leds, chain.leds)
    places = np.array([(led.x, led.y) for led in leds])
    row = HOW[chain.how](places)
    order = row[::-1] if chain.turned else row
    return tuple(leds[at].index for at in order)


def data_ends(leds: tuple[Led, ...], chain: tuple[int, ...]) -> tuple[Led, Led] | None:
    """The LEDs where data comes into the chain and where it ends; None unless several are driven by data."""
    there = {led.index: led for led in leds if led.kind.part.fed_by == "data"}
    row = [there[index] for index in chain if index in there]
    return (row[0], row[-1]) if len(row) > 1 else None


def chain_length_mm(leds: tuple[Led, ...], chain: tuple[int, ...]) -> float:
    """How long the straight lines from each LED to the next are together."""
    there = {led.index: (led.x, led.y) for led in leds}
    places = np.array([there[index] for index in chain]).reshape(-1, 2)
    return float(np.hypot(*np.diff(places, axis=0).T).sum())


def painted(leds: tuple[Led, ...], line: Sequence[tuple[float, float]], reach_mm: float) -> tuple[int, ...]:
    """The numbers of the LEDs that a line (picture frame) comes by, in the order in which it does."""
    if len(line) < 2 or not leds:
        return ()
    way, spots = LineString(line), shapely.points([(led.x, led.y) for led in leds])
    near = np.flatnonzero(shapely.distance(way, spots) < reach_mm)
    along = [way.project(spots[at]) for at in near]
    return tuple(leds[near[at]].index for at in np.argsort(along, kind="stable"))


def _by_hand(leds: tuple[Led, ...], wanted: tuple[int, ...]) -> tuple[int, ...]:
    """As painted, those that are no more left out; new ones behind."""
    known = {led.index for led in leds}
    painted = tuple(index for index in dict.fromkeys(wanted) if index in known)
    return (*painted, *(led.index for led in leds if led.index not in set(painted)))


def _along(places: Places) -> Order:
    """Array by array, place by place."""
    return np.arange(len(places))


def _bands(at: Places, apart: float) -> NDArray[np.intp]:
    """Which band each value belongs to, from 0. Values that stand together make one; where they do not, a band is as wide
    as neighbours usually are apart."""
    order = np.argsort(at, kind="stable")
    row = at[order]
    band = np.concatenate(([0], np.cumsum(np.diff(row) > _TOGETHER * apart)))
    first = np.searchsorted(band, band)
    if (row - row[first]).max() > 2 * _TOGETHER * apart:
        band = np.floor((row - row[0]) / apart + 0.5).astype(np.intp)
    out = np.empty(len(at), np.intp)
    out[order] = band
    return out


def _usual_distance(places: Places) -> float:
    """How far the nearest neighbour that is elsewhere usually is."""
    points = np.asarray(shapely.points(places))
    _, apart = shapely.STRtree(points).query_nearest(points, exclusive=True, return_distance=True, all_matches=False)
    return float(np.median(apart)) if len(apart) else 1.0


def _rows_of(places: Places) -> NDArray[np.intp]:
    return _bands(-places[:, 1], _usual_distance(places))


def _rows(places: Places) -> Order:
    """Row by row from the top, each from left to right."""
    return np.lexsort((places[:, 0], _rows_of(places)))


def _serpentine(places: Places) -> Order:
    """Row by row from the top, there and back."""
    row = _rows_of(places)
    return np.lexsort((np.where(row % 2, -places[:, 0], places[:, 0]), row))


def _columns(places: Places) -> Order:
    """Column by column from the left, each from the top."""
    return np.lexsort((-places[:, 1], _bands(places[:, 0], _usual_distance(places))))


def _spiral(places: Places) -> Order:
    """Round by round from outside, clockwise, each beginning nearest to where the last one ended."""
    left, out = np.arange(len(places)), list[Order]()
    start: Places = np.array([places[:, 0].min(), places[:, 1].max()])
    while len(left):
        here = places[left]
        hull = MultiPoint(here).convex_hull
        points = shapely.points(here)
        if not isinstance(hull, Polygon):
            ranked = np.argsort(np.hypot(*(here - start).T), kind="stable")
            out.append(left[ranked])
            break
        edge = hull.exterior.reverse() if hull.exterior.is_ccw else hull.exterior
        outer = shapely.distance(edge, points) < 1e-6
        at = np.array([edge.project(one) for one in np.asarray(points)[outer]])
        first = at[int(np.argmin(np.hypot(*(here[outer] - start).T)))]
        ranked = np.argsort((at - first) % edge.length, kind="stable")
        layer = left[outer][ranked]
        out.append(layer)
        start, left = places[layer[-1]], left[~outer]
    return np.concatenate(out)


def _by_angle(places: Places) -> Order:
    """Clockwise about their middle from the top, on one ray from inside out."""
    offset = places - (places.min(axis=0) + places.max(axis=0)) / 2
    turn = np.round(np.arctan2(offset[:, 0], offset[:, 1]) % (2 * np.pi), 9)
    return np.lexsort((np.hypot(*offset.T), np.where(turn > 2 * np.pi - 1e-6, 0.0, turn)))


#: Every way but by hand, by its name.
HOW: Mapping[str, Callable[[Places], Order]] = {
    "along": _along,
    "rows": _rows,
    "serpentine": _serpentine,
    "columns": _columns,
    "spiral": _spiral,
    "angle": _by_angle,
    "shortest": shortest_path,
}
