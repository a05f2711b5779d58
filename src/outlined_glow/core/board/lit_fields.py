"""The light of clusters of LEDs over one view, packed for compiled code: far light on a coarse grid, and cores."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Protocol

import cv2
import numpy as np
from numpy.typing import NDArray

from .light import FEW, LedCluster, LightField
from .light_rows import add_patches, mix_rows, widen
from .surface import Picture

#: The first and last row and column of a piece of the picture.
Window = tuple[int, int, int, int]
#: For each row of the picture the first of four rows of a field, and the share (n, 4) of each.
Taps = tuple[NDArray[np.int32], Picture]
#: Rows and columns of a field, and what a core adds to them.
_Core = tuple[tuple[slice, slice], Picture]
#: The far light of so few LEDs is added LED by LED; that of more is folded at once.
_FAR_FEW = 200


@dataclass(frozen=True, eq=False)
class _Patches:
    """Pieces of a field, one after the other: the first and last row and column of each (n, 4), and where it begins."""

    frames: NDArray[np.int32]
    starts: NDArray[np.int64]
    patches: Picture

    @classmethod
    def of(cls, rows: Sequence[_Core | None]) -> _Patches:
        """Packed; an empty one where there is none."""
        frames = [(0, 0, 0, 0) if row is None else (*_ends(row[0][0]), *_ends(row[0][1])) for row in rows]
        sizes = [0 if row is None else row[1].size for row in rows]
        whole = [row[1].ravel() for row in rows if row is not None]
        starts = np.concatenate([[0], np.cumsum(sizes)[:-1]]) if sizes else np.zeros(0)
        patches = np.concatenate(whole) if whole else np.zeros(0)
        return cls(np.array(frames, np.int32).reshape(-1, 4), starts.astype(np.int64), patches.astype(np.float32))

    def add(self, field: Picture, levels: Picture, top: int = 0, left: int = 0) -> None:
        """Add them at their levels (n,) to a field, or to a piece of it that begins at a row and a column."""
        add_patches(field, top, left, self.frames, self.starts, self.patches, levels)


def _ends(one: slice) -> tuple[int, int]:
    return int(one.start), int(one.stop)


def _far_light(light: LightField, cluster: LedCluster, kernel: Picture) -> Callable[[Picture], Picture]:
    """What makes the far light of a cluster's LEDs, by one kernel, on the coarse grid (h, w) from the weights (n,) of each."""
    return (_Each if len(cluster.rows) <= _FAR_FEW else _Folded)(light, cluster, kernel)


