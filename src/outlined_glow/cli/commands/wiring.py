"""`drop`: what the copper of a board costs in volts, and how warm it becomes. `leads`: what goes off the board. `untangle`:
pins that can do the same change places."""

from __future__ import annotations

import json
from pathlib import Path

from ...core.errors import Trouble
from ...core.project import apply_edit
from ...core.project.atomic import atomic_write
from ...core.project.storage import load
from ...core.workshop import Compiler
from ...core.workshop.drops import drop_facts, drop_picture, drops
from ...core.workshop.lead_facts import lead_rows, lead_words, leads_file, leads_there
from ...core.workshop.untangle import untangled
from ..exits import DONE
from . import Arguments
from .opening import ending_in, holding, opened, plugged, store


def drop_(given: Arguments) -> int:
    """Run `drop`."""
    compiler = Compiler()
    project, work = opened(given, compiler)
    if not work.board.wires:
        raise Trouble("This board has no tracks yet: draw them with edit P wire.")
    found = drops(work, plugged(project, compiler))
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
    if not leads_there(work):
        print("This board has no leads.")
    return DONE


def untangle_(given: Arguments) -> int:
    """Run `untangle`."""
    compiler = Compiler()
    target = given.output or given.project
    with holding(target):
        project = load(Path(given.project))
        design = project.board(given.board)
        found = untangled(compiler.on_demand(project, design.name))
        for name, values in found.edits if found is not None else ():
            project = apply_edit(project, name, {**values, "board": design.name})
        if found is not None or given.output:
            same = Path(target).exists() and Path(target).samefile(given.project)
            store(project, compiler.compile_all(project), target, given.force or same)
    if given.json:
        ways = None if found is None else {"before_mm": round(found.before_mm, 2), "after_mm": round(found.after_mm, 2)}
        edits = [] if found is None else [{"edit": name, **values} for name, values in found.edits]
        print(json.dumps({"ways": ways, "edits": edits}, indent=1, ensure_ascii=False))
    elif found is None:
        print("the pins lie as well as they can")
    else:
        print(f"{target}: straight ways from {found.before_mm:.0f} to {found.after_mm:.0f} mm")
    return DONE
