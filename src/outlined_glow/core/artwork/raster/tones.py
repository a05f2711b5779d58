"""Many tones out of few: error diffusion and halftone screens (DOMAIN 1, "Raster pictures")."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from ...colour.difference import hex_to_rgb, rgb_to_lab, to_linear
from ...geometry.cracks import NOTHING, Labels
from ...project import Tones
from .read import Pixels

Field = NDArray[np.float64]

#: The share of the lightness at either end that is as good as black or white.
_ENDS = 0.03
#: Dots over which a grain is averaged before the darkest and the lightest are taken.
_GRAIN = 5
#: Where a pixel's error goes, (x, y, share): the whole of it to near ones, to far ones too, or three quarters, crisper.
KERNELS: dict[str, tuple[tuple[int, int, float], ...]] = {
    "near": ((1, 0, 7 / 16), (-1, 1, 3 / 16), (0, 1, 5 / 16), (1, 1, 1 / 16)),
    "wide": (
        (1, 0, 8 / 42), (2, 0, 4 / 42), (-2, 1, 2 / 42), (-1, 1, 4 / 42), (0, 1, 8 / 42), (1, 1, 4 / 42), (2, 1, 2 / 42),
        (-2, 2, 1 / 42), (-1, 2, 2 / 42), (0, 2, 4 / 42), (1, 2, 2 / 42), (2, 2, 1 / 42),
    ),
    "crisp": ((1, 0, 1 / 8), (2, 0, 1 / 8), (-1, 1, 1 / 8), (0, 1, 1 / 8), (1, 1, 1 / 8), (0, 2, 1 / 8)),
}  # fmt: skip


@dataclass(frozen=True)
class Steps:
    """Appearances by rising brightness, with their colour and linear luminance."""

    words: tuple[str, ...]
    colours: tuple[str, ...]
    light: tuple[float, ...]

    @classmethod
    def of(cls, looks: tuple[tuple[str, str], ...]) -> Steps:
        """From (appearance, colour) in any order."""
        rows = sorted((float(to_linear(hex_to_rgb(colour)) @ (0.2126, 0.7152, 0.0722)), word, colour) for word, colour in looks)
        return cls(tuple(r[1] for r in rows), tuple(r[2] for r in rows), tuple(r[0] for r in rows))


def finest_ruling(dot_mm: float, tones: int) -> float:
    """The finest ruling, lines/cm, whose cells of square dots `dot_mm` wide give `tones` + 1 tones: 10 / (d sqrt(n))."""
    return float(10 / (dot_mm * np.sqrt(tones)))


def cell_mm(tones: Tones, dot_mm: float) -> float:
    """How far apart the dots or lines of a screen stand: as asked, but never finer than the tones allow.

    Lines need no dots to be counted; five of the finest wide, they can be a fifth to four fifths of their pitch.
    """
    finest = 10 / finest_ruling(dot_mm, tones.steps) if tones.screen == "dot" else 5 * dot_mm
    return max(finest, 10 / tones.ruling_per_cm if tones.ruling_per_cm else 0.0)


def least_share(tones: Tones, dot_mm: float, cell: float) -> float:
    """The share of a cell that the smallest dot, or the finest line, takes."""
    share = float(np.pi / 4 * dot_mm**2 / cell**2) if tones.screen == "dot" else dot_mm / cell
    return min(share, 0.45)


def tone_field(pixels: Pixels, gone: NDArray[np.bool_] | None, steps: Steps) -> Field:
    """Linear luminance (h, w) wanted of the board: the picture's lightness, stretched over that of the steps.

    A little of it at either end is taken for the end, so that a white ground stays without dots, whatever its grain.
    """
    lightness = rgb_to_lab(pixels)[..., 0]
    even = cv2.blur(lightness, (_GRAIN, _GRAIN))
    seen = even if gone is None or gone.all() else even[~gone]
    low, high = np.percentile(seen, [1, 99])
    low, high = low + _ENDS * (high - low), high - _ENDS * (high - low)
    share = np.clip((lightness - low) / max(high - low, 1e-6), 0, 1) if high - low > 1e-6 else np.full(lightness.shape, 0.5)
    dark, bright = (_lightness(value) for value in (steps.light[0], steps.light[-1]))
    return _luminance(dark + share * (bright - dark))


def lightness_field(rgb: Field, steps: Steps) -> Field:
    """Linear luminance (h, w) wanted of the board for sRGB (h, w, 3), as light as it is, within what the steps reach."""
    dark, bright = (_lightness(value) for value in (steps.light[0], steps.light[-1]))
    return _luminance(np.clip(rgb_to_lab(rgb)[..., 0], dark, bright))


def _lightness(y: float) -> float:
    return 116 * float(np.cbrt(y)) - 16 if y > 216 / 24389 else y * 24389 / 27


def _luminance(lightness: Field) -> Field:
    return np.where(lightness > 8, ((lightness + 16) / 116) ** 3, lightness * 27 / 24389)


def diffuse(wanted: Field, steps: Steps, kernel: str) -> Labels:
    """Each dot's step (h, w), the error of each handed on to its neighbours.

    What is as dark or as light as can be takes no error and hands none on: a white ground gathers no dots.
    Dots whose errors do not depend on one another lie on slanted lines and are done together.
    """
    spread = KERNELS[kernel]
    slant = 1 + max(-x for x, _, _ in spread)
    reach = max(abs(x) for x, _, _ in spread)
    height, width = wanted.shape
    deep = max(y for _, y, _ in spread)
    values = np.zeros((height + deep, width + 2 * reach))
    values[:height, reach:-reach] = wanted
    out = np.zeros((height, width), np.uint8)
    light = np.array(steps.light)
    middles = (light[1:] + light[:-1]) / 2
    at_end = (wanted <= light[0]) | (wanted >= light[-1])
    for line in range(width + slant * (height - 1)):
        first = max(0, -(-(line - width + 1) // slant))
        rows = np.arange(first, min(height - 1, line // slant) + 1)
        columns = line - slant * rows
        full = at_end[rows, columns]
        here = np.where(full, wanted[rows, columns], values[rows, columns + reach])
        step = np.searchsorted(middles, here)
        out[rows, columns] = step
        error = np.where(full, 0.0, np.clip(here - light[step], -0.5, 0.5))
        for x, y, share in spread:
            values[rows + y, columns + reach + x] += error * share
    return out


def threshold_of(kind: str, x: Field, y: Field, cell: float, angle_deg: float) -> Field:
    """The screen's threshold (0..1, evenly spread) at places: round dots or lines, at the angle, `cell` apart."""
    a = np.radians(angle_deg)
    u, v = (x * np.cos(a) + y * np.sin(a)) / cell, (y * np.cos(a) - x * np.sin(a)) / cell
    if kind == "line":
        return np.asarray(np.abs((v % 1.0) - 0.5) * 2)
    spot = (np.cos(2 * np.pi * u) + np.cos(2 * np.pi * v)) / 2
    grid = (np.arange(256) + 0.5) / 256
    ranks = np.sort(((np.cos(2 * np.pi * grid)[:, None] + np.cos(2 * np.pi * grid)[None]) / 2).ravel())
    return np.asarray(1 - np.searchsorted(ranks[::16], spot) / len(ranks[::16]))


