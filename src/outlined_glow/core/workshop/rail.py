"""What is left of the light where the supply runs down and the copper takes volts: LED by LED, light by light."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..drive.filament import filament_a, filament_light
from ..drive.law import branch_current
from ..drive.plan import Branch
from ..drive.supply.rail import rail_v, regulator_of
from ..units import show
from .facts import hours_words
from .work import Work

Numbers = NDArray[np.float64]
#: A branch is worked out at so many volts; what stands in the way of a regulated one, ohm.
_TABLE, _LEAST_OHM = 60, 2.0


@dataclass(frozen=True, eq=False)
class Rail:
    """The share (n, c) of its light that each light of each LED gives; the volts of the supply and what is left at the LED that
    has least, by its index; after how many hours that is (None: the supply does not run down)."""

    shares: Numbers
    supply_v: float
    worst: tuple[int, float] | None
    hours: float | None

    @property
    def mean(self) -> float:
        """The share of all light."""
        there = self.shares[self.shares >= 0]
        return float(there.mean()) if there.size else 1.0

    @property
    def least(self) -> float:
        """The share of the light that has least."""
        return float(self.shares.min()) if self.shares.size else 1.0


def rail_of(work: Work, charge: float, lost_v: Mapping[int, float]) -> Rail:
    """The light with a share of the charge left, 1 full to 0 at the end of the run time, where LEDs (by index) lose volts on
    their way."""
    plan, lamps, run = work.plan, work.lamps, work.plan.steady
    volts, hours = plan.supply_v, None
    if run is not None:
        hours = (1 - charge) * run.hours
        volts = float(np.interp(hours, run.curve_h, run.curve_v))
        one = regulator_of(work.design.drive)
        if one is not None:
            volts = min(rail_v(work.design.drive), volts)
    shares = np.ones((lamps.count, lamps.channels))
    tables: dict[int, tuple[Numbers, Numbers]] = {}
    top = max(plan.supply_v, volts) + 0.01
    left = {index: volts - lost_v.get(index, 0.0) for index in lamps.indices}
    for row, index in enumerate(lamps.indices):
        for light, name in enumerate(lamps.light_names[row]):
            branch = plan.branch_of(index, name)
            if branch is None or branch.current_a <= 0 or branch.resistor_ohm is None:
                continue
            if id(branch) not in tables:
                tables[id(branch)] = _table(branch, top)
            at, given = tables[id(branch)]
            full = float(np.interp(plan.supply_v, at, given))
            shares[row, light] = float(np.interp(left[index], at, given)) / full if full > 0 else 1.0
    worst = min(left, key=lambda index: left[index], default=None)
    return Rail(np.clip(shares, 0, 1.2), volts, None if worst is None else (worst, left[worst]), hours)


def _table(branch: Branch, most_v: float) -> tuple[Numbers, Numbers]:
    """Volts and the light of a branch at those: as its current, which a regulated one keeps to what it is set to, one on pins
    to what those give; of a filament by its own law."""
    at = np.unique(np.append(np.linspace(0.0, most_v, _TABLE), min(branch.most_v, most_v)))
    if branch.emitter.part.fed_by == "voltage":
        rated_v, rated_a = branch.light.forward_v[1], branch.light.forward_a
        glows = [
            filament_a(volts, (branch.resistor_ohm or 0.0) + branch.ohm, rated_v, rated_a) / rated_a for volts in at.tolist()
        ]
        return at, np.array([filament_light(share) for share in glows])
    ohm = max((branch.resistor_ohm or 0.0) + branch.ohm, _LEAST_OHM if branch.regulated else 0.0)
    there = np.maximum(0.0, np.minimum(at, branch.most_v) - branch.drop_v).tolist()
    amps = np.array([branch_current(volts, ohm, branch.law, branch.count) for volts in there])
    return at, np.minimum(amps, branch.peak_a) if branch.regulated else amps


def rail_words(work: Work, made: Rail) -> list[tuple[str, str]]:
    """What it comes to, a name and a figure each."""
    rows = [("the supply gives", f"{show(made.supply_v, 2)} V")]
    if made.hours is not None:
        rows.insert(0, ("after", hours_words(made.hours)))
    rows.append(("light of all LEDs", f"{100 * made.mean:.0f} %"))
    if made.worst is not None and made.worst[1] < made.supply_v - 0.005:
        rows.append((f"least volts: LED {made.worst[0]}", f"{show(made.worst[1], 2)} V"))
        rows.append(("least light", f"{100 * made.least:.0f} %"))
    return rows
