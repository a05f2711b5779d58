"""Frames of a playing pattern in compiled code: the sums of `glow.play`, row by row, without pictures in between."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

import numpy as np
from numpy.typing import NDArray

from .. import compiled
from .glow import Exposed, Pixels, curve, glow_of, play
from .light_rows import develop
from .lit_fields import Packed, Window, laid
from .surface import Picture

#: A piece that is nearly all of it is not worth while.
_WORTH = 0.75


def player(exposed: Exposed) -> Callable[[NDArray[np.float64]], Pixels]:
    """What plays an exposed surface: compiled code where it is loaded, plain code until then."""
    return Player(exposed) if compiled.loaded() else partial(play, exposed)


class Player:
    """Plays an exposed surface; makes the same pictures as `glow.play`, to a step of a colour."""

    def __init__(self, exposed: Exposed) -> None:
        light = exposed.light
        self._base = np.round(np.sqrt(np.minimum(np.stack(exposed.base), np.float32(65535.0**2)))).astype(np.uint16)
        # Half as many bytes to go through for each frame; what one unit is worth goes to the fields.
        self._lit, per_lit = _in_units(np.stack(exposed.lit))
        self._seen, per_seen = _in_units(exposed.seen)
        ways = {way: (*_in_units(clear), tint) for way, clear, tint in exposed.from_behind}
        self._clear = np.stack([clear for clear, _, _ in ways.values()])
        self._spans = _spans(self._clear)
        units = {"on": [per_lit, per_seen], **{way: [unit] for way, (_, unit, _) in ways.items()}}
        every = [(colour, one) for colour in light.colours for one in light.clusters[colour]]
        # What falls on the side comes first.
        every.sort(key=lambda row: row[1].way != "on")
        self._packed = [Packed(light, one, units[one.way]) for _, one in every]
        #: The colour that each cluster shines in, and which of the pictures of what is clear it shines through.
        self._shades = [glow_of(colour) * (ways[one.way][2] if one.way in ways else 1) for colour, one in every]
        self._through = [list(ways).index(one.way) if one.way in ways else -1 for _, one in every]
        self._laid = laid(light, self._packed)
        self._out: Pixels = np.empty((*self._seen.shape, 3), np.uint8)
        self._last: list[Picture] | None = None
        #: How far from an LED its light is followed, px: the kernels, and what lies between four places of the coarse grid.
        kernels = [light.glare, *(one.cluster.kernel for one in self._packed)]
        self._reach = (max(kernel.shape[0] for kernel in kernels) // 2 + 4) * light.cell_px

    def __call__(self, levels: NDArray[np.float64]) -> Pixels:
        """The picture (h, w, 3) sRGB at some levels, 0..1, of the board's LEDs. Where few have changed since the last one, only
        what their light reaches is made anew."""
        shares = [one.cluster.levels(levels) for one in self._packed]
        window = self._changed(shares)
        self._last = shares
        if window is not None:
            self._make(shares, window)
        return self._out.copy()

    def _changed(self, shares: list[Picture]) -> Window | None:
        """The piece of the picture in which something is other than in the last one; None where nothing is."""
        high, wide = self._seen.shape
        whole = (0, high, 0, wide)
        if self._last is None:
            return whole
        rows = [one.frames[now != before] for one, now, before in zip(self._packed, shares, self._last, strict=True)]
        frames = np.concatenate([*rows, np.zeros((0, 4), np.float64)])
        if not len(frames):
            return None
        if not self._laid.by_piece:
            return whole
        top, left = (max(0, int(frames[:, at].min() - self._reach)) for at in (0, 2))
        bottom, right = (min(most, math.ceil(frames[:, at].max() + self._reach)) for at, most in ((1, high), (3, wide)))
        if top >= bottom or left >= right:
            return None
        return whole if (bottom - top) * (right - left) > _WORTH * high * wide else (top, bottom, left, right)

    def _make(self, shares: list[Picture], window: Window) -> None:
        """A piece of the picture, at levels of each cluster."""
        top, bottom, left, right = window
        lit = [at for at, share in enumerate(shares) if share.any()]
        fronts = [at for at in lit if self._through[at] < 0]
        behind = lit[len(fronts) :]
        first, last = self._laid.rows(window)
        across = np.empty((2 * len(fronts) + len(behind), last - first, right - left), np.float32)
        rows = iter(range(len(across)))
        levels, places = [], []
        for at, (one, share) in enumerate(zip(self._packed, shares, strict=True)):
            for field in one.fields:
                level, place = share * field.unit, next(rows) if at in lit else 0
                if at in lit:
                    self._laid.lay(field, level, window, across[place])
                levels.append(level)
                places.append(place)
        cores, (taps, tap_shares) = self._laid.cores, self._laid.taps
        develop(
            top, left, self._base, self._lit, self._seen, across, taps[top:bottom] - np.int32(first), tap_shares[top:bottom],
            cores.here, cores.frames, cores.starts, cores.patches, *cores.at(levels, places), self._colours(fronts),
            self._clear, self._spans, np.array([self._through[at] for at in behind], np.int64), self._colours(behind),
            curve(), self._out,
        )  # fmt: skip

    def _colours(self, clusters: list[int]) -> Picture:
        return np.array([self._shades[at] for at in clusters], np.float32).reshape(-1, 3)


def _spans(clear: NDArray[np.uint16]) -> NDArray[np.int32]:
    """The first column that is not 0 and the one after the last, in each row of some pictures (n, h, w): (n, h, 2)."""
    there = clear > 0
    last = there.shape[2] - np.argmax(there[..., ::-1], axis=2)
    spans = np.stack([np.argmax(there, axis=2), last], axis=2)
    spans[~there.any(axis=2)] = 0
    return spans.astype(np.int32)


def _in_units(picture: Picture) -> tuple[NDArray[np.uint16], np.float32]:
    """A picture in 65535 steps up to its brightest place, and what one step is worth."""
    unit = np.float32(max(float(picture.max()), 1e-12) / 65535)
    return np.ascontiguousarray(np.round(picture / unit)).astype(np.uint16), unit
