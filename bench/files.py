"""Files out and in: a million vertices of Gerber, packages and proofs, projects."""

from __future__ import annotations

import json
import math
import tempfile
import zlib
from pathlib import Path

import numpy as np
import shapely
from painted import blobs
from timing import Row, cpu, once

from outlined_glow.core import compiled
from outlined_glow.core.order import make_package
from outlined_glow.core.order.gerber import Heading, art_layer
from outlined_glow.core.order.proof.compare import prove_files
from outlined_glow.core.order.proof.gerber_reader import read_gerber
from outlined_glow.core.project.storage import load, save
from outlined_glow.core.workshop import Compiler, new_project
from outlined_glow.core.workshop.demos import demo_project

_HEADING = Heading("Copper,L1,Top", "Positive", "x", "2026-01-01T00:00:00+00:00")


def _wheels(count: int, corners: int) -> shapely.MultiPolygon:
    """Cogged wheels side by side."""
    turn = np.linspace(0, 2 * np.pi, corners, endpoint=False)
    rows = math.ceil(math.sqrt(count))
    polygons = []
    for at in range(count):
        reach = 5 * (1 + 0.05 * np.sin(20 * turn + at))
        middle = (at % rows * 12 + 6, at // rows * 12 + 6)
        polygons.append(shapely.Polygon(np.column_stack([reach * np.cos(turn), reach * np.sin(turn)]) + middle))
    return shapely.MultiPolygon(polygons)


def rows() -> list[Row]:
    """Ratios to plain text work of the same size, and what saving and opening cost."""
    region = _wheels(1000, 1000)
    points = shapely.get_coordinates(region)
    plain = cpu(lambda: "\n".join(f"X{round(x * 1e6)}Y{round(y * 1e6)}D01*" for x, y in points.tolist()))
    compiled.load()
    data = art_layer(_HEADING, region, [], 0, "NonConductor", "SMDPad,CuDef")
    write = cpu(lambda: art_layer(_HEADING, region, [], 0, "NonConductor", "SMDPad,CuDef"))
    text = data.decode()
    read = cpu(lambda: read_gerber(text))
    out = [
        Row("files", "Gerber of a million vertices, written / a plain join of them", write / plain, 0.2),
        Row("files", "Gerber of a million vertices, read / a plain join of them", read / plain, 0.2),
    ]
    whole, work = once(lambda: Compiler().compile(new_project(blobs(9500), "x.svg", width_mm=390)))
    vertices = sum(int(shapely.get_num_coordinates(layer)) for layer in work.board.layers.values())
    export, package = once(lambda: make_package(work.board, 8, "2026-01-01T00:00:00Z"))
    proof, _ = once(lambda: prove_files(package.files, "x", work.board))
    note = f"{vertices:,} vertices in all layers"
    out += [
        Row("files", "export of a board of a million vertices / making the board", export / whole, note=note),
        Row("files", "proof of it with the board / making the board", proof / whole),
    ]
    moth = demo_project("moth")
    large = {"points": points.round(4).tolist()[:120_000]}
    dumped = json.dumps(large).encode()
    dumps = cpu(lambda: zlib.compress(json.dumps(large).encode(), 6), 2)
    loads = cpu(lambda: json.loads(dumped))
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / "moth.oglow"
        save(moth, path)
        size = path.stat().st_size / len(dumped)
        note = f"the demo is {path.stat().st_size / 1e3:.0f} kB"
        out += [
            Row(
                "files",
                "saving the demo / JSON and deflate of as many bytes",
                cpu(lambda: save(moth, path)) / (dumps * size),
                note=note,
            ),
            Row("files", "opening the demo / JSON of as many bytes", cpu(lambda: load(path)) / (loads * size)),
        ]
    return out
