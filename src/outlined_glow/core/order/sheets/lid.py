"""The holes of a lid or panel over the LEDs as a drawing for machines (SVG, DXF): the board's edge and holes, a cross at each
lamp, and a circle for each way it can sit there, every kind on a layer of its own."""

from __future__ import annotations

import io
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from pathlib import Path

import shapely
from shapely.geometry import Polygon

from ...board import Board
from ...errors import Trouble
from .lamps import holes_of_lid, lamps_of_lid
from .template import template

#: Half of a cross, mm.
_CROSS_MM = 1.0
_Point = tuple[float, float]


@dataclass
class _Layer:
    """What lies on one layer, mm in the board frame: closed rings, lines from point to point, circles (middle, diameter)."""

    rings: list[list[_Point]] = field(default_factory=list)
    lines: list[tuple[_Point, _Point]] = field(default_factory=list)
    circles: list[tuple[_Point, float]] = field(default_factory=list)


def _layers(board: Board) -> dict[str, _Layer]:
    lamps = lamps_of_lid(board)
    out = {"board": _Layer(_rings(board.outline)), "windows": _Layer(), "crosses": _Layer()}
    holes = holes_of_lid(board)
    if holes:
        out["board-holes"] = _Layer(circles=[((hole.x, hole.y), hole.diameter) for hole in holes])
    for lamp in lamps:
        x, y = lamp.x, lamp.y
        out["crosses"].lines += [((x - _CROSS_MM, y), (x + _CROSS_MM, y)), ((x, y - _CROSS_MM), (x, y + _CROSS_MM))]
        if lamp.window is not None:
            out["windows"].rings += _rings(lamp.window)
        for words, diameter in lamp.holes:
            out.setdefault(_named(words), _Layer()).circles.append(((x, y), diameter))
    return out


def _named(words: str) -> str:
    """A layer's name that every program takes; not one of those that hold no holes of lamps."""
    name = re.sub(r"[^\w.-]+", "-", words).strip("-") or "hole"
    return f"{name}-hole" if name in ("board", "windows", "crosses", "board-holes") or not name[0].isalpha() else name


def _rings(outline: Polygon) -> list[list[_Point]]:
    return [shapely.get_coordinates(ring).tolist()[:-1] for ring in (outline.exterior, *outline.interiors)]


def lid_svg(board: Board) -> bytes:
    """True size, seen from the front."""
    wide, high = board.size
    out = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.4f}mm" height="{high:.4f}mm"'
        f' viewBox="0 0 {wide:.4f} {high:.4f}" fill="none" stroke="#000000" stroke-width="0.1">',
    ]
    for name, layer in _layers(board).items():
        out.append(f'<g id="{name}">')
        out += [f'<path d="M{"L".join(f"{x:.4f} {high - y:.4f}" for x, y in ring)}Z"/>' for ring in layer.rings]
        out += [
            f'<line x1="{x0:.4f}" y1="{high - y0:.4f}" x2="{x1:.4f}" y2="{high - y1:.4f}"/>'
            for (x0, y0), (x1, y1) in layer.lines
        ]
        out += [f'<circle cx="{x:.4f}" cy="{high - y:.4f}" r="{across / 2:.4f}"/>' for (x, y), across in layer.circles]
        out.append("</g>")
    return ("\n".join([*out, "</svg>"]) + "\n").encode()


def lid_dxf(board: Board) -> bytes:
    """True size in mm, seen from the front."""
    from ezdxf import filemanagement  # slow to load, and seldom wanted

    layers = _layers(board)
    document = filemanagement.new("R2010", units=4)
    space = document.modelspace()
    for name, layer in layers.items():
        document.layers.add(name)
        here = {"layer": name}
        for ring in layer.rings:
            space.add_lwpolyline([(round(x, 4), round(y, 4)) for x, y in ring], close=True, dxfattribs=here)
        for start, end in layer.lines:
            space.add_line(start, end, dxfattribs=here)
        for middle, across in layer.circles:
            space.add_circle(middle, across / 2, dxfattribs=here)
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode("utf-8", "replace")


FORMATS: Mapping[str, Callable[[Board], bytes]] = {".pdf": template, ".svg": lid_svg, ".dxf": lid_dxf}


def template_as(board: Board, path: Path) -> bytes:
    """The template in the format that the name of its file tells. `Trouble` for another."""
    make = FORMATS.get(path.suffix.lower())
    if make is None:
        raise Trouble(f"“{path}” must end in {', '.join(FORMATS)}.")
    return make(board)
