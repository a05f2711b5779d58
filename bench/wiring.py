"""Tracks for matrices and rings, how the time grows; the check of copper; and an edit of one part."""

from __future__ import annotations

import math
import random
import statistics

import shapely
from seen import show, show_edited
from shapely.geometry import LineString
from timing import Row, child, cpu, once

from outlined_glow.core import compiled
from outlined_glow.core.project import Project, apply_edit
from outlined_glow.core.wiring.continuity import Shape, continuity
from outlined_glow.core.wiring.route import route
from outlined_glow.core.workshop import Compiler, Work, apply_values, new_project
from outlined_glow.core.workshop.demos import demo_project
from outlined_glow.ui.bench.renderer import Renderer

_PITCH_MM = 5.0
#: Run in a process of its own, so that its peak memory is its own; prints its peak in MB with the
#: tracks drawn, with the whole board, and what is not joined.
_VAST = """
from outlined_glow.core import compiled
from outlined_glow.core.workshop import Compiler
from outlined_glow.core.workshop.quick_passes import BEFORE_TRACKS, ROUTED
from timing import peak_mb
from wiring import pixels
compiled.load()
compiler, project = Compiler(), pixels(32)
compiler.memory.run((*BEFORE_TRACKS, ROUTED), compiler._given(project, project.board()))
drawn = peak_mb()
work = compiler.compile(project)
print(drawn, peak_mb(), len(work.values["wires"].unjoined))
"""


def plate(size: float, *edits: tuple[str, dict[str, object]]) -> Project:
    """A square board with what edits make of it."""
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {size} {size}" width="{size}mm" height="{size}mm">'
    project = new_project(f'{svg}<rect width="{size}" height="{size}" fill="#123222"/></svg>'.encode(), "plate.svg")
    for name, values in edits:
        project = apply_values(project, name, values, (0.0, 0.0))
    return project


def matrix(count: int) -> Project:
    """LEDs in a scan of that many rows and columns."""
    size = count * _PITCH_MM + 40
    grid = {"array": "a", "x_mm": size / 2, "y_mm": size / 2, "rows": count, "columns": count,
            "pitch_x_mm": _PITCH_MM, "pitch_y_mm": _PITCH_MM}  # fmt: skip
    return plate(size, ("grid", grid), ("drive", {"method": "scan", "supply": "usb", "current_a": 0.003}),
                 ("wire", {"front": "free"}))  # fmt: skip


def pixels(count: int) -> Project:
    """Pixels in a chain, in as many rows and columns."""
    size = 6.0 * count + 20
    grid = {"array": "a", "x_mm": size / 2, "y_mm": size / 2, "rows": count, "columns": count,
            "pitch_x_mm": 6.0, "pitch_y_mm": 6.0, "emitter": "pixel 2020 four colours"}  # fmt: skip
    return plate(size, ("grid", grid), ("drive", {"method": "pixels", "supply": "usb"}), ("wire", {"front": "free"}))


def pixel_ring() -> Project:
    """A ring of 45 pixels in a chain."""
    ring = {"array": "a", "x_mm": 50.0, "y_mm": 50.0, "count": 45, "diameter_mm": 80.0, "emitter": "pixel 2020 four colours"}
    return plate(100.0, ("ring", ring), ("drive", {"method": "pixels", "supply": "usb"}), ("wire", {"front": "few"}))


def routed(work: Work) -> tuple[float, object]:
    """CPU seconds of the tracks of a board from nothing, the least of two runs, and what they are."""
    v = work.values
    runs = [once(lambda: route(v["in the way"], v["nets"], v["net classes"], v["rules"], v["wish"])) for _ in range(2)]
    return min(spent for spent, _ in runs), runs[0][1]


def told(made: object, work: Work) -> str:
    """Vias, what is not joined, and how long the tracks are against the shortest lines between the pins."""
    wires = made.wires  # type: ignore[attr-defined]
    places = {(pad.ref, pad.pin): (pad.x, pad.y) for pad in work.board.pads}
    least = 0.0
    for net in work.board.nets:
        spots = [places[pin] for pin in net.pins if pin in places]
        least += _tree(spots)
    length = sum(one.length for one in wires.tracks)
    return f"{len(wires.vias)} vias, {len(wires.unjoined)} not joined, {length / max(least, 1e-9):.2f} times the spanning trees"


