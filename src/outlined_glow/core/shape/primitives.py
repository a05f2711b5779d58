"""Forms a board can have without a picture, by parameters."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.flatten import Points, flatten_cubics
from ..geometry.offset import grow
from ..geometry.regions import box_at
from ..project import Shape

_FINE_MM = 0.005


def form(shape: Shape, middle: tuple[float, float]) -> BaseGeometry:
    """The form a shape asks for, about its own place or the given middle. Its base must be one of `FORMS`."""
    region = FORMS[shape.base](shape)
    if shape.corner_mm and shape.base not in ("circle", "capsule"):
        region = rounded(region, min(shape.corner_mm, 0.49 * min(shape.width_mm, shape.height_mm)))
    return laid(region, shape, middle)


def laid(region: BaseGeometry, shape: Shape, middle: tuple[float, float]) -> BaseGeometry:
    """A region about the origin, turned and set in its place, or in the given middle."""
    a = np.radians(shape.angle_deg)
    turn = np.array([[np.cos(a), np.sin(a)], [-np.sin(a), np.cos(a)]])
    x = shape.x_mm if shape.x_mm is not None else middle[0]
    y = shape.y_mm if shape.y_mm is not None else middle[1]
    return shapely.transform(region, lambda points: points @ turn + (x, y))


def rounded(region: BaseGeometry, radius: float) -> BaseGeometry:
    """Every corner, outer and inner, rounded; where that would leave nothing, by half as much."""
    while radius > 0.01:
        opened = grow(grow(region, -radius), radius)
        if not opened.is_empty:
            return grow(grow(opened, radius), -radius)
        radius /= 2
    return region


def _circle(shape: Shape) -> BaseGeometry:
    count = max(64, int(np.pi * max(shape.width_mm, shape.height_mm) / np.sqrt(_FINE_MM * 4)))
    angle = np.linspace(0, 2 * np.pi, count, endpoint=False)
    return Polygon(np.column_stack([np.cos(angle) * shape.width_mm / 2, np.sin(angle) * shape.height_mm / 2]))


def _rectangle(shape: Shape) -> BaseGeometry:
    return box_at(0, 0, shape.width_mm, shape.height_mm)


def _capsule(shape: Shape) -> BaseGeometry:
    return rounded(_rectangle(shape), 0.499 * min(shape.width_mm, shape.height_mm))


def _fitted(points: Points, shape: Shape) -> BaseGeometry:
    """Points stretched to the width and height asked for, their box about the origin."""
    low, high = points.min(axis=0), points.max(axis=0)
    return Polygon((points - (low + high) / 2) / (high - low) * (shape.width_mm, shape.height_mm))


def _round_points(count: int, start_deg: float = 90.0) -> Points:
    angle = np.radians(start_deg) + np.arange(count) * 2 * np.pi / count
    return np.column_stack([np.cos(angle), np.sin(angle)])


def _polygon(shape: Shape) -> BaseGeometry:
    return _fitted(_round_points(shape.points, 90.0 if shape.points % 2 else 90.0 + 180 / shape.points), shape)


def _star(shape: Shape) -> BaseGeometry:
    points = _round_points(2 * shape.points)
    points[1::2] *= 1 - shape.depth
    return _fitted(points, shape)


def _kite(shape: Shape) -> BaseGeometry:
    return _fitted(np.array([(0.0, 1.0), (-0.5, 1 - shape.depth), (0.0, 0.0), (0.5, 1 - shape.depth)]), shape)


def _shield(shape: Shape) -> BaseGeometry:
    w, h = shape.width_mm / 2, shape.height_mm
    curves = np.array([
        [(-w, h * 0.55), (-w, h * 0.55), (-w, h * 0.55)], [(-w, h * 0.25), (-w * 0.45, h * 0.08), (0, 0)],
        [(w * 0.45, h * 0.08), (w, h * 0.25), (w, h * 0.55)], [(w, h), (w, h), (w, h)],
    ])  # fmt: skip
    curves[0, 0] = (-w, h)
    return _fitted(flatten_cubics(np.array([-w, h]), curves, _FINE_MM), shape)


FORMS: dict[str, Callable[[Shape], BaseGeometry]] = {
    "circle": _circle, "rectangle": _rectangle, "polygon": _polygon, "star": _star, "shield": _shield,
    "capsule": _capsule, "kite": _kite,
}  # fmt: skip
