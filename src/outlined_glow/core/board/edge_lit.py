"""The light within a clear sheet that stands on edge over a row of LEDs: where an engraving lights up, and how evenly.

A ray enters through the lower edge if it meets it: the sheet is so thick, and so far above the LEDs. It is bent by the law of
refraction, and the faces of the sheet keep what has entered. What an engraving scatters at a place is the light that passes
there from all sides (fluence, lm/m²): of each LED's beam cos^m, the flux by the width it has spread to, by the thickness and by
the slope of its way. Neither the reflection at the edge nor what the sheet swallows is counted: both weaken all places alike.
Over LEDs that shine sideways the same sheet lies along the board, its edge before them.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..errors import Trouble
from ..parts import beam_exponent
from ..shipped import entries
from ..watch import ALONE, Watch
from .light_map import LightMap, shines_sideways, sideways_axis
from .model import LightSpot

Values = NDArray[np.float64]

#: How finely the beam of an LED is cut: across the sheet, along it, and how near to grazing it is followed.
_ACROSS, _ALONG, _GRAZING_DEG = 12, 1441, 89.5
_SHARES = tuple(side.tolist() for side in np.polynomial.legendre.leggauss(_ACROSS))
#: How finely a sheet is looked at: places along its lower edge, and up.
_COLUMNS, _MOST_ROWS = 240, 200
#: The wide beam of a part that says no other may not be lit at its very edge, mm.
_LEAST_GAP_MM = 0.05
#: LEDs that shine the same way, as a cosine; how far (a sine) that may lean from straight across their row.
_ALIKE, _ASKEW = math.cos(math.radians(10)), math.sin(math.radians(10))


@dataclass(frozen=True)
class Sheet:
    """A clear sheet over a row of LEDs: its height, thickness and distance above the LEDs' tops, mm, and what it is of."""

    height_mm: float
    thickness_mm: float = 3.0
    gap_mm: float = 0.5
    material: str = "acrylic"

    @property
    def refraction(self) -> float:
        """How strongly it bends light. `Trouble` for a material that is not known."""
        table = entries("materials", "sheets")
        if self.material not in table:
            raise Trouble(f"There is no sheet of “{self.material}”; there are {', '.join(table)}.")
        return float(table[self.material]["refraction"])


@lru_cache(maxsize=4 * _ACROSS)
def _beam(power: float, sheet: Sheet, share: float) -> tuple[Values, Values, Values, Values]:
    """Of an LED of one candela, at a share (−1..1) of the way across: for each direction along the sheet (radians from
    straight up) the flux into it and into the step across (lm), where it enters (mm), and the slope it has within.

    Remembered: it is asked for at every height of a sheet, and for every number of LEDs that is tried."""
    gap = max(sheet.gap_mm, _LEAST_GAP_MM)
    along = np.radians(np.linspace(-_GRAZING_DEG, _GRAZING_DEG, _ALONG))
    widest = np.arctan(sheet.thickness_mm * np.cos(along) / (2 * gap))
    across = share * widest
    flux = np.cos(along) ** power * np.cos(across) ** (power + 1) * widest
    side, out = np.sin(along) * np.cos(across) / sheet.refraction, np.sin(across) / sheet.refraction
    up = np.sqrt(1 - side**2 - out**2)
    made = flux, gap * np.tan(along), side / up, up
    for one in made:
        one.setflags(write=False)
    return made


def fluence(spots: Sequence[LightSpot], along_mm: Sequence[float], sheet: Sheet, x: Values, z: Values) -> Values:
    """Light passing (lm/m²) at places `x` along the sheet (mm) and `z` above its lower edge, as (len(z), len(x)). `along_mm`
    is where each LED stands along the sheet."""
    out = np.zeros((len(z), len(x)))
    step = math.radians(2 * _GRAZING_DEG / (_ALONG - 1))
    alike: dict[float, list[tuple[float, float]]] = {}
    for spot, stands in zip(spots, along_mm, strict=True):
        alike.setdefault(beam_exponent(spot.kind.half_angle_deg), []).append((spot.mcd, stands))
    for power, some in alike.items():
        for share, weight in zip(*_SHARES, strict=True):
            flux, enters, slope, up = _beam(power, sheet, share)
            for row, height in enumerate(z.tolist()):
                arrives = enters + height * slope
                dense = weight * 1e3 / sheet.thickness_mm * flux * step / (np.gradient(arrives) * up)
                out[row] += sum(mcd * np.interp(x - stands, arrives, dense, 0.0, 0.0) for mcd, stands in some)
    return out


def entering_share(half_angle_deg: float, sheet: Sheet) -> float:
    """The share of an LED's light that enters the sheet; the rest leaks out beside its edge."""
    power = beam_exponent(half_angle_deg)
    step = math.radians(2 * _GRAZING_DEG / (_ALONG - 1))
    lumens = sum(weight * _beam(power, sheet, share)[0].sum() * step for share, weight in zip(*_SHARES, strict=True))
    return float(min(1.0, lumens / (2 * math.pi / (power + 1))))


