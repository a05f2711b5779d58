"""“Why” this number: its formula, the figures put in, and where the formula comes from."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple

from ..brief import brief_price
from ..drive.law import VT
from ..drive.plan import Branch
from ..drive.supply.feed import feed_of
from ..drive.supply.source import source_title
from ..units import show_si
from .drive_facts import lit_share, lit_words, run_of
from .facts import hours_words
from .work import Work

#: What ended a run, in words.
ENDED = {
    "light": "half brightness is reached",
    "cut-off": "a cell reached its cut-off",
    "circuit": "the circuit needs more volts",
    "empty": "the cells are empty",
}


class Input(NamedTuple):
    """A figure that is put in: its symbol, how it comes about, its value; where it is set, as stage:key ("" for nowhere)."""

    symbol: str
    how: str
    value: str
    at: str = ""


#: Where things are set that several figures come from.
_SUPPLY, _CURRENT, _METHOD, _LEDS = "drive:supply", "drive:current_a", "drive:method", "lights:emitter"
_FROM_A_PIN = "what a pin of the controller gives"


@dataclass(frozen=True)
class Why:
    """A title, a formula in words, what is put into it, and the source."""

    title: str
    formula: str
    rows: tuple[Input, ...]
    source: str


def why_resistor(work: Work, branch: Branch) -> Why:
    """The resistor of a branch."""
    own = _by_its_own_law(work, branch)
    if own is not None:
        return own
    drive, law = work.design.drive, branch.law
    target = branch.target_a / branch.duty
    volts = branch.count * law.volts(target)
    choice = "next preferred value up" if drive.choose == "at-most" else "nearest preferred value"
    if branch.ideal_ohm is not None and (branch.resistor_ohm or 0.0) > 1.6 * max(branch.ideal_ohm, 1.0):
        choice = "so large that the worst case holds too"
    return Why(
        f"Why {show_si(branch.resistor_ohm or 0, 'Ω')}",
        f"R = ({_left_words(branch)}) / I{' − Ro' if branch.ohm else ''}",
        (
            Input("Vs", *_source(work, branch, branch.headroom_v + volts + branch.drop_v)),
            Input(f"{_several(branch)}V(I)", _law_words(branch, target), f"{volts:.2f} V", _LEDS),
            Input("I", "the current asked for" + (", while lit" if branch.duty < 1 else ""), show_si(target, "A"), _CURRENT),
            *_output_row(branch),
            Input("R", "by the formula", show_si(max(branch.ideal_ohm or 0.0, 0.0), "Ω")),
            Input(drive.series, choice, show_si(branch.resistor_ohm or 0, "Ω"), "drive:series"),
        ),
        "LED law and series resistors; preferred values by IEC 60063",
    )


def _left_words(branch: Branch) -> str:
    """What is left for a resistor, as a formula."""
    return f"Vs − {_several(branch)}V(I){' − drop' if branch.drop_v else ''}"


def _several(branch: Branch) -> str:
    """How many LEDs lie in series, as it stands before their voltage."""
    return f"{branch.count}·" if branch.count > 1 else ""


def _output_row(branch: Branch) -> tuple[Input, ...]:
    """What stands in the way beside the resistor."""
    rows = [Input("Ro", "outputs and switches in the way", show_si(branch.ohm, "Ω"), _METHOD)] if branch.ohm else []
    drop = Input("drop", "what the circuit needs to regulate", f"{branch.drop_v:.2f} V", _METHOD)
    return (*rows, drop) if branch.drop_v else tuple(rows)


def why_current(work: Work, branch: Branch) -> Why:
    """The current that really flows, and its worst cases."""
    own = _by_its_own_law(work, branch)
    if own is not None:
        return own
    peak = max(branch.peak_a, 1e-9)
    volts = branch.count * branch.law.volts(peak)
    total = "(R + Ro)" if branch.ohm else "R"
    rows = [
        Input("Vs", _FROM_A_PIN, f"{branch.most_v:.3f} V", "drive:controller")
        if branch.most_v < work.plan.supply_v
        else Input("Vs", f"at the board, {lit_words(work)}", f"{work.plan.supply_v:.3f} V", _SUPPLY),
        Input("R", "as chosen", show_si(branch.resistor_ohm or 0, "Ω"), "drive:series"),
        *_output_row(branch),
        Input(f"{_several(branch)}V(I)", _law_words(branch, peak), f"{volts:.2f} V", _LEDS),
        Input("I", "typical parts" + (", while lit" if branch.duty < 1 else ""), show_si(peak, "A")),
    ]
    rows += [*_average_row(branch), *_spread_rows(branch)]
    return Why(
        f"Why {show_si(branch.current_a, 'A')}",
        f"I = ({_left_words(branch)}) / {total}, solved with V(I) = Vf + n·Vt·ln(I/If) + Rs·(I − If)",
        tuple(rows),
        "LED law; worst case over supply, forward voltage and tolerance",
    )


def _by_its_own_law(work: Work, branch: Branch) -> Why | None:
    """The figures of what is no LED behind a resistor; None where it is one."""
    fed_by = branch.emitter.part.fed_by
    if fed_by == "voltage":
        return _why_filament(work, branch)
    if fed_by == "high voltage":
        return _why_tube(branch)
    return _why_regulated(work, branch) if branch.regulated else None


def _why_regulated(work: Work, branch: Branch) -> Why:
    """The current that a circuit keeps to."""
    volts = branch.count * branch.law.volts(branch.peak_a)
    lit = ", while lit" if branch.duty < 1 else ""
    rows = [
        Input("I", f"what the circuit is set to{lit}", show_si(branch.peak_a, "A"), _CURRENT),
        Input("Vs", *_source(work, branch, branch.headroom_v + volts + branch.drop_v)),
        Input(f"{_several(branch)}V(I)", _law_words(branch, branch.peak_a), f"{volts:.2f} V", _LEDS),
        *_output_row(branch),
    ]
    rows += [*_average_row(branch), *_spread_rows(branch)[:2]]
    return Why(f"Why {show_si(branch.current_a, 'A')}", f"I = as set, where {_left_words(branch)} > 0", tuple(rows), "LED law")


def _average_row(branch: Branch) -> tuple[Input, ...]:
    if branch.duty >= 1:
        return ()
    return (Input("average", f"lit 1/{1 / branch.duty:.3g} of the time", show_si(branch.current_a, "A"), _METHOD),)


def _why_filament(work: Work, branch: Branch) -> Why:
    """The resistor and the current of a filament."""
    ohm, rated_a = (branch.resistor_ohm or 0.0) + branch.ohm, branch.light.forward_a
    rows = (
        Input("Vs", *_source(work, branch, branch.forward_v + ohm * branch.current_a)),
        Input("V0", "what it is made for", f"{branch.light.forward_v[1]:.2f} V", _LEDS),
        Input("I0", "what it takes at that", show_si(rated_a, "A"), _LEDS),
        Input("R", "(Vs − V0) / I0, a preferred value", show_si(branch.resistor_ohm or 0.0, "Ω"), "drive:series"),
        *_output_row(branch),
        Input("V", "what is left for it", f"{branch.forward_v:.2f} V"),
        *_spread_rows(branch),
    )
    formula = f"I = I0·(V/V0)^0.6, V = Vs − {'(R + Ro)' if branch.ohm else 'R'}·I"
    return Why(f"Why {show_si(branch.current_a, 'A')}", formula, rows, "docs/domain.md, section 5")


def _why_tube(branch: Branch) -> Why:
    """The resistor and the current of a tube."""
    rows = (
        Input("Vs", "what the high-voltage module makes", f"{branch.headroom_v + branch.forward_v:.0f} V"),
        Input("Vhold", "the tube, while it burns", f"{branch.forward_v:.0f} V", _LEDS),
        Input("R", "before its anode, a preferred value", show_si(branch.resistor_ohm or 0.0, "Ω"), "drive:series"),
        Input("I", "typical parts", show_si(branch.current_a, "A"), _CURRENT),
        *_spread_rows(branch),
    )
    return Why(f"Why {show_si(branch.current_a, 'A')}", "I = (Vs − Vhold) / R", rows, "docs/domain.md, section 5")


def _spread_rows(branch: Branch) -> tuple[Input, ...]:
    """The worst cases."""
    return (
        Input("least", "low supply, high Vf, R high", show_si(branch.current_min_a, "A")),
        Input("most", "high supply, low Vf, R low", show_si(branch.current_max_a, "A")),
        Input("R heat", "I²·R at most", show_si(branch.power_w, "W")),
    )


def why_run_time(work: Work) -> Why:
    """The run time of the cells."""
    run = run_of(work)
    supply, cells = work.plan.runs_on or (work.plan.supply, work.plan.cells)
    if run is None:
        row = Input("supply", supply.title, "does not run empty", _SUPPLY)
        return Why("No limit", "", (row,), "docs/domain.md, supplies and battery life")
    capacity = work.plan.capacity_ah or supply.capacity_ah or supply.usual_ah
    return Why(
        f"Why {hours_words(run.hours)}",
        "t = Σ capacity·step·share(I·duty) / (I·duty)",
        (
            Input("cells", f"{source_title(supply, cells)}, full", f"{capacity:.4g} Ah", _SUPPLY),
            Input("first", "current, when full", show_si(run.first_current_a, "A"), _CURRENT),
            Input("last", f"current at {run.end_volts:.2f} V", show_si(run.end_current_a, "A")),
            Input("standing", "drawn all the time besides", show_si(work.plan.standing_a, "A"), _METHOD),
            Input("duty", "share of the time that an LED is lit", f"{lit_share(work):.2f}", "motion:pattern"),
            Input("end", ENDED[run.ended_by], hours_words(run.hours)),
        ),
        "cell curves over depth of discharge; share of the capacity by current",
    )


#: Where what a line of the price is about is set, by a word that stands in it.
_PRICED = (("boards", "brief:pieces"), ("finish", "brief:finish"), ("mask", "brief:mask"), ("thick", "brief:thickness_mm"))


def why_price(work: Work) -> Why:
    """What the boards cost."""
    brief = work.brief
    price = brief_price(brief, work.board.size, work.board.edge_copper)
    rows = tuple(Input(f"{amount:.2f}", title, "", _priced(title)) for title, amount in price.lines)
    return Why(
        f"Why {price.each:.2f} per board", f"{price.boards:.2f} / {price.pieces}", rows, "example price list, in credits"
    )


def _priced(title: str) -> str:
    return next((at for word, at in _PRICED if word in title), "")


def _source(work: Work, branch: Branch, volts: float) -> tuple[str, str, str]:
    """Where the volts before a resistor come from, what they are, and where that is set."""
    plan, drive, told = work.plan, work.design.drive, f"{volts:.2f} V"
    if volts >= branch.most_v - 1e-9:
        return _FROM_A_PIN, told, "drive:controller"
    if drive.regulator:
        return "what the regulator is set to", told, "drive:rail_v"
    feed = feed_of(drive, plan.supply)
    what = ("new cells" if plan.supply.ends else plan.supply.title) + (" behind a diode" if plan.drop_v else "")
    less = f", less {feed.ohm:.2g} Ω × {show_si((feed.open_v - volts) / feed.ohm, 'A')}" if feed.ohm else ""
    return f"{what}, {feed.open_v:.2f} V{less}", told, _SUPPLY


def _law_words(branch: Branch, current: float) -> str:
    law = branch.law
    bend = law.ideality * VT * math.log(current / law.forward_a)
    slope = law.series_ohm * (current - law.forward_a)
    return f"{law.forward_v:.2f} {bend:+.3f} {slope:+.3f}".replace("-", "− ").replace("+", "+ ")
