"""Where the holder and the resistors sit on the back: behind their LED, or at the nearest free place."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry.regions import box_at, boxes_at, disc, grow, minus, union
from ..lights import Led
from ..parts import Body, Profile, emitter, resistor
from ..parts.library import DISC_TOLERANCE_MM
from ..project import Drive, Finding, Remedy
from ..shape import Outline
from .plan import DrivePlan

#: Air round each part, so that an iron or a nozzle gets there, mm.
AIR_MM = 0.25
_FARTHEST_MM = 30.0
#: Grid of places that are tried when there is no room beside an LED, mm.
_GRID_MM = 0.6

Place = tuple[float, float, float]  # x, y, angle_deg


@dataclass(frozen=True)
class Part:
    """A part on the board: reference, value, body, place (pad 1 toward −x at angle 0), side."""

    ref: str
    kind: str
    value: str
    body: Body
    x: float
    y: float
    angle_deg: float
    side: str
    led: int | None = None

    def court(self, air: float = 0.0) -> Polygon:
        """The ground that body and pads take, with some air."""
        length, width = self.body.courtyard
        return box_at(self.x, self.y, length + 2 * air, width + 2 * air, self.angle_deg)


def led_parts(leds: tuple[Led, ...]) -> tuple[Part, ...]:
    """The LEDs as parts, D1 and on."""
    return tuple(
        Part(f"D{led.index}", "led", led.emitter, emitter(led.emitter).body, led.x, led.y, led.angle_deg, led.side, led.index)
        for led in leds
    )


def find_seats(
    holder_body: Body,
    holder_ref: str,
    chip: Body,
    wanted: str,
    leds: tuple[Led, ...],
    outline: Outline,
    windows: BaseGeometry,
    profile: Profile,
) -> tuple[tuple[Part, ...], tuple[Finding, ...]]:
    """Holder first, then a resistor for each LED that `wanted` names, all on the back; no place is a stop.

    `wanted` holds the indices, with commas between. The parts carry no values yet: other currents move nothing.
    """
    if not leds:
        return (), ()
    board = grow(outline.region, -max(profile.edge_routed_mm, 0.1))
    holes = union([disc(h.x, h.y, h.diameter / 2 + profile.hole_gap_mm + AIR_MM) for h in outline.holes])
    behind = union([part.court(AIR_MM) for part in led_parts(leds) if part.side == "back"])
    findings: list[Finding] = []
    parts: list[Part] = []
    holder, covers = _seat_holder(holder_body, holder_ref, outline.region, board, holes, behind, windows)
    if holder is None:
        findings.append(_no_place_for_holder(holder_body))
    else:
        parts.append(holder)
        if covers:
            findings.append(_covers_window(holder))
    taken = [holder.court(AIR_MM)] if holder else []
    free = minus(board, holes, behind, grow(windows, 0.2), *taken)
    shapely.prepare(free)
    seats = _Seats(free, chip)
    lost = []
    resisted = set(wanted.split(","))
    for led in (led for led in leds if str(led.index) in resisted):
        place = seats.take(led)
        if place is None:
            lost.append(led)
            continue
        x, y, angle = place
        parts.append(Part(f"R{led.index}", "resistor", "", chip, x, y, angle, "back", led.index))
    if lost:
        findings.append(_no_place_for_resistors(lost))
    return tuple(parts), tuple(findings)


def wanted_seats(drive: Drive, plan: DrivePlan, leds: tuple[Led, ...]) -> tuple[Body, str, Body, str]:
    """What `find_seats` is to seat: the holder's body and reference, the resistors' body, and whose they are."""
    body = plan.supply.bodies.get(plan.cells) or plan.supply.bodies[1]
    indices = (led.index for led in leds if plan.branch_of(led.index).resistor_ohm is not None)
    ref = "J1" if plan.supply.volts is not None else "BT1"
    return body, ref, resistor(drive.resistor).body, ",".join(map(str, indices))


def with_values(seats: tuple[Part, ...], plan: DrivePlan) -> tuple[Part, ...]:
    """The seated parts with what the plan gives them."""
    return tuple(replace(part, value=_value_of(part, plan)) for part in seats)


def _value_of(part: Part, plan: DrivePlan) -> str:
    if part.led is None:
        return f"{plan.cells} × {plan.supply.title}" if plan.cells > 1 else plan.supply.title
    ohm = plan.branch_of(part.led).resistor_ohm
    return "" if ohm is None else _ohms(ohm)


class _Seats:
    """Free ground on the back, and what has been taken of it."""

    def __init__(self, free: BaseGeometry, body: Body) -> None:
        self._free = free
        self._length, self._width = (size + 2 * AIR_MM for size in body.courtyard)
        self._taken: NDArray[np.object_] = np.zeros(0, object)
        self._frames: NDArray[np.float64] = np.zeros((0, 4))
        self._grid: NDArray[np.float64] | None = None

    def take(self, led: Led) -> Place | None:
        """Behind the LED, or beside it in its own direction, or the nearest place of a grid over the board."""
        for moves in _MOVES:
            turned = (led.angle_deg + moves[:, 2]) % 360
            places = np.column_stack([led.x + moves[:, 0], led.y + moves[:, 1], turned])
            for place in _inside(self._free, places, self._length, self._width):
                x, y, angle = map(float, place)
                box = box_at(x, y, self._length, self._width, angle)
                if not shapely.intersects(self._around(box), box).any():
                    return self._keep((x, y, angle), box)
        grid = self._places()
        if len(grid) == 0:
            return None
        far = np.hypot(grid[:, 0] - led.x, grid[:, 1] - led.y)
        nearest = int(np.argmin(far))
        if far[nearest] > _FARTHEST_MM:
            return None
        x, y, angle = map(float, grid[nearest, :3])
        return self._keep((x, y, angle), box_at(x, y, self._length, self._width, angle))

    def _keep(self, place: Place, box: Polygon) -> Place:
        self._taken = np.concatenate([self._taken, np.array([box], object)])
        self._frames = np.vstack([self._frames, box.bounds])
        if self._grid is not None:
            self._grid = self._grid[~_overlapping(self._grid, box)]
        return place

    def _around(self, box: Polygon) -> NDArray[np.object_]:
        """What has been taken whose upright frame meets that of a box."""
        x0, y0, x1, y1 = box.bounds
        frames = self._frames
        return self._taken[(frames[:, 0] < x1) & (frames[:, 2] > x0) & (frames[:, 1] < y1) & (frames[:, 3] > y0)]

    def _places(self) -> NDArray[np.float64]:
        """Places (x, y, angle, half width, half height) of the grid that are still free."""
        if self._grid is None:
            left, bottom, right, top = self._free.bounds if not self._free.is_empty else (0, 0, 0, 0)
            axes = np.arange(left, right, _GRID_MM), np.arange(bottom, top, _GRID_MM), [0.0, 90.0]
            x, y, angle = (grid.ravel() for grid in np.meshgrid(*axes, indexing="ij"))
            places = np.column_stack([x, y, angle])
            if len(places):
                places = _inside(self._free, places, self._length, self._width)
            lying = places[:, 2] == 0
            half_w = np.where(lying, self._length, self._width) / 2
            half_h = np.where(lying, self._width, self._length) / 2
            self._grid = np.column_stack([places, half_w, half_h])
            for box in self._taken:
                self._grid = self._grid[~_overlapping(self._grid, box)]
        return self._grid


def _inside(free: BaseGeometry, places: NDArray[np.float64], length: float, width: float) -> NDArray[np.float64]:
    """The places (n, 3) whose box lies in prepared ground: middle and corners are asked first, they are cheap."""
    a = np.radians(places[:, 2])
    along = np.column_stack([np.cos(a), np.sin(a)]) * (length / 2)
    across = np.column_stack([-np.sin(a), np.cos(a)]) * (width / 2)
    for sx, sy in ((0, 0), (1, 1), (-1, -1), (1, -1), (-1, 1)):
        spots = places[:, :2] + sx * along + sy * across
        hit = shapely.contains_xy(free, spots[:, 0], spots[:, 1])
        places, along, across = places[hit], along[hit], across[hit]
    return places[shapely.contains(free, boxes_at(places, length, width))] if len(places) else places


def _overlapping(grid: NDArray[np.float64], box: Polygon) -> NDArray[np.bool_]:
    """Which places of the grid meet the upright frame of a box."""
    x0, y0, x1, y1 = box.bounds
    x, y, half_w, half_h = grid[:, 0], grid[:, 1], grid[:, 3], grid[:, 4]
    out: NDArray[np.bool_] = (x + half_w > x0) & (x - half_w < x1) & (y + half_h > y0) & (y - half_h < y1)
    return out


def _moves() -> Iterator[NDArray[np.float64]]:
    """Moves (n, 3: x, y, turn) from an LED by rising distance, in batches: its own place, then rings round it."""
    yield np.array([(0.0, 0.0, 0.0), (0.0, 0.0, 90.0)])
    for low, high in ((0.5, 2.0), (2.0, 4.0)):
        out = []
        for radius in np.arange(low, high, 0.5):
            count = max(8, round(4 * math.pi * radius))
            for a in (2 * math.pi * turn / count for turn in range(count)):
                out += [(radius * math.cos(a), radius * math.sin(a), turned) for turned in (0.0, 90.0)]
        yield np.array(out)


_MOVES = tuple(_moves())


def _seat_holder(
    body: Body,
    ref: str,
    outline: Polygon,
    board: BaseGeometry,
    holes: BaseGeometry,
    behind: BaseGeometry,
    windows: BaseGeometry,
) -> tuple[Part | None, bool]:
    """The place nearest the board's middle; off the windows if there is one, else over them but off the LEDs.

    The body may reach to the edge of the outline, its pads only to the edge distance (`board`).
    """
    middle = board.centroid
    length, width = body.courtyard
    left, bottom, right, top = board.bounds
    xs = np.unique(np.append(np.arange(left, right, 1.0), middle.x))
    ys = np.unique(np.append(np.arange(bottom, top, 0.5), middle.y))
    x, y, angle = (grid.ravel() for grid in np.meshgrid(xs, ys, [0.0, 90.0], indexing="ij"))
    order = np.lexsort((angle, y, x, np.round(np.hypot(x - middle.x, y - middle.y), 6)))
    places = np.column_stack([x, y, angle])[order]
    for covers in (False, True):
        free = minus(outline, holes, behind, *(() if covers else (grow(windows, 0.2),)))
        shapely.prepare(free)
        for first in range(0, len(places), 400):
            batch = places[first : first + 400]
            for spot in _inside(free, batch, length, width):
                px, py, turn = map(float, spot)
                part = Part(ref, "holder", "", body, px, py, turn, "back")
                pads = union(_pads(part))
                if board.contains(pads) and not pads.intersects(windows):
                    return part, bool(covers and part.court().intersects(windows))
    return None, False


def _pads(part: Part) -> list[Polygon]:
    return [polygon for polygon, _ in pad_polygons(part)]


def pad_polygons(part: Part) -> list[tuple[Polygon, tuple[float, float, float, float, float]]]:
    """Each pad's polygon, and its middle, size and angle: (x, y, width, height, angle_deg)."""
    a = math.radians(part.angle_deg)
    flip = -1.0 if part.side == "back" else 1.0
    out = []
    for pad in part.body.pads:
        x = part.x + pad.x * math.cos(a) - flip * pad.y * math.sin(a)
        y = part.y + pad.x * math.sin(a) + flip * pad.y * math.cos(a)
        round_land = disc(x, y, pad.width / 2, DISC_TOLERANCE_MM)
        shape = round_land if pad.disc else box_at(x, y, pad.width, pad.height, part.angle_deg)
        out.append((shape, (x, y, pad.width, pad.height, part.angle_deg)))
    return out


