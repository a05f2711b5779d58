"""What feeds a board, as the window and the command line tell it: its keys, what they are now, and what follows."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from ..drive import plan_drive
from ..drive.devices import needs
from ..drive.keys import NO_LATCH, NO_REGULATOR, NO_SOURCE
from ..drive.supply.rail import rail_v
from ..drive.supply.source import capacity_ah, filled_in_s
from ..parts import part, supply
from ..units import show
from .drive_facts import lit_share, run_of
from .work import Work


def supply_keys(work: Work) -> set[str]:
    """The keys of the supply that the chosen one goes by."""
    one = work.plan.supply
    keys = {
        "cells": len(one.bodies) > 1, "volts_v": one.spread is not None, "capacity_ah": bool(one.usual_ah),
        "capacitor_f": bool(one.usual_farad), "sun_a": bool(one.usual_farad), "regulator": True,
        "rail_v": bool(work.design.drive.regulator),
    }  # fmt: skip
    return {key for key, there in keys.items() if there}


def supply_values(work: Work) -> dict[str, Any]:
    """What the keys of the supply are now, those that were never told as they are usually."""
    plan, drive = work.plan, work.design.drive
    usual = plan.supply.volts[1] if plan.supply.volts is not None else 0.0
    return {
        "cells": drive.cells, "volts_v": drive.volts or usual, "capacity_ah": capacity_ah(plan.supply, drive),
        "capacitor_f": drive.farad or plan.supply.usual_farad, "sun_a": drive.sun_a or plan.supply.sun_a,
        "regulator": drive.regulator or NO_REGULATOR, "rail_v": rail_v(drive),
    }  # fmt: skip


def second_values(work: Work) -> dict[str, Any]:
    """The keys of the second source that go with what it is, and what they are now."""
    now = work.design.drive.second
    if now is None:
        return {"supply": NO_SOURCE}
    one = supply(now.supply)
    usual = one.volts[1] if one.volts is not None else 0.0
    values: dict[str, Any] = {"supply": now.supply, "joined": now.joined}
    if len(one.bodies) > 1:
        values["cells"] = now.cells
    return values | ({"volts_v": now.volts or usual} if one.spread is not None else {})


def latch_values(work: Work) -> dict[str, Any]:
    """The keys of the auto-off latch that go with it, and what they are now."""
    now = work.design.drive.auto_off
    return {"by": NO_LATCH} if now is None else {"by": now.by, "after_s": now.after_s}


def off_words(work: Work) -> str:
    """After which time a latch switches the board off; "" without one."""
    after = work.plan.off_s
    return "" if after is None else f"{show(after / 60, 1)} min" if after >= 60 else f"{show(after, 1)} s"


def forgotten_words(work: Work) -> tuple[str, str]:
    """What a day costs on which the board is left on, of what its supply holds; and how often a latch may be pressed. "" for
    what does not apply."""
    run, after = run_of(work), work.plan.off_s
    if run is None or run.hours <= 0:
        return "", ""
    day = f"{show(100 * 24 / run.hours, 0)} % of it" if run.hours >= 24 else "all of it, and more"
    return (day, "") if after is None else ("", f"{run.hours * 3600 / after:,.0f} times")


def sun_words(work: Work) -> str:
    """How long full sun fills the capacitor; "" where there is none."""
    filled = filled_in_s(work.plan.supply, work.design.drive)
    return "" if filled is None else f"{show(filled / 60, 1)} min" if filled >= 60 else f"{show(filled, 0)} s"


#: Supplies that are compared, each with its number of cells.
_COMPARED = (("coin-2032", 1), ("aaa-alkaline", 2), ("aaa-alkaline", 3), ("aa-alkaline", 2), ("aa-alkaline", 3), ("lipo", 1))


def other_cells(work: Work) -> list[tuple[str, float, str]]:
    """How long other cells would last, the longest first: what they are called, hours, and what stands in the way ("" for
    nothing). The one that is chosen is left out."""
    drive, out = work.design.drive, []
    for name, cells in _COMPARED:
        if (name, cells) == (work.plan.supply.name, work.plan.cells):
            continue
        plan = plan_drive(replace(drive, supply=name, cells=cells), work.leds, work.values["grids"])
        run = plan.hours(lit_share(work))
        stop = next((one.text for one in plan.findings if one.severity == "stop"), "")
        title = f"{cells} × {plan.supply.title}" if cells > 1 else plan.supply.title
        out.append((title, run.hours if run is not None and not stop else 0.0, stop))
    return sorted(out, key=lambda row: -row[1])


def need_rows() -> list[tuple[str, str, str]]:
    """What supplies may need: key, what it is called with its price, and what happens without it."""
    return [(key, f"{one.title}, {part(one.part).price or 0:.2f}", one.why) for key, one in needs().items()]