class _Each:
    """The sum of what each LED gives: its shares of sixteen nodes, folded with the kernel."""

    def __init__(self, light: LightField, cluster: LedCluster, kernel: Picture) -> None:
        self._coarse, side, rows = light.coarse, kernel.shape[0], []
        nodes, shares = cluster.splat
        for first, share in zip(nodes[:, 0].tolist(), shares.astype(np.float32), strict=True):
            out = np.zeros((side + 3, side + 3), np.float32)
            for (down, across), part in np.ndenumerate(share.reshape(4, 4)):
                out[down : down + side, across : across + side] += part * kernel
            top, left = (at - side // 2 for at in divmod(first, light.coarse[1]))
            rows.append(((slice(top, top + side + 3), slice(left, left + side + 3)), out))
        self._patches = _Patches.of(rows)

    def __call__(self, weights: Picture) -> Picture:
        out = np.zeros(self._coarse, np.float32)
        self._patches.add(out, weights)
        return out


class _Folded:
    """The weights of all laid on the grid, and folded with the kernel by way of its spectrum."""

    def __init__(self, light: LightField, cluster: LedCluster, kernel: Picture) -> None:
        self._light, self._cluster, self._reach = light, cluster, kernel.shape[0] // 2
        self._size = tuple(cv2.getOptimalDFTSize(side + 2 * self._reach) for side in light.coarse)
        self._spectrum = cv2.dft(self._padded(kernel))

    def _padded(self, grid: Picture) -> Picture:
        out = np.zeros(self._size, np.float32)
        out[: grid.shape[0], : grid.shape[1]] = grid
        return out

    def __call__(self, weights: Picture) -> Picture:
        high, wide = self._light.coarse
        found = cv2.mulSpectrums(cv2.dft(self._padded(self._light.laid(self._cluster, weights))), self._spectrum, 0)
        back = cv2.dft(found, flags=cv2.DFT_INVERSE | cv2.DFT_SCALE | cv2.DFT_REAL_OUTPUT)
        return np.ascontiguousarray(back[self._reach : self._reach + high, self._reach : self._reach + wide])


class Field:
    """The light of a cluster in one of its ways: what makes its far light, how much of it each LED gives (n,), where the core
    of each lies, and how many units of the picture a level is worth."""

    def __init__(
        self, far: Callable[[Picture], Picture], strength: Picture, rows: Sequence[_Core | None], unit: np.float32
    ) -> None:  # fmt: skip
        self.far, self.strength, self.rows, self.unit = far, strength, rows, unit
        self.cores = _Patches.of(rows)


class Packed:
    """The LEDs of a cluster, packed for the kernels: one field of what shines from behind, two of what falls on the side."""

    def __init__(self, light: LightField, cluster: LedCluster, units: Sequence[np.float32]) -> None:
        self.cluster = cluster
        direct = [None if core is None else (core.place, core.direct) for core in cluster.cores]
        lens = [None if core is None or core.lens is None else (core.lens_place, core.lens) for core in cluster.cores]
        self.fields = [Field(_far_light(light, cluster, cluster.kernel), cluster.strength, direct, units[0])]
        if cluster.way == "on":
            self.fields.append(Field(_far_light(light, cluster, light.glare), cluster.eye, lens, units[1]))
        #: Where each lies in the view: first and last row and column of its cores, or of its place on the coarse grid.
        self.frames = _frames_of([field.cores for field in self.fields], light, cluster)


def _frames_of(cores: Sequence[_Patches], light: LightField, cluster: LedCluster) -> NDArray[np.float64]:
    nodes = cluster.splat[0]
    rows, columns = light.px_of(nodes // light.coarse[1]), light.px_of(nodes % light.coarse[1])
    out = np.stack([rows.min(1), rows.max(1), columns.min(1), columns.max(1)], axis=1)
    for some in cores:
        there = some.frames[:, 1] > some.frames[:, 0]
        for at, pick in ((0, np.minimum), (1, np.maximum), (2, np.minimum), (3, np.maximum)):
            out[there, at] = pick(out[there, at], some.frames[there, at])
    return out


class Cores:
    """The cores of all fields, those that begin higher first, and which of them may reach each row of the picture."""

    def __init__(self, fields: Sequence[Field], high: int) -> None:
        packed = _Patches.of([row for field in fields for row in field.rows])
        self._order = np.argsort(packed.frames[:, 0], kind="stable")
        self.frames, self.starts, self.patches = packed.frames[self._order], packed.starts[self._order], packed.patches
        tallest = int((self.frames[:, 1] - self.frames[:, 0]).max(initial=0))
        rows, tops = np.arange(high), self.frames[:, 0]
        first = np.searchsorted(tops, rows - tallest, "right")
        self.here = np.stack([first, np.searchsorted(tops, rows, "right")], axis=1).astype(np.int32)

    def at(self, levels: Sequence[Picture], places: Sequence[int]) -> tuple[Picture, NDArray[np.int64]]:
        """The level of each core, and the place of its field, from those of the fields."""
        if not len(self._order):
            return np.zeros(0, np.float32), np.zeros(0, np.int64)
        place = np.repeat(np.array(places, np.int64), [len(one) for one in levels])
        return np.concatenate(levels).astype(np.float32)[self._order], place[self._order]


class Laid(Protocol):
    """How fields come to the rows of the picture."""

    taps: Taps
    cores: Cores
    #: Whether a piece of the picture can be made alone.
    by_piece: bool

    def rows(self, window: Window) -> tuple[int, int]:
        """The first and last row of the fields that a piece of the picture is mixed from."""

    def lay(self, field: Field, levels: Picture, window: Window, out: Picture) -> None:
        """Those rows of a field at levels of its LEDs, at the width of the piece."""


class _Lines:
    """The coarse grid at the width of the fields."""

    def __init__(self, light: LightField) -> None:
        columns, self.taps = light.taps()
        self._columns, self._shares = columns[0], np.ascontiguousarray(columns[1].T)

    def widened(self, grid: Picture, left: int, right: int, out: Picture | None = None) -> Picture:
        """Rows of the grid, from a column of the fields to another."""
        if out is None:
            out = np.empty((len(grid), right - left), np.float32)
        widen(grid, self._columns[left:right], np.ascontiguousarray(self._shares[:, left:right]), out)
        return out


class _ByRow:
    """Each row of the picture is mixed from the coarse grid, and gets its cores."""

    by_piece = True

    def __init__(self, light: LightField, fields: Sequence[Field]) -> None:
        self._lines = _Lines(light)
        self.taps = self._lines.taps
        self.cores = Cores(fields, light.view.height)

    def rows(self, window: Window) -> tuple[int, int]:
        return int(self.taps[0][window[0]]), int(self.taps[0][window[1] - 1]) + 4

    def lay(self, field: Field, levels: Picture, window: Window, out: Picture) -> None:
        first, last = self.rows(window)
        self._lines.widened(field.far(levels * field.strength)[first:last], *window[2:], out)


class _AtOnce:
    """Fields as large as the view: a piece of each is made with all of its cores, one after another."""

    by_piece = True

    def __init__(self, light: LightField) -> None:
        self._lines = _Lines(light)
        self.taps = _linear(light.view.height, light.view.height)
        self.cores = Cores((), light.view.height)

    def rows(self, window: Window) -> tuple[int, int]:
        return window[:2]

    def lay(self, field: Field, levels: Picture, window: Window, out: Picture) -> None:
        top, bottom, left, right = window
        across = self._lines.widened(field.far(levels * field.strength), left, right)
        first, shares = self._lines.taps
        mix_rows(across, first[top:bottom], shares[top:bottom], out)
        field.cores.add(out, levels, top, left)


class _Small:
    """Fields that are smaller than the view are made whole, with their cores, and scaled up: first their columns, then, row by
    row of the picture, their rows."""

    by_piece = False

    def __init__(self, light: LightField) -> None:
        self._lines, self._size, self._wide = _Lines(light), light.small, light.view.width
        self.taps = _linear(light.small[0], light.view.height)
        self.cores = Cores((), light.view.height)

    def rows(self, window: Window) -> tuple[int, int]:
        return 0, self._size[0]

    def lay(self, field: Field, levels: Picture, window: Window, out: Picture) -> None:
        small = np.empty(self._size, np.float32)
        mix_rows(self._lines.widened(field.far(levels * field.strength), 0, self._size[1]), *self._lines.taps, small)
        field.cores.add(small, levels)
        cv2.resize(small, (self._wide, self._size[0]), dst=out, interpolation=cv2.INTER_LINEAR)


def laid(light: LightField, packed: Sequence[Packed]) -> Laid:
    """How the fields of some clusters come to the rows of the picture."""
    if light.small != (light.view.height, light.view.width):
        return _Small(light)
    few = sum(len(one.cluster.rows) for one in packed) <= FEW
    return _ByRow(light, [field for one in packed for field in one.fields]) if few else _AtOnce(light)


def _linear(count: int, wanted: int) -> tuple[NDArray[np.int32], Picture]:
    """For `wanted` rows of a picture of `count` rows, scaled: the first of four, and the share (n, 4) of each; two are 0, or
    all but the first where the rows are the same."""
    if wanted == count:
        return np.arange(count, dtype=np.int32), np.tile(np.array([1, 0, 0, 0], np.float32), (count, 1))
    at = np.clip((np.arange(wanted) + 0.5) * count / wanted - 0.5, 0, count - 1)
    low = np.minimum(at.astype(int), max(0, count - 2))
    first = np.clip(low - 1, 0, max(0, count - 4))
    shares = np.zeros((wanted, 4), np.float32)
    shares[np.arange(wanted), low - first] = 1 - (at - low)
    shares[np.arange(wanted), np.minimum(low - first + 1, 3)] += at - low
    return first.astype(np.int32), shares