def _ohms(value: float) -> str:
    """A resistor's value as a legend prints it: 680R, 1k2, 47k.

    >>> _ohms(680), _ohms(1200), _ohms(47000)
    ('680R', '1k2', '47k')
    """
    for factor, letter in ((1e6, "M"), (1e3, "k"), (1.0, "R")):
        if value >= factor:
            whole, _, rest = f"{value / factor:.4g}".partition(".")
            return f"{whole}{letter}{rest}"
    return f"{value:g}R"


def _no_place_for_holder(body: Body) -> Finding:
    length, width, _ = body.size
    return Finding(
        "holder-without-place",
        "stop",
        "drive",
        f"The {body.title} ({length:g} × {width:g} mm) does not fit on the back. Use a smaller cell or a larger board.",
        remedies=(Remedy("power it from USB", "set-supply", (("supply", "usb"),)),),
    )


def _covers_window(holder: Part) -> Finding:
    return Finding(
        "holder-behind-window",
        "note",
        "drive",
        f"The {holder.body.title} covers part of a window from behind; the LEDs there keep their place.",
        holder.x,
        holder.y,
    )


def _no_place_for_resistors(lost: list[Led]) -> Finding:
    names = ", ".join(f"R{led.index}" for led in lost[:4]) + (" and more" if len(lost) > 4 else "")
    return Finding(
        "resistor-without-place",
        "stop",
        "drive",
        f"{len(lost)} of the resistors find no place on the back: {names}; take smaller ones or move the lights apart.",
        lost[0].x,
        lost[0].y,
        count=len(lost),
        places=tuple((led.x, led.y) for led in lost),
        remedies=(Remedy("take 0402 resistors", "set-resistors", (("size", "0402"),)),),
    )
