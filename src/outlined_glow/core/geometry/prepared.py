"""Shapes that answer many questions quickly.

What is prepared is written to while it is asked: two threads that ask the same shape at once crash, or are told something
wrong. So nobody prepares a shape that he was given, but a copy that nobody else has; `contains_xy` and `intersects_xy` of the
library prepare the one shape that they are given, and are asked of such a copy too.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry


def prepared(shape: BaseGeometry) -> BaseGeometry:
    """A copy of a shape, prepared."""
    own: BaseGeometry = shapely.force_2d(shape)
    shapely.prepare(own)
    return own


def prepared_some(shapes: NDArray[np.object_], which: NDArray[Any]) -> NDArray[np.object_]:
    """Shapes, of which some (by their numbers, each once, or a mask) are prepared copies."""
    own = np.asarray(shapely.force_2d(shapes[which]), dtype=object)
    shapely.prepare(own)
    out = shapes.copy()
    out[which] = own
    return out
