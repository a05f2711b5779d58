"""How evenly a grid of LEDs lights a plane over it (DOMAIN 10)."""

from __future__ import annotations

import numpy as np

from ..parts import beam_exponent

#: So many places a side are looked at, ends included.
_PLACES = 81


def uniformity(rows: int, columns: int, pitch_mm: float, distance_mm: float, half_angle_deg: float = 60.0) -> float:
    """Least over mean illuminance on a plane at a distance, over a window half a pitch inside the outer LEDs.

    >>> round(uniformity(4, 6, 10, 8), 4)
    0.8415
    """
    x, y = ((np.arange(many) - (many - 1) / 2) * pitch_mm for many in (columns, rows))
    half_w, half_h = (max((many - 2) / 2, 0.0) * pitch_mm for many in (columns, rows))
    u, v = np.linspace(-half_w, half_w, _PLACES), np.linspace(-half_h, half_h, _PLACES)
    across = (u[:, None] - x[None, :]) ** 2
    along = (v[:, None] - y[None, :]) ** 2
    slant2 = across[:, None, :, None] + along[None, :, None, :] + distance_mm**2
    power = (beam_exponent(half_angle_deg) + 1) / 2 + 1
    light = (slant2**-power).sum(axis=(2, 3))
    return float(light.min() / light.mean())
