"""Gradients as the few tones a board can hold: bands of flat colour, or dots of its appearances."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from ..colour import ciede2000, rgb_to_lab
from ..geometry.cracks import NOTHING
from ..geometry.flatten import circle_points
from ..geometry.regions import common
from ..geometry.trace import trace
from ..project import Tones
from .drawing import Matrix, Points, Shade
from .raster.route import CELL_PX, ToneRules, crossing
from .raster.tones import Steps, cell_mm, diffuse, least_share, lightness_field, screen
from .svg.measure import apply

#: Neighbouring bands differ by about this much (CIEDE2000).
_STEP = 10.0
_MOST_BANDS = 24
_MOST_PERIODS = 60
#: A gradient this many times as large as what it fills is one colour there.
_MOST_TIMES = 1e8
_MOST_DOTS = 6_000_000


def bands(shade: Shade, area: BaseGeometry, tolerance: float) -> Iterator[tuple[Points, BaseGeometry]]:
    """Colour (4,) and region of each band of a shade within `area`, root units."""
    inverse = _inverse(shade.matrix)
    if inverse is None or area.is_empty:
        yield shade.mean if inverse is None else shade.rgba[-1], area
        return
    x0, y0, x1, y1 = area.bounds
    if np.abs(shade.matrix).max() > _MOST_TIMES * max(x1 - x0, y1 - y0):
        # So much larger than the area that one colour is seen of it.
        yield colours_at(shade, np.array([[(x0 + x1) / 2, (y0 + y1) / 2]]))[0], area
        return
    corners = apply(inverse, np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]]))
    for low, high, colour in _spread(shade, _reach(shade, corners)):
        strip = _ring(shade, low, high, tolerance) if shade.radial else _strip(low, high, corners)
        region = common(area, shapely.transform(strip, lambda points: apply(shade.matrix, points)))
        if not region.is_empty:
            yield colour, region


def _inverse(matrix: Matrix) -> Matrix | None:
    try:
        inside = np.linalg.inv(matrix[:, :2])
    except np.linalg.LinAlgError:
        return None
    if not np.isfinite(inside).all() or np.abs(inside).max() > 1e9:
        return None
    return np.column_stack([inside, -inside @ matrix[:, 2]])


def _reach(shade: Shade, corners: Points) -> tuple[float, float]:
    """The lowest and highest share of the gradient that can be seen."""
    if not shade.radial:
        return float(corners[:, 0].min()), float(corners[:, 0].max())
    # The share is a convex function: it is largest at a corner.
    return 0.0, float(_radial_share(corners, shade.focus).max()) * (1 + 1e-9)


def _cuts(shade: Shade) -> list[tuple[float, float, Points]]:
    """Bands of one period: from, to, colour in the middle."""
    out: list[tuple[float, float, Points]] = []
    lab = rgb_to_lab(shade.rgba[:, :3])
    for place in range(len(shade.at) - 1):
        low, high = shade.at[place], shade.at[place + 1]
        if high - low < 1e-9:
            continue
        far = float(ciede2000(lab[place], lab[place + 1])) / _STEP + abs(shade.rgba[place, 3] - shade.rgba[place + 1, 3]) / 0.2
        count = int(np.clip(math.ceil(far), 1, 8))
        edges = np.linspace(low, high, count + 1)
        for one, other in itertools.pairwise(edges.tolist()):
            share = ((one + other) / 2 - low) / (high - low)
            out.append((float(one), float(other), shade.rgba[place] * (1 - share) + shade.rgba[place + 1] * share))
    return out[:_MOST_BANDS]


def _spread(shade: Shade, reach: tuple[float, float]) -> Iterator[tuple[float, float, Points]]:
    cuts = _cuts(shade)
    low, high = reach
    first, last = shade.at[0], shade.at[-1]
    if shade.spread == "pad" or high - low > _MOST_PERIODS or not cuts:
        if low < first or not cuts:
            yield min(low, first) - 1, first, shade.rgba[0]
        yield from cuts
        if high > last or not cuts:
            yield last, max(high, last) + 1, shade.rgba[-1]
        return
    whole = [(0.0, first, shade.rgba[0])] if first > 0 else []
    whole += cuts + ([(last, 1.0, shade.rgba[-1])] if last < 1 else [])
    for period in range(math.floor(low), math.ceil(high)):
        mirrored = shade.spread == "reflect" and period % 2
        for one, other, colour in whole:
            yield (period + 1 - other, period + 1 - one, colour) if mirrored else (period + one, period + other, colour)


def _strip(low: float, high: float, corners: Points) -> Polygon:
    return box(low, corners[:, 1].min() - 1, high, corners[:, 1].max() + 1)


def _ring(shade: Shade, low: float, high: float, tolerance: float) -> BaseGeometry:
    """Between the circles of two shares; beneath 0 there is only the focus."""
    scale = math.sqrt(abs(np.linalg.det(shade.matrix[:, :2])))
    fine = max(1e-5, tolerance / max(scale, 1e-9))

    def circle(share: float) -> BaseGeometry:
        if share <= 0:
            return Polygon()
        x, y = shade.focus[0] * (1 - share), shade.focus[1] * (1 - share)
        return Polygon(circle_points(x, y, share, fine))

    return circle(high).difference(circle(low))


def colours_at(shade: Shade, places: Points) -> Points:
    """The colour (n, 4) at places (n, 2) in root units."""
    inverse = _inverse(shade.matrix)
    if inverse is None:
        return np.repeat(shade.mean[None], len(places), axis=0)
    own = apply(inverse, places)
    share = own[:, 0] if not shade.radial else _radial_share(own, shade.focus)
    if shade.spread == "repeat":
        share = share % 1.0
    elif shade.spread == "reflect":
        share = 1 - np.abs((share % 2.0) - 1)
    return np.stack([np.interp(share, shade.at, shade.rgba[:, channel]) for channel in range(4)], axis=1)


def _radial_share(own: Points, focus: tuple[float, float]) -> Points:
    """The share t whose circle, about f(1 - t) with radius t, goes through each place."""
    fx, fy = focus
    dx, dy = own[:, 0] - fx, own[:, 1] - fy
    # |p - f + t f| = t: (f.f - 1) t² + 2 (d.f) t + d.d = 0, the root that is positive.
    a, b, c = fx * fx + fy * fy - 1, dx * fx + dy * fy, dx * dx + dy * dy
    return np.asarray((-b - np.sqrt(np.maximum(b * b - a * c, 0))) / a)


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
