"""Placing by hand: what a thing that is dragged catches on, and how far it then is from the edges. Picture frame, mm."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from shapely.geometry import LineString, MultiPoint, Point, Polygon

from .outline import Outline


@dataclass(frozen=True)
class Snapped:
    """A place, and the upright (x) and level (y) lines that it was caught by."""

    x: float
    y: float
    upright: float | None = None
    level: float | None = None


@dataclass(frozen=True)
class Dimension:
    """A measured distance from one place to another."""

    x0: float
    y0: float
    x1: float
    y1: float

    @property
    def mm(self) -> float:
        """How far that is."""
        return math.hypot(self.x1 - self.x0, self.y1 - self.y0)


def catching_lines(
    outline: Outline, but: int | None = None, beside: Sequence[tuple[float, float]] = ()
) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Uprights and levels worth catching: the middles of the board, other features and places `beside`, and their mirror
    images.

    `but` is the number of the feature that is dragged.
    """
    left, bottom, right, top = outline.region.bounds
    across, up = (left + right) / 2, (bottom + top) / 2
    hanging = outline.holes[: len(outline.holes) - len(outline.fixed.holes)]
    others = [(spot.x, spot.y) for spot in outline.fixed.spots if spot.number != but]
    others += [*((hole.x, hole.y) for hole in hanging), *beside]
    uprights = [across, *(x for x, _ in others), *(2 * across - x for x, _ in others)]
    return tuple(uprights), (up, *(y for _, y in others))


def snapped(
    lines: tuple[Sequence[float], Sequence[float]],
    origin: tuple[float, float],
    x: float,
    y: float,
    reach: float,
    step: float = 0.5,
) -> Snapped:
    """The nearest catching line within reach, else whole steps of the board frame that begins at `origin`."""
    upright, level = (_nearest(row, value, reach) for row, value in zip(lines, (x, y), strict=True))
    whole = [round((value - zero) / step) * step + zero for value, zero in zip((x, y), origin, strict=True)]
    return Snapped(upright if upright is not None else whole[0], level if level is not None else whole[1], upright, level)


def _nearest(lines: Sequence[float], value: float, reach: float) -> float | None:
    near = min(lines, key=lambda line: abs(line - value), default=None)
    return near if near is not None and abs(near - value) <= reach else None


def dimensions(outline: Outline, x: float, y: float) -> tuple[Dimension, ...]:
    """From a place to the nearer outer edge on either hand, and to the nearer one above or below; none off the board."""
    whole = Polygon(outline.region.exterior)
    if not whole.contains(Point(x, y)):
        return ()
    left, bottom, right, top = whole.bounds
    out = []
    for line in (LineString([(left - 1, y), (right + 1, y)]), LineString([(x, bottom - 1), (x, top + 1)])):
        crossing = line.intersection(whole.exterior)
        spots = list(crossing.geoms) if isinstance(crossing, MultiPoint) else [crossing.representative_point()]
        edge = min(
            (spot for spot in spots if isinstance(spot, Point)), key=lambda spot: spot.distance(Point(x, y)), default=None
        )
        if edge is not None:
            out.append(Dimension(x, y, edge.x, edge.y))
    return tuple(out)
