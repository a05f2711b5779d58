"""What there is to say of a board in numbers: to be compared with what was said before (`tests/data/boards.json`).

.venv/bin/python bench/boards.py      write the numbers anew, after a change that is meant
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from outlined_glow import DEMOS
from outlined_glow.core.errors import Trouble
from outlined_glow.core.project import Project
from outlined_glow.core.workshop import Compiler, Work, apply_values, new_project
from outlined_glow.core.workshop.demos import demo_project

DATA = Path(__file__).parents[1] / "tests" / "data"
NUMBERS = DATA / "boards.json"
#: Drawings of the cases that get LEDs too.
_LIT = ("pie.dxf", "nat_stroke.svg", "nat_clip.svg", "wide.dxf")
_GRID = {"array": "grid 1", "x_mm": 5.0, "y_mm": 5.0, "rows": 3, "columns": 3}


def projects() -> Iterator[tuple[str, Project]]:
    """The demos, and a board of every drawing among the cases that makes one."""
    for name in DEMOS:
        yield name, demo_project(name)
    for path in sorted((DATA / "cases").iterdir()):
        if path.suffix in (".svg", ".dxf", ".png"):
            try:
                project = new_project(path.read_bytes(), path.name)
            except Trouble:
                continue
            yield path.name, project
            if path.name in _LIT:
                yield f"{path.name} lit", apply_values(project, "grid", _GRID, (0.0, 0.0))


def numbers(work: Work, compiler: Compiler) -> dict[str, Any]:
    """Sizes, the area of every layer, holes, parts, currents, and how many findings there are of each code."""
    board = work.board
    codes: dict[str, int] = {}
    for one in compiler.findings(work):
        key = f"{one.severity} {one.code}"
        codes[key] = codes.get(key, 0) + one.count
    return {
        "size_mm": [round(side, 4) for side in board.size],
        "layers_mm2": {name: round(region.area, 3) for name, region in board.layers.items() if not region.is_empty},
        "holes": sorted([round(one.x, 3), round(one.y, 3), round(one.diameter, 3), one.plated] for one in board.holes),
        "parts": [
            [one.ref, one.value, round(one.x, 3), round(one.y, 3), round(one.angle_deg % 360, 2), one.side]
            for one in board.parts
        ],
        "current_a": round(work.plan.current_a, 9),
        "findings": codes,
    }


def every() -> dict[str, dict[str, Any]]:
    """The numbers of all of them."""
    out = {}
    for name, project in projects():
        compiler = Compiler()
        try:
            out[name] = numbers(compiler.compile(project), compiler)
        except Trouble as trouble:
            out[name] = {"refused": str(trouble)}
    return out


if __name__ == "__main__":
    NUMBERS.write_text(json.dumps(every(), indent=1, sort_keys=True, ensure_ascii=False) + "\n", "utf-8")