def _tree(spots: list[tuple[float, float]]) -> float:
    """The length of the shortest lines that join places."""
    left, total = dict.fromkeys(range(1, len(spots)), 1e18), 0.0
    here = 0
    while left:
        for one in left:
            left[one] = min(left[one], math.dist(spots[one], spots[here]))
        here = min(left, key=lambda one: left[one])
        total += left.pop(here)
    return total


def _shapes(many: int) -> list[Shape]:
    dice = random.Random(5)
    out = []
    for at in range(many // 2):
        x, y = dice.uniform(0, 90), dice.uniform(0, 70)
        pad = shapely.box(x, y, x + 0.9, y + 1.2)
        out.append(Shape("back", pad, (f"P{at}", "1")))
        angle = dice.uniform(0, 2 * math.pi)
        line = LineString([(x, y), (x + 3 * math.cos(angle), y + 3 * math.sin(angle))])
        out.append(Shape("back", line.buffer(0.1, quad_segs=16)))
    return out


def rows() -> list[Row]:
    """Seconds of CPU of tracks from nothing, how they grow, and the rest. More than 16 rows no controller drives."""
    compiled.load()
    compiler = Compiler()
    works = [compiler.compile(matrix(count)) for count in (8, 16)]
    spent: list[float] = [math.inf] * len(works)
    made: list[object] = [None] * len(works)
    for _ in range(3):  # by turns, for a machine is now quicker, now slower
        for at, work in enumerate(works):
            seconds, made[at] = routed(work)
            spent[at] = min(spent[at], seconds)
    notes = [f"{one:.1f} s of CPU, {told(each, work)}" for one, each, work in zip(spent, made, works, strict=True)]
    out = [
        Row("wiring", "tracks of a scan of 16 x 16 / 8 x 8", spent[1] / spent[0], 8, note=notes[1]),
        Row("wiring", "tracks of a scan of 16 x 16", spent[1], 10, "s of CPU", note=f"8 x 8: {notes[0]}"),
    ]
    ring = compiler.compile(pixel_ring())
    seconds, round_it = routed(ring)
    out.append(Row("wiring", "tracks of a ring of 45 pixels", seconds, 3, "s of CPU", note=told(round_it, ring)))
    peak, whole, lost = child(_VAST, 1)
    note = f"{whole:.0f} MB with the whole board, {lost:.0f} not joined; all of the process"
    out.append(Row("wiring", "tracks of 1,024 pixels, peak memory", peak, 400, "MB", note=note))
    shapes = _shapes(2000)
    nets = {one.pin: "n" for one in shapes if one.pin is not None}
    check = cpu(lambda: continuity(shapes, [], nets, 0.15), 6)
    union = cpu(lambda: shapely.union_all([one.region for one in shapes]), 6)
    out.append(Row("wiring", "check of 2,000 shapes / their bare union", check / union, 0.2))
    out += _edits()
    return out


def _edits() -> list[Row]:
    """One resistor of the moth moved by hand: to new pixels, of the board that is seen first, and to the whole board."""
    moth = demo_project("moth")
    compiler, renderer = Compiler(), Renderer()
    work = compiler.compile(moth)
    R = next(part for part in work.board.parts if part.ref == "R3")
    x, y = R.x + work.board.origin[0], R.y + work.board.origin[1]
    seen, whole = [], []
    for step in range(1, 5):
        show(renderer, compiler.compile(moth))
        place = {"part": "R3", "x_mm": x + 0.15 * step, "y_mm": y, "angle_deg": R.angle_deg % 360}
        moved = apply_edit(moth, "place-part", place)
        seen.append(once(show_edited, renderer, compiler, moved)[0])
        whole.append(seen[-1] + once(compiler.compile, moved)[0])
    every = ", ".join(f"{1000 * one:.0f}" for one in seen)
    return [
        Row("wiring", "one resistor of the moth moved, to pixels", 1000 * statistics.median(seen), 150, "ms", f"of {every}"),
        Row("wiring", "the same, to the board with all its tracks", 1000 * statistics.median(whole), unit="ms"),
    ]
