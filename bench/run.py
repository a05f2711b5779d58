"""How fast it is: each figure a ratio of CPU times within this one run, so that a busy machine changes little.

    .venv/bin/python bench/run.py            a table, and bench/result.json

Each row names what it is measured against and, where there is one, the goal. CPU time, least of a few repetitions.
"""

from __future__ import annotations

import io
import json
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import resvg_py
import shapely

from outlined_glow.core.artwork import paint, read_picture
from outlined_glow.core.board.glow import expose, make_light, play
from outlined_glow.core.board.surface import make_surface
from outlined_glow.core.board.view import whole_view
from outlined_glow.core.geometry.thin import thin_places
from outlined_glow.core.order import make_package
from outlined_glow.core.order.gerber import art_layer, board_heading
from outlined_glow.core.order.proof.compare import prove_files
from outlined_glow.core.order.proof.gerber_reader import read_gerber
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.workshop import Compiler, apply_values
from outlined_glow.core.workshop.demos import demo_project

HERE = Path(__file__).parent


def cpu(run: Callable[[], Any], times: int = 3) -> float:
    """Least CPU seconds of a few runs."""
    best = float("inf")
    for _ in range(times):
        start = time.process_time()
        run()
        best = min(best, time.process_time() - start)
    return best


def child_cpu(code: str) -> float:
    """CPU seconds that a Python process says it took until its window was painted."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "XDG_STATE_HOME": tempfile.mkdtemp()}
    runs = []
    for _ in range(4):
        ended = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, env=environment, check=True)
        runs.append(float(ended.stdout.split()[-1]))
    return min(runs)


_START = """
import time; start = time.process_time()
from PyQt6.QtWidgets import QApplication, QMainWindow
app = QApplication(['x'])
{}
window.resize(1280, 800); window.show(); app.processEvents()
print(time.process_time() - start)
window.close()
"""
_BARE = _START.format("window = QMainWindow()")
_OURS = _START.format(
    "from outlined_glow.ui.theme import load_fonts\nfrom outlined_glow.ui.shell import MainWindow\n"
    "load_fonts(); app.setStyle('Fusion'); window = MainWindow()"
)


def edit_times(moth: Any) -> dict[str, float]:
    """CPU seconds from an edit to its board, for a few edits of the demo."""
    compiler = Compiler()
    compiler.compile(moth)
    examples: dict[str, dict[str, Any]] = {
        "set-border": {"border_mm": 1.9}, "set-hole": {"diameter_mm": 2.6}, "along": {"array": "fore wings", "inset_mm": 2.8},
        "set-current": {"current_a": 0.003}, "set-appearance": {"colour": "8E4F92", "appearance": "window"},
        "set-stack": {"mask": "green"}, "set-pattern": {"period_s": 5.0}, "set-width": {"width_mm": 69.5},
    }  # fmt: skip
    out = {}
    for name, values in examples.items():
        changed = apply_values(moth, name, values, (0, 0))
        start = time.process_time()
        compiler.compile(changed)
        out[name] = time.process_time() - start
        compiler.compile(moth)
    return out


def measure() -> list[tuple[str, float, str]]:
    """Rows of what, ratio, and goal."""
    moth = demo_project("moth")
    svg = moth.members["pictures/moth.svg"]
    work = Compiler().compile(moth)
    board = work.board
    rows: list[tuple[str, float, str]] = []
    rows.append(("start to first paint / bare window", child_cpu(_OURS) / child_cpu(_BARE), "2.5"))

    raster = cpu(lambda: resvg_py.svg_to_bytes(svg_string=svg.decode(), width=1366, dpi=96, skip_system_fonts=True))
    regions = cpu(lambda: paint(read_picture(svg, "moth.svg"), 69.2, "moth.svg"))
    rows.append(("moth to disjoint regions / its raster at 20 px/mm", regions / raster, "3"))

    whole = cpu(lambda: Compiler().compile(moth), 2)
    for name, seconds in edit_times(moth).items():
        rows.append((f"edit {name} to board / whole compile ({seconds * 1000:.0f} ms)", seconds / whole, ""))

    view = whole_view(board.size, "front", 11)
    light = make_light(board, view)
    exposed = expose(make_surface(board, view), light, 0.2, "17141B", board)
    levels = np.linspace(0, 1, 20)
    table = np.arange(65536, dtype=np.uint16).astype(np.uint8)

    def floor() -> None:
        flat = exposed.base.reshape(view.height, -1)
        cv2.LUT(cv2.multiply(flat, 900.0, dtype=cv2.CV_16U), table)

    rows.append(("light frame, 20 LEDs / multiply and look-up", cpu(lambda: play(exposed, levels), 8) / cpu(floor, 8), "3"))

    copper = board.art_copper["front"]
    opening = cpu(lambda: shapely.buffer(shapely.buffer(copper, -0.075, quad_segs=4), 0.075, quad_segs=4))
    rows.append(("thin places of the copper / a bare opening of it", cpu(lambda: thin_places(copper, 0.15)) / opening, "1.5"))

    points = shapely.get_coordinates(copper)
    plain = cpu(lambda: "\n".join(f"X{round(x * 1e6)}Y{round(y * 1e6)}D01*" for x, y in points.tolist()))
    heading = board_heading(board, moth.edited, "Copper,L1,Top")
    text = art_layer(heading, copper, [], 0, "NonConductor", "SMDPad,CuDef").decode()
    rows.append(("Gerber of the copper / a plain join of its vertices",
                 cpu(lambda: art_layer(heading, copper, [], 0, "NonConductor", "SMDPad,CuDef")) / plain, "0.2"))  # fmt: skip
    rows.append(("reading it back / a plain join of its vertices", cpu(lambda: read_gerber(text)) / plain, "0.2"))

    files = make_package(board, 8, moth.edited).files
    rows.append(("export / whole compile", cpu(lambda: make_package(board, 8, moth.edited), 2) / whole, ""))
    rows.append(("proof with the board / whole compile", cpu(lambda: prove_files(files, "moth", board), 2) / whole, ""))

    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / "moth.oglow"
        save(moth, path)
        rows.append(("saving / compressing its members", cpu(lambda: save(moth, path)) / cpu(lambda: _packed(moth)), ""))
        rows.append(("opening / compressing its members", cpu(lambda: load(path)) / cpu(lambda: _packed(moth)), ""))
    return rows


def _packed(project: Any) -> None:
    import zipfile

    with zipfile.ZipFile(io.BytesIO(), "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in project.members.items():
            archive.writestr(name, data)


def main() -> int:
    """Print the table and keep it as JSON."""
    rows = measure()
    for what, ratio, goal in rows:
        print(f"{what:<66} {ratio:8.2f}   {'goal ' + goal if goal else ''}")
    result = [{"what": what, "ratio": round(ratio, 3), "goal": float(goal) if goal else None} for what, ratio, goal in rows]
    (HERE / "result.json").write_text(json.dumps(result, indent=1) + "\n")
    return 0


if __name__ == "__main__":
    sys.exit(main())
