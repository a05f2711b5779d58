"""Basic shapes and path data as subpaths of cubic segments."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence

import numpy as np
from fontTools.svgLib.path.arc import EllipticalArc
from lxml import etree

from ..drawing import Subpath
from .document import local
from .measure import length
from .path_data import draw_path, read_points
from .style import Style

#: Control length of a quarter circle's cubic, for radius 1 (error 2.7e-4).
_KAPPA = 4 * (math.sqrt(2) - 1) / 3
#: Path data as a style writes it.
_PATH = re.compile(r"""^path\(\s*(?:(?:nonzero|evenodd)\s*,\s*)?["'](.*)["']\s*\)$""", re.DOTALL)

_Pair = tuple[float, float]


class _Collector:
    """A pen that keeps cubic segments; a straight one has its controls on its ends."""

    def __init__(self) -> None:
        self.done: list[Subpath] = []
        self._start: _Pair | None = None
        self._numbers: list[float] = []
        self._here: _Pair = (0.0, 0.0)

    def moveTo(self, point: _Pair) -> None:
        self.endPath()
        self._start = self._here = point

    def lineTo(self, point: _Pair) -> None:
        self._numbers += (*self._here, *point, *point)
        self._here = point

    def curveTo(self, one: _Pair, two: _Pair, point: _Pair) -> None:
        self._numbers += (*one, *two, *point)
        self._here = point

    def curvesTo(self, numbers: Sequence[float]) -> None:
        """Curves one after the other: control, control and end of each."""
        self._numbers += numbers
        self._here = (numbers[-2], numbers[-1])

    def qCurveTo(self, control: _Pair, point: _Pair) -> None:
        """A quadratic segment, raised to the cubic that is the same curve."""
        (x0, y0), (x1, y1), (x2, y2) = self._here, control, point
        one = (x0 + 2 / 3 * (x1 - x0), y0 + 2 / 3 * (y1 - y0))
        two = (x2 + 2 / 3 * (x1 - x2), y2 + 2 / 3 * (y1 - y2))
        self.curveTo(one, two, point)

    def arcTo(self, rx: float, ry: float, rotation: float, large: bool, sweep: bool, point: _Pair) -> None:
        """An elliptical arc; without a radius it is a line (SVG 2, 9.5.1)."""
        if rx == 0 or ry == 0:
            self.lineTo(point)
        elif point != self._here:
            EllipticalArc(complex(*self._here), rx, ry, rotation, large, sweep, complex(*point)).draw(self)

    def closePath(self) -> None:
        self._finish(True)

    def endPath(self) -> None:
        self._finish(False)

    def _finish(self, closed: bool) -> None:
        if self._start is not None:
            if self._numbers or closed:
                curves = np.array(self._numbers, float).reshape(-1, 3, 2)
                self.done.append(Subpath(np.array(self._start, float), curves, closed))
            if closed:
                self._here = self._start
        self._start, self._numbers = None, []


def path_subpaths(data: str) -> tuple[tuple[Subpath, ...], str]:
    """Subpaths of path data, and what of it, from its beginning on, could not be read ("" if all could). A subpath that leaves
    all bounds is none."""
    pen = _Collector()
    unread = draw_path(data, pen)
    kept = tuple(one for one in pen.done if np.isfinite(one.start).all() and np.isfinite(one.curves).all())
    return kept, unread or (data if len(kept) < len(pen.done) else "")


def _polygon(points: list[tuple[float, float]], closed: bool) -> tuple[Subpath, ...]:
    if len(points) < 2:
        return ()
    rows = np.array(points, float)
    curves = np.stack([rows[:-1], rows[1:], rows[1:]], axis=1)
    return (Subpath(rows[0], curves, closed),)


def _ellipse(cx: float, cy: float, rx: float, ry: float) -> tuple[Subpath, ...]:
    if rx <= 0 or ry <= 0:
        return ()
    k = _KAPPA
    unit = [(1, k, k, 1, 0, 1), (-k, 1, -1, k, -1, 0), (-1, -k, -k, -1, 0, -1), (k, -1, 1, -k, 1, 0)]
    curves = np.array(unit, float).reshape(-1, 3, 2) * (rx, ry) + (cx, cy)
    return (Subpath(np.array([cx + rx, cy]), curves, True),)


def rectangle(x: float, y: float, w: float, h: float, rx: float = 0.0, ry: float = 0.0) -> tuple[Subpath, ...]:
    """A rectangle, its corners rounded by rx and ry if both are given; nothing without width or height."""
    if w <= 0 or h <= 0:
        return ()
    if rx <= 0 or ry <= 0:
        return _polygon([(x, y), (x + w, y), (x + w, y + h), (x, y + h)], True)
    rx, ry = min(rx, w / 2), min(ry, h / 2)
    kx, ky = rx * (1 - _KAPPA), ry * (1 - _KAPPA)
    pen = _Collector()
    pen.moveTo((x + rx, y))
    pen.lineTo((x + w - rx, y))
    pen.curveTo((x + w - kx, y), (x + w, y + ky), (x + w, y + ry))
    pen.lineTo((x + w, y + h - ry))
    pen.curveTo((x + w, y + h - ky), (x + w - kx, y + h), (x + w - rx, y + h))
    pen.lineTo((x + rx, y + h))
    pen.curveTo((x + kx, y + h), (x, y + h - ky), (x, y + h - ry))
    pen.lineTo((x, y + ry))
    pen.curveTo((x, y + ky), (x + kx, y), (x + rx, y))
    pen.closePath()
    return tuple(pen.done)


def shape_subpaths(
    element: etree._Element, style: Style, view: tuple[float, float], em: float
) -> tuple[tuple[Subpath, ...], str]:
    """The outline of a basic shape or path, and what of its data or points could not be read ("" if all could). Its sizes come
    from its style, where its attributes are too."""
    width, height = view
    diagonal = math.hypot(width, height) / math.sqrt(2)

    def get(name: str, whole: float, default: float = 0.0) -> float:
        return length(style.get(name), default, whole, em)

    tag = local(element)
    if tag == "path":
        data = style.get("d", "")
        quoted = _PATH.match(data)
        return path_subpaths(quoted.group(1) if quoted else "" if data == "none" else data)
    if tag == "rect":
        rx, ry = get("rx", width, -1), get("ry", height, -1)
        rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
        size = get("width", width), get("height", height)
        return rectangle(get("x", width), get("y", height), *size, rx, ry), ""
    if tag == "circle":
        r = get("r", diagonal)
        return _ellipse(get("cx", width), get("cy", height), r, r), ""
    if tag == "ellipse":
        rx, ry = get("rx", width, -1), get("ry", height, -1)
        rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
        return _ellipse(get("cx", width), get("cy", height), rx, ry), ""
    if tag == "line":
        ends = [
            tuple(length(element.get(name), 0.0, whole, em) for name, whole in ((f"x{end}", width), (f"y{end}", height)))
            for end in (1, 2)
        ]
        return _polygon([(x, y) for x, y in ends], False), ""
    text = element.get("points") or ""
    points, unread = read_points(text)
    finite = [point for point in points if all(map(math.isfinite, point))]
    return _polygon(finite, tag == "polygon"), unread or (text if len(finite) < len(points) else "")
