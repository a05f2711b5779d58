"""Words as regions: straight, bent round a circle, or along any closed line; in the shipped face."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..geometry.fill import fill
from ..geometry.flatten import Points, flatten_cubics
from ..geometry.regions import EMPTY, polygons, region_of, union
from ..geometry.valid import shifted
from .faces import Face, shipped_face


@lru_cache(maxsize=2048)
def _glyph(weight: str, glyph: int, tolerance: float) -> BaseGeometry:
    contours = [flatten_cubics(start, curves, tolerance) for start, curves in shipped_face(weight).outline(glyph)]
    return fill(contours, "nonzero")


def _laid(text: str, face: Face, weight: str, fine: float) -> tuple[list[tuple[BaseGeometry, float, float, float]], float]:
    """Glyph region, pen place x and y, advance; and the length of the line. Font units."""
    glyphs = face.shape(text)
    rows = [(_glyph(weight, one.number, fine), one.x, one.y, one.advance) for one in glyphs]
    return rows, sum(one.advance for one in glyphs)


def missing_letters(text: str, weight: str = "semibold") -> str:
    """The letters of words that the shipped face has not, each once; boxes stand for them."""
    return shipped_face(weight).lacks(text)


@lru_cache(maxsize=8192)
def text_region(text: str, height_mm: float, tolerance_mm: float = 0.01, weight: str = "semibold") -> BaseGeometry:
    """The words as one region: capitals `height_mm` high, standing on y = 0, centred on x = 0."""
    face = shipped_face(weight)
    scale = height_mm / face.caps
    rows, length = _laid(text, face, weight, round(tolerance_mm / scale, 3))
    pieces = [shifted(region, x, y) for region, x, y, _ in rows if not region.is_empty]
    if not pieces:
        return EMPTY
    return shapely.transform(_together(pieces), lambda p: (p - (length / 2, 0)) * scale)


def _together(letters: list[BaseGeometry]) -> BaseGeometry:
    """Letters as one region. Those of a line mostly stand apart, one after the other: that needs no boolean."""
    bounds = shapely.bounds(letters)
    if np.all(bounds[:-1, 2] < bounds[1:, 0]):
        return region_of(part for one in letters for part in polygons(one))
    return union(letters)


@lru_cache(maxsize=128)
def bent_region(text: str, height_mm: float, radius_mm: float, under: bool, weight: str = "semibold") -> BaseGeometry:
    """The words on a circle about (0, 0): over its top, feet on the circle; or under its bottom, heads towards the middle."""
    face = shipped_face(weight)
    scale = height_mm / face.caps
    rows, length = _laid(text, face, weight, round(0.01 / scale, 3))
    pieces = []
    for region, x, y, advance in rows:
        if region.is_empty:
            continue
        middle = (x + advance / 2 - length / 2) * scale
        turn = middle / radius_mm * (1 if under else -1)
        away = -radius_mm if under else radius_mm

        def bend(points: Points, y: float = y, advance: float = advance, turn: float = turn, away: float = away) -> Points:
            flat = (points + np.array([-advance / 2, y])) * scale
            lifted = flat + np.array([0, away])
            c, s = np.cos(turn), np.sin(turn)
            return np.asarray(lifted @ np.array([[c, s], [-s, c]]))

        pieces.append(shapely.transform(region, bend))
    return union(pieces)


def followed_region(
    text: str, height_mm: float, points: Points, share: float, mirrored: bool = False, weight: str = "semibold"
) -> BaseGeometry:
    """The words along a closed line, feet on it and heads to its left, their middle at a share of its length.

    `mirrored` for words that are read from behind: the line is then given as it runs there.
    """
    face = shipped_face(weight)
    scale = height_mm / face.caps
    rows, length = _laid(text, face, weight, round(0.01 / scale, 3))
    legs = np.hypot(*np.diff(points, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(legs)])
    if along[-1] <= 0:
        return EMPTY

    def at(distance: float) -> Points:
        return np.array([np.interp(distance % along[-1], along, points[:, axis]) for axis in (0, 1)])

    pieces = []
    for region, x, y, advance in rows:
        if region.is_empty:
            continue
        half = max(advance * scale / 2, 0.05)
        middle = share * along[-1] + (x + advance / 2 - length / 2) * scale
        # A letter stands on the chord of its own width, so that it never leans with a kink of the line.
        start, end = at(middle - half), at(middle + half)
        way = (end - start) / max(float(np.hypot(*(end - start))), 1e-9)
        across = np.array([-way[1], way[0]]) * (-1 if mirrored else 1)

        def lay(points: Points, y: float = y, advance: float = advance, foot: Points = (start + end) / 2,
                way: Points = way, across: Points = across) -> Points:  # fmt: skip
            flat = (points + np.array([-advance / 2, y])) * scale
            return np.asarray(foot + flat[:, :1] * way + flat[:, 1:] * across)

        pieces.append(shapely.transform(region, lay))
    return union(pieces)


def placed(region: BaseGeometry, x: float, y: float, angle_deg: float, mirrored: bool) -> BaseGeometry:
    """A region turned and moved; mirrored for words that are read from behind."""
    a = np.radians(angle_deg)
    turn = np.array([[np.cos(a), np.sin(a)], [-np.sin(a), np.cos(a)]])
    flip = np.array([-1.0 if mirrored else 1.0, 1.0])
    return shapely.transform(region, lambda p: (p * flip) @ turn + (x, y))
