"""Many LEDs: placing, chaining, the whole board, its findings, a moved LED, a light map; and how each grows."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from typing import Any

from timing import Row, cpu, once

from outlined_glow.core import compiled
from outlined_glow.core.board.light_map import light_map
from outlined_glow.core.lights import LightPaths, place_leds
from outlined_glow.core.lights.order import HOW
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.workshop import Compiler, new_project

_COUNTS = (300, 1000, 3000, 9500)
_PITCH_MM = 6.0


def _board(count: int) -> Project:
    """A plain board filled with about that many LEDs, each faint enough for one supply to feed them all."""
    side = math.sqrt(count) * _PITCH_MM * 0.94 + 6
    drawing = (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {side:.2f} {side:.2f}" width="{side:.2f}mm">'
        f'<rect width="{side:.2f}" height="{side:.2f}" fill="#121212"/></svg>'
    )
    values = {"array": "f", "path": "silhouette", "pitch_mm": _PITCH_MM, "emitter": "0603 amber"}
    project = apply_edit(new_project(drawing.encode(), "plate.svg"), "fill", values)
    fed = apply_edit(project, "set-supply", {"supply": "aa-alkaline", "cells": 4})
    return apply_edit(fed, "set-current", {"current_a": 0.0002})


def _exponent(times: list[float], counts: list[int]) -> float:
    return math.log(times[-1] / times[0]) / math.log(counts[-1] / counts[0])


def rows() -> list[Row]:
    """Seconds of CPU for each count, and the exponent with which they grow."""
    compiled.load()
    made: dict[str, list[float]] = {}
    counts = []
    for wanted in _COUNTS:
        project = _board(wanted)
        compiler = Compiler()
        first, work = once(compiler.compile, project)
        counts.append(len(work.leds))
        moved = apply_edit(project, "nudge", {"array": "f", "place": (counts[-1] // 2,), "dx_mm": 0.3})
        places = work.lamps.places
        runs: dict[str, Callable[[], Any]] = {
            "placing": partial(lambda project, work: place_leds(project.board().lights, _paths(work)), project, work),
            "the shortest chain": partial(HOW["shortest"], places),
            "a light map": partial(light_map, work.board, 8.0, work.board.outline, places=20_000),
        }
        for name, run in runs.items():
            made.setdefault(name, []).append(cpu(run, 2))
        made.setdefault("the first board", []).append(first)
        made.setdefault("its findings", []).append(once(compiler.findings, work)[0])
        seen = once(compiler.seen_first, moved)[0]
        made.setdefault("a moved LED, to the board that is seen first", []).append(seen)
        made.setdefault("the same, to the whole board", []).append(seen + once(compiler.compile, moved)[0])
    return [
        Row(
            "arrays",
            f"growth exponent of {name}, {counts[0]:,} to {counts[-1]:,} LEDs",
            _exponent(times, counts),
            1.2 if name in ("the first board", "its findings") else None,
            note=", ".join(f"{time:.2f}" for time in times) + " s of CPU",
        )
        for name, times in made.items()
    ]


def _paths(work: Any) -> LightPaths:
    paths: LightPaths = work.values["light paths"]
    return paths
