"""`plan`, `nets`, `pins` and `power`: how the LEDs are driven, and what that takes."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from ...core.errors import Trouble
from ...core.project.atomic import atomic_write
from ...core.units import show, show_si
from ...core.workshop import Compiler, Work
from ...core.workshop.connections import (
    CONNECTION_COLUMNS,
    PIN_COLUMNS,
    assignment_rows,
    connection_rows,
    connections,
    lit_facts,
    output_keys,
    pin_rows,
    table_text,
)
from ...core.workshop.drive_facts import first_second, plan_row, plan_rows, power
from ...core.workshop.facts import hours_words
from ...core.workshop.grid_wires import grid_file
from ...core.workshop.hand_wires import wires_file
from ...core.workshop.instead import COLUMNS, instead, instead_cells, instead_row
from ...core.workshop.pin_header import pin_header
from ...core.workshop.pin_table import controller_of, table_file
from ...core.workshop.why import ENDED
from ..exits import DONE
from . import Arguments
from .opening import ending_in, opened, plugged


def _json(facts: Mapping[str, Any]) -> int:
    print(json.dumps(facts, indent=1, ensure_ascii=False))
    return DONE


def plan_(given: Arguments) -> int:
    """Run `plan`."""
    _, work = opened(given, Compiler())
    if given.instead:
        return _instead(given, work)
    rows = [plan_row(one) for one in plan_rows(work)]
    if given.json:
        return _json({"methods": rows})
    if given.csv:
        print(table_text(list(rows[0]), rows), end="")
        return DONE
    print(f"{'way':<26} {'pins':>4} {'parts':>5} {'average':>9} {'peak':>9} {'light':>6} {'price':>7}  verdict")
    for row in rows:
        chosen = "*" if row["method"] == work.plan.method else " "
        amps = [show_si(row[key], "A") if row[key] is not None else "–" for key in ("total_average_a", "total_peak_a")]
        light = "–" if row["relative_light"] is None else f"{100 * row['relative_light']:.0f} %"
        print(
            f"{chosen}{row['title']:<25} {row['pins']:>4} {row['parts']:>5} {amps[0]:>9} {amps[1]:>9} {light:>6} "
            f"{row['price']:>7.2f}  {row['verdict']}"
        )
        if row["reason"]:
            print(f"{'':<27}{row['reason']}")
    return DONE


def _instead(given: Arguments, work: Work) -> int:
    """What could light instead, as a table."""
    found = instead(work)
    rows = [instead_row(one) for one in found]
    if given.json:
        return _json({"instead": rows})
    columns = [(key, title) for key, title, _ in COLUMNS]
    if given.csv and rows:
        print(table_text(list(rows[0]), rows), end="")
    elif not rows:
        print("there are no LEDs yet")
    for one in () if given.csv else found:
        cells = instead_cells(one)
        print("  ".join(f"{title}: {cells[key][0]}" for key, title in columns))
    return DONE


def nets_(given: Arguments) -> int:
    """Run `nets`."""
    compiler = Compiler()
    project, work = opened(given, compiler)
    if given.output:
        target = ending_in(given.output, ".pdf", ".csv")
        atomic_write(target, (grid_file if given.grid else wires_file)(work, target.suffix))
        if not given.json:
            return DONE
    if given.json:
        return _json(connections(work, plugged(project, compiler)))
    print(table_text(CONNECTION_COLUMNS, connection_rows(work)), end="")
    return DONE


def pins_(given: Arguments) -> int:
    """Run `pins`."""
    _, work = opened(given, Compiler())
    if given.h:
        print(pin_header(work), end="")
        return DONE
    if given.table:
        if controller_of(work) is None:
            raise Trouble("This board has no controller; choose a way that needs one, or name one: drive controller=….")
        print(table_file(work).decode(), end="")
        return DONE
    rows = pin_rows(work)
    if given.json:
        return _json(
            {
                "controller": work.plan.controller or None,
                "pins": rows,
                "assignment": assignment_rows(work),
                "lights": lit_facts(work),
                "outputs": list(output_keys(work)),
            }
        )
    print(table_text(PIN_COLUMNS, rows), end="")
    return DONE


def power_(given: Arguments) -> int:
    """Run `power`."""
    _, work = opened(given, Compiler())
    facts = power(work)
    if given.json:
        return _json(facts)
    hours = facts["run_time_h"]
    life = "no limit" if hours is None else f"{hours_words(hours)}, then {ENDED[facts['ended_by']]}"
    print(f"{'battery life':<16} {life}")
    for title, key in (("average", "average_a"), ("peak", "peak_a"), ("standing draw", "standing_a")):
        print(f"{title:<16} {show_si(facts[key], 'A')}")
    for at in facts["curve"][:: max(1, len(facts["curve"]) // 12)]:
        amps, light = show_si(at["current_a"], "A"), 100 * at["light"]
        print(f"{show(at['t_h'], 1):>10} h  {at['supply_v']:.2f} V  {amps}  {light:.0f} % light")
    return DONE


def first_second_(given: Arguments) -> int:
    """Run `first-second`."""
    _, work = opened(given, Compiler())
    facts = first_second(work)
    if given.json:
        return _json(facts)
    print(f"{'dark at most':<26} {show_si(facts['dark_s'], 's')} after power-on")
    if facts["reset"] is not None:
        ohm, farad = show_si(facts["reset"]["resistor_ohm"], "Ω"), show_si(facts["reset"]["capacitor_f"], "F")
        print(f"{'held at its start by':<26} {ohm} and {farad}")
    for node in facts["nodes"]:
        levels = ", ".join(f"{level} from {show_si(since, 's') if since else '0'}" for since, level in node["levels"])
        print(f"{node['net']:<26} {levels}")
    return DONE
