"""“Why” this number: its formula, the figures put in, and where the formula comes from."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..brief import brief_price
from ..drive.law import VT
from ..drive.plan import Branch
from ..drive.source import source_ohm
from ..units import show, show_si
from .compile import Work
from .drive_facts import lit_share, run_of

#: What ended a run, in words.
ENDED = {
    "light": "half brightness is reached",
    "cut-off": "a cell reached its cut-off",
    "circuit": "the circuit needs more volts",
    "empty": "the cells are empty",
}


@dataclass(frozen=True)
class Why:
    """A title, a formula in words, rows of (symbol, how it comes about, value), and the source."""

    title: str
    formula: str
    rows: tuple[tuple[str, str, str], ...]
    source: str


def why_resistor(work: Work, branch: Branch) -> Why:
    """The resistor of a branch."""
    drive, law = work.design.drive, branch.law
    target = branch.target_a / branch.duty
    volts = branch.count * law.volts(target) + branch.drop_v
    choice = "next preferred value up" if drive.choose == "at-most" else "nearest preferred value"
    if branch.ideal_ohm is not None and (branch.resistor_ohm or 0.0) > 1.6 * max(branch.ideal_ohm, 1.0):
        choice = "so large that the worst case holds too"
    return Why(
        f"Why {show_si(branch.resistor_ohm or 0, 'Ω')}",
        f"R = (Vs − {_several(branch)}V(I)) / I{' − Ro' if branch.ohm else ''}",
        (
            ("Vs", _source_words(work), f"{branch.headroom_v + volts:.2f} V"),
            (f"{_several(branch)}V(I)", _law_words(branch, target), f"{volts:.2f} V"),
            ("I", "the current asked for" + (", while lit" if branch.duty < 1 else ""), show_si(target, "A")),
            *_output_row(branch),
            ("R", "by the formula", show_si(max(branch.ideal_ohm or 0.0, 0.0), "Ω")),
            (drive.series, choice, show_si(branch.resistor_ohm or 0, "Ω")),
        ),
        "LED law and series resistors; preferred values by IEC 60063",
    )


def _several(branch: Branch) -> str:
    """How many LEDs lie in series, as it stands before their voltage."""
    return f"{branch.count}·" if branch.count > 1 else ""


def _output_row(branch: Branch) -> tuple[tuple[str, str, str], ...]:
    """What stands in the way beside the resistor."""
    rows = [("Ro", "outputs and switches in the way", show_si(branch.ohm, "Ω"))] if branch.ohm else []
    return (*rows, ("drop", "what the circuit needs to regulate", f"{branch.drop_v:.2f} V")) if branch.drop_v else tuple(rows)


def why_current(work: Work, branch: Branch) -> Why:
    """The current that really flows, and its worst cases."""
    peak = max(branch.peak_a, 1e-9)
    volts = branch.count * branch.law.volts(peak) + branch.drop_v
    total = "(R + Ro)" if branch.ohm else "R"
    rows = [
        ("Vs", "at the board, all LEDs lit", f"{work.plan.supply_v:.3f} V"),
        ("R", "as chosen", show_si(branch.resistor_ohm or 0, "Ω")),
        *_output_row(branch),
        (f"{_several(branch)}V(I)", _law_words(branch, peak), f"{volts:.2f} V"),
        ("I", "typical parts" + (", while lit" if branch.duty < 1 else ""), show_si(peak, "A")),
    ]
    if branch.duty < 1:
        rows.append(("average", f"lit 1/{1 / branch.duty:.3g} of the time", show_si(branch.current_a, "A")))
    rows += [
        ("least", "low supply, high Vf, R high", show_si(branch.current_min_a, "A")),
        ("most", "high supply, low Vf, R low", show_si(branch.current_max_a, "A")),
        ("R heat", "I²·R at most", show_si(branch.power_w, "W")),
    ]
    return Why(
        f"Why {show_si(branch.current_a, 'A')}",
        f"I = (Vs − {_several(branch)}V(I)) / {total}, solved with V(I) = Vf + n·Vt·ln(I/If) + Rs·(I − If)",
        tuple(rows),
        "LED law; worst case over supply, forward voltage and tolerance",
    )


def why_run_time(work: Work) -> Why:
    """The run time of the cells."""
    run = run_of(work)
    supply = work.plan.supply
    if run is None:
        return Why(
            "No limit", "", (("supply", supply.title, "does not run empty"),), "docs/domain.md, supplies and battery life"
        )
    capacity = work.plan.capacity_ah or supply.capacity_ah or supply.usual_ah
    return Why(
        f"Why {show(run.hours, 0 if run.hours >= 20 else 1)} h",
        "t = Σ capacity·step·share(I·duty) / (I·duty)",
        (
            ("cells", f"{work.plan.cells} x {supply.title} in series", f"{capacity:g} Ah"),
            ("first", "current, new cells", show_si(run.first_current_a, "A")),
            ("last", f"current at {run.end_volts:.2f} V", show_si(run.end_current_a, "A")),
            ("standing", "drawn all the time besides", show_si(work.plan.standing_a, "A")),
            ("duty", "share of the time that an LED is lit", f"{lit_share(work):.2f}"),
            ("end", ENDED[run.ended_by], f"{show(run.hours, 1)} h"),
        ),
        "cell curves over depth of discharge; share of the capacity by current",
    )


def why_price(work: Work) -> Why:
    """What the boards cost."""
    brief = work.brief
    price = brief_price(brief, work.board.size, work.board.edge_copper)
    rows = tuple((f"{amount:.2f}", title, "") for title, amount in price.lines)
    return Why(
        f"Why {price.each:.2f} per board", f"{price.boards:.2f} / {price.pieces}", rows, "example price list, in credits"
    )


def _source_words(work: Work) -> str:
    plan = work.plan
    ohm = source_ohm(plan.supply, plan.cells)
    amps = sum(branch.target_a * len(branch.indices) for branch in plan.branches)
    what = "new cells" if plan.supply.ends else plan.supply.title
    return f"{what}, less {ohm:.2g} Ω × {show_si(amps, 'A')}"


def _law_words(branch: Branch, current: float) -> str:
    law = branch.law
    bend = law.ideality * VT * math.log(current / law.forward_a)
    slope = law.series_ohm * (current - law.forward_a)
    return f"{law.forward_v:.2f} {bend:+.3f} {slope:+.3f}".replace("-", "− ").replace("+", "+ ")
