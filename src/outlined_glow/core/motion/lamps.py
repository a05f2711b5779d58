"""The table of LEDs that a motion plays on: places, groups, colours, currents, and their order in the chain."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..board.model import LightSpot
from ..colour.difference import hex_to_rgb


@dataclass(frozen=True, eq=False)
class Lamps:
    """LEDs in the order of the board, n of them.

    `places` (n, 2) in mm of the board frame; `groups` their names; `colours` (n, 3) sRGB 0..255; `currents` (n,) fully on, A;
    `chain` (n,) the position of each in the chain, from 0.
    """

    places: NDArray[np.float64]
    groups: tuple[str, ...]
    colours: NDArray[np.float64]
    currents: NDArray[np.float64]
    chain: NDArray[np.intp]

    @property
    def count(self) -> int:
        """How many there are."""
        return len(self.groups)

    @property
    def group_numbers(self) -> NDArray[np.float64]:
        """The number of the group of each (n,), from 0, as they first appear."""
        rank = {name: at for at, name in enumerate(dict.fromkeys(self.groups))}
        return np.array([rank[name] for name in self.groups], float)

    def by_group(self) -> tuple[tuple[str, ...], NDArray[np.intp]]:
        """The names of the groups as they first appear, and the LEDs (n,) group after group, each in the order of the board."""
        names = tuple(dict.fromkeys(self.groups))
        rank = {name: at for at, name in enumerate(names)}
        return names, np.argsort([rank[name] for name in self.groups], kind="stable")


def lamps_of(lights: tuple[LightSpot, ...], chain: tuple[int, ...]) -> Lamps:
    """The table of a board's LEDs, those of several lights once, in the colour that they mix; `chain` has their indices in
    the order in which they are chained."""
    position = {index: at for at, index in enumerate(chain)}
    first: dict[int, LightSpot] = {}
    for spot in lights:
        first.setdefault(spot.index, spot)
    row = {index: at for at, index in enumerate(first)}
    rows = np.array([row[spot.index] for spot in lights], np.intp)
    weights = np.array([spot.mcd for spot in lights], float) + 1e-9
    own = np.array([hex_to_rgb(spot.colour) for spot in lights], float).reshape(-1, 3)
    mixed = np.stack([np.bincount(rows, weights * own[:, at], len(first)) for at in range(3)], axis=1)
    where = np.array([(spot.x, spot.y) for spot in lights], float).reshape(-1, 2)
    points = np.bincount(rows, minlength=len(first))[:, None]
    return Lamps(
        places=np.stack([np.bincount(rows, where[:, at], len(first)) for at in range(2)], axis=1) / points,
        groups=tuple(spot.group for spot in first.values()),
        colours=mixed / np.bincount(rows, weights, len(first))[:, None],
        currents=np.bincount(rows, np.array([spot.current_a for spot in lights], float), len(first)).astype(float),
        chain=np.array([position[index] for index in first], np.intp),
    )
