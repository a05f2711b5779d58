"""Painter's order: what of each shape stays visible under those above it."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from typing import TypeVar

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..watch import ALONE, Watch
from .hidden import surely_hidden
from .regions import clean, union

Key = TypeVar("Key", bound=Hashable)
#: Of so few shapes it costs more to look which are hidden than to take them along.
_FEW = 24


def resolve_painting(shapes: Sequence[tuple[Key, BaseGeometry]], watch: Watch = ALONE) -> dict[Key, BaseGeometry]:
    """Painter's order to disjoint regions: key -> what stays visible of it.

    `shapes` go from the bottom to the top. Each shape loses what shapes of other keys above it cover;
    then shapes of one key are joined. What is empty is no shape.
    """
    shapes = [(key, shape) for key, shape in shapes if not shape.is_empty]
    if not shapes:
        return {}
    pile = np.array([shape for _, shape in shapes], dtype=object)
    shown = np.flatnonzero(~surely_hidden(pile)) if len(pile) >= _FEW else np.arange(len(pile))
    keys, pile = [shapes[place][0] for place in shown.tolist()], pile[shown]
    above = _above(pile, keys)
    areas = shapely.area(pile)
    seen: dict[Key, list[BaseGeometry]] = {}
    for place, (key, shape) in enumerate(zip(keys, pile, strict=True)):
        watch.at(place / len(pile))
        cover = sorted(above.get(place, ()), key=lambda one: -areas[one])
        rest = shape
        # What is under one large shape is gone after one step, whatever else lies on it.
        for part in (cover[:1], cover[1:]):
            if part and not rest.is_empty:
                rest = rest.difference(shapely.union_all(pile[part]))
        seen.setdefault(key, []).append(clean(rest))
    regions = {key: union(parts) for key, parts in seen.items()}
    return {key: region for key, region in regions.items() if not region.is_empty}


def _above(pile: NDArray[np.object_], keys: Sequence[Key]) -> dict[int, list[int]]:
    """For each place in a pile, the places above it whose shapes meet it and have another key."""
    tree = shapely.STRtree(pile)
    first, second = tree.query(pile, predicate="intersects")
    above: dict[int, list[int]] = {}
    for low, high in zip(first.tolist(), second.tolist(), strict=True):
        if high > low and keys[low] != keys[high]:
            above.setdefault(low, []).append(high)
    return above
