"""Where copper may run: for each class of copper the cells that are anybody's, nobody's, or belong to the net of a pad."""

from __future__ import annotations

import math
from collections import deque
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..geometry.offset import grow
from ..parts import PlacedPad, Profile
from .grid import Cells, Grid, knots_in
from .maze import claim
from .places import ArtPlaces, Places

SIDES = ("front", "back")
FREE, CLOSED = -1, -2
#: A via keeps this far from pads that are pasted, beside the mask's own needs, mm.
OFF_PADS_MM = 0.1
#: How many times a step over a window, and over copper that is part of the picture, costs more.
_OVER_WINDOW, _OVER_ART = 3.0, 1.0
#: What a step in front costs more, by how clean it is kept; and how far stubs reach from a pad, mm, and what
#: a step farther costs more where the front is kept clean.
_IN_FRONT = {"free": 0.1, "few": 2.0, "clean": 2.0}
STUB_MM, _BEYOND_STUBS = 2.5, 10.0


@dataclass(frozen=True)
class Kind:
    """A class of copper on the grid: how wide it is, and how far it keeps from other nets, mm."""

    width: float
    clearance: float


@dataclass(frozen=True)
class ViaKind:
    """The vias of a profile: hole and land, mm."""

    drill: float
    diameter: float

    @classmethod
    def of(cls, profile: Profile) -> ViaKind:
        return cls(profile.drill_min_mm, round(profile.drill_min_mm + 2 * profile.ring_mm, 4))


@dataclass(frozen=True)
class _UnderArt:
    """What art and outline make of the cells (2, cells): those closed to each kind of copper, and how much dearer each is."""

    closed: list[NDArray[np.bool_]]
    dear: NDArray[np.float32]


#: The latest of them: an edit of parts changes none.
_UNDER_ART: deque[tuple[ArtPlaces, Grid, tuple[Kind, ...], float, _UnderArt]] = deque(maxlen=4)


def _reach(grid: Grid, far: float) -> float:
    """How far the cells of a track have to lie from what it keeps off: between two cells it may come nearer to a corner.

    >>> round(_reach(Grid(0.0, 0.0, 0.2, 9, 9), 0.3), 4)
    0.3317
    """
    return math.sqrt(far**2 + 0.5 * grid.pitch**2)


def _under_art(grid: Grid, art: ArtPlaces, kinds: tuple[Kind, ...], gap_mm: float) -> _UnderArt:
    for known, *rest, made in tuple(_UNDER_ART):
        if known is art and rest == [grid, kinds, gap_mm]:
            return made
    closed = []
    for kind in kinds:
        outside = ~grid.within(grow(art.copper, -_reach(grid, kind.width / 2)))
        near = [grid.within(grow(art.hard[side], _reach(grid, kind.width / 2 + gap_mm))) for side in SIDES]
        closed.append(np.array([outside | one for one in near]))
    dear = np.zeros((2, grid.cells), np.float32)
    over = grid.within(art.windows)
    for at, side in enumerate(SIDES):
        dear[at][over] = _OVER_WINDOW
        if not art.soft[side].is_empty:
            dear[at][grid.within(grow(art.soft[side], gap_mm))] += _OVER_ART
    made = _UnderArt(closed, dear)
    _UNDER_ART.append((art, grid, kinds, gap_mm, made))
    return made


