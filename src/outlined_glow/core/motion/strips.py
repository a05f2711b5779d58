"""The pattern as a picture: LEDs down, time across, each in its colour as bright as it will be."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..project import Motion
from .lamps import Lamps
from .pattern import current_shares, levels, one_period

#: More rows than this no screen shows.
_MOST_ROWS = 600


@dataclass(frozen=True, eq=False)
class Strips:
    """Pixels (n, columns, 3) sRGB with the LEDs group after group, of very many every so many, the groups with their sizes,
    and the share (columns,) of the full current."""

    pixels: NDArray[np.uint8]
    groups: tuple[tuple[str, int], ...]
    curve: tuple[float, ...]


def strips(motion: Motion, lamps: Lamps, columns: int, background: tuple[int, int, int]) -> Strips:
    """One period on a background."""
    names, order = lamps.by_group()
    times = one_period(motion, columns)
    ground = np.array(background, float)
    # The square root is near enough to how bright the eye takes a level for.
    seen = np.array(order)[np.linspace(0, len(order) - 1, min(len(order), _MOST_ROWS)).round().astype(int)]
    shown = np.sqrt(levels(motion, lamps, times)[:, seen, 0].T)[..., None]
    pixels = ground + (lamps.colours[seen, None, :] - ground) * shown
    groups = tuple((name, lamps.groups.count(name)) for name in names)
    curve = tuple(current_shares(motion, lamps, times).tolist())
    return Strips(np.ascontiguousarray(pixels.round().astype(np.uint8)), groups, curve)
