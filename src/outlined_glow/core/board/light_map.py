"""How evenly the LEDs light a plane before the board, such as a diffuser, a wall, or the ground (DOMAIN 10): lux, and where it
is least."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import MultiPoint
from shapely.geometry.base import BaseGeometry

from ..errors import Trouble
from ..geometry.prepared import prepared
from ..parts import beam_exponent
from ..watch import ALONE, Watch
from .model import Board, LightSpot

Values = NDArray[np.float64]

#: An even light has a least of at least this share of its mean.
EVEN = 0.7
#: So many sums of one LED at one place at most, and so many places at least.
_MOST_SUMS, _MOST_PLACES, _FEWEST_PLACES = 40_000_000, 160_000, 2_500
_FINEST_MM, _FARTHEST_MM = 0.05, 500.0


@dataclass(frozen=True, eq=False)
class LightMap:
    """Lux (rows, columns) on a surface, which `title` tells, the first row on top, at places `step_mm` apart that begin at
    `left`, `top` (mm; of a plane before the board in the board frame); `inside` says which of them count. `worst` is where it
    is least."""

    title: str
    left: float
    top: float
    step_mm: float
    lux: Values
    inside: NDArray[np.bool_]
    least: float
    mean: float
    most: float
    worst: tuple[float, float]

    @property
    def uniformity(self) -> float:
        """The least over the mean; 0 in the dark."""
        return self.least / self.mean if self.mean > 0 else 0.0


def illuminance(spots: tuple[LightSpot, ...], places: Values, plane_mm: float, watch: Watch = ALONE) -> Values:
    """Lux (n,) at places (n, 2) of a plane at that distance from the emitters: I0·cos^(m+1)/r² of each; of one that shines
    sideways, I0·cos^m from its own axis, times the cosine at which that falls on the plane."""
    out = np.zeros(len(places))
    for done, spot in enumerate(spots):
        watch.at(done / len(spots))
        power = beam_exponent(spot.kind.half_angle_deg) + 3
        across = places - (spot.x, spot.y)
        way = np.sqrt((across**2).sum(axis=1) + plane_mm**2)
        # mcd and mm: a candela is a thousand of the one, a metre a thousand of the other.
        if shines_sideways(spot):
            ahead = np.maximum(0.0, across @ sideways_axis(spot))
            out += spot.mcd * 1e3 * (ahead / way) ** (power - 3) * plane_mm / way**3
        else:
            out += spot.mcd * 1e3 * (plane_mm / way) ** (power - 2) / way**2
    return out


def shines_sideways(spot: LightSpot) -> bool:
    """Whether a point shines along the board, not away from it."""
    return spot.kind.part.shines == "sideways"


def sideways_axis(spot: LightSpot) -> Values:
    """Which way a part that shines sideways looks: its own −y, (2,)."""
    turn, flip = math.radians(spot.angle_deg), -1.0 if spot.side == "back" else 1.0
    return np.array([flip * math.sin(turn), -flip * math.cos(turn)])


def region_named(board: Board, over: str) -> BaseGeometry:
    """What a map may be taken over: the board, where the LEDs stand, the windows. `Trouble` for another name."""
    regions = {"board": board.outline, "lights": _about_lights(board), "window": board.windows}
    if over not in regions:
        raise Trouble(f"There is no “{over}” to take the light over; there are {', '.join(regions)} and the colours.")
    if regions[over].is_empty:
        raise Trouble(f"This board has no {'LEDs' if over == 'lights' else over}.")
    return regions[over]


def _about_lights(board: Board) -> BaseGeometry:
    return MultiPoint([(spot.x, spot.y) for spot in board.lights]).convex_hull


def shining_to(board: Board, side: str) -> tuple[LightSpot, ...]:
    """What shines to a side. `Trouble` where nothing does."""
    spots = tuple(spot for spot in board.lights if spot.shines_to == side)
    if not spots:
        raise Trouble(f"No LED shines to the {side} of this board.")
    return spots


def light_map(
    board: Board,
    plane_mm: float,
    region: BaseGeometry,
    side: str = "front",
    watch: Watch = ALONE,
    places: int = _MOST_PLACES,
    through: float = 1.0,
) -> LightMap:
    """The light of all LEDs on a side, fully on, over a region (board frame), as much of it as what lies there lets through.
    `Trouble` without any LED there."""
    spots = shining_to(board, side)
    x0, y0, x1, y1 = shapely.buffer(region, 0.01).bounds if region.area == 0 else region.bounds
    places = max(_FEWEST_PLACES, min(places, _MOST_SUMS // len(spots)))
    step = max(_FINEST_MM, math.sqrt((x1 - x0) * (y1 - y0) / places))
    columns, rows = max(1, math.ceil((x1 - x0) / step)), max(1, math.ceil((y1 - y0) / step))
    left, top = (x0 + x1 - (columns - 1) * step) / 2, (y0 + y1 + (rows - 1) * step) / 2
    x, y = np.meshgrid(left + step * np.arange(columns), top - step * np.arange(rows))
    grid = np.column_stack((x.ravel(), y.ravel()))
    lux = through * illuminance(spots, grid, plane_mm, watch)
    inside = shapely.intersects_xy(prepared(region), grid[:, 0], grid[:, 1])
    # The least is most often at the edge, between the places of the grid.
    edge = shapely.get_coordinates(shapely.segmentize(region, step)) if region.area else grid
    at_edge = through * illuminance(spots, edge, plane_mm, watch)
    counted = lux[inside] if inside.any() else at_edge
    every, where = np.concatenate((counted, at_edge)), np.vstack((grid[inside], edge) if inside.any() else (edge, edge))
    worst = where[int(np.argmin(every))]
    title = f"{plane_mm:g} mm {'above' if side == 'front' else 'behind'} the LEDs"
    return LightMap(
        title, left, top, step, lux.reshape(rows, columns), inside.reshape(rows, columns),
        float(every.min()), float(counted.mean()), float(every.max()), (float(worst[0]), float(worst[1])),
    )  # fmt: skip


#: How much of the ground is looked at: so many widths of the board across, and so far before it, mm.
_GROUND_WIDTHS, _GROUND_MM, _GROUND_PLACES = 3.0, 1000.0, 160


def ground_map(board: Board, height_mm: float, side: str = "front", watch: Watch = ALONE) -> LightMap:
    """The light on the ground before a board that stands upright, its lower edge so high over the ground. Places are mm across
    from its middle, and out from it."""
    spots = shining_to(board, side)
    wide = _GROUND_WIDTHS * board.size[0]
    step = max(wide, _GROUND_MM) / _GROUND_PLACES
    columns, rows = max(2, round(wide / step)), round(_GROUND_MM / step)
    x = (np.arange(columns) + 0.5) * step - columns * step / 2
    out = (np.arange(rows)[::-1] + 0.5) * step
    lux = np.zeros((rows, columns))
    for done, spot in enumerate(spots):
        watch.at(done / len(spots))
        across, drop = x[None, :] - (spot.x - board.size[0] / 2), spot.y + height_mm
        way = np.sqrt(across**2 + drop**2 + out[:, None] ** 2)
        ahead = out[:, None]
        if shines_sideways(spot):
            right, up = sideways_axis(spot)
            ahead = np.maximum(0.0, right * across - up * drop)
        lux += spot.mcd * 1e3 * (ahead / way) ** beam_exponent(spot.kind.half_angle_deg) * drop / way**3
    row, column = divmod(int(np.argmin(lux)), columns)
    return LightMap(
        f"on the ground, {height_mm:g} mm below the board", float(x[0]), float(out[0]), step, lux, np.ones(lux.shape, bool),
        float(lux.min()), float(lux.mean()), float(lux.max()), (float(x[column]), float(out[row])),
    )  # fmt: skip


def plane_for(
    board: Board, region: BaseGeometry, wish: float = EVEN, side: str = "front", watch: Watch = ALONE
) -> float | None:
    """The least distance, mm, from which on the light over a region is as even as wished; None where none is."""

    def even_at(plane_mm: float) -> float:
        return light_map(board, plane_mm, region, side, watch, _FEWEST_PLACES).uniformity

    low, high = 0.2, 1.0
    while even_at(high) < wish:
        low, high = high, high * 1.6
        if high > _FARTHEST_MM:
            return None
    while high - low > 0.02 * high:
        middle = (low + high) / 2
        low, high = (low, middle) if even_at(middle) >= wish else (middle, high)
    return high
