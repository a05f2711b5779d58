"""Gradients as the few tones a board can hold: bands of flat colour, or dots of its appearances."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from ..geometry.cracks import NOTHING
from ..geometry.regions import common, polygons, region_of, union
from ..geometry.trace import trace
from ..project import Tones
from .drawing import Matrix, Points, Shade
from .radial import Circles
from .ramp import all_bands, periods, spans_of_colours
from .raster.route import CELL_PX, ToneRules, crossing
from .raster.tones import Steps, cell_mm, diffuse, least_share, lightness_field, screen
from .svg.measure import apply

#: A gradient this many times as large as what it fills is one colour there.
_MOST_TIMES = 1e8
_MOST_DOTS = 6_000_000


def bands(shade: Shade, area: BaseGeometry, tolerance: float) -> Iterator[tuple[Points, BaseGeometry]]:
    """Colour (4,) and region of each band of a shade within `area`, root units."""
    inverse = _inverse(shade.matrix)
    if inverse is None or area.is_empty:
        yield shade.mean if inverse is None else shade.rgba[-1], area
        return
    if _spread_wide(shade, area):
        x0, y0, x1, y1 = area.bounds
        yield colours_at(shade, np.array([[(x0 + x1) / 2, (y0 + y1) / 2]]))[0], area
        return
    corners = _corners(inverse, area)
    circles = Circles.of(shade) if shade.radial else None
    reach = _reach(circles, corners)
    fine = max(1e-5, tolerance / max(math.sqrt(abs(np.linalg.det(shade.matrix[:, :2]))), 1e-9))
    for colour, spans in spans_of_colours(all_bands(shade, reach)):
        parts = [_strip(low, high, corners) if circles is None else circles.band(low, high, fine) for low, high in spans]
        if circles is None or circles.nested:
            # No two of them touch.
            parts = [region_of(part for some in parts for part in polygons(some))]
        seen = [common(area, shapely.transform(part, lambda points: apply(shade.matrix, points))) for part in parts]
        region = union(seen) if len(seen) > 1 else seen[0]
        if not region.is_empty:
            yield colour, region


def repeats(shade: Shade, area: BaseGeometry) -> int:
    """How often a shade is repeated within `area`."""
    inverse = _inverse(shade.matrix)
    if inverse is None or area.is_empty or _spread_wide(shade, area):
        return 0
    return periods(shade, _reach(Circles.of(shade) if shade.radial else None, _corners(inverse, area)))


def _spread_wide(shade: Shade, area: BaseGeometry) -> bool:
    """Whether it is so much larger than the area that one colour is seen of it."""
    x0, y0, x1, y1 = area.bounds
    return bool(np.abs(shade.matrix).max() > _MOST_TIMES * max(x1 - x0, y1 - y0))


def _corners(inverse: Matrix, area: BaseGeometry) -> Points:
    x0, y0, x1, y1 = area.bounds
    return apply(inverse, np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]]))


def _reach(circles: Circles | None, corners: Points) -> tuple[float, float]:
    """The lowest and highest share of the gradient that can be seen."""
    return circles.reach(corners) if circles else (float(corners[:, 0].min()), float(corners[:, 0].max()))


def _inverse(matrix: Matrix) -> Matrix | None:
    try:
        inside = np.linalg.inv(matrix[:, :2])
    except np.linalg.LinAlgError:
        return None
    if not np.isfinite(inside).all() or np.abs(inside).max() > 1e9:
        return None
    return np.column_stack([inside, -inside @ matrix[:, 2]])


def _strip(low: float, high: float, corners: Points) -> Polygon:
    return box(low, corners[:, 1].min() - 1, high, corners[:, 1].max() + 1)


def colours_at(shade: Shade, places: Points) -> Points:
    """The colour (n, 4) at places (n, 2) in root units; clear beside the cone of a radial one."""
    inverse = _inverse(shade.matrix)
    if inverse is None:
        return np.repeat(shade.mean[None], len(places), axis=0)
    own = apply(inverse, places)
    share = own[:, 0] if not shade.radial else Circles.of(shade).shares(own)
    beside = np.isnan(share)
    share = np.where(beside, 0.0, share)
    if shade.spread == "repeat":
        share = share % 1.0
    elif shade.spread == "reflect":
        share = 1 - np.abs((share % 2.0) - 1)
    found = np.stack([np.interp(share, shade.at, shade.rgba[:, channel]) for channel in range(4)], axis=1)
    found[beside] = 0.0
    return found


def dots(
    shade: Shade, area: BaseGeometry, mm_per_unit: float, tones: Tones, tone_rules: ToneRules
) -> list[tuple[str, str, BaseGeometry]] | None:
    """(colour, appearance, region) of a shade in dots of the appearances that can be made; None if too many."""
    steps = Steps.of(
        tuple(look for look in tone_rules.looks if not tones.palette or look[0] in tones.palette) or tone_rules.looks
    )
    dot = tones.dot_mm or tone_rules.dot_mm
    cell = cell_mm(tones, dot)
    unit = (dot if tones.how == "diffuse" else cell / CELL_PX) / mm_per_unit
    x0, y0, x1, y1 = area.bounds
    # Dots stand on one lattice all over the picture, so that neighbouring shades meet without a seam.
    column, row = math.floor(x0 / unit), math.floor(y0 / unit)
    wide, high = math.ceil(x1 / unit) - column, math.ceil(y1 / unit) - row
    if wide * high > _MOST_DOTS or min(wide, high) < 1 or len(steps.words) < 2:
        return None
    xs, ys = np.meshgrid((column + np.arange(wide) + 0.5) * unit, (row + np.arange(high) + 0.5) * unit)
    rgba = colours_at(shade, np.stack([xs.ravel(), ys.ravel()], axis=1)).reshape(high, wide, 4)
    wanted = lightness_field(rgba[..., :3], steps)
    if tones.how == "diffuse":
        labels = diffuse(wanted, steps, tones.kernel)
        clear = rgba[..., 3] < 0.5
        labels[clear] = NOTHING
        found = trace(labels, 0.0)
    else:
        labels, over = screen(wanted, steps, tones, CELL_PX, least_share(tones, dot, cell), (column, row))
        labels[rgba[..., 3] < 0.5] = NOTHING
        found = trace(labels, 0.12, crossing(over))
    corner = np.array([column, row], float)
    out = []
    for label, region in found.items():
        seen = common(area, shapely.transform(region, lambda points: (points + corner) * unit))
        out.append((steps.colours[label], steps.words[label], seen))
    return out
