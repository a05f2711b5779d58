"""`drop`: what the copper of a board costs in volts, and how warm it becomes. `leads`: what goes off the board."""

from __future__ import annotations

import json
from pathlib import Path

from ...core.errors import Trouble
from ...core.project.atomic import atomic_write
from ...core.workshop import Compiler
from ...core.workshop.drops import drop_facts, drop_picture, drops
from ...core.workshop.lead_facts import lead_rows, lead_words, leads_file, leads_there
from ..exits import DONE
from . import Arguments
from .opening import ending_in, opened


def drop_(given: Arguments) -> int:
    """Run `drop`."""
    _, work = opened(given, Compiler())
    if not work.board.wires:
        raise Trouble("This board has no tracks yet: draw them with edit P wire.")
    found = drops(work)
    if given.output:
        atomic_write(Path(given.output), drop_picture(work, found, given.side))
    facts = drop_facts(work, found)
    if given.json:
        print(json.dumps(facts, indent=1, ensure_ascii=False))
        return DONE
    for row in sorted(facts["nets"], key=lambda one: -one["drop_v"]):
        hot = row["hottest"]
        warm = "" if hot is None else f"  {hot['rise_k']:6.2f} K at x {hot['x_mm']:.1f} y {hot['y_mm']:.1f} mm"
        print(f"{row['name']:<28} {row['drop_v'] * 1000:9.3f} mV{warm}")
    if facts["worst"] is not None:
        print(f"LED {facts['worst']['index']} has the least: {facts['worst']['supply_v']:.3f} V")
    return DONE


def leads_(given: Arguments) -> int:
    """Run `leads`."""
    _, work = opened(given, Compiler())
    if given.output:
        target = ending_in(given.output, ".pdf", ".csv")
        atomic_write(target, leads_file(work, target.suffix))
    if given.json:
        print(json.dumps({"leads": lead_rows(work)}, indent=1, ensure_ascii=False))
        return DONE
    for one in leads_there(work):
        print("\n  ".join(lead_words(one)))
    return DONE
