"""`lights` and `light-map`: where every LED stands, and how evenly they light what their light falls on."""

from __future__ import annotations

import csv
import json
import sys
from dataclasses import replace

from ...core.board.edge_lit import Sheet
from ...core.board.light_map import EVEN
from ...core.board.light_picture import draw_light_map, lux_words
from ...core.project.atomic import atomic_write
from ...core.project.param import Param
from ...core.units import parse_quantity
from ...core.workshop import Compiler
from ...core.workshop.light_facts import COLUMNS, led_rows
from ...core.workshop.light_surfaces import LENGTHS, Falls, light_on
from ..exits import DONE
from . import Arguments
from .opening import ending_in, opened


def lights_(given: Arguments) -> int:
    """Run `lights`."""
    _, work = opened(given, Compiler())
    rows = led_rows(work)
    if given.json:
        print(json.dumps({"leds": rows}, indent=1, ensure_ascii=False))
        return DONE
    table = csv.DictWriter(sys.stdout, COLUMNS, lineterminator="\n")
    table.writeheader()
    table.writerows({**row, "groups": " ".join(row["groups"])} for row in rows)
    return DONE


def _length(key: str, text: str, kind: str) -> float:
    return float(LENGTHS[kind].check(f"--{key}", parse_quantity(text, "mm")))


def light_map_(given: Arguments) -> int:
    """Run `light-map`."""
    plane = _length("plane", given.plane, "distance")
    high, thick = _length("height", given.height, "height"), _length("thick", given.thick, "thick")
    sheet = Sheet(high, thick, _length("gap", given.gap, "gap"), given.of)
    slot = Param("count", "", 1, 1024).check("--slot", parse_quantity(given.slot, ""))
    start = replace(LENGTHS["start"], high=sheet.height_mm).check("--from", parse_quantity(given.start, "mm"))
    asked = Falls(given.on, plane, given.over, given.side, given.through, sheet, given.array, slot, start)
    target = ending_in(given.output, ".png") if given.output else None
    _, work = opened(given, Compiler())
    lit = light_on(work, asked)
    made, even = lit.map, lit.even_from_mm
    if target is not None:
        atomic_write(target, draw_light_map(made, work.board))
    facts = {
        "on": given.on,
        "plane_mm": plane,
        "lux": {"min": round(made.least, 3), "mean": round(made.mean, 3), "max": round(made.most, 3)},
        "uniformity": round(made.uniformity, 4),
        "worst": {"x_mm": round(made.worst[0], 3), "y_mm": round(made.worst[1], 3)},
        "even_from_mm": None if even is None else round(even, 2),
        "enters": None if lit.enters is None else round(lit.enters, 4),
        "beside": None if lit.beside is None else round(lit.beside, 6),
    }
    if given.json:
        print(json.dumps(facts, indent=1, ensure_ascii=False))
        return DONE
    print(f"light {made.title}: {lux_words(made.least)} to {lux_words(made.most)}, mean {lux_words(made.mean)}")
    print(f"evenness (least / mean) {made.uniformity:.2f}; darkest at {made.worst[0]:.1f}, {made.worst[1]:.1f} mm")
    if lit.enters is not None:
        print(f"{100 * lit.enters:.0f} % of the light enters the sheet; the rest leaks out beside its edge")
    if lit.beside is not None:
        print(f"{100 * lit.beside:.2g} % as much comes in from the slot beside it")
    if given.on != "ground":
        where = "up" if given.on == "sheet" else "on"
        print(f"evenness {EVEN:g} from {even:.1f} mm {where}" if even is not None else f"no distance gives evenness {EVEN:g}")
    return DONE
