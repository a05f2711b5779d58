"""`lights` and `light-map`: where every LED stands, and how evenly they light a plane."""

from __future__ import annotations

import csv
import json
import sys
from pathlib import Path

from ...core.board.light_map import EVEN, light_map, plane_for
from ...core.board.light_picture import draw_light_map
from ...core.errors import Trouble
from ...core.project.atomic import atomic_write
from ...core.project.param import Param
from ...core.units import parse_quantity
from ...core.workshop import Compiler
from ...core.workshop.light_facts import COLUMNS, led_rows, lit_region
from ..exits import DONE
from . import Arguments
from .opening import opened


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


def light_map_(given: Arguments) -> int:
    """Run `light-map`."""
    plane = Param("quantity", "mm", 0.1, 1000).check("--plane", parse_quantity(given.plane, "mm"))
    target = Path(given.output) if given.output else None
    if target is not None and target.suffix.lower() != ".png":
        raise Trouble(f"“{target}” must end in .png.")
    _, work = opened(given, Compiler())
    region = lit_region(work, given.over)
    made = light_map(work.board, plane, region, given.side)
    if target is not None:
        atomic_write(target, draw_light_map(made, work.board))
    wide = plane_for(work.board, region, side=given.side)
    facts = {
        "plane_mm": plane,
        "lux": {"min": round(made.least, 3), "mean": round(made.mean, 3), "max": round(made.most, 3)},
        "uniformity": round(made.uniformity, 4),
        "worst": {"x_mm": round(made.worst[0], 3), "y_mm": round(made.worst[1], 3)},
        "even_from_mm": None if wide is None else round(wide, 2),
    }
    if given.json:
        print(json.dumps(facts, indent=1, ensure_ascii=False))
        return DONE
    print(f"light {plane:g} mm above the LEDs: {made.least:.3g} to {made.most:.3g} lx, mean {made.mean:.3g} lx")
    print(f"evenness (least / mean) {made.uniformity:.2f}; darkest at {made.worst[0]:.1f}, {made.worst[1]:.1f} mm")
    print(f"evenness {EVEN:g} from {wide:.1f} mm on" if wide is not None else f"no distance gives evenness {EVEN:g}")
    return DONE
