"""The score as pictures: LEDs down, time across, each in its colour as bright as it will be."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..colour.difference import to_linear
from ..project import Feed, Motion, Strip
from .lamps import Lamps
from .pattern import pattern
from .score import current_shares, fade_of, levels, one_round, strip_levels, within
from .way import Way, way_of
from .written import matrix

#: More rows than this no screen shows.
_MOST_ROWS = 600
#: A strip alone is worked out for so many of its LEDs at most.
_MOST_IN_STRIP = 64
Pixels = NDArray[np.uint8]


@dataclass(frozen=True, eq=False)
class Strips:
    """Pixels (n, columns, 3) sRGB with the LEDs group after group, of very many every so many, the groups with their sizes,
    the share (columns,) of the full current, and that which would be without a limit, where it is another one."""

    pixels: Pixels
    groups: tuple[tuple[str, int], ...]
    curve: tuple[float, ...]
    wanted: tuple[float, ...] = ()


def strips(motion: Motion, lamps: Lamps, columns: int, background: tuple[int, int, int]) -> Strips:
    """All that plays, once round, on a background."""
    names, order = lamps.by_group()
    times = one_round(motion, columns)
    seen = np.array(order)[_spread(len(order), _MOST_ROWS)]
    pixels = shown(levels(motion, lamps, times)[:, seen].transpose(1, 0, 2), lamps, seen, background)
    groups = tuple((name, lamps.groups.count(name)) for name in names)
    curve = tuple(current_shares(motion, lamps, times).tolist())
    wanted = tuple(current_shares(motion, lamps, times, wanted=True).tolist()) if motion.limit_a > 0 else ()
    return Strips(pixels, groups, curve, wanted if wanted != curve else ())


def strip_picture(
    strip: Strip, lamps: Lamps, columns: int, background: tuple[int, int, int], feeds: Sequence[Feed] = ()
) -> Pixels:
    """A strip alone (n, columns, 3): its LEDs along its way, of many every so many."""
    way = way_of(strip, lamps)
    rows = _in_view(strip, lamps, way)
    if not len(rows):
        return np.broadcast_to(np.array(background, np.uint8), (1, columns, 3)).copy()
    moments = strip.start_s + (np.arange(columns) + 0.5) / columns * (strip.end_s - strip.start_s)
    times = within(strip, moments)
    made = strip_levels(strip, lamps, way, times, feeds, moments)[:, rows]
    made = made * fade_of(strip, times)[:, None, None]
    return shown(made.transpose(1, 0, 2), lamps, way.rows[rows], background)


def _in_view(strip: Strip, lamps: Lamps, way: Way) -> NDArray[np.intp]:
    """Which LEDs of a way are drawn, from the top down: along it, of many every so many. Of words that run, one column: what
    comes by there can be read."""
    if pattern(strip.pattern, lamps.patterns).written == "words" and len(way.rows):
        row, column, _, columns, (leds, _) = matrix(lamps, way.rows)
        there = np.flatnonzero(column == columns // 2)
        return np.asarray(leds[there[np.argsort(row[there], kind="stable")]], np.intp)
    return np.argsort(way.place, kind="stable")[_spread(len(way.rows), _MOST_IN_STRIP)]


def shown(made: NDArray[np.float64], lamps: Lamps, rows: NDArray[np.intp], background: tuple[int, int, int]) -> Pixels:
    """Levels (n, t, c) of some LEDs as colours (n, t, 3) sRGB on a background."""
    ground = np.array(background, float)
    if lamps.channels == 1:
        # The square root is near enough to how bright the eye takes a level for.
        out = ground + (lamps.colours[rows, None, :] - ground) * np.sqrt(made)
    else:
        lights = to_linear(lamps.shades[rows]) * (lamps.kinds[rows] > 0)[..., None]
        # Several lights of a colour are no brighter than their colour.
        whole = np.maximum(lights.sum(axis=1).max(axis=-1), 1.0)[:, None, None]
        light = np.einsum("ntc,nck->ntk", made, lights) / np.minimum(whole, 1.0)
        out = ground + (255 - ground) * np.clip(light, 0, 1) ** (1 / 2.2)
    return np.ascontiguousarray(out.round().clip(0, 255).astype(np.uint8))


def _spread(count: int, most: int) -> NDArray[np.intp]:
    """So many of a row of things, evenly, from the first to the last."""
    return np.linspace(0, max(0, count - 1), min(count, most)).round().astype(np.intp)