def stray_share(half_angle_deg: float, sheet: Sheet, beside_mm: float) -> float:
    """How much of the light of LEDs under the sheet beside it, so far away, enters a sheet: as a share of that of its own.

    Along the row every strip of an edge gets the same share of a beam; across it, g^(m+1)/(g² + y²)^((m+2)/2).
    """
    power, gap, half = beam_exponent(half_angle_deg), max(sheet.gap_mm, _LEAST_GAP_MM), sheet.thickness_mm / 2
    nodes, weights = np.polynomial.legendre.leggauss(48)

    def into(middle: float) -> float:
        y = middle + half * nodes
        return float(np.sum(weights / (gap**2 + y**2) ** ((power + 2) / 2)))

    return into(beside_mm) / into(0.0)


def sheet_map(
    spots: Sequence[LightSpot], sheet: Sheet, from_mm: float = 0.0, wide_mm: float | None = None, watch: Watch = ALONE,
    lies: str = "above",
) -> LightMap:  # fmt: skip
    """The light in a sheet over LEDs that stand in a row: from the first to the last of them, half a step beyond, or as wide as
    is told. What counts lies `from_mm` above its lower edge and higher: that is where it is engraved. `Trouble` for LEDs that
    stand in no row. `lies` says where the sheet is, as `sheet_lies` tells it."""
    along, _ = _in_a_row(spots)
    reach = (along.max() - along.min()) / max(1, len(along) - 1) / 2 if len(along) > 1 else sheet.height_mm / 2
    wide = wide_mm or float(along.max() - along.min() + 2 * reach)
    middle = float(along.max() + along.min()) / 2
    step = max(wide / _COLUMNS, sheet.height_mm / _MOST_ROWS)
    columns, rows = max(2, round(wide / step)), max(2, round(sheet.height_mm / step))
    x = np.asarray(middle + (np.arange(columns) - (columns - 1) / 2) * step, float)
    z = np.asarray((np.arange(rows) + 0.5) * step, float)
    light = np.zeros((rows, columns))
    for row in range(rows):
        watch.at(row / rows)
        light[row] = fluence(spots, along.tolist(), sheet, x, z[row : row + 1])[0]
    inside = np.broadcast_to((z >= from_mm)[:, None], light.shape)
    counted = light[inside] if inside.any() else light.ravel()
    row, column = divmod(int(np.argmin(np.where(inside, light, np.inf))), columns)
    title = f"in a sheet of {sheet.thickness_mm:g} mm {sheet.material}, {sheet.gap_mm:g} mm {lies} the LEDs"
    left = middle - wide / 2
    worst = float(x[column] - left), float(z[row])
    return LightMap(
        title, float(x[0] - left), float(z[-1]), step, light[::-1], inside[::-1],
        float(counted.min()), float(counted.mean()), float(counted.max()), worst,
    )  # fmt: skip


def even_from(one: LightMap, wish: float) -> float | None:
    """How high above its lower edge, mm, a sheet is as even as wished and stays so; None where it nowhere is."""
    rows = one.lux[::-1]
    for row in range(len(rows)):
        above = rows[row:]
        if above.mean() > 0 and above.min() / above.mean() >= wish:
            return row * one.step_mm
    return None


def sheet_lies(spots: Sequence[LightSpot]) -> str:
    """Where a sheet lies that LEDs in a row shine into: above them, or before those that shine sideways. `Trouble` where they
    do not all shine into one."""
    row = _in_a_row(spots)[1]
    axes = [tuple(sideways_axis(spot)) if shines_sideways(spot) else () for spot in spots]
    if not any(axes):
        return "above"
    if not all(axes) or any(np.dot(axis, axes[0]) < _ALIKE for axis in axes):
        raise Trouble("LEDs under one sheet all shine the same way; these do not. Turn them, or choose others of their kind.")
    if len(spots) > 1 and abs(np.dot(row, axes[0])) > _ASKEW:
        raise Trouble("LEDs that shine sideways light a sheet before them; these shine along their own row. Turn them by 90°.")
    return "before"


def _in_a_row(spots: Sequence[LightSpot]) -> tuple[Values, Values]:
    """Where LEDs stand along the line through them, mm, and which way that runs, (2,)."""
    places = np.array([(spot.x, spot.y) for spot in spots])
    if not len(places):
        raise Trouble("No LED stands under this sheet.")
    first = places - places.mean(axis=0)
    _, _, ways = np.linalg.svd(first, full_matrices=False)
    if np.abs(first @ ways[1] if len(ways) > 1 else 0.0).max(initial=0.0) > 1.0:
        raise Trouble("The LEDs under a sheet stand in a row; these do not. Choose an array of slots or a line.")
    way = ways[0] if ways[0][int(np.argmax(np.abs(ways[0])))] > 0 else -ways[0]
    return np.asarray(first @ way, float), way
