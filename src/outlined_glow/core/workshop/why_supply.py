"""“Why” the figures of supply, heat and start: their formulas with what is put in, and where that is set."""

from __future__ import annotations

import math

from ..drive.devices import latch
from ..drive.first_second import LET_GO, RISE_S
from ..drive.heat import AIR_W_M2K, board_rise_k, watts_of
from ..drive.supply.source import capacity_ah, filled_in_s, source_ohm, source_title
from ..drive.supply.supply_parts import fitted
from ..units import show, show_si
from .drive_facts import lit_words, run_of
from .facts import hours_words
from .pin_table import controller_of
from .why import Input, Why
from .work import Work

_SUPPLY, _CURRENT, _METHOD, _LATCH = "drive:supply", "drive:current_a", "drive:method", "drive:latch"


def why_volts(work: Work) -> Why:
    """The volts of the supply under load."""
    plan, drive = work.plan, work.design.drive
    if drive.regulator:
        row = Input("rail", "what the regulator is set to", f"{plan.supply_v:.2f} V", "drive:rail_v")
        return Why(f"Why {plan.supply_v:.2f} V", "V = rail", (row,), "regulator")
    ohm = source_ohm(plan.supply, plan.cells, drive)
    beside = sum(one.ohm for one in fitted(drive, plan.supply))
    held = latch(drive.auto_off.by).ohm if drive.auto_off is not None else 0.0
    whole = plan.supply_v + (ohm + beside + held) * plan.lit_a + plan.drop_v
    rows = [Input("Vo", f"{source_title(plan.supply, plan.cells)}, no load", f"{whole:.2f} V", _SUPPLY)]
    rows.append(Input("Rs", "of the source itself", show_si(ohm, "Ω") if ohm else "0 Ω", _SUPPLY))
    if beside:
        rows.append(Input("Rp", "of switch, fuse and the like", show_si(beside, "Ω"), _SUPPLY))
    if held:
        rows.append(Input("Rl", "of the latch", show_si(held, "Ω"), _LATCH))
    rows.append(Input("I", lit_words(work), show_si(plan.lit_a, "A"), _CURRENT))
    if plan.drop_v:
        rows.append(Input("Vd", "of the diode of a source", f"{plan.drop_v:.2f} V", _SUPPLY))
    total = " + ".join(["Rs", *["Rp"] * bool(beside), *["Rl"] * bool(held)])
    formula = f"V = Vo − ({total})·I{' − Vd' if plan.drop_v else ''}"
    return Why(f"Why {plan.supply_v:.2f} V", formula, tuple(rows), "docs/domain.md, supplies and battery life")


def why_standing(work: Work) -> Why:
    """What is drawn with all LEDs off."""
    plan, drive = work.plan, work.design.drive
    rows = []
    found = controller_of(work) if plan.controller else None
    if found is not None:
        rows.append(Input("controller", found[1].title, show_si(found[1].standing_a, "A"), "drive:controller"))
    for one in fitted(drive, plan.supply):
        if one.standing_a:
            rows.append(Input("part", one.title, show_si(one.standing_a, "A"), _SUPPLY))
    told = (found[1].standing_a if found is not None else 0.0) + sum(one.standing_a for one in fitted(drive, plan.supply))
    rest = plan.standing_a - told
    if rest > 1e-9:
        what = "logic, drivers, regulator, latch" if drive.regulator or drive.auto_off else "logic and drivers"
        rows.append(Input("chips", what, show_si(rest, "A"), _METHOD))
    return Why(f"Why {show_si(plan.standing_a, 'A')}", "I = Σ standing currents", tuple(rows), "typical limits by family")


def why_heat(work: Work) -> Why:
    """How much the board warms."""
    plan, area = work.plan, work.outline.region.area
    watts = watts_of(plan)
    return Why(
        f"Why {show(board_rise_k(watts, area), 1)} K",
        "ΔT = P / (h · 2 · A)",
        (
            Input("P", f"all that the supply gives, {lit_words(work)}", show_si(watts, "W"), _CURRENT),
            Input("h", "still air", f"{AIR_W_M2K:g} W/m²K"),
            Input("A", "of the board, each side", f"{area / 100:.1f} cm²", "shape:"),
        ),
        "docs/domain.md, tracks and heat",
    )


