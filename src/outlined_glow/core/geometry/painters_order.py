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
from .overlay import each_as_one, overlay_each
from .regions import clean_each, union

Key = TypeVar("Key", bound=Hashable)
#: Of so few shapes it costs more to look which are hidden than to take them along.
_FEW = 24
#: So many shapes lose what covers them between two looks whether anybody waits.
_AT_ONCE = 128


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
    seen: dict[Key, list[BaseGeometry]] = {}
    for key, rest in zip(keys, clean_each(_uncovered(pile, _above(pile, keys), watch)).tolist(), strict=True):
        seen.setdefault(key, []).append(rest)
    regions = {key: union(parts) for key, parts in seen.items()}
    return {key: region for key, region in regions.items() if not region.is_empty}


def _uncovered(pile: NDArray[np.object_], above: dict[int, list[int]], watch: Watch) -> NDArray[np.object_]:
    """Each shape of a pile without those above it. What is under one large shape is gone after one step, whatever else lies
    on it: so the largest goes first, and then all others as one."""
    rest, areas = pile.copy(), shapely.area(pile)
    covers = {low: sorted(some, key=lambda one: -areas[one]) for low, some in above.items()}
    steps: list[tuple[int, list[int]]] = [(1, list(covers))]
    for count in sorted({len(some) for some in covers.values()} - {1}):
        steps.append((count, [low for low, some in covers.items() if len(some) == count]))
    whole, done = sum(len(places) for _, places in steps), 0
    for count, places in steps:
        for some in (np.array(places[at : at + _AT_ONCE]) for at in range(0, len(places), _AT_ONCE)):
            watch.at(done / whole)
            done += len(some)
            left = some if count == 1 else some[~shapely.is_empty(rest[some])]
            if not len(left):
                continue
            cover = pile[[covers[low][0] if count == 1 else covers[low][1:] for low in left.tolist()]]
            rest[left] = overlay_each(shapely.difference, rest[left], cover if count == 1 else each_as_one(cover))
    return rest


def _above(pile: NDArray[np.object_], keys: Sequence[Key]) -> dict[int, list[int]]:
    """For each place in a pile, the places above it whose shapes meet it and have another key."""
    tree = shapely.STRtree(pile)
    first, second = tree.query(pile, predicate="intersects")
    above: dict[int, list[int]] = {}
    for low, high in zip(first.tolist(), second.tolist(), strict=True):
        if high > low and keys[low] != keys[high]:
            above.setdefault(low, []).append(high)
    return above
