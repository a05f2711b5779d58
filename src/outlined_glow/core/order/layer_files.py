"""Layers for other programs: SVG, DXF and PNG at true size, in front coordinates, both sides, each under its name."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterator
from xml.sax.saxutils import quoteattr

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..board import Board
from ..board.draw import png
from ..board.model import LAYERS
from ..board.view import View, coverage, fitting_scale
from ..errors import Trouble
from ..geometry.offset import grow
from ..geometry.regions import polygons
from .gerber import slug

#: Colours to tell the layers apart by, where a file has room for them.
_TINTS = {
    "front legend": "#F2EBDD", "front mask": "#6FD3B8", "front copper": "#E8A33D", "front paste": "#9AA3AD",
    "back legend": "#D9CFE8", "back mask": "#4FA58F", "back copper": "#A063C9", "back paste": "#7C858F",
    "outline": "#FF6F59", "drills": "#222222",
}  # fmt: skip
#: Of a PNG: the usual scale, the pixels it may have then, and those it may have if more are asked for.
_PX_PER_MM, _USUAL_PX, _MOST_PX = 40.0, 30e6, 120e6
#: How finely the edges of a PNG are drawn, as a share of a pixel.
_SHARP = 4
KINDS = ("svg", "dxf", "png")


def layer_files(board: Board, kind: str, px_per_mm: float | None = None) -> dict[str, bytes]:
    """A file for each layer that is made and the outline, and one of them all (SVG, DXF), by name.

    y is up in DXF; in SVG the page is the box of the outline. PNG is white where the layer is, black elsewhere, at 40 px/mm
    unless told (fewer for a large board).
    """
    if px_per_mm is None:
        px_per_mm = fitting_scale(board.size, _PX_PER_MM, _USUAL_PX)
    write: Callable[[Board, tuple[str, ...], float], bytes] = {"svg": _svg, "dxf": _dxf, "png": _png}[kind]
    stem = slug(board.name)
    names = layer_names(board)
    files = {f"{stem}-{name.replace(' ', '-')}.{kind}": write(board, (name,), px_per_mm) for name in names}
    if kind != "png":
        files[f"{stem}-all-layers.{kind}"] = write(board, names, px_per_mm)
    return files


def layer_names(board: Board) -> tuple[str, ...]:
    """The layers of a board as other programs ask for them: those that are made, the outline, the drilled holes."""
    made = tuple(name for name in LAYERS if name in board.made_layers and name not in ("core", "drills"))
    return (*made, "outline", "drills")


def _region(board: Board, name: str) -> BaseGeometry:
    return board.outline if name == "outline" else board.layer(name)


def _svg(board: Board, names: tuple[str, ...], _: float) -> bytes:
    wide, high = board.size
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.4f}mm" height="{high:.4f}mm"'
        f' viewBox="0 0 {wide:.4f} {high:.4f}">',
        f"<title>{_text(board.name)}</title>",
    ]
    for name in names:
        lines.append(f'<g id={quoteattr(name.replace(" ", "-"))} fill={quoteattr(_TINTS[name])} fill-rule="evenodd">')
        if name == "drills":
            lines += [f'<circle cx="{h.x:.4f}" cy="{high - h.y:.4f}" r="{h.diameter / 2:.4f}"/>' for h in board.holes]
        else:
            lines += [f'<path d="{_path(part, high)}"/>' for part in polygons(_region(board, name))]
        lines.append("</g>")
    return ("\n".join([*lines, "</svg>"]) + "\n").encode()


def _text(words: str) -> str:
    return words.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _path(part: Polygon, high: float) -> str:
    out = []
    for ring in _rings(part):
        ring[:, 1] = high - ring[:, 1]
        out.append("M" + "L".join(f"{x:.4f} {y:.4f}" for x, y in ring[:-1].tolist()) + "Z")
    return "".join(out)


def _rings(part: Polygon) -> Iterator[NDArray[np.float64]]:
    for ring in (part.exterior, *part.interiors):
        yield shapely.get_coordinates(ring)


def _dxf(board: Board, names: tuple[str, ...], _: float) -> bytes:
    from ezdxf import filemanagement  # slow to load, and seldom wanted
    from ezdxf.colors import RGB

    document = filemanagement.new("R2010", units=4)
    space = document.modelspace()
    for name in names:
        layer = document.layers.add(name.replace(" ", "-"))
        tint = _TINTS[name].lstrip("#")
        layer.rgb = RGB(*(int(tint[at : at + 2], 16) for at in (0, 2, 4)))
        look = {"layer": layer.dxf.name}
        if name == "drills":
            for hole in board.holes:
                space.add_circle((hole.x, hole.y), hole.diameter / 2, dxfattribs=look)
            continue
        for part in polygons(_region(board, name)):
            for ring in _rings(part):
                space.add_lwpolyline(np.round(ring[:-1], 4).tolist(), close=True, dxfattribs=look)
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode("utf-8", "replace")


def _png(board: Board, names: tuple[str, ...], px_per_mm: float) -> bytes:
    wide, high = (max(1, round(side * px_per_mm)) for side in board.size)
    if wide * high > _MOST_PX:
        most = fitting_scale(board.size, px_per_mm, _MOST_PX)
        raise Trouble(f"A layer would have {wide:,} x {high:,} pixels; ask for at most {most:g} pixels per millimetre.")
    view = View("front", px_per_mm, 0.0, board.size[1], wide, high)
    # Filled polygons take the samples under their edges with them: half a sample all round.
    cover = coverage(grow(_region(board, names[0]), -0.5 / (px_per_mm * _SHARP)), view, _SHARP)
    return png(np.repeat(cover[..., None], 3, axis=2), px_per_mm)
