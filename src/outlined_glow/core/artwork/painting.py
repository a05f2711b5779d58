"""A drawing at its real size: disjoint regions per colour, in mm, y up, origin at the painted box's lower left."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import box
from shapely.geometry.base import BaseGeometry

from ..errors import Trouble
from ..geometry.fill import fill, resolve_painting
from ..geometry.flatten import flatten_cubics
from ..geometry.regions import clean, common, union, valid
from .drawing import Drawing, Drawn, Note, Points
from .limits import refuse_heap, refuse_tangle
from .stroke import stroke_area
from .svg.measure import apply

#: Vector boundaries stay this close to the drawing, mm.
TOLERANCE_MM = 0.005
#: Less than this many root units across is no picture.
_SMALLEST = 1e-6
#: Widths that are flattened alike lie within this ratio.
_STEP = 1.25


@dataclass(frozen=True)
class Swatch:
    """One colour of the picture and the region it paints."""

    colour: str
    region: BaseGeometry


@dataclass(frozen=True)
class Painted:
    """The whole picture: swatches by falling area, the size of the painted box, everything painted."""

    swatches: tuple[Swatch, ...]
    size: tuple[float, float]
    silhouette: BaseGeometry
    notes: tuple[Note, ...]


@dataclass(frozen=True, eq=False)
class Resolved:
    """The picture in its own root units (y down): disjoint regions per colour, and everything painted."""

    regions: Mapping[Hashable, BaseGeometry]
    silhouette: BaseGeometry
    notes: tuple[Note, ...]


def paint(drawing: Drawing, width_mm: float, name: str, cancelled: Callable[[], bool] = lambda: False) -> Painted:
    """The drawing so that what it paints is `width_mm` wide. `Trouble` when it paints nothing."""
    return place(resolve(drawing, fine_width(width_mm), name, cancelled), width_mm, name)


def fine_width(width_mm: float) -> float:
    """The width for which a picture is flattened: the next of a few steps, so that small changes flatten nothing anew."""
    return float(_STEP ** math.ceil(math.log(width_mm, _STEP) - 1e-9))


def resolve(drawing: Drawing, fine_mm: float, name: str, cancelled: Callable[[], bool] = lambda: False) -> Resolved:
    """What the drawing paints, in painter's order, flattened finely enough to be `fine_mm` wide."""
    guess = _extent(drawing)
    if guess is None:
        why = f" {drawing.notes[0].text}" if drawing.notes else ""
        raise Trouble(f"“{name}” paints nothing that can be read; check that its shapes have a fill or a stroke.{why}")
    tolerance = TOLERANCE_MM * 0.8 * guess / fine_mm
    shapes: list[tuple[str, BaseGeometry]] = []
    page = box(0, 0, *drawing.page)
    for drawn in drawing.paths:
        if cancelled():
            break
        for colour, area in _areas(drawn, tolerance, name):
            if area.is_empty:
                continue
            seen = area if page.contains(area) else common(area, page)
            if not seen.is_empty:
                shapes.append((colour, seen))
    if not shapes:
        raise Trouble(f"“{name}” paints nothing inside its page.")
    refuse_heap(np.array([shape for _, shape in shapes], dtype=object), name)
    silhouette = union([shape for _, shape in shapes])
    return Resolved(resolve_painting(shapes, cancelled), silhouette, drawing.notes)


def place(resolved: Resolved, width_mm: float, name: str) -> Painted:
    """The picture at its real size."""
    left, top, right, bottom = resolved.silhouette.bounds
    if min(right - left, bottom - top) < _SMALLEST:
        raise Trouble(f"“{name}” paints something too small to be a picture; draw it larger.")
    scale = width_mm / (right - left)
    if not 0.01 <= (bottom - top) * scale <= 1000:
        raise Trouble(f"“{name}” would be {(bottom - top) * scale:.3g} mm high at that width; choose another width.")

    def to_mm(points: Points) -> Points:
        return np.column_stack([(points[:, 0] - left) * scale, (bottom - points[:, 1]) * scale])

    regions = resolved.regions.items()
    swatches = [Swatch(str(colour), valid(shapely.transform(region, to_mm))) for colour, region in regions]
    swatches.sort(key=lambda swatch: (-swatch.region.area, swatch.colour))
    size = (width_mm, (bottom - top) * scale)
    return Painted(tuple(swatches), size, valid(shapely.transform(resolved.silhouette, to_mm)), resolved.notes)


def natural_width_mm(drawing: Drawing) -> float | None:
    """The painted width the drawing claims by its own units, if that is a sensible board."""
    extent = _extent(drawing)
    width = extent * drawing.mm_per_unit if extent else 0.0
    return width if 5 <= width <= 400 else None


def _extent(drawing: Drawing) -> float | None:
    """Width of the control points' box in root units, inside the page."""
    low, high = np.inf, -np.inf
    for drawn in drawing.paths:
        for subpath in drawn.subpaths:
            x = apply(drawn.matrix, subpath.controls)[:, 0]
            x = x[np.isfinite(x)]
            if len(x):
                low, high = min(low, float(x.min())), max(high, float(x.max()))
    low, high = max(low, 0.0), min(high, drawing.page[0])
    if high - low > _SMALLEST:
        return high - low
    return drawing.page[0] if any(drawn.stroke for drawn in drawing.paths) else None


def _areas(drawn: Drawn, tolerance: float, name: str) -> list[tuple[str, BaseGeometry]]:
    """Colour and area of a path's fill and stroke, in root units, in the order they are painted."""
    scale = float(np.sqrt(abs(np.linalg.det(drawn.matrix[:, :2]))))
    if scale < 1e-9 or not np.isfinite(drawn.matrix).all():
        return []
    flat = [flatten_cubics(subpath.start, subpath.curves, tolerance / scale) for subpath in drawn.subpaths]
    out: list[tuple[str, BaseGeometry]] = []
    refuse_tangle(flat, name)
    if drawn.fill is not None:
        out.append((drawn.fill, fill([apply(drawn.matrix, points) for points in flat], drawn.rule)))
    if drawn.stroke is not None and drawn.stroke_colour is not None:
        pairs = zip(flat, drawn.subpaths, strict=True)
        parts = [stroke_area(points, subpath.closed, drawn.stroke, tolerance / scale) for points, subpath in pairs]
        moved = shapely.transform(union(parts), lambda points: apply(drawn.matrix, points))
        out.append((drawn.stroke_colour, clean(valid(moved))))
    return out[::-1] if drawn.stroke_first else out
