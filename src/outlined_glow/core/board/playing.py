"""Frames of a playing pattern in compiled code: the sums of `glow.play`, row by row, without pictures in between."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from .. import compiled
from ..compiled import kernel
from .glow import Exposed, Pixels, curve, glow_of, play
from .light import Core, LedCluster, LightField
from .surface import Picture


@kernel("void(f4[:,::1], i4[::1], f4[:,::1], i4[::1], f4[:,::1], f4[:,::1])")
def _spread(grid: Any, rows: Any, row_shares: Any, columns: Any, column_shares: Any, out: Any) -> None:
    """A grid at the size of `out` (h, w): four columns from `columns` (w,) by their shares (4, w), then four rows (h, 4)."""
    high, wide = out.shape
    across = np.empty((len(grid), wide), np.float32)
    for y in range(len(grid)):
        line, row = grid[y], across[y]
        for x in range(wide):
            at = columns[x]
            row[x] = (
                column_shares[0, x] * line[at]
                + column_shares[1, x] * line[at + 1]
                + column_shares[2, x] * line[at + 2]
                + column_shares[3, x] * line[at + 3]
            )
    for y in range(high):
        at = rows[y]
        one, two, three, four = across[at], across[at + 1], across[at + 2], across[at + 3]
        a, b, c, d, row = row_shares[y, 0], row_shares[y, 1], row_shares[y, 2], row_shares[y, 3], out[y]
        for x in range(wide):
            row[x] = a * one[x] + b * two[x] + c * three[x] + d * four[x]


@kernel("void(f4[:,::1], i8, i8, i4[:,::1], i8[::1], f4[::1], f4[::1])")
def _add_patches(field: Any, top: Any, left: Any, frames: Any, starts: Any, patches: Any, levels: Any) -> None:
    """Add patches times their levels (n,) to a piece of a field that begins at a row and a column; `frames` (n, 4) are the
    first and last row and column of each in the whole field."""
    high, wide = field.shape
    for n in range(len(levels)):
        level = levels[n]
        if level <= 0:
            continue
        across = frames[n, 3] - frames[n, 2]
        first, last = max(frames[n, 2], left), min(frames[n, 3], left + wide)
        if first >= last:
            continue
        long, begin = last - first, first - left
        for y in range(max(frames[n, 0], top), min(frames[n, 1], top + high)):
            at = starts[n] + (y - frames[n, 0]) * across + first - frames[n, 2]
            row, patch = field[y - top], patches[at : at + long]
            for x in range(long):
                row[begin + x] += level * patch[x]


@kernel(
    "void(i8, i8, u2[:,:,::1], u2[:,:,::1], u2[:,::1], f4[:,:,:,::1], f4[:,::1], u2[:,:,::1], i8[::1], f4[:,:,::1],"
    " f4[:,::1], u1[::1], u1[:,:,::1])"
)
def _develop(
    top: Any,
    left: Any,
    base: Any,
    lit: Any,
    seen: Any,
    fields: Any,
    shades: Any,
    clear: Any,
    ways: Any,
    behind: Any,
    tints: Any,
    table: Any,
    out: Any,
) -> None:
    """Light to bytes (h, w, 3), in a piece of the picture that begins at a row and a column. `base` (3, h, w) is in steps of
    the table; `fields` (k, 2, of the piece) fall on the side (`lit`) in the colours `shades` (k, 3) and are `seen` in the eye;
    `behind` (m, of the piece) are `clear` (n, h, w) by their `ways` (m,), in the colours `tints` (m, 3)."""
    high, wide = fields.shape[2:]
    steps, total = np.empty((3, wide), np.int32), np.empty(wide, np.float32)
    half, most = np.float32(0.5), np.float32(len(table) - 1)
    for y in range(high):
        for plane in range(3):
            dark, white = base[plane, top + y][left : left + wide], lit[plane, top + y][left : left + wide]
            eye, row = seen[top + y][left : left + wide], steps[plane]
            for x in range(wide):
                step = np.float32(dark[x])
                total[x] = step * step
            for k in range(len(fields)):
                part, falling, halo = shades[k, plane], fields[k, 0, y], fields[k, 1, y]
                for x in range(wide):
                    total[x] += part * (falling[x] * np.float32(white[x]) + halo[x] * np.float32(eye[x]))
            for m in range(len(behind)):
                part, shining, shown = tints[m, plane], behind[m, y], clear[ways[m], top + y][left : left + wide]
                for x in range(wide):
                    total[x] += part * shining[x] * np.float32(shown[x])
            for x in range(wide):
                row[x] = np.int32(min(np.sqrt(total[x]) + half, most))
        pixels, red, green, blue = out[top + y][left : left + wide], steps[0], steps[1], steps[2]
        for x in range(wide):
            pixels[x, 0] = table[red[x]]
            pixels[x, 1] = table[green[x]]
            pixels[x, 2] = table[blue[x]]


#: The first and last row and column of a piece of the picture.
Window = tuple[int, int, int, int]
#: A piece that is nearly all of it is not worth while.
_WORTH = 0.75


@dataclass(frozen=True, eq=False)
class _Patches:
    """Pieces of a field (rows and columns of each), one after the other."""

    frames: NDArray[np.int32]
    starts: NDArray[np.int64]
    patches: Picture

    @classmethod
    def of(cls, rows: list[tuple[tuple[slice, slice], Picture] | None]) -> _Patches:
        """Packed; an empty one where there is none."""
        frames = [(0, 0, 0, 0) if row is None else (*_ends(row[0][0]), *_ends(row[0][1])) for row in rows]
        sizes = [0 if row is None else row[1].size for row in rows]
        whole = [row[1].ravel() for row in rows if row is not None]
        starts = np.concatenate([[0], np.cumsum(sizes)[:-1]]) if sizes else np.zeros(0)
        patches = np.concatenate(whole) if whole else np.zeros(0)
        return cls(np.array(frames, np.int32).reshape(-1, 4), starts.astype(np.int64), patches.astype(np.float32))

    def add(self, field: Picture, window: Window, levels: Picture) -> None:
        """Add them at their levels to a piece of a field."""
        _add_patches(field, window[0], window[2], self.frames, self.starts, self.patches, levels)


def _ends(one: slice) -> tuple[int, int]:
    return int(one.start), int(one.stop)


class _Fold:
    """Folding of the coarse grid with one kernel, by way of its spectrum."""

    def __init__(self, coarse: tuple[int, int], kernel: Picture) -> None:
        self._coarse, self._reach = coarse, kernel.shape[0] // 2
        self._size = tuple(cv2.getOptimalDFTSize(side + 2 * self._reach) for side in coarse)
        self._spectrum = cv2.dft(self._padded(kernel))

    def _padded(self, grid: Picture) -> Picture:
        out = np.zeros(self._size, np.float32)
        out[: grid.shape[0], : grid.shape[1]] = grid
        return out

    def __call__(self, grid: Picture) -> Picture:
        """The grid (h, w), spread by the kernel."""
        found = cv2.dft(self._padded(grid))
        found = cv2.mulSpectrums(found, self._spectrum, 0)
        high, wide = self._coarse
        back = cv2.dft(found, flags=cv2.DFT_INVERSE | cv2.DFT_SCALE | cv2.DFT_REAL_OUTPUT)
        return np.ascontiguousarray(back[self._reach : self._reach + high, self._reach : self._reach + wide])


class _Packed:
    """The LEDs of a cluster, packed for the kernels."""

    def __init__(self, light: LightField, cluster: LedCluster) -> None:
        self.cluster = cluster
        cores: list[Core | None] = list(cluster.cores)
        self.direct = _Patches.of([None if core is None else (core.place, core.direct) for core in cores])
        lenses = [None if core is None or core.lens is None else (core.lens_place, core.lens) for core in cores]
        self.lens = _Patches.of(lenses)
        #: Where each lies in the view: first and last row and column of its cores, or of its place on the coarse grid.
        self.frames = _frames_of(self.direct, self.lens, light, cluster)
        self.fold, self.glare = _Fold(light.coarse, cluster.kernel), _Fold(light.coarse, light.glare)


def _frames_of(direct: _Patches, lens: _Patches, light: LightField, cluster: LedCluster) -> NDArray[np.float64]:
    nodes = cluster.splat[0]
    rows, columns = light.px_of(nodes // light.coarse[1]), light.px_of(nodes % light.coarse[1])
    out = np.stack([rows.min(1), rows.max(1), columns.min(1), columns.max(1)], axis=1)
    for some in (direct.frames, lens.frames):
        there = some[:, 1] > some[:, 0]
        for at, pick in ((0, np.minimum), (1, np.maximum), (2, np.minimum), (3, np.maximum)):
            out[there, at] = pick(out[there, at], some[there, at])
    return out


def player(exposed: Exposed) -> Callable[[NDArray[np.float64]], Pixels]:
    """What plays an exposed surface: compiled code where it is loaded, plain code until then."""
    return Player(exposed) if compiled.loaded() else partial(play, exposed)


class Player:
    """Plays an exposed surface; makes the same pictures as `glow.play`, to a step of a colour."""

    def __init__(self, exposed: Exposed) -> None:
        self._exposed, light = exposed, exposed.light
        self._base = np.round(np.sqrt(np.minimum(np.stack(exposed.base), np.float32(65535.0**2)))).astype(np.uint16)
        # Half as many bytes to go through for each frame; what one unit is worth goes to the fields.
        self._lit, self._per_lit = _in_units(np.stack(exposed.lit))
        self._seen, self._per_seen = _in_units(exposed.seen)
        ways = {way: (*_in_units(clear), tint) for way, clear, tint in exposed.from_behind}
        self._ways = list(ways)
        self._clear = np.stack([clear for clear, _, _ in ways.values()])
        self._behind = [(unit, tint) for _, unit, tint in ways.values()]
        self._packed = [(colour, _Packed(light, one)) for colour in light.colours for one in light.clusters[colour]]
        x_taps, y_taps = light.taps()
        self._columns, self._column_shares = x_taps[0], np.ascontiguousarray(x_taps[1].T)
        self._rows, self._row_shares = y_taps
        self._out: Pixels = np.empty((*self._seen.shape, 3), np.uint8)
        self._last: list[Picture] | None = None
        #: How far from an LED its light is followed, px: the kernels, and what lies between four places of the coarse grid.
        kernels = [light.glare, *(one.cluster.kernel for _, one in self._packed)]
        self._reach = (max(kernel.shape[0] for kernel in kernels) // 2 + 4) * light.cell_px

    def __call__(self, levels: NDArray[np.float64]) -> Pixels:
        """The picture (h, w, 3) sRGB at some levels, 0..1, of the board's LEDs. Where few have changed since the last one, only
        what their light reaches is made anew."""
        lit = [(colour, one, one.cluster.levels(levels)) for colour, one in self._packed]
        window = self._changed([shares for *_, shares in lit])
        self._last = [shares for *_, shares in lit]
        if window is not None:
            self._make(lit, window)
        return self._out.copy()

    def _changed(self, shares: list[Picture]) -> Window | None:
        """The piece of the picture in which something is other than in the last one; None where nothing is."""
        high, wide = self._seen.shape
        whole = (0, high, 0, wide)
        if self._last is None:
            return whole
        rows = [one.frames[now != before] for (_, one), now, before in zip(self._packed, shares, self._last, strict=True)]
        frames = np.concatenate([*rows, np.zeros((0, 4), np.float64)])
        if not len(frames):
            return None
        if (high, wide) != self._exposed.light.small:
            return whole
        top, left = (max(0, int(frames[:, at].min() - self._reach)) for at in (0, 2))
        bottom, right = (min(most, math.ceil(frames[:, at].max() + self._reach)) for at, most in ((1, high), (3, wide)))
        if top >= bottom or left >= right:
            return None
        return whole if (bottom - top) * (right - left) > _WORTH * high * wide else (top, bottom, left, right)

    def _make(self, lit: list[tuple[str, _Packed, Picture]], window: Window) -> None:
        """A piece of the picture, at levels of each cluster."""
        high, wide = window[1] - window[0], window[3] - window[2]
        front = [row for row in lit if row[2].any() and row[1].cluster.way == "on"]
        back = [row for row in lit if row[2].any() and row[1].cluster.way != "on"]
        fields, shades = np.empty((len(front), 2, high, wide), np.float32), np.empty((len(front), 3), np.float32)
        for at, (colour, one, shares) in enumerate(front):
            self._field(one, shares * self._per_lit, one.cluster.strength, one.fold, one.direct, window, fields[at, 0])
            self._field(one, shares * self._per_seen, one.cluster.eye, one.glare, one.lens, window, fields[at, 1])
            shades[at] = glow_of(colour)
        behind, tints = np.empty((len(back), high, wide), np.float32), np.empty((len(back), 3), np.float32)
        ways = np.array([self._ways.index(one.cluster.way) for _, one, _ in back], np.int64)
        for at, (colour, one, shares) in enumerate(back):
            unit, tint = self._behind[ways[at]]
            self._field(one, shares * unit, one.cluster.strength, one.fold, one.direct, window, behind[at])
            tints[at] = glow_of(colour) * tint
        _develop(
            window[0], window[2], self._base, self._lit, self._seen, fields, shades, self._clear, ways, behind, tints, curve(),
            self._out,
        )  # fmt: skip

    def _field(
        self, one: _Packed, levels: Picture, strength: Picture, fold: _Fold, cores: _Patches, window: Window, out: Picture
    ) -> None:  # fmt: skip
        """The light of a cluster of LEDs on a piece of the view: far light over the coarse grid, and the cores."""
        light = self._exposed.light
        top, bottom, left, right = window
        same = light.small == self._seen.shape
        small = out if same else np.empty(light.small, np.float32)
        piece = window if same else (0, light.small[0], 0, light.small[1])
        spread = fold(light.laid(one.cluster, levels * strength))
        _spread(
            spread, self._rows[piece[0] : piece[1]], self._row_shares[piece[0] : piece[1]], self._columns[piece[2] : piece[3]],
            np.ascontiguousarray(self._column_shares[:, piece[2] : piece[3]]), small,
        )  # fmt: skip
        cores.add(small, piece, levels)
        if not same:
            cv2.resize(small, (right - left, bottom - top), dst=out, interpolation=cv2.INTER_LINEAR)


def _in_units(picture: Picture) -> tuple[NDArray[np.uint16], np.float32]:
    """A picture in 65535 steps up to its brightest place, and what one step is worth."""
    unit = np.float32(max(float(picture.max()), 1e-12) / 65535)
    return np.ascontiguousarray(np.round(picture / unit)).astype(np.uint16), unit
