"""A board wired by hand on a plain board of holes 2.54 mm apart, each with a pad of its own: where every leg goes, and links.

Parts are their wired versions: two legs, a row of three or four, two rows of a chip. Links join the legs of a net: neighbours
by solder, along a row or a column by bare wire where nothing else lies, all others by insulated wire.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import Trouble
from ..parts import Part
from ..parts.nets import Net
from .links import tree_over

PITCH_MM = 2.54
#: How far apart the two legs of a part are, in holes; of what is not here, one.
_TWO_LEGS = {"resistor": 4, "fuse": 2, "diode": 4, "holder": 4, "supply": 2}
#: The two rows of a chip are so far apart, one of many pins so far; from so many on.
_ROWS, _WIDE_ROWS, _MANY = 3, 6, 24
#: Pads that lie on a grid of holes within this are taken as they are, mm.
_ON_GRID_MM = 0.35
_MOST_HOLES = 200
Cell = tuple[int, int]


@dataclass(frozen=True)
class GridPart:
    """A part on the board: its reference, what it is, its value, and the hole (column, row from the top) of each leg by pin."""

    ref: str
    title: str
    value: str
    legs: tuple[tuple[str, Cell], ...]


@dataclass(frozen=True)
class GridLink:
    """A link from hole to hole: solder, bare wire, or insulated wire, and how long it is from hole to hole, mm."""

    number: int
    net: str
    kind: str
    start: Cell
    end: Cell

    @property
    def length_mm(self) -> float:
        """From hole to hole."""
        return PITCH_MM * math.dist(self.start, self.end)


@dataclass(frozen=True)
class GridBoard:
    """So many columns and rows of holes, parts and links; how far the light that had to move most is from where it was, mm."""

    columns: int
    rows: int
    parts: tuple[GridPart, ...]
    links: tuple[GridLink, ...]
    moved_mm: float


@dataclass(frozen=True)
class Wanted:
    """A part that is to be placed: where its middle is on the board, mm, and how it is turned."""

    ref: str
    part: Part
    value: str
    x: float
    y: float
    angle_deg: float


def hole_name(cell: Cell) -> str:
    """A hole as it is called: its row by letters from the top, its column by a number.

    >>> hole_name((0, 0)), hole_name((11, 27))
    ('A1', 'AB12')
    """
    column, row = cell
    letters = chr(ord("A") + row % 26)
    while row >= 26:
        row = row // 26 - 1
        letters = chr(ord("A") + row % 26) + letters
    return f"{letters}{column + 1}"


def legs_of(part: Part) -> dict[str, Cell]:
    """The legs of a part by pin, in holes from its upper left one."""
    real = _as_drilled(part)
    if real is not None:
        return real
    pins = [pin.number for pin in part.pins]
    if len(pins) == 2:
        return {pins[0]: (0, 0), pins[1]: (_TWO_LEGS.get(part.kind, 1), 0)}
    if len(pins) < 6 or len(pins) % 2:
        return {pin: (at, 0) for at, pin in enumerate(pins)}
    half, apart = len(pins) // 2, _WIDE_ROWS if len(pins) >= _MANY else _ROWS
    # Pin 1 lower left, on to the right, and back above.
    return {pin: (at, apart) if at < half else (len(pins) - 1 - at, 0) for at, pin in enumerate(pins)}


def _as_drilled(part: Part) -> dict[str, Cell] | None:
    """The legs of a part that has wire legs on the grid itself."""
    if not part.pads or not all(pad.drill_mm for pad in part.pads) or len({pad.pin for pad in part.pads}) < len(part.pads):
        return None
    x0, y0 = min(pad.x_mm for pad in part.pads), max(pad.y_mm for pad in part.pads)
    out = {}
    for pad in part.pads:
        column, row = (pad.x_mm - x0) / PITCH_MM, (y0 - pad.y_mm) / PITCH_MM
        if max(abs(column - round(column)), abs(row - round(row))) * PITCH_MM > _ON_GRID_MM:
            return None
        out[pad.pin] = (round(column), round(row))
    return out if len(set(out.values())) == len(out) else None


def plan_grid(wanted: Sequence[Wanted], nets: Sequence[Net], size: tuple[float, float]) -> GridBoard:
    """Every part on its holes, the lights as near as can be to where they are on the board, and the links of every net."""
    columns, rows = (math.ceil(side / PITCH_MM) + 1 for side in size)
    if max(columns, rows) > _MOST_HOLES:
        raise Trouble(f"A plain board of {columns} × {rows} holes is larger than any; {_MOST_HOLES} each way are possible.")
    legs = {one.ref: _turned(legs_of(one.part), one.angle_deg) for one in wanted}
    columns = max(columns, *(1 + max(x for x, _ in row.values()) for row in legs.values()))
    room = sum(_box(row)[0] * _box(row)[1] for row in legs.values())
    taken = np.zeros((rows + 2 * math.ceil(room / columns) + 10, columns), bool)
    lights = [one for one in wanted if one.part.shines]
    others = sorted((one for one in wanted if not one.part.shines), key=lambda one: -len(one.part.pins))
    placed, moved = [], 0.0
    for one in (*lights, *others):
        middle = one.x / PITCH_MM, (size[1] - one.y) / PITCH_MM
        at = _nearest(taken, legs[one.ref], middle)
        wide, high = _box(legs[one.ref])
        taken[at[1] : at[1] + high, at[0] : at[0] + wide] = True
        if one.part.shines:
            off = math.dist((at[0] + (wide - 1) / 2, at[1] + (high - 1) / 2), middle)
            moved = max(moved, PITCH_MM * off)
        own = tuple((pin, (at[0] + x, at[1] + y)) for pin, (x, y) in legs[one.ref].items())
        placed.append(GridPart(one.ref, one.part.title, one.value, own))
    used = int(np.flatnonzero(taken.any(axis=1)).max()) + 2 if taken.any() else rows
    parts = tuple(placed)
    return GridBoard(columns, max(rows, used), parts, tuple(_links(parts, nets)), moved)


def _turned(legs: Mapping[str, Cell], angle_deg: float) -> dict[str, Cell]:
    """Legs turned by the nearest quarter turns, anticlockwise, from their upper left hole again."""
    out = dict(legs)
    for _ in range(round(angle_deg / 90) % 4):
        out = {pin: (row, -column) for pin, (column, row) in out.items()}
        left, top = min(x for x, _ in out.values()), min(y for _, y in out.values())
        out = {pin: (x - left, y - top) for pin, (x, y) in out.items()}
    return out


def _box(legs: Mapping[str, Cell]) -> tuple[int, int]:
    """How many columns and rows legs take."""
    return 1 + max(x for x, _ in legs.values()), 1 + max(y for _, y in legs.values())


def _nearest(
    taken: np.ndarray[tuple[int, int], np.dtype[np.bool_]], legs: Mapping[str, Cell], middle: tuple[float, float]
) -> Cell:
    """The upper left hole of the free place that is nearest to where a part should be."""
    wide, high = _box(legs)
    sums = np.pad(taken.astype(np.int32).cumsum(axis=0).cumsum(axis=1), ((1, 0), (1, 0)))
    inside = sums[high:, wide:] - sums[:-high, wide:] - sums[high:, :-wide] + sums[:-high, :-wide]
    row, column = np.nonzero(inside == 0)
    if not len(row):
        raise Trouble("The parts have no room on a plain board of that width; make the board wider.")
    off = np.hypot(column + (wide - 1) / 2 - middle[0], row + (high - 1) / 2 - middle[1])
    best = int(np.argmin(np.round(off, 6)))
    return int(column[best]), int(row[best])


def _links(parts: Sequence[GridPart], nets: Sequence[Net]) -> Iterator[GridLink]:
    """The links of every net, as few and as short as they can be."""
    hole = {(one.ref, pin): cell for one in parts for pin, cell in one.legs}
    legs = set(hole.values())
    #: Holes that a bare wire passes, by net.
    bare: dict[Cell, str] = {}
    number = 0
    for net in nets:
        cells = [hole[pin] for pin in net.pins if pin in hole]
        for a, b in tree_over([(float(x), float(y)) for x, y in cells]):
            number += 1
            kind = _kind(cells[a], cells[b], legs, bare, net.name)
            yield GridLink(number, net.name, kind, cells[a], cells[b])


def _kind(start: Cell, end: Cell, legs: set[Cell], bare: dict[Cell, str], net: str) -> str:
    (ax, ay), (bx, by) = start, end
    if abs(ax - bx) + abs(ay - by) == 1:
        return "solder"
    if ax != bx and ay != by:
        return "insulated wire"
    way = [
        (x, y) for x in range(min(ax, bx), max(ax, bx) + 1) for y in range(min(ay, by), max(ay, by) + 1)
    ]  # fmt: skip
    between = [cell for cell in way if cell not in (start, end)]
    if any(cell in legs or bare.get(cell, net) != net for cell in between):
        return "insulated wire"
    if any(bare.get(cell, net) != net for cell in (start, end)):
        return "insulated wire"
    bare.update(dict.fromkeys(way, net))
    return "bare wire"
