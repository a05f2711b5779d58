"""The light of the LEDs on the surface in one view, summed by level for a frame (DOMAIN 10).

A footprint is parted in two. Its core, steep and small, is kept as a patch for each LED; its far part and the glare
in the eye are smooth, so they are sums on a coarse grid: the levels are laid on it and folded with one kernel. So a
frame costs little more for a thousand LEDs than for twenty, and nothing of the far light is cut off.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from ..lights.footprint import FRONT_HEIGHT_MM, footprint
from .model import Board, LightSpot
from .surface import Picture
from .view import View

#: Linear light on the surface right under an LED of one millicandela.
PER_MCD = 0.0045
#: Light of the lens itself, and of its halo in the eye, against the light under it.
_LENS, _HALO, _TYPICAL_MCD = 30.0, 0.10, 21.0
_LENS_MM, _GLARE_MM = 0.42, 2.2
#: How far from the board what lies behind it is, mm: a table, a wall.
_BEHIND_MM = 6.0
#: Fields are as fine as the view for so few LEDs, up to so many pixels per mm; all others are made at so many at most and
#: scaled up, for their cores cost most. Smooth parts are made on a grid of so many.
FEW, _FINE_PX_PER_MM, _FIELD_PX_PER_MM, _COARSE_PX_PER_MM = 64, 40.0, 10.0, 1.75
#: How far the core of a footprint reaches, in heights; how far smooth light is followed, mm.
_CORE, _FAR_MM = 3.0, 30.0

Profile = Callable[[NDArray[np.float32]], NDArray[np.float32]]
#: Where the light of an LED is seen: on the view's side of the board, through its windows, or on what lies behind it.
Way = Literal["on", "through", "beyond"]


@dataclass(frozen=True, eq=False)
class Core:
    """The steep light of one LED: where in the field, falling on the side, and in the eye."""

    place: tuple[slice, slice]
    direct: Picture
    lens_place: tuple[slice, slice]
    lens: Picture | None


@dataclass(frozen=True, eq=False)
class LedCluster:
    """LEDs of one colour that shine alike: where their light is seen, which of the board's they are, which of their lights that
    is, their cores, and how they lie on the coarse grid."""

    way: Way
    rows: NDArray[np.intp]
    channels: NDArray[np.intp]
    cores: tuple[Core | None, ...]
    splat: tuple[NDArray[np.intp], NDArray[np.float64]]
    strength: NDArray[np.float32]
    eye: NDArray[np.float32]
    kernel: Picture

    def levels(self, levels: NDArray[np.float64]) -> NDArray[np.float32]:
        """Of the levels of the LEDs (n,) of the board, or of their lights (n, c), those of its own, 0 where there is none."""
        if levels.ndim == 2:
            there = (self.rows < len(levels)) & (self.channels < levels.shape[1])
            out = np.zeros(len(self.rows), np.float32)
            out[there] = levels[self.rows[there], self.channels[there]]
            return out
        return np.append(levels, 0.0)[np.minimum(self.rows, len(levels))].astype(np.float32)


@dataclass(frozen=True, eq=False)
class LightField:
    """Each LED's light in one view. `small` is the size (h, w) of the fields, `coarse` that of the grid."""

    view: View
    small: tuple[int, int]
    coarse: tuple[int, int]
    to_half: NDArray[np.float64]
    clusters: dict[str, tuple[LedCluster, ...]]
    glare: Picture

    @property
    def colours(self) -> tuple[str, ...]:
        """The colours of light there are."""
        return tuple(self.clusters)

    def fields(self, levels: NDArray[np.float64], colour: str) -> dict[str, Picture]:
        """Sums (h, w) of one colour at levels of the board's LEDs, by way; and what the eye spreads of them: “halo”."""
        out: dict[str, Picture] = {}
        for cluster in self.clusters[colour]:
            lit = cluster.levels(levels)
            if not lit.any():
                continue
            field = self._smooth(cluster, lit * cluster.strength, cluster.kernel)
            lens = self._smooth(cluster, lit * cluster.eye, self.glare) if cluster.way == "on" else None
            for core, level in zip(cluster.cores, lit, strict=True):
                if core is not None and level > 0:
                    _add(field, core.place, core.direct, level)
                    if lens is not None and core.lens is not None:
                        _add(lens, core.lens_place, core.lens, level)
            out[cluster.way] = field
            if lens is not None:
                out["halo"] = lens
        return out

    def laid(self, cluster: LedCluster, weights: NDArray[np.float32]) -> Picture:
        """Weights of a cluster's LEDs laid on the coarse grid."""
        nodes, shares = cluster.splat
        flat = np.bincount(nodes.ravel(), (shares * weights[:, None]).ravel(), self.coarse[0] * self.coarse[1])
        return flat.reshape(self.coarse).astype(np.float32)

    @property
    def cell_px(self) -> float:
        """How many pixels of the view a cell of the coarse grid is wide."""
        return self.view.px_per_mm / _COARSE_PX_PER_MM

    def px_of(self, cells: NDArray[np.intp]) -> NDArray[np.float64]:
        """Where columns or rows of the coarse grid lie in the view, px."""
        return np.asarray((cells - _offset()) * self.cell_px, float)

    def taps(self) -> list[tuple[NDArray[np.int32], Picture]]:
        """For the columns of a field and for its rows: the first of four of the coarse grid, and the share (n, 4) of each."""
        per_px = _COARSE_PX_PER_MM / self.view.px_per_mm
        sides = ((self.small[1], self.view.width * per_px), (self.small[0], self.view.height * per_px))
        four = [_four((np.arange(count) + 0.5) * length / count + _offset()) for count, length in sides]
        return [(first.astype(np.int32), shares.astype(np.float32)) for first, shares in four]

    def _smooth(self, cluster: LedCluster, weights: NDArray[np.float32], kernel: Picture) -> Picture:
        """Weights laid on the coarse grid, folded with a kernel, at the size of the fields."""
        grid = self.laid(cluster, weights)
        spread = cv2.filter2D(grid, cv2.CV_32F, kernel, borderType=cv2.BORDER_CONSTANT)
        high, wide = self.small
        flags = cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP
        # Cubic to half the size, where it is smooth already, then doubled: a third of the time.
        half = cv2.warpAffine(spread, self.to_half, ((wide + 1) // 2, (high + 1) // 2), flags=flags)
        return np.asarray(cv2.resize(half, (wide, high), interpolation=cv2.INTER_LINEAR), np.float32)


def _add(field: Picture, place: tuple[slice, slice], patch: Picture, level: np.float32) -> None:
    """Add a patch times a level to a place of a field."""
    there = field[place]
    cv2.scaleAdd(patch, float(level), there, there)


def _splat(places: NDArray[np.float64], coarse: tuple[int, int]) -> tuple[NDArray[np.intp], NDArray[np.float64]]:
    """The sixteen grid nodes (n, 16) round each place (n, 2 as x, y) and the share of it that each takes (cubic, Keys)."""
    first, shares = _four(places)
    step = np.arange(4)
    nodes = (first[:, 1, None, None] + step[:, None]) * coarse[1] + first[:, 0, None, None] + step
    both = shares[:, 1, :, None] * shares[:, 0, None, :]
    return nodes.reshape(-1, 16), both.reshape(-1, 16)


def _four(places: NDArray[np.float64]) -> tuple[NDArray[np.intp], NDArray[np.float64]]:
    """The first of the four nodes round each place along a line of nodes, and the share (..., 4) of each (cubic, Keys)."""
    first = np.floor(places).astype(int) - 1
    t = places - first - 1
    shares = [
        -0.5 * t + t**2 - 0.5 * t**3, 1 - 2.5 * t**2 + 1.5 * t**3, 0.5 * t + 2 * t**2 - 1.5 * t**3, -0.5 * t**2 + 0.5 * t**3,
    ]  # fmt: skip
    return first, np.stack(shares, axis=-1)


def _offset() -> float:
    """Where the view begins on the coarse grid, which reaches beyond it."""
    return _FAR_MM / 2 * _COARSE_PX_PER_MM + 0.5


def make_light(board: Board, view: View) -> LightField:
    """The light of each LED that shows on the view's side: its own side's, those behind windows on the other, and the rest of
    that other side on what lies behind the board."""
    fine = len(board.lights) <= FEW and view.px_per_mm <= _FINE_PX_PER_MM
    scale = 1.0 if fine else min(1.0, _FIELD_PX_PER_MM / view.px_per_mm)
    small = (max(4, round(view.height * scale)), max(4, round(view.width * scale)))
    margin = _FAR_MM / 2
    cells = np.array([view.height, view.width]) / view.px_per_mm + 2 * margin
    coarse = tuple(int(np.ceil(side * _COARSE_PX_PER_MM)) + 3 for side in cells)
    to_coarse = _COARSE_PX_PER_MM / view.px_per_mm
    offset = _offset()
    # From the middle of a pixel of half the field to the coarse grid, whose nodes are its pixels' middles.
    sx, sy = view.width / ((small[1] + 1) // 2) * to_coarse, view.height / ((small[0] + 1) // 2) * to_coarse
    to_half = np.array([[sx, 0, 0.5 * sx + offset], [0, sy, 0.5 * sy + offset]])
    clusters: dict[str, list[LedCluster]] = {}
    row_of = {index: row for row, index in enumerate(board.led_indices)}
    channel_of = {(spot.index, spot.light): at for spot, at in zip(board.lights, board.channels, strict=True)}
    heights: dict[Way, float] = {"on": FRONT_HEIGHT_MM, "through": board.stack.thickness_mm, "beyond": _BEHIND_MM}
    for (colour, way), spots in _alike(board, view).items():
        height = heights[way]
        px = view.to_px(np.array([[spot.x, spot.y] for spot in spots]))
        places = px * to_coarse + offset
        near: NDArray[np.bool_] = np.all((places >= 2) & (places < np.array([coarse[1], coarse[0]]) - 3), axis=1)
        spots, px, places = [spot for spot, here in zip(spots, near, strict=True) if here], px[near], places[near]
        if not spots:
            continue
        mcd = np.array([spot.mcd for spot in spots], np.float32)
        # What lies that far behind is lit so softly that the coarse grid shows all of it.
        cores = tuple(
            None if way == "beyond" else _core(at, one, way == "through", height, view, small)
            for at, one in zip(px, spots, strict=True)
        )
        kernel = _kernel(_whole(height) if way == "beyond" else _far(height))
        rows = np.array([row_of[spot.index] for spot in spots])
        channels = np.array([channel_of[spot.index, spot.light] for spot in spots])
        splat = _splat(places, (coarse[0], coarse[1]))
        strength, eye = mcd * np.float32(PER_MCD), _in_the_eye(mcd)
        cluster = LedCluster(way, rows, channels, cores, splat, strength, eye, kernel)
        clusters.setdefault(colour, []).append(cluster)
    found = {colour: tuple(several) for colour, several in clusters.items()}
    return LightField(view, small, (coarse[0], coarse[1]), to_half, found, _kernel(_glare))


def _alike(board: Board, view: View) -> dict[tuple[str, Way], list[LightSpot]]:
    out: dict[tuple[str, Way], list[LightSpot]] = {}
    for spot in board.lights:
        way: Way = "on" if spot.side == view.side else "through" if spot.behind else "beyond"
        if way != "beyond" or spot.kind.part.shines != "sideways":
            out.setdefault((spot.colour, way), []).append(spot)
    return out


def _core(
    at: NDArray[np.float64], spot: LightSpot, behind: bool, height: float, view: View, small: tuple[int, int]
) -> Core | None:
    """The core of a footprint about a pixel of the view; None if it lies outside."""
    place, distance = _window(at, _CORE * height, view, small)
    if distance.size == 0:
        return None
    direct = footprint(distance, height) * _near(distance, height) * np.float32(spot.mcd * PER_MCD)
    lens_place, far = _window(at, 3 * _LENS_MM, view, small)
    lens = None
    if not behind and spot.mcd > 0 and far.size:
        lens = np.exp(-np.square(far / np.float32(_LENS_MM))) * np.float32(_LENS * 0.25) * _in_the_eye(spot.mcd)
    return Core(place, direct.astype(np.float32), lens_place, None if lens is None else lens.astype(np.float32))


def _window(
    at: NDArray[np.float64], reach_mm: float, view: View, small: tuple[int, int]
) -> tuple[tuple[slice, slice], NDArray[np.float32]]:
    """Rows and columns of the field within reach of a pixel of the view, and their distance from it, mm."""
    sy, sx = small[0] / view.height, small[1] / view.width
    reach = reach_mm * view.px_per_mm
    px, py = map(float, at)
    x0, x1 = max(0, int((px - reach) * sx)), min(small[1], int((px + reach) * sx) + 2)
    y0, y1 = max(0, int((py - reach) * sy)), min(small[0], int((py + reach) * sy) + 2)
    x = ((np.arange(x0, max(x0, x1), dtype=np.float32) + 0.5) / np.float32(sx) - np.float32(px)) / np.float32(view.px_per_mm)
    y = ((np.arange(y0, max(y0, y1), dtype=np.float32) + 0.5) / np.float32(sy) - np.float32(py)) / np.float32(view.px_per_mm)
    return (slice(y0, y1), slice(x0, x1)), np.hypot(x[None, :], y[:, None])


def _near(distance: NDArray[np.float32], height: float) -> NDArray[np.float32]:
    """The share of a footprint that is its core: all of it in the middle, nothing where the patch ends."""
    return _step_down(distance / np.float32(_CORE * height))


def _step_down(ratio: NDArray[np.float32]) -> NDArray[np.float32]:
    """1 up to 0, 0 from 1 on, and smooth to the second derivative between."""
    t = np.clip(ratio, 0, 1)
    return np.asarray(1 - t * t * t * (t * (t * 6 - 15) + 10), np.float32)


def _far(height: float) -> Profile:
    return lambda distance: footprint(distance, height) * (1 - _near(distance, height))


def _whole(height: float) -> Profile:
    """Nearer by so much, a surface is lit so much brighter: by the square."""
    return lambda distance: footprint(distance, height) * np.float32((FRONT_HEIGHT_MM / height) ** 2)


def _glare(distance: NDArray[np.float32]) -> NDArray[np.float32]:
    """What the eye spreads round a lens."""
    return np.asarray(np.float32(_HALO) / (1.0 + np.square(distance / np.float32(_GLARE_MM))) ** 1.5, np.float32)


def _kernel(profile: Profile) -> Picture:
    """A profile over distance (mm) on the coarse grid, faded out where it is no longer followed."""
    reach = int(np.ceil(_FAR_MM * _COARSE_PX_PER_MM / 2))
    along = np.arange(-reach, reach + 1, dtype=np.float32) / np.float32(_COARSE_PX_PER_MM)
    distance = np.hypot(along[None, :], along[:, None])
    return np.asarray(profile(distance) * _step_down((distance / np.float32(_FAR_MM / 2) - 0.6) / 0.4), np.float32)


def _in_the_eye(mcd: NDArray[np.float32] | float) -> NDArray[np.float32]:
    """What the eye makes of a lens grows slower than its light."""
    return np.asarray(_TYPICAL_MCD * (np.asarray(mcd, np.float32) / _TYPICAL_MCD) ** 0.6 * PER_MCD, np.float32)
