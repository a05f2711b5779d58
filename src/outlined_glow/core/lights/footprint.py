"""Light of an LED on the surface (DOMAIN 10): 1/(1 + (r/h)²)², a convention of the picture, not a measurement."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

#: Height of the emitting point over the surface for an LED on the lit side, mm.
FRONT_HEIGHT_MM = 1.0


def footprint(distance_mm: NDArray[np.float32], height_mm: float) -> NDArray[np.float32]:
    """Relative illuminance at a distance along the surface, 1 right below."""
    ratio = distance_mm / np.float32(height_mm)
    out: NDArray[np.float32] = 1.0 / np.square(1.0 + np.square(ratio))
    return out
