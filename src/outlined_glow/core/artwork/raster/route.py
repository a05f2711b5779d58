"""From pixels to disjoint regions, by the way that was chosen: flat colours, one threshold, diffusion, a screen."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ...colour import hex_to_rgb, rgb_to_hex
from ...colour.difference import rgb_to_lab
from ...errors import Trouble
from ...geometry.cracks import NOTHING, Labels
from ...geometry.regions import polygons, region_of
from ...geometry.trace import trace
from ...project import Tones
from ...watch import ALONE, Watch
from ..drawing import Note
from ..resolved import Key, Resolved
from .clusters import coarse, find_palette, mend_fringes, pixels_are_drawn
from .ground import away, drop_specks, ground_colour, take_rims
from .read import Raster
from .tones import Steps, cell_mm, diffuse, least_share, nothing, resampled, screen, tone_field

#: Pixels across a cell of a screen.
CELL_PX = 12
_MOST_DOTS = 12_000_000


@dataclass(frozen=True)
class ToneRules:
    """What tones are made with: each appearance's colour, and the smallest dot that prints, mm."""

    looks: tuple[tuple[str, str], ...]
    dot_mm: float


def resolve_raster(
    raster: Raster, tones: Tones, width_mm: float, name: str, tone_rules: ToneRules | None, watch: Watch = ALONE
) -> Resolved:
    """The picture as regions in its pixels, y down. `tone_rules` are needed for tones (diffuse, screen).

    `Trouble` when nothing is left of it, or when it is all noise.
    """
    cells = coarse(raster.pixels)
    gone = away(raster, cells, tones)
    if gone is not None and gone.all():
        raise Trouble(f"Nothing is left of “{name}” without its background; keep the background, or take fewer colours for it.")
    pitch = width_mm / _painted_width(gone, raster)
    watch.at(0.1)
    if tones.how in ("diffuse", "screen") and tone_rules is not None and len(tone_rules.looks) > 1:
        regions = _toned(raster, gone, tones, pitch, tone_rules, watch)
    elif tones.how == "threshold":
        regions = _two(raster, gone, tones, pitch, watch)
    else:
        regions = _flat(raster, cells, gone, tones, pitch, watch)
    if not regions:
        raise Trouble(f"“{name}” has no area that is large enough to trace.")
    silhouette = region_of(polygons(shapely.coverage_union_all(list(regions.values()))))
    return Resolved(regions, silhouette, (*raster.notes, *_ground_note(raster, gone, tones, name)))


def _painted_width(gone: NDArray[np.bool_] | None, raster: Raster) -> int:
    """Columns between the first and the last that hold something."""
    if gone is None:
        return int(raster.pixels.shape[1])
    columns = np.flatnonzero(~gone.all(axis=0))
    return int(columns[-1] - columns[0] + 1)


def _flat(
    raster: Raster, cells: NDArray[np.int32], gone: NDArray[np.bool_] | None, tones: Tones, pitch: float, watch: Watch
) -> Mapping[Key, BaseGeometry]:
    pixels = raster.pixels
    if tones.smooth_mm > 0.3 * pitch:
        pixels = np.asarray(cv2.GaussianBlur(pixels, (0, 0), min(40.0, tones.smooth_mm / pitch)), np.uint8)
        cells = coarse(pixels)
    palette = find_palette(pixels, cells, None if gone is None else ~gone, tones.colours, tones.seed)
    colours = palette.colours
    labels: Labels = palette.table[cells]
    ground = None
    if gone is not None:
        labels[gone] = NOTHING
        if tones.ground != "keep" and raster.solid is None:
            # The ground is a colour as long as edges are looked at: they shade into it.
            ground = hex_to_rgb(tones.ground_colour or ground_colour(raster.pixels)[0])
            labels[gone] = len(colours)
            take_rims(labels, colours, ground, len(colours))
            colours = np.vstack([colours, np.array([ground], np.uint8)])
    watch.at(0.3)
    # Whoever evens a picture out wants no squares.
    squares = pixels is raster.pixels and pixels_are_drawn(pixels, gone, pitch)
    if not squares:
        mend_fringes(labels, pixels, colours)
    if ground is not None:
        labels[labels == len(colours) - 1] = NOTHING
    watch.at(0.35)
    drop_specks(labels, len(palette.colours), (tones.smallest_mm / pitch) ** 2)
    between = None if squares else _between(labels, pixels, palette.colours, raster.solid, ground)
    found = trace(labels, 0.0 if squares else _slack(tones, pitch), between, watch.part(0.4, 1.0))
    return {Key(rgb_to_hex(palette.colours[label])): region for label, region in found.items()}


def _slack(tones: Tones, pitch: float) -> float:
    """How far, in pixels, a traced edge may be straightened: half the deviation, the rest is left to the pixels."""
    return float(np.clip(tones.deviation_mm / 2 / pitch, 0.08, 0.6))