def why_dark(work: Work) -> Why:
    """How long no LED is lit after power-on."""
    first = work.plan.first
    assert first is not None
    rows = [Input("supply", "until it stands", show_si(RISE_S, "s"))]
    if first.reset is not None:
        rows.append(Input("reset", "until it is let go", show_si(first.reset.lasts_s, "s")))
    rows.append(Input("dark", "the longest over all that is unknown", show_si(first.dark_s, "s"), "drive:period_s"))
    return Why(
        f"Why {show_si(first.dark_s, 's')}", "the first LED that is surely lit", tuple(rows), "docs/domain.md, section 8"
    )


def why_reset(work: Work) -> Why:
    """The network that holds a counter at its start."""
    reset = work.plan.first.reset if work.plan.first is not None else None
    if reset is None:
        row = Input("none", "this way needs no reset", "", _METHOD)
        return Why("Nothing to hold", "", (row,), "docs/domain.md, section 8")
    return Why(
        f"Why {show_si(reset.lasts_s, 's')}",
        f"t = R·C·ln(1/{LET_GO:g}), ten times the rise of the supply or more",
        (
            Input("R", "to ground", show_si(reset.ohm, "Ω")),
            Input("C", "from the supply, the next larger decade", show_si(reset.farad, "F")),
            Input("rise", "of the supply", show_si(RISE_S, "s")),
            Input("ln", f"natural logarithm of 1/{LET_GO:g}", f"{math.log(1 / LET_GO):.3f}"),
        ),
        "docs/domain.md, section 8",
    )


def why_off(work: Work) -> Why:
    """When the latch switches the board off."""
    after, wish = work.plan.off_s, work.design.drive.auto_off
    assert after is not None
    assert wish is not None
    asked = Input("asked", "the time that is wished", show_si(wish.after_s, "s"), "drive:after_s")
    if any(one.drives == "auto-off" for one in work.plan.pins):
        row = Input("t", "a pin of the controller is raised by its program", show_si(after, "s"), "drive:controller")
        return Why(f"Why {show_si(after, 's')}", "t = as the program says", (asked, row), "docs/domain.md, section 9")
    return Why(
        f"Why {show_si(after, 's')}",
        "t = reset + 8,192 · 2.2·R·C, R and C from preferred values",
        (asked, Input("t", "as near as E24 and E6 come", show_si(after, "s"))),
        "docs/domain.md, sections 8 and 9",
    )


def why_day(work: Work) -> Why:
    """What a day left on takes, or how often a latch can be pressed."""
    run, after = run_of(work), work.plan.off_s
    assert run is not None
    lasts = Input("lasts", "as it is driven", hours_words(run.hours), "drive:supply")
    if after is None:
        return Why("Why a day", "share = 24 h / lasts", (lasts,), "the run time")
    off = Input("off", "after a press", show_si(after, "s"), "drive:after_s")
    return Why("Why so often", "presses = lasts / off", (lasts, off), "the run time")


def why_sun(work: Work) -> Why:
    """How long full sun takes to fill the capacitor."""
    plan, drive = work.plan, work.design.drive
    seconds = filled_in_s(plan.supply, drive) or 0.0
    volts = plan.supply.open_v[0][1]
    return Why(
        f"Why {show_si(seconds, 's')}",
        "t = C·V / I",
        (
            Input("C", "the capacitor", show_si(capacity_ah(plan.supply, drive) * 3600 / volts, "F"), "drive:capacitor_f"),
            Input("V", "when full", f"{volts:g} V"),
            Input("I", "the solar cell in full sun", show_si(drive.sun_a or plan.supply.sun_a, "A"), "drive:sun_a"),
        ),
        "docs/domain.md, section 9",
    )