class Ground:
    """The cells of both layers: whose they are for each class of copper, the last of which is a via; how dear they are."""

    def __init__(
        self, grid: Grid, places: Places, nets: Mapping[tuple[str, str], int], clearances: Sequence[float],
        kinds: Sequence[Kind], via: ViaKind, profile: Profile, front: str,
    ) -> None:  # fmt: skip
        # Vias of all nets keep as far off as those of the highest voltage have to.
        self.grid, self.kinds, self.via = grid, (*kinds, Kind(via.diameter, max([profile.gap_mm, *clearances]))), via
        self._places, self._profile = places, profile
        self.hole_gap, self.plated = profile.hole_gap_mm, profile.plated
        self._nets, self._clearances = nets, clearances
        under_art = _under_art(grid, places.art, self.kinds, profile.gap_mm)
        self.owner = [self._of_kind(kind, closed) for kind, closed in zip(self.kinds, under_art.closed, strict=True)]
        self._keep_vias_off_pads(self.owner[-1])
        if not profile.plated:
            self._keep_wires_off_parts(self.owner[-1])
        self.dear = self._dear(front, under_art)

    def _of_kind(self, kind: Kind, closed: NDArray[np.bool_]) -> NDArray[np.int32]:
        gap = self._profile.gap_mm
        owner = np.where(closed, np.int32(CLOSED), np.int32(FREE))
        for x, y, across in self._places.holes:
            radius = across / 2 + max(gap, self._profile.hole_gap_mm)
            for layer in owner:
                self._claim_box(layer, CLOSED, (x, y, 0.0, 0.0, 0.0), _reach(self.grid, radius + kind.width / 2))
        for part in self._places.parts:
            for pad in part.pads():
                net = self._nets.get((pad.ref, pad.pin), CLOSED)
                apart = max(kind.clearance, self._clearances[net] if net >= 0 else gap)
                layer = owner[SIDES.index(pad.side)]
                self._claim(layer, pad, net, _reach(self.grid, kind.width / 2 + apart))
                if kind.width > min(pad.width, pad.height) + 1e-9:
                    self._claim(layer, pad, CLOSED, 1e-9)
        return owner.reshape(-1)

    def _claim(self, owner: NDArray[np.int32], pad: PlacedPad, net: int, reach: float, drill: bool = False) -> None:
        half = (pad.drill_mm / 2, pad.drill_mm / 2) if drill else (pad.width / 2, pad.height / 2)
        grid = self.grid
        claim(
            owner, grid.origin, grid.sizes, grid.pitch, net, pad.x, pad.y, *half, math.radians(pad.angle_deg), reach,
            drill or pad.round,
        )  # fmt: skip

    def _keep_vias_off_pads(self, owner: NDArray[np.int32]) -> None:
        """Solder would run into a via in a pad; holes keep their distance."""
        radius = self.via.diameter / 2 + self._profile.mask_expansion_mm + OFF_PADS_MM
        apart = self._profile.hole_gap_mm + self.via.drill / 2
        for part in self._places.parts:
            for pad in part.pads():
                layer = owner.reshape(2, -1)[SIDES.index(pad.side)]
                self._claim(layer, pad, CLOSED, apart if pad.drill_mm else radius, bool(pad.drill_mm))

    def _keep_wires_off_parts(self, owner: NDArray[np.int32]) -> None:
        """A wire in a hole is soldered on both sides: no part may lie over it."""
        for part in self._places.parts:
            half = (part.part.courtyard[0] / 2, part.part.courtyard[1] / 2)
            for layer in owner.reshape(2, -1):
                self._claim_box(layer, CLOSED, (part.x, part.y, *half, math.radians(part.angle_deg)), self.via.diameter / 2)

    def _dear(self, front: str, under_art: _UnderArt) -> NDArray[np.float32]:
        """How much more than a free one a step to each cell costs."""
        dear = under_art.dear.copy()
        dear[0] += _IN_FRONT[front]
        if front == "clean":
            dear[0][self._beyond_stubs()] += _BEYOND_STUBS
        return dear.reshape(-1)

    def _beyond_stubs(self) -> NDArray[np.bool_]:
        """The cells in front that lie farther from a pad there than a stub reaches."""
        return ~self.near((pad for part in self._places.parts for pad in part.pads() if pad.side == "front"), STUB_MM)

    def near(self, pads: Iterable[PlacedPad], reach_mm: float) -> NDArray[np.bool_]:
        """The cells of a layer that lie this near to a pad, whatever side that is on."""
        claimed = np.full(self.grid.cells, FREE, np.int32)
        for pad in pads:
            self._claim(claimed, pad, 0, reach_mm)
        near: NDArray[np.bool_] = claimed != FREE
        return near

    def take(self, points: Sequence[tuple[float, float]], half_mm: float, layers: Sequence[int], net: int) -> Cells:
        """Give a track or a via that was drawn by hand the ground round it; the cells it lies on, at which others may end."""
        ends = list(points[1:]) or list(points)
        out = np.full(self.grid.cells, FREE, np.int32)
        for (x, y), (x1, y1) in zip(points, ends, strict=False):
            spot = ((x + x1) / 2, (y + y1) / 2, math.hypot(x1 - x, y1 - y) / 2, 0.0, math.atan2(y1 - y, x1 - x))
            gap = max(self._profile.gap_mm, self._clearances[net] if net >= 0 else 0.0)
            for kind, owner in zip(self.kinds, self.owner, strict=True):
                for layer in (0, 1) if kind is self.kinds[-1] else layers:
                    reach = _reach(self.grid, kind.width / 2 + half_mm + max(kind.clearance, gap))
                    self._claim_box(owner.reshape(2, -1)[layer], net, spot, reach)
            self._claim_box(out, 0, spot, max(half_mm, 0.75 * self.grid.pitch))
        cells = np.flatnonzero(out == 0)
        return np.concatenate([layer * self.grid.cells + cells for layer in layers]).astype(np.int32)

    def _claim_box(
        self, owner: NDArray[np.int32], net: int, spot: tuple[float, float, float, float, float], reach: float
    ) -> None:
        grid = self.grid
        claim(owner, grid.origin, grid.sizes, grid.pitch, net, *spot, reach, False)

    def cells_in(self, pad: PlacedPad, widths: Sequence[float]) -> Cells:
        """The cells in a pad at which tracks of those widths, the widest first, may end: those from which a track does not
        reach over the pad's edge on its way to the middle, else all that lie within, else the nearest one."""
        grid = self.grid
        fitting = [width / 2 for width in widths if width <= min(pad.width, pad.height) + 1e-9]
        some = (knots_in(pad, grid.pitch, inset) for inset in (*fitting, 0.0))
        knots = next((one for one in some if len(one)), np.zeros((0, 2)))
        x, y = np.round((knots - grid.origin) / grid.pitch).astype(np.int64).T
        on_grid = (x >= 0) & (x < grid.width) & (y >= 0) & (y < grid.height)
        cells = (y * grid.width + x)[on_grid]
        if not len(cells):
            cells = np.array([grid.nearest(pad.x, pad.y)])
        out: Cells = (SIDES.index(pad.side) * grid.cells + cells).astype(np.int32)
        return out