def _between(
    labels: Labels,
    pixels: NDArray[np.uint8],
    colours: NDArray[np.uint8],
    solid: NDArray[np.uint8] | None,
    ground: tuple[int, int, int] | None,
) -> Callable[[NDArray[np.int64], NDArray[np.int64]], NDArray[np.float64]]:
    """Where the mix of two colours is half of each: the edge, between the middles of two pixels."""
    flat, rows = labels.ravel(), pixels.reshape(-1, 3)
    table = np.vstack([colours.astype(float), np.zeros((256 - len(colours), 3))])
    if ground is not None:
        table[NOTHING] = ground

    def place(one: NDArray[np.int64], other: NDArray[np.int64]) -> NDArray[np.float64]:
        a, b = flat[one], flat[other]
        start, way = table[a], table[b] - table[a]
        length = np.maximum((way**2).sum(axis=1), 1e-9)
        v0 = ((rows[one] - start) * way).sum(axis=1) / length
        v1 = ((rows[other] - start) * way).sum(axis=1) / length
        bare = (a == NOTHING) | (b == NOTHING)
        if solid is not None:
            full = solid.ravel()
            v0 = np.where(bare, full[one] / 255.0, v0)
            v1 = np.where(bare, full[other] / 255.0, v1)
        elif ground is None:
            v0, v1 = np.where(bare, 0.0, v0), np.where(bare, 1.0, v1)
        # In a slow shade both are near a half, and where between them it lies is still plain.
        step = v1 - v0
        at = np.where(step > 1e-4, (0.5 - v0) / np.where(step > 1e-4, step, 1.0), 0.5)
        return np.where((at >= 0) & (at <= 1), at, 0.5)

    return place


def _two(
    raster: Raster, gone: NDArray[np.bool_] | None, tones: Tones, pitch: float, watch: Watch
) -> Mapping[Key, BaseGeometry]:
    """Dark and light, parted at a lightness."""
    lightness = rgb_to_lab(raster.pixels)[..., 0]
    level = tones.level * 100
    labels = (lightness > level).astype(np.uint8)
    if gone is not None:
        labels[gone] = NOTHING
    drop_specks(labels, 2, (tones.smallest_mm / pitch) ** 2)
    field = lightness.ravel()

    def place(one: NDArray[np.int64], other: NDArray[np.int64]) -> NDArray[np.float64]:
        step = field[other] - field[one]
        at = np.where(np.abs(step) < 1e-6, 0.5, (level - field[one]) / np.where(np.abs(step) < 1e-6, 1.0, step))
        return np.where((at > 0) & (at < 1), at, 0.5)

    found = trace(labels, _slack(tones, pitch), place, watch.part(0.4, 1.0))
    return {Key(("000000", "FFFFFF")[label]): region for label, region in found.items()}


def _toned(
    raster: Raster, gone: NDArray[np.bool_] | None, tones: Tones, pitch: float, tone_rules: ToneRules, watch: Watch
) -> Mapping[Key, BaseGeometry]:
    """Tones of the board's own appearances, as dots that print."""
    steps = Steps.of(
        tuple(look for look in tone_rules.looks if not tones.palette or look[0] in tones.palette) or tone_rules.looks
    )
    if len(steps.words) < 2:
        steps = Steps.of(tone_rules.looks)
    dot = max(tones.dot_mm or tone_rules.dot_mm, 1e-3)
    high, wide = raster.pixels.shape[:2]
    if tones.how == "diffuse":
        unit, cell = dot, 0.0
    else:
        cell = cell_mm(tones, dot)
        unit = cell / CELL_PX
    size = (max(2, round(wide * pitch / unit)), max(2, round(high * pitch / unit)))
    if size[0] * size[1] > _MOST_DOTS:
        raise Trouble(
            f"That would be {size[0]:,} x {size[1]:,} dots; take larger dots, a coarser ruling or a narrower picture."
        )
    small = resampled(raster.pixels, size)
    away_small = None if gone is None else cv2.resize(gone.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST) > 0
    watch.at(0.2)
    wanted = tone_field(small, away_small, steps)
    if tones.how == "diffuse":
        labels = nothing(diffuse(wanted, steps, tones.kernel), gone)
        found = trace(labels, 0.0, None, watch.part(0.4, 1.0))
    else:
        # Grain within a cell would tear its dot.
        wanted = np.asarray(cv2.GaussianBlur(wanted, (0, 0), CELL_PX / 4), float)
        labels, over = screen(wanted, steps, tones, CELL_PX, least_share(tones, dot, cell))
        labels = nothing(labels, gone)
        found = trace(labels, 0.12, crossing(over), watch.part(0.4, 1.0))
    scale = np.array([wide / size[0], high / size[1]])
    return {
        Key(steps.colours[label], steps.words[label]): shapely.transform(region, lambda points: points * scale)
        for label, region in found.items()
    }


def crossing(field: NDArray[np.float64]) -> Callable[[NDArray[np.int64], NDArray[np.int64]], NDArray[np.float64]]:
    """Where a field goes through nought between two pixels."""
    flat = field.ravel()

    def place(one: NDArray[np.int64], other: NDArray[np.int64]) -> NDArray[np.float64]:
        a, b = flat[one], flat[other]
        apart = (a > 0) != (b > 0)
        return np.where(apart, a / np.where(apart, a - b, 1.0), 0.5)

    return place


def _ground_note(raster: Raster, gone: NDArray[np.bool_] | None, tones: Tones, name: str) -> tuple[Note, ...]:
    """A picture on a plain background probably is not meant to have it."""
    if tones.ground != "keep" or gone is not None:
        return ()
    colour, share = ground_colour(raster.pixels)
    if share < 0.97:
        return ()
    return (Note("plain-ground", f"“{name}” has a plain background, #{colour}. It is now part of the board."),)
