"""From an edit to new pixels, for every edit there is, on the demo."""

from __future__ import annotations

import statistics
import sys
from dataclasses import replace
from pathlib import Path
from typing import Any

from timing import Row, once

sys.path.append(str(Path(__file__).parents[1] / "tests"))
from examples import EXAMPLES, ready

from outlined_glow.core.project import Project, edits
from outlined_glow.core.workshop import Compiler, apply_values
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.ui.bench.camera import Camera
from outlined_glow.ui.bench.renderer import Renderer, Request


def _show(renderer: Renderer, work: Any) -> None:
    """The board on a bench of 868 x 744, all lit, at noon, by the window's own renderer."""
    (ox, oy), (w, h) = work.board.origin, work.board.size
    camera = replace(Camera(), width=868, height=744).fitted(ox, oy, w, h, (46, 92, 46, 128))
    renderer.board(Request(work, camera, 1.0, 1.0, None, frozenset(), None, "17141B"), lambda: False)


def rows() -> list[Row]:
    """CPU milliseconds by edit, their median and worst."""
    moth: Project = demo_project("moth")
    compiler, renderer = Compiler(), Renderer()
    took = {}
    for name in edits():
        before = ready(moth, name)
        changed = apply_values(before, name, EXAMPLES[name], (0, 0))
        best = float("inf")
        for _ in range(2):
            _show(renderer, compiler.compile(before))
            best = min(best, once(lambda changed=changed: _show(renderer, compiler.compile(changed)))[0])
        took[name] = best * 1000
    worst = max(took, key=lambda name: took[name])
    every = ", ".join(f"{name} {ms:.0f}" for name, ms in sorted(took.items(), key=lambda item: item[1]))
    return [
        Row("edits", f"edit to pixels, median of {len(took)}", statistics.median(took.values()), 100, "ms", every),
        Row("edits", f"edit to pixels, worst ({worst})", took[worst], 100, "ms"),
    ]
