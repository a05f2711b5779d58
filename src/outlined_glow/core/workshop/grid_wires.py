"""A board on a plain board of holes, as a table and as a printed sheet."""

from __future__ import annotations

import csv
import io

from ..errors import Trouble
from ..wiring.grid_board import GridBoard, Wanted, hole_name, plan_grid
from .work import Work

_COLUMNS = ("what", "name", "value", "from", "to", "length_mm", "net")


def grid_of(work: Work) -> GridBoard:
    """The plan. `Trouble` where there is nothing to join, or a part is not placed."""
    board = work.board
    if not board.nets or not board.parts:
        raise Trouble("This board has no nets to join: it has no LEDs yet.")
    wanted = [Wanted(one.ref, one.part, one.value, one.x, one.y, one.angle_deg) for one in board.parts if one.part.pads]
    return plan_grid(wanted, board.nets, board.size)


def grid_table(plan: GridBoard) -> bytes:
    """A row for each leg and each link."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(_COLUMNS)
    for part in plan.parts:
        for pin, cell in part.legs:
            rows.writerow(["leg", f"{part.ref}.{pin}", part.value, hole_name(cell), "", "", ""])
    for one in plan.links:
        ends = (hole_name(one.start), hole_name(one.end))
        rows.writerow([one.kind, one.number, "", *ends, f"{one.length_mm:.1f}", one.net])
    return out.getvalue().encode()


def grid_file(work: Work, suffix: str) -> bytes:
    """The plain board as a table or a sheet."""
    plan = grid_of(work)
    if suffix.lower() == ".csv":
        return grid_table(plan)
    from ..order.sheets.grid import grid_sheet  # printing is loaded by who prints

    return grid_sheet(work.board.name, plan)
