"""An SVG document to a `Drawing`. What is not taken as drawn becomes a note that names the element."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from lxml import etree

from ...errors import Trouble
from ..drawing import Drawing, Drawn, Matrix, Note, Stroke, Subpath
from ..limits import refuse_segments, refuse_shapes
from .document import href, local, parse, told
from .measure import apply, length, numbers, times, transform, viewport_matrix
from .paint import Paint, opacity, parse_paint
from .shapes import shape_subpaths
from .style import Cascade, Style

_SHAPES = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
_SILENT = {
    "defs", "title", "desc", "metadata", "style", "script", "symbol", "linearGradient", "radialGradient", "pattern",
    "clipPath", "mask", "filter", "marker", "stop", "animate", "animateTransform", "animateMotion", "set", "view",
    "solidColor", "",
}  # fmt: skip
_LOST = {
    "text": ("text-not-drawn", "Text is not drawn yet; turn it into paths: {0}."),
    "image": ("image-not-drawn", "A picture inside the picture is not drawn yet: {0}."),
    "foreignObject": ("element-not-drawn", "Foreign content is not drawn: {0}."),
}
_FAR = 1e7


@dataclass(frozen=True)
class _Place:
    """Where in the tree the walk is: matrix, inherited style, viewport, solidity, and the `use` chain."""

    matrix: Matrix
    style: Style
    view: tuple[float, float]
    alpha: float = 1.0
    uses: tuple[etree._Element, ...] = ()
    depth: int = 0


def read_svg(data: bytes, name: str) -> Drawing:
    """The drawing in an SVG file; `Trouble` names what makes it unreadable."""
    return _Reader(parse(data, name), name).drawing()


class _Reader:
    def __init__(self, root: etree._Element, name: str) -> None:
        self._root = root
        self._name = name
        self._cascade = Cascade(root)
        self._ids: dict[str, etree._Element] = {}
        shapes = 0
        for element in root.iter():
            key = element.get("id")
            if key:
                self._ids.setdefault(key, element)
            shapes += local(element) in _SHAPES
        refuse_shapes(shapes, name)
        self._followed = 0
        self._paths: list[Drawn] = []
        self._segments = 0
        self._notes: dict[tuple[str, str], Note] = {}

    def drawing(self) -> Drawing:
        box = numbers(self._root.get("viewBox"))
        fallback = (box[2], box[3]) if len(box) == 4 else (300.0, 150.0)
        width = length(self._root.get("width"), fallback[0], fallback[0])
        height = length(self._root.get("height"), fallback[1], fallback[1])
        matrix = viewport_matrix(box, 0, 0, width, height, self._root.get("preserveAspectRatio"))
        if matrix is None:
            raise Trouble(f"“{self._name}” has an empty view box; give it a width and a height.")
        view = (box[2], box[3]) if len(box) == 4 else (width, height)
        style = self._cascade.style(self._root, {})
        self._children(self._root, _Place(matrix, style, view))
        for problem in self._cascade.problems:
            self._note("style-not-read", f"Not understood and left out: {problem}.")
        return Drawing(tuple(self._paths), (width, height), 25.4 / 96, tuple(self._notes.values()))

    def _note(self, code: str, text: str) -> None:
        self._notes.setdefault((code, text), Note(code, text))

    def _children(self, element: etree._Element, place: _Place) -> None:
        for child in element:
            self._element(child, place)

    def _element(self, element: etree._Element, outer: _Place) -> None:
        tag = local(element)
        if tag in _SILENT:
            return
        if outer.depth > 300:
            raise Trouble(f"“{self._name}” nests its references too deeply at {told(element)}.")
        style = self._cascade.style(element, outer.style)
        alpha = outer.alpha * opacity(style["opacity"])
        if style["display"] == "none" or alpha == 0:
            return
        own = transform(element.get("transform") or (style["transform"] if style["transform"] != "none" else ""))
        place = replace(outer, matrix=times(outer.matrix, own), style=style, alpha=alpha, depth=outer.depth + 1)
        self._lost_effects(element, style)
        if tag in _SHAPES:
            self._shape(element, place)
        elif tag in ("g", "a"):
            self._children(element, place)
        elif tag == "svg":
            self._viewport(element, place, None)
        elif tag == "switch":
            self._switch(element, place)
        elif tag == "use":
            self._use(element, place)
        else:
            code, text = _LOST.get(tag, ("element-not-drawn", "An element of an unknown kind is not drawn: {0}."))
            self._note(code, text.format(told(element)))

    def _lost_effects(self, element: etree._Element, style: Style) -> None:
        for name, code in (("clip-path", "clip"), ("mask", "mask"), ("filter", "filter")):
            if style[name] != "none":
                words = {"clip": "A clip path is", "mask": "A mask is", "filter": "A filter is"}[code]
                self._note(f"{code}-ignored", f"{words} not applied yet: {told(element)}.")
        if style["mix-blend-mode"] != "normal":
            self._note("blend-ignored", f"A blend mode is not applied: {told(element)}.")

    def _switch(self, element: etree._Element, place: _Place) -> None:
        for child in element:
            languages = child.get("systemLanguage")
            if local(child) not in _SILENT and (languages is None or "en" in languages) and local(child) != "foreignObject":
                self._element(child, place)
                return

    def _viewport(self, element: etree._Element, place: _Place, size: tuple[str | None, str | None] | None) -> None:
        """A nested svg or a symbol: `size` is what the `use` says."""
        wide, high = size or (None, None)
        em = self._em(place)
        width = length(wide or element.get("width") or "100%", place.view[0], place.view[0], em)
        height = length(high or element.get("height") or "100%", place.view[1], place.view[1], em)
        x = length(element.get("x"), 0, place.view[0], em) if local(element) == "svg" else 0.0
        y = length(element.get("y"), 0, place.view[1], em) if local(element) == "svg" else 0.0
        box = numbers(element.get("viewBox"))
        inner = viewport_matrix(box, x, y, width, height, element.get("preserveAspectRatio"))
        if inner is None:
            return
        view = (box[2], box[3]) if len(box) == 4 else (width, height)
        self._children(element, replace(place, matrix=times(place.matrix, inner), view=view))

    def _use(self, element: etree._Element, place: _Place) -> None:
        target = self._ids.get(href(element))
        if target is None:
            self._note("use-missing", f"A reference leads nowhere inside the file: {told(element)}.")
            return
        if target in place.uses or any(target is above for above in element.iterancestors()):
            raise Trouble(f"“{self._name}” refers to itself without end: {told(element)}.")
        self._followed += 1
        refuse_shapes(self._followed, self._name)
        em = self._em(place)
        dx, dy = length(element.get("x"), 0, place.view[0], em), length(element.get("y"), 0, place.view[1], em)
        moved = times(place.matrix, transform(f"translate({dx!r} {dy!r})"))
        inner = replace(place, matrix=moved, uses=(*place.uses, target))
        if local(target) in ("symbol", "svg"):
            style = self._cascade.style(target, inner.style)
            if style["display"] != "none":
                sized = (element.get("width"), element.get("height"))
                self._lost_effects(target, style)
                self._viewport(target, replace(inner, style=style), sized)
        else:
            self._element(target, inner)

    def _em(self, place: _Place) -> float:
        return length(place.style["font-size"], 16.0, 16.0)

    def _shape(self, element: etree._Element, place: _Place) -> None:
        style = place.style
        if style["visibility"] != "visible":
            return
        found, good = shape_subpaths(element, place.view, self._em(place))
        subpaths = tuple(one for one in found if _near(one, place.matrix))
        if not good or len(subpaths) < len(found):
            self._note("path-damaged", f"Part of a path could not be read: {told(element)}.")
        if not subpaths:
            return
        fill = self._paint(element, place, "fill")
        line = self._paint(element, place, "stroke")
        stroke = self._stroke(element, place) if line else None
        if local(element) == "line":
            fill = None
        for end in ("marker-start", "marker-mid", "marker-end"):
            if style[end] != "none":
                self._note("marker-ignored", f"Markers are not drawn yet: {told(element)}.")
        if fill is None and stroke is None:
            return
        self._segments += sum(len(one.curves) for one in subpaths)
        refuse_segments(self._segments, self._name)
        refuse_shapes(len(self._paths) + 1, self._name)
        first = style["paint-order"].split()[0] == "stroke"
        rule = "evenodd" if style["fill-rule"] == "evenodd" else "nonzero"
        self._paths.append(Drawn(subpaths, place.matrix, fill, rule, line if stroke else None, stroke, first))

    def _paint(self, element: etree._Element, place: _Place, kind: str) -> str | None:
        paint: Paint | None = parse_paint(place.style[kind], place.style, self._ids, self._cascade)
        if paint is None:
            return None
        alpha = paint.alpha * place.alpha * opacity(place.style[f"{kind}-opacity"])
        if alpha < 0.004:
            return None
        if paint.lost:
            flat = f"taken as flat #{paint.colour}"
            self._note("paint-flattened", f"{paint.lost[0].upper()}{paint.lost[1:]} is {flat}: {told(element)}.")
        if alpha < 0.996:
            self._note("opacity-solid", f"A translucent {kind} is taken as solid: {told(element)}.")
        return paint.colour

    def _stroke(self, element: etree._Element, place: _Place) -> Stroke | None:
        style, em = place.style, self._em(place)
        whole = math.hypot(*place.view) / math.sqrt(2)
        width = length(style["stroke-width"], 1.0, whole, em)
        if width <= 0:
            return None
        width = min(width, _FAR)
        if style["vector-effect"] == "non-scaling-stroke":
            m = place.matrix
            scale = math.sqrt(abs(m[0, 0] * m[1, 1] - m[0, 1] * m[1, 0]))
            width /= scale or 1.0
        dashes: tuple[float, ...] = ()
        if style["stroke-dasharray"] != "none":
            words = style["stroke-dasharray"].replace(",", " ").split()
            dashes = tuple(length(word, -1.0, whole, em) for word in words)
            if any(value < 0 for value in dashes) or sum(dashes) <= 0:
                dashes = ()
            dashes = dashes * 2 if len(dashes) % 2 else dashes
        limit = length(style["stroke-miterlimit"], 4.0, 1.0)
        return Stroke(
            width,
            style["stroke-linecap"],
            style["stroke-linejoin"],
            max(1.0, limit),
            dashes,
            length(style["stroke-dashoffset"], 0.0, whole, em),
        )


def _near(subpath: Subpath, matrix: Matrix) -> bool:
    """Whether all of it lies within reason: no picture has a page ten million units wide."""
    points = apply(matrix, subpath.controls)
    return bool(np.isfinite(points).all() and np.abs(points).max() < _FAR)
