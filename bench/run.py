"""How fast it is: each figure a ratio of CPU times within this one run, so that a busy machine changes little.

    .venv/bin/python bench/run.py [PART...]     a table, bench/result.json, and docs/performance.md from it

Each row names what it is measured against and, where there is one, the goal. CPU time, least of a few repetitions.
Parts are start, window, light, arrays, edits, drive, wiring, picture, files, raster;
those that are not named keep the figures of their
last run.
"""

from __future__ import annotations

import json
import platform
import sys
from dataclasses import asdict
from pathlib import Path

import arrays
import drive
import edits
import files
import light
import motion
import pictures
import rasters
import start
import window
import wiring
from timing import Row, peak_mb

HERE = Path(__file__).parent
PARTS = {
    "start": start.rows,
    "window": window.rows,
    "light": light.rows,
    "arrays": arrays.rows,
    "edits": edits.rows,
    "drive": drive.rows,
    "wiring": wiring.rows,
    "motion": motion.rows,
    "picture": pictures.rows,
    "files": files.rows,
    "raster": rasters.rows,
}
TITLES = {
    "start": "Start",
    "window": "The window at work",
    "light": "Light",
    "arrays": "Many LEDs",
    "edits": "Edits",
    "drive": "Drive",
    "wiring": "Wiring",
    "motion": "Motion",
    "picture": "Pictures",
    "raster": "Raster pictures, and a corpus of drawings",
    "files": "Files",
    "memory": "Memory",
}


def figure(row: Row) -> str:
    """The figure as it is printed."""
    text = f"{row.value:.0f}" if row.unit in ("ms", "MB") else f"{row.value:.2f}"
    return f"{text} {row.unit}".strip()


def table(rows: list[Row]) -> str:
    """The page for docs/."""
    lines = [
        "# Performance",
        "",
        "Written by `bench/run.py`; do not edit. Each figure is a ratio of CPU times within one run unless it has a unit,",
        f"so that it means the same on another machine. Python {platform.python_version()}, {platform.machine()}.",
        "A goal that is missed is marked; what stands in the way is told below the tables.",
    ]
    for part, title in TITLES.items():
        mine = [row for row in rows if row.part == part]
        if mine:
            lines += ["", f"## {title}", "", "| what | figure | goal | |", "|---|---|---|---|"]
            for row in mine:
                goal = "" if row.goal is None else f"{row.goal:g} {row.unit}".strip()
                missed = "missed" if row.goal is not None and row.value > row.goal else ""
                lines.append(f"| {row.what} | {figure(row)} | {goal} | {'; '.join(filter(None, (missed, row.note)))} |")
    return "\n".join([*lines, "", (HERE / "missed.md").read_text("utf-8").strip(), ""])


def kept(but: list[str]) -> list[Row]:
    """The rows of the last run of the other parts."""
    path = HERE / "result.json"
    rows = [Row(**one) for one in json.loads(path.read_text())] if path.exists() else []
    return [row for row in rows if row.part not in but]


def write(rows: list[Row]) -> None:
    """Keep the rows, and the page made of them once every part has some."""
    (HERE / "result.json").write_text(json.dumps([asdict(row) for row in rows], indent=1) + "\n")
    if {row.part for row in rows} >= set(PARTS):
        (HERE.parent / "docs" / "performance.md").write_text(table(rows), "utf-8")


def main() -> int:
    """Print the table and keep it as JSON and as a page, part by part."""
    parts = sys.argv[1:] or list(PARTS)
    for part in parts:
        rows = PARTS[part]()
        for row in rows:
            goal = "" if row.goal is None else f"goal {row.goal:g}"
            print(f"{row.what:<76} {figure(row):>10}   {goal:<10} {row.note}", flush=True)
        write([*kept([part]), *rows])
    if len(parts) == len(PARTS):
        row = Row("memory", "peak of this whole run", peak_mb(), unit="MB", note="10,000 paths, a million vertices, 1,024 LEDs")
        write([*kept(["memory"]), row])
    return 0


if __name__ == "__main__":
    sys.exit(main())
