"""Shapes that answer many questions quickly.

What is prepared is written to while it is asked: two threads that ask the same shape at once crash, or are told something
wrong. So nobody prepares a shape that he was given, but a copy that only his thread has; `contains_xy` and `intersects_xy` of
the library prepare the one shape that they are given, and are asked of such a copy too.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

#: Of shapes of so many corners, which are asked again after an edit that leaves them, a thread keeps copies of so many corners
#: together.
_LARGE, _KEPT = 300, 400_000


class _Copies(threading.local):
    """The copies of a thread, by the shapes, which are kept so that no other one takes their place in memory."""

    def __init__(self) -> None:
        self._known: OrderedDict[int, tuple[BaseGeometry, BaseGeometry, int]] = OrderedDict()
        self._corners = 0

    def of(self, shape: BaseGeometry, corners: int) -> BaseGeometry:
        """The copy of a shape of so many corners."""
        found = self._known.get(id(shape))
        if found is not None:
            self._known.move_to_end(id(shape))
            return found[1]
        copy = _copied(shape)
        self._known[id(shape)] = shape, copy, corners
        self._corners += corners
        while self._corners > _KEPT:
            self._corners -= self._known.popitem(last=False)[1][2]
        return copy


_copies = _Copies()


def _copied(shape: BaseGeometry) -> BaseGeometry:
    own: BaseGeometry = shapely.force_2d(shape)
    shapely.prepare(own)
    return own


def prepared(shape: BaseGeometry) -> BaseGeometry:
    """A copy of a shape, prepared, for this thread alone."""
    corners = int(shapely.get_num_coordinates(shape))
    return _copies.of(shape, corners) if corners >= _LARGE else _copied(shape)


def prepared_some(shapes: NDArray[np.object_], which: NDArray[Any]) -> NDArray[np.object_]:
    """Shapes, of which some (by their numbers, each once, or a mask) are prepared copies. That pays where one is asked often or
    has many corners."""
    own = np.asarray(shapely.force_2d(shapes[which]), dtype=object)
    if not len(own):
        return shapes
    shapely.prepare(own)
    out = shapes.copy()
    out[which] = own
    return out
