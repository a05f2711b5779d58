"""From an edit to new pixels, for every edit there is; edits and findings of every demo; many LEDs."""

from __future__ import annotations

import statistics
from collections import deque

from examples import EXAMPLES, ready
from painted import blobs
from seen import show, show_edited
from timing import Row, cpu, once

from outlined_glow import DEMOS
from outlined_glow.core.project import Design, Grid, Project, Shape, edits
from outlined_glow.core.workshop import Compiler, apply_values, new_project
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.ui.bench.renderer import Renderer


def _grid(rows: int, columns: int) -> Project:
    """A plain plate with a grid of LEDs."""
    lights = (Grid(name="g", x_mm=0.0, y_mm=0.0, rows=rows, columns=columns, pitch_x_mm=4.5, pitch_y_mm=4.5),)
    shape = Shape(base="rectangle", width_mm=columns * 5.0, height_mm=rows * 5.0)
    return Project(name="grid", edited="2026-01-01T00:00:00Z", designs=(Design(shape=shape, lights=lights),))


def _like(known: Compiler) -> Compiler:
    """Another compiler that remembers the same."""
    other = Compiler()
    other.memory._known = {name: deque(results) for name, results in known.memory._known.items()}
    other._made = dict(known._made)
    return other


def _every_edit() -> list[Row]:
    """CPU milliseconds by edit, their median and worst, and of a step back."""
    moth: Project = demo_project("moth")
    took, made, back = {}, {}, []
    known = Compiler()
    known.compile(moth)
    for name in edits():
        before = ready(moth, name)
        changed = apply_values(before, name, EXAMPLES[name], (0, 0))
        compiler, renderer = _like(known), Renderer()  # what one edit made is not remembered for the next
        show(renderer, compiler.compile(before))
        took[name] = 1000 * once(show_edited, renderer, compiler, changed)[0]
        made[name] = took[name] + 1000 * once(compiler.compile, changed)[0]
        back.append(1000 * cpu(lambda: compiler.compile(before), 2))  # noqa: B023 – run at once
    worst = max(took, key=lambda name: took[name])
    slowest = max(made, key=lambda name: made[name])
    every = ", ".join(f"{name} {ms:.0f}" for name, ms in sorted(took.items(), key=lambda item: item[1]))
    return [
        Row("edits", f"edit to pixels, median of {len(took)}", statistics.median(took.values()), 100, "ms", every),
        Row("edits", f"edit to pixels, worst ({worst})", took[worst], 600, "ms"),
        Row("edits", "one LED of the moth nudged, to pixels", took["nudge"], 60, "ms"),
        Row("edits", "one part of the moth put elsewhere, to pixels", took["place-part"], 60, "ms"),
        Row("edits", f"edit to the board after its clean-up, worst ({slowest})", made[slowest], None, "ms",
            f"median {statistics.median(made.values()):.0f} ms"),
        Row("edits", "a step back, to its board, worst", max(back), 20, "ms", "the picture is drawn anew"),
    ]  # fmt: skip


def _nudges() -> list[Row]:
    """One LED nudged on a board with much wiring, and on one with much art, against the moth: by turns, to pixels."""
    ring = {"array": "ring", "count": 12, "diameter_mm": 40.0, "x_mm": 34.0, "y_mm": 34.0}
    drawn = apply_values(new_project(blobs(5000), "x.svg", width_mm=69.2), "ring", ring, (0, 0))
    boards = {"the moth": (demo_project("moth"), "fore wings"), "tide-board": (demo_project("tide-board"), "height"),
              "5,000 paths": (drawn, "ring")}  # fmt: skip
    benches = {name: (Compiler(), Renderer()) for name in boards}
    for name, (compiler, renderer) in benches.items():
        show(renderer, compiler.compile(boards[name][0]))
    took: dict[str, list[float]] = {name: [] for name in boards}
    for turn in range(4):
        for name, (project, array) in boards.items():
            compiler, renderer = benches[name]
            moved = apply_values(project, "nudge", {"array": array, "place": (2,), "dx_mm": 0.2 + 0.1 * turn}, (0, 0))
            took[name].append(once(show_edited, renderer, compiler, moved)[0])
            compiler.compile(moved)
    moth = min(took.pop("the moth"))
    return [
        Row("edits", f"one LED nudged, to pixels: {name} / the moth", min(each) / moth, 3, "", f"{1000 * min(each):.0f} ms")
        for name, each in took.items()
    ]


def _demos() -> list[Row]:
    """A border and a new name on every demo, and the findings of each."""
    out = []
    for demo in DEMOS:
        compiler = Compiler()
        before = demo_project(demo)
        work = compiler.compile(before)
        found = once(compiler.findings, work)[0]
        wider = apply_values(before, "set-border", {"border_mm": before.board().shape.border_mm + 0.4}, (0, 0))
        border = once(compiler.compile, wider)[0]
        named = compiler.compile(apply_values(before, "rename", {"name": "another"}, (0, 0)))
        again = once(compiler.findings, named)[0]
        out.append(
            Row("edits", f"{demo}: a border, to the board", border * 1000, None, "ms",
                f"findings {found * 1000:.0f} ms, after a new name {again * 1000:.0f} ms")
        )  # fmt: skip
    return out


def _many() -> list[Row]:
    """How the work grows with the number of LEDs: CPU of one LED against that of one of 300."""
    each = {}
    for rows_, columns in ((15, 20), (32, 32), (32, 64)):
        compiler, project = Compiler(), _grid(rows_, columns)
        first, work = once(compiler.compile, project)
        turned = apply_values(project, "grid", {"array": "g", "angle_deg": 1.0}, (0, 0))
        edit = once(compiler.compile, turned)[0]
        found = once(compiler.findings, work)[0]
        each[rows_ * columns] = [took / (rows_ * columns) * 1000 for took in (first, edit, found)]
    least = each[300]
    return [
        Row("edits", f"{what} with {count:,} LEDs, each LED / one of 300", each[count][at] / least[at], 1.3, "",
            f"{each[count][at]:.1f} ms an LED")
        for count in (1024, 2048)
        for at, what in enumerate(("first board", "an edit of all", "findings"))
    ]  # fmt: skip


def rows() -> list[Row]:
    """Edits, findings and many LEDs."""
    return [*_every_edit(), *_nudges(), *_demos(), *_many()]
