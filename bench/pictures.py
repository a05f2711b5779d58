"""Pictures to regions and to boards, and how the cost grows with them."""

from __future__ import annotations

import math

import numpy as np
import resvg_py
import shapely
from painted import blobs
from timing import Row, cpu, once

from outlined_glow.core.artwork import paint, read_picture
from outlined_glow.core.geometry.narrow.places import narrow_gaps, thin_places
from outlined_glow.core.order.check import check  # noqa: F401  (every stage is loaded before anything is measured)
from outlined_glow.core.project import apply_edit
from outlined_glow.core.workshop import Compiler, new_project
from outlined_glow.core.workshop.demos import demo_project


def _raster(data: bytes, width_mm: float) -> float:
    width = round(width_mm * 20)
    return cpu(lambda: resvg_py.svg_to_bytes(svg_string=data.decode(), width=width, dpi=96, skip_system_fonts=True))


def _regions(data: bytes, width_mm: float) -> float:
    def run() -> None:
        read_picture.cache_clear()
        paint(read_picture(data, "x.svg"), width_mm, "x.svg")

    return cpu(run, 2)


def rows() -> list[Row]:
    """Ratios to the same picture rasterised at 20 px/mm, and growth exponents."""
    out = []
    moth = demo_project("moth").members["pictures/moth.svg"]
    drawings = {"the moth": moth, "500 paths": blobs(500), "2,000 paths": blobs(2000), "5,000 paths": blobs(5000)}
    seconds = {}
    for name, data in drawings.items():
        seconds[name] = _regions(data, 69.2)
        goal = 3.0 if name in ("the moth", "2,000 paths") else None
        out.append(Row("picture", f"{name} to regions / its raster at 20 px/mm", seconds[name] / _raster(data, 69.2), goal))
    largest = _regions(blobs(10_000), 69.2)
    out.append(
        Row("picture", "growth exponent of that, 500 to 10,000 paths", math.log(largest / seconds["500 paths"], 20), 1.1)
    )
    boards = {}
    for name in ("the moth", "500 paths", "5,000 paths"):
        read_picture.cache_clear()
        boards[name], work = once(lambda data=drawings[name]: Compiler().compile(new_project(data, "x.svg", width_mm=69.2)))
        ratio = boards[name] / seconds[name]
        out.append(Row("picture", f"{name} to the whole board / to its regions", ratio, note=f"{boards[name]:.1f} s of CPU"))
    out.append(
        Row("picture", "growth exponent of that, 500 to 5,000 paths", math.log(boards["5,000 paths"] / boards["500 paths"], 10))
    )
    return [
        *out,
        *_cleaned(drawings),
        *_thin(list(shapely.get_parts(work.board.art_copper("front"))), "shapes of art"),
        *_thin(lobed(2000), "shapes"),
    ]


def _cleaned(drawings: dict[str, bytes]) -> list[Row]:
    """What a clean-up of a picture costs, and how that grows."""
    seconds = {}
    for name in ("the moth", "500 paths", "2,000 paths"):
        plain = new_project(drawings[name], "x.svg", width_mm=69.2)
        read_picture.cache_clear()
        compiler = Compiler()
        compiler.compile(plain)
        seconds[name] = once(lambda board=apply_edit(plain, "clean", {}), by=compiler: by.compile(board))[0]
    few, many = seconds["500 paths"], seconds["2,000 paths"]
    return [
        Row("picture", "the moth cleaned up, to its board", seconds["the moth"], unit="s of CPU"),
        Row("picture", "2,000 paths cleaned up, to their board", many, unit="s of CPU"),
        Row("picture", "growth exponent of that, 500 to 2,000 paths", math.log(many / few, 4)),
    ]


def lobed(count: int) -> list[shapely.Polygon]:
    """Shapes of 51 corners in rows, none of them thin."""
    rng = np.random.default_rng(1)
    turn = np.linspace(0, 2 * np.pi, 52)[:-1]
    out = []
    for at in range(count):
        reach = 0.6 * (1 + 0.25 * np.sin(3 * turn + rng.random() * 6) + 0.25 * np.sin(5 * turn + rng.random() * 6))
        middle = np.array([at % 50, at // 50]) * 1.9
        out.append(shapely.Polygon(middle + reach[:, None] * np.column_stack([np.cos(turn), np.sin(turn)])))
    return out


def _thin(shapes: list[shapely.Polygon], name: str) -> list[Row]:
    every = shapely.MultiPolygon(shapes)
    opening = cpu(lambda: [shapely.buffer(shapely.buffer(one, -0.071, quad_segs=4), 0.071, quad_segs=4) for one in shapes])
    thin, gaps = cpu(lambda: thin_places.__wrapped__(every, 0.15)), cpu(lambda: narrow_gaps.__wrapped__(every, 0.15))
    title, note = f"of {len(shapes):,} {name} / a bare opening of each", "{:.2f} s of CPU"
    return [
        Row("picture", f"thin places {title}", thin / opening, 1.5, note=note.format(thin)),
        Row("picture", f"narrow gaps {title}", gaps / opening, note=note.format(gaps)),
        Row("picture", f"both, {title}", (thin + gaps) / opening, note=note.format(thin + gaps)),
    ]
