"""The holes of a lid or panel over the LEDs as a drawing for machines (SVG, DXF): the board's edge, a cross at each lamp, and a
circle for each way it can sit there, every kind on a layer of its own."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterator, Mapping
from pathlib import Path
from typing import NamedTuple

import shapely
from shapely.geometry import Polygon

from ...board import Board
from ...errors import Trouble
from ...geometry.regions import box_at
from .template import template

#: Half of a cross, mm.
_CROSS_MM = 1.0
#: A part with more lights than the colours that one can have is a display.
_COLOURS = 4


class Lamp(NamedTuple):
    """A lamp that wants a hole: its place (board frame) and the diameter of each kind of hole, mm; a display has a window of
    its body instead."""

    x: float
    y: float
    holes: tuple[tuple[str, float], ...]
    window: Polygon | None = None


def lamps_of_lid(board: Board) -> list[Lamp]:
    """Every LED of a board. One that no clip or bezel is known for has its lens, or the lesser side of its body. `Trouble`
    without any."""
    if not board.lights:
        raise Trouble("This board has no LEDs, so there is nothing to drill.")
    kinds = {spot.index: spot.kind for spot in board.lights}
    out = []
    for one in board.parts:
        if one.led is not None and one.part.shines:
            kind = kinds[one.led]
            if one.part.upright or len(kind.lights) > _COLOURS:
                out.append(Lamp(one.x, one.y, (), box_at(one.x, one.y, *one.part.body_mm, one.angle_deg)))
                continue
            holes = kind.holes_mm or (("lens", kind.lens_mm or min(kind.part.body_mm)),)
            out.append(Lamp(one.x, one.y, holes))
    return out


def _crosses(lamps: list[Lamp]) -> Iterator[tuple[tuple[float, float], tuple[float, float]]]:
    for lamp in lamps:
        yield (lamp.x - _CROSS_MM, lamp.y), (lamp.x + _CROSS_MM, lamp.y)
        yield (lamp.x, lamp.y - _CROSS_MM), (lamp.x, lamp.y + _CROSS_MM)


def _layer(words: str) -> str:
    return words.replace(" ", "-")


def lid_svg(board: Board) -> bytes:
    """True size, seen from the front."""
    wide, high = board.size
    lamps = lamps_of_lid(board)
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.4f}mm" height="{high:.4f}mm"'
        f' viewBox="0 0 {wide:.4f} {high:.4f}" fill="none" stroke="#000000" stroke-width="0.1">',
    ]
    windows = [lamp.window for lamp in lamps if lamp.window is not None]
    for name, shapes in (("board", [board.outline]), ("windows", windows)):
        lines += [f'<g id="{name}">', *(f'<path d="{_path(ring, high)}"/>' for one in shapes for ring in _rings(one)), "</g>"]
    lines.append('<g id="crosses">')
    lines += [
        f'<line x1="{x0:.4f}" y1="{high - y0:.4f}" x2="{x1:.4f}" y2="{high - y1:.4f}"/>'
        for (x0, y0), (x1, y1) in _crosses(lamps)
    ]
    lines.append("</g>")
    for words in dict.fromkeys(words for lamp in lamps for words, _ in lamp.holes):
        lines.append(f'<g id="{_layer(words)}">')
        for lamp in lamps:
            lines += [
                f'<circle cx="{lamp.x:.4f}" cy="{high - lamp.y:.4f}" r="{wide_mm / 2:.4f}"/>'
                for told, wide_mm in lamp.holes
                if told == words
            ]
        lines.append("</g>")
    return ("\n".join([*lines, "</svg>"]) + "\n").encode()


def _rings(outline: Polygon) -> list[list[tuple[float, float]]]:
    return [shapely.get_coordinates(ring).tolist()[:-1] for ring in (outline.exterior, *outline.interiors)]


def _path(ring: list[tuple[float, float]], high: float) -> str:
    return "M" + "L".join(f"{x:.4f} {high - y:.4f}" for x, y in ring) + "Z"


def lid_dxf(board: Board) -> bytes:
    """True size in mm, seen from the front."""
    from ezdxf import filemanagement  # slow to load, and seldom wanted

    lamps = lamps_of_lid(board)
    document = filemanagement.new("R2010", units=4)
    space = document.modelspace()
    for name in ("board", "windows", "crosses", *dict.fromkeys(_layer(words) for lamp in lamps for words, _ in lamp.holes)):
        document.layers.add(name)
    windows = [("windows", lamp.window) for lamp in lamps if lamp.window is not None]
    for name, shape in (("board", board.outline), *windows):
        for ring in _rings(shape):
            space.add_lwpolyline([(round(x, 4), round(y, 4)) for x, y in ring], close=True, dxfattribs={"layer": name})
    for start, end in _crosses(lamps):
        space.add_line(start, end, dxfattribs={"layer": "crosses"})
    for lamp in lamps:
        for words, wide_mm in lamp.holes:
            space.add_circle((lamp.x, lamp.y), wide_mm / 2, dxfattribs={"layer": _layer(words)})
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
