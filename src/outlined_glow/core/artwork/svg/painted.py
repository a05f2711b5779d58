"""Outlines of a document in their fill and their stroke."""

from __future__ import annotations

import math

import numpy as np
from lxml import etree

from ...text_safety import short
from ..drawing import Drawn, Item, Layer, Matrix, Paint, Stroke, Subpath
from ..stroke import MOST_DASHES
from .document import local, where
from .effects import markers, pattern_items
from .measure import FAR, IDENTITY, apply, length
from .paint import Room, opacity, parse_paint
from .walk import Box, Place, Walker, along, box_of, moved_paint

#: Shapes that have no vertices for markers.
_WITHOUT_MARKERS = {"rect", "circle", "ellipse", "text", "tspan", "textPath", "a"}


def in_paints(
    walker: Walker, element: etree._Element, subpaths: tuple[Subpath, ...], place: Place, room: Box | None
) -> tuple[Item, ...]:
    """Outlines in the fill and the stroke of their style, with markers, in the order that the style says."""
    style, matrix, plain = place.style, place.matrix, subpaths
    if style["vector-effect"] == "non-scaling-stroke":  # such a line is as wide everywhere, whatever its outline goes through
        subpaths, matrix = tuple(_through(matrix, one) for one in subpaths), IDENTITY
    area = Drawn(subpaths, matrix, Paint("000000"), fill_rule(style["fill-rule"]))
    fill, tiles = (None, None) if local(element) == "line" else _paint_of(walker, element, area, place, "fill", room)
    line, line_tiles = _paint_of(walker, element, area, place, "stroke", room)
    stroke = _stroke(walker, element, place, subpaths) if line or line_tiles else None
    order = [*style["paint-order"].split(), "fill", "stroke", "markers"]
    first = order.index("stroke") < order.index("fill")
    out: list[Item] = []
    if tiles is None and line_tiles is None and (fill or stroke):
        out = [Drawn(subpaths, matrix, fill, area.rule, line if stroke else None, stroke, first)]
    elif fill or tiles or stroke:
        inside: list[Item] = [Layer(tiles, clips=((area,),), fills=True)] if tiles else []
        inside += [Drawn(subpaths, matrix, fill, area.rule)] if fill else []
        edge = Drawn(subpaths, matrix, None, area.rule, line or Paint("000000"), stroke)
        rim: list[Item] = (
            [Layer(line_tiles, clips=((edge,),), fills=True)] if line_tiles and stroke else [edge] if stroke else []
        )
        out = rim + inside if first else inside + rim
    if local(element) in _WITHOUT_MARKERS:
        return tuple(out)
    tips = markers(walker, element, plain, stroke.width if stroke else _width(walker, place), place)
    below = order.index("markers") < max(order.index("fill"), order.index("stroke"))
    return (*tips, *out) if below else (*out, *tips)


def _through(matrix: Matrix, one: Subpath) -> Subpath:
    """An outline where a matrix takes it."""
    return Subpath(apply(matrix, one.start[None])[0], apply(matrix, one.curves.reshape(-1, 2)).reshape(-1, 3, 2), one.closed)


def _paint_of(
    walker: Walker, element: etree._Element, area: Drawn, place: Place, kind: str, room: Box | None
) -> tuple[Paint | None, tuple[Item, ...] | None]:
    """The paint of a fill or a stroke, or the tiles of its pattern."""
    text = place.style[kind]
    box = (room or box_of((area,), place.matrix) if "url" in text else None) or (0.0, 0.0, 0.0, 0.0)
    found = parse_paint(text, place.style, walker.ids, walker.cascade, Room(box, place.view))
    if found is None:
        return None, None
    alpha = found.paint.alpha * opacity(place.style[f"{kind}-opacity"])
    if alpha < 0.004:
        return None, None
    if found.pattern is not None:
        tiles = pattern_items(walker, found.pattern, box, element, place)
        whole = () if tiles is None else (Layer(tiles, alpha=alpha),) if alpha < 1 else tiles
        return None, whole or None
    if found.lost:
        flat = f"taken as flat #{found.paint.colour}"
        walker.note("paint-flattened", f"{found.lost[0].upper()}{found.lost[1:]} is {flat}: {where(element)}.")
    return moved_paint(Paint(found.paint.colour, alpha), place.matrix), None


def _width(walker: Walker, place: Place) -> float:
    whole = math.hypot(*place.view) / math.sqrt(2)
    return min(length(place.style["stroke-width"], 1.0, whole, walker.em(place)), FAR)


def _stroke(walker: Walker, element: etree._Element, place: Place, subpaths: tuple[Subpath, ...]) -> Stroke | None:
    style, em = place.style, walker.em(place)
    whole = math.hypot(*place.view) / math.sqrt(2)
    width = _width(walker, place)
    if width <= 0:
        return None
    dashes: tuple[float, ...] = ()
    if style["stroke-dasharray"] != "none":
        words = style["stroke-dasharray"].replace(",", " ").split()
        dashes = tuple(length(word, -1.0, whole, em) for word in words)
        if any(value < 0 for value in dashes):
            said = short(style["stroke-dasharray"], 20)
            walker.note("dashes-ignored", f"Dashes “{said}” are not understood, and the line drawn solid: {where(element)}.")
            dashes = ()
        dashes = dashes if sum(dashes) > 0 else ()
        dashes = dashes * 2 if len(dashes) % 2 else dashes
    limit = length(style["stroke-miterlimit"], 4.0, 1.0)
    join = style["stroke-linejoin"]
    if join not in ("miter", "round", "bevel"):
        walker.note("join-plain", f"“{short(join, 20)}” corners of a line are drawn mitred: {where(element)}.")
    offset = length(style["stroke-dashoffset"], 0.0, whole, em)
    told_length = length(element.get("pathLength"), 0.0, 1.0)
    if dashes and told_length > 0:
        share = sum(_length_of(one) for one in subpaths) / told_length
        dashes, offset = tuple(value * share for value in dashes), offset * share
    if dashes and sum(map(_length_of, subpaths)) / sum(dashes) * len(dashes) > MOST_DASHES:
        walker.note("dashes-ignored", f"A line of too many dashes is drawn solid: {where(element)}.")
    return Stroke(width, style["stroke-linecap"], join, max(1.0, limit), dashes, offset)


def _length_of(subpath: Subpath) -> float:
    points = along(subpath, 16)
    points = np.vstack([points, points[:1]]) if subpath.closed else points
    return float(np.hypot(*np.diff(points, axis=0).T).sum()) if len(points) > 1 else 0.0


def fill_rule(word: str) -> str:
    """The rule a word of `fill-rule` or `clip-rule` names; nonzero where it is another one."""
    return "evenodd" if word == "evenodd" else "nonzero"
