"""Translucent areas laid over one another as one group, before anything lies under it (source over, SVG 2 and CSS)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from shapely.geometry.base import BaseGeometry

from ..colour import rgb_to_hex
from ..colour.difference import hex_to_rgb
from ..geometry.regions import common, minus
from ..watch import Watch
from .resolved import Key

#: From this on something is solid, and under that it is not there.
SOLID, CLEAR = 0.996, 0.02


class Piece(NamedTuple):
    """An area, what it is known by, and how solid it is."""

    key: Key
    area: BaseGeometry
    alpha: float


def composited(pieces: Sequence[Piece], watch: Watch) -> list[Piece]:
    """The pieces of a group, from the bottom to the top, as pieces that do not overlap: each with the colour that is seen
    there and how solid all together are."""
    out: list[Piece] = []
    for upper in pieces:
        watch.at(0.0)
        if upper.area.is_empty or upper.alpha <= 0:
            continue
        left, top, right, bottom = upper.area.bounds
        rows = np.array([lower.area.bounds for lower in out], float).reshape(-1, 4)
        near = (rows[:, 0] < right) & (rows[:, 2] > left) & (rows[:, 1] < bottom) & (rows[:, 3] > top)
        kept, shared = [], []
        for lower, meets in zip(out, near.tolist(), strict=True):
            both = common(lower.area, upper.area) if meets else None
            if both is None or both.is_empty:
                kept.append(lower)
                continue
            shared.append(_over(upper, lower, both))
            rest = minus(lower.area, upper.area)
            kept += [Piece(lower.key, rest, lower.alpha)] if not rest.is_empty else []
        bare = minus(upper.area, *(piece.area for piece in shared)) if shared else upper.area
        out = [*kept, *shared] + ([Piece(upper.key, bare, upper.alpha)] if not bare.is_empty else [])
    return out


def _over(upper: Piece, lower: Piece, area: BaseGeometry) -> Piece:
    if upper.alpha >= SOLID:
        return Piece(upper.key, area, upper.alpha)
    alpha = upper.alpha + lower.alpha * (1 - upper.alpha)
    mix = np.array(hex_to_rgb(upper.key.colour)) * upper.alpha
    mix = mix + np.array(hex_to_rgb(lower.key.colour)) * lower.alpha * (1 - upper.alpha)
    return Piece(Key(rgb_to_hex(np.round(mix / alpha)), upper.key.word or lower.key.word), area, alpha)
