"""How long cells last (DOMAIN 9): step the depth of discharge, solve the load at each step, weigh the charge."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ...parts import Supply
from ..filament import EXPONENT, LIGHT
from ..law import LedLaw

_STEPS = 2000


@dataclass(frozen=True)
class Load:
    """`lights` equal branches in parallel: LED and resistor, and the light of one ampere through one.

    Each is on for a share `duty` of the time, one after another, so that the supply sees that share of them all the time.
    A circuit that regulates the current lets no more than `most_a` through; what is fed by pins has no more than `most_v`. A
    converter takes `power_w`, whatever the volts are, down to `least_v`. A `filament` for some volts and amperes goes by its
    own law.
    """

    law: LedLaw
    resistor_ohm: float
    lights: float
    light_per_a: float = 1.0
    duty: float = 1.0
    most_a: float | None = None
    power_w: float | None = None
    least_v: float = 0.5
    most_v: float = math.inf
    filament: tuple[float, float] | None = None

    def light(self, current: NDArray[np.float64]) -> NDArray[np.float64]:
        """The light of one branch with a current."""
        if self.filament is None:
            return self.light_per_a * current
        most_a = self.filament[1]
        return self.light_per_a * most_a * (current / most_a) ** (LIGHT / EXPONENT)


@dataclass(frozen=True)
class RunTime:
    """Hours until the end, what ended it, the first total current, and curves over time for a plot."""

    hours: float
    ended_by: str
    first_current_a: float
    end_volts: float
    end_current_a: float
    curve_h: tuple[float, ...]
    curve_v: tuple[float, ...]
    curve_light: tuple[float, ...]
    curve_a: tuple[float, ...] = ()


def run_time(
    supply: Supply,
    cells: int,
    loads: tuple[Load, ...],
    *,
    capacity_ah: float | None = None,
    light_fraction: float = 0.5,
    duty: float = 1.0,
    standing_a: float = 0.0,
    ends_below_v: float = 0.0,
    extra_ohm: float = 0.0,
    drop_v: float = 0.0,
) -> RunTime:
    """Run time of a source of `cells` in series. `duty` scales the charge drawn by the loads, not their current; `standing_a`
    is drawn all the time besides. It ends where the circuit needs more than is left, at `ends_below_v`, too. `extra_ohm` and
    `drop_v` of a diode lie between the source and the load."""
    capacity = capacity_ah or supply.capacity_ah or supply.usual_ah
    depth = np.linspace(0, 1, _STEPS + 1)
    volts = np.interp(depth, *_columns(supply.open_v)) * cells
    if supply.ohm_ah:
        ohms = np.full_like(depth, supply.ohm_ah / capacity * cells)
    else:
        ohms = np.interp(depth, *_columns(supply.resistance_ohm)) * cells
    grid_v, grid_a, grid_light = _load_table(loads, float(volts.max()))
    terminal = _terminal(np.maximum(volts - drop_v, 0.0), ohms + extra_ohm, grid_v, grid_a)
    current = np.interp(terminal, grid_v, grid_a)
    light = np.interp(terminal, grid_v, grid_light)
    average = np.maximum(current * duty + standing_a, 1e-12)
    share = _share(supply, average)
    over = {
        "cut-off": terminal + drop_v < supply.cut_off_v * cells,
        "circuit": terminal < ends_below_v,
        "light": light < light_fraction * light[0],
    }
    last, ended = _end(over)
    hours_each = capacity * share / average / _STEPS
    hours = np.concatenate([[0.0], np.cumsum((hours_each[1:] + hours_each[:-1]) / 2)])
    thin = np.unique(np.linspace(0, last, 60).astype(int)) if last else np.array([0])
    peak = light[0] or 1.0
    return RunTime(
        hours=float(hours[last]),
        ended_by=ended,
        first_current_a=float(current[0]),
        end_volts=float(terminal[last]),
        end_current_a=float(current[last]),
        curve_h=tuple(map(float, hours[thin])),
        curve_v=tuple(map(float, terminal[thin])),
        curve_light=tuple(map(float, light[thin] / peak)),
        curve_a=tuple(map(float, current[thin] * duty + standing_a)),
    )


def _end(over: Mapping[str, NDArray[np.bool_]]) -> tuple[int, str]:
    """The first step at which something ends a run, and what that is; of several at one step the first of them."""
    last, ended = _STEPS, "empty"
    for name, steps in over.items():
        if steps.any() and int(np.argmax(steps)) < last + (ended == "empty"):
            last, ended = int(np.argmax(steps)), name
    return last, ended


def source_state(supply: Supply, cells: int, loads: tuple[Load, ...], open_v: float, ohm: float) -> tuple[float, list[float]]:
    """Terminal voltage, and the current of one branch of each load, on a source of `open_v` behind `ohm`."""
    if not loads:
        return open_v, []
    grid_v, grid_a, _ = _load_table(loads, open_v)
    terminal = float(np.interp(open_v, grid_v + ohm * grid_a, grid_v))
    return terminal, [_branch_current(load, terminal) for load in loads]


def _branch_current(load: Load, volts: float) -> float:
    flows = float(np.interp(min(volts, load.most_v), *_branch_table(load)))
    return flows if load.most_a is None else min(flows, load.most_a)


def _columns(curve: tuple[tuple[float, float], ...]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    rows = np.array(curve)
    return rows[:, 0], rows[:, 1]


#: A table of loads that ends before this share of what a source may reach ends too soon.
_FAR = 0.9
#: Halvings after which a voltage is known to a picovolt.
_HALVINGS = 46


def _terminal(
    volts: NDArray[np.float64], ohms: NDArray[np.float64], grid_v: NDArray[np.float64], grid_a: NDArray[np.float64]
) -> NDArray[np.float64]:
    """What is left of each voltage behind its resistance under a load: V + r·I(V) = v."""
    if np.all(grid_a[1:] >= grid_a[:-1]):
        return _between_knots(volts, ohms, grid_v, grid_a)
    # A converter takes the less current the more volts there are: halved for all of them at once.
    low, high = np.zeros_like(volts), volts.copy()
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        over = middle + ohms * np.interp(middle, grid_v, grid_a) > volts
        high, low = np.where(over, middle, high), np.where(over, low, middle)
    return (low + high) / 2


def _between_knots(
    volts: NDArray[np.float64], ohms: NDArray[np.float64], grid_v: NDArray[np.float64], grid_a: NDArray[np.float64]
) -> NDArray[np.float64]:
    """The same where the current rises with the voltage: the last knot of the table under each is found, and a line followed
    from there."""
    low, high = np.zeros(len(volts), np.intp), np.full(len(volts), len(grid_v))
    while (high - low).max() > 1:
        middle = (low + high) // 2
        over = grid_v[middle] + ohms * grid_a[middle] > volts
        high, low = np.where(over, middle, high), np.where(over, low, middle)
    after = np.minimum(low + 1, len(grid_v) - 1)
    rise = (grid_a[after] - grid_a[low]) / np.where(after > low, grid_v[after] - grid_v[low], 1.0)
    spare = volts - grid_v[low] - ohms * grid_a[low]
    left: NDArray[np.float64] = np.clip(grid_v[low] + spare / (1.0 + ohms * rise), 0.0, volts)
    return left


def _share(supply: Supply, current: NDArray[np.float64]) -> NDArray[np.float64]:
    x, y = _columns(supply.share)
    return np.interp(np.log(current), np.log(x), y)


@lru_cache(maxsize=128)
def _branch_table(load: Load) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    if load.power_w is not None:
        volts = np.linspace(0.0, 24.0, 4801)
        return volts, load.power_w / np.maximum(volts, load.least_v)
    if load.filament is not None:
        rated_v, rated_a = load.filament
        volts = np.linspace(0.0, 24.0, 4801)
        current = rated_a * (volts / rated_v) ** EXPONENT
        return volts + current * load.resistor_ohm, current
    current = np.exp(np.linspace(math.log(1e-9), math.log(1.0), 6000))
    return load.law.volts_of(current) + current * load.resistor_ohm, current


def _load_table(
    loads: tuple[Load, ...], highest_v: float
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Total current and light over the terminal voltage, as far as the source reaches."""
    return _table_up_to(loads, max(20.0, 1.05 * highest_v))


@lru_cache(maxsize=64)
def _table_up_to(
    loads: tuple[Load, ...], most_v: float
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    tables = [_branch_table(load) for load in loads]
    ends = [load.most_v for load in loads if load.most_v < math.inf]
    volts = np.unique(np.concatenate([[0.0], ends, *(table[0] for table in tables)]))
    volts = volts[(volts >= 0) & (volts <= most_v)]
    if volts[-1] < _FAR * most_v:  # what takes a current of its own takes that at any volts
        volts = np.append(volts, most_v)
    current = np.zeros_like(volts)
    light = np.zeros_like(volts)
    for load, (v, i) in zip(loads, tables, strict=True):
        one = np.interp(np.minimum(volts, load.most_v), v, i, left=0.0)
        if load.most_a is not None:
            one = np.minimum(one, load.most_a)
        current += load.lights * load.duty * one
        light += load.lights * load.duty * load.light(one)
    return volts, current, light
