"""How much heat each part of the drive makes, and what it bears (DOMAIN 4, 9 and 17)."""

from __future__ import annotations

from dataclasses import dataclass

from ..drive.devices import latch
from ..drive.supply.rail import MOST_RISE_K, kelvin_a_watt, regulator_of, tab_copper_mm2
from ..drive.supply.supply_parts import fitted
from ..parts import part, resistor
from ..units import show_si
from .work import Work


@dataclass(frozen=True)
class PartHeat:
    """A part, or so many alike: the heat of each, W, at worst where that is known; and what it bears (None: not told)."""

    title: str
    many: int
    each_w: float
    bears_w: float | None


def part_heats(work: Work) -> list[PartHeat]:
    """Everything that warms, the warmest against what it bears first."""
    plan, drive = work.plan, work.design.drive
    out = []
    for branch in plan.branches:
        if branch.resistor_ohm:
            out.append(
                PartHeat(f"resistor of {branch.title}", branch.resistors, branch.power_w, resistor(drive.resistor).rated_w)
            )
        # What is fed by data regulates within its own body, all that the rail gives it.
        led_w = branch.current_a * (plan.supply_v if branch.emitter.part.fed_by == "data" else branch.forward_v)
        out.append(
            PartHeat(f"LED, {branch.title}", len(branch.indices), led_w, branch.light.forward_v[2] * branch.light.continuous_a)
        )
        if branch.ohm and branch.emitter.part.fed_by == "voltage":
            out.append(PartHeat(f"switch of {branch.title}", len(branch.indices), branch.current_a**2 * branch.ohm, None))
        if branch.regulated and branch.drop_v > 0:
            left_w = branch.current_a * (branch.headroom_v + branch.drop_v)
            out.append(PartHeat(f"output for {branch.title}", len(branch.indices) // branch.count, left_w, None))
    one = regulator_of(drive)
    if one is not None:
        bears = None if one.efficiency is not None else MOST_RISE_K / kelvin_a_watt(tab_copper_mm2(part(one.part)))
        out.append(PartHeat(one.title, 1, plan.regulator_w, bears))
    amps = plan.lit_a
    for need in fitted(drive, plan.supply):
        if need.ohm:
            out.append(PartHeat(need.title, 1, amps**2 * need.ohm, None))
    if drive.auto_off is not None:
        held = latch(drive.auto_off.by)
        coil = plan.supply_v**2 / held.coil_ohm if held.coil_ohm else 0.0
        out.append(PartHeat(held.title, 1, amps**2 * held.ohm + coil, None))
    return sorted(out, key=lambda one: (-(one.each_w / one.bears_w) if one.bears_w else 0.0, -one.each_w))


def hottest_words(work: Work) -> tuple[str, str]:
    """The part that comes nearest to what it bears, in words; and all of them, a line each."""
    rows = [one for one in part_heats(work) if one.each_w > 1e-6]
    if not rows:
        return "nothing warms", ""
    lines = []
    for one in rows:
        bears = f", bears {show_si(one.bears_w, 'W')}" if one.bears_w else ""
        lines.append(f"{f'{one.many} × ' if one.many > 1 else ''}{one.title}: {show_si(one.each_w, 'W')}{bears}")
    first = rows[0]
    share = f"{show_si(first.each_w, 'W')}" + (f", {100 * first.each_w / first.bears_w:.0f} %" if first.bears_w else "")
    return share, "\n".join(lines)