def screen(
    wanted: Field, steps: Steps, tones: Tones, cell_px: float, least: float, corner: tuple[int, int] = (0, 0)
) -> tuple[Labels, Field]:
    """Each pixel's step (h, w), and how far over its threshold it is; `least` is the smallest share of a cell that prints.

    `corner` (column, row) is where the pixels begin in the lattice of the screen.
    """
    light = np.array(steps.light)
    base = np.clip(np.searchsorted(light, wanted, side="right") - 1, 0, len(light) - 2)
    share = np.clip((wanted - light[base]) / np.maximum(light[base + 1] - light[base], 1e-9), 0, 1)
    # What is too small to print is printed at its smallest, or not at all, whichever is nearer.
    share = np.where(share < least, np.where(share < least / 2, 0.0, least), share)
    share = np.where(share > 1 - least, np.where(share > 1 - least / 2, 1.0, 1 - least), share)
    rows, columns = np.mgrid[0 : wanted.shape[0], 0 : wanted.shape[1]]
    x, y = columns + corner[0] + 0.5, rows + corner[1] + 0.5
    over = share - threshold_of(tones.screen, x, y, cell_px, tones.screen_deg)
    over = np.where(share <= 0, -1.0, np.where(share >= 1, 1.0, over))
    return (base + (over > 0)).astype(np.uint8), over


def resampled(pixels: Pixels, size: tuple[int, int]) -> Pixels:
    """The picture at another size (width, height): averaged down, or enlarged smoothly."""
    smaller = size[0] < pixels.shape[1]
    return np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA if smaller else cv2.INTER_CUBIC))


def nothing(labels: Labels, gone: NDArray[np.bool_] | None) -> Labels:
    """The labels without what is no part of the picture."""
    if gone is not None:
        labels[cv2.resize(gone.astype(np.uint8), labels.shape[::-1], interpolation=cv2.INTER_NEAREST) > 0] = NOTHING
    return labels
