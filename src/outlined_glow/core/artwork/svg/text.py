"""Text as outlines: runs of tspans laid along their line or path, by the faces that ship or are installed."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import groupby

import numpy as np
from lxml import etree

from ...lettering import Face, find_face, shipped_face, stand_in
from ..drawing import Drawn, Item, Matrix, Points, Subpath, Written
from .document import href, local, told
from .measure import apply, length, times, transform
from .shapes import shape_subpaths
from .style import Style
from .walk import Place, Walker, along

_WEIGHTS = {"normal": 400, "bold": 700, "bolder": 700, "lighter": 300}
_SPACE = "{http://www.w3.org/XML/1998/namespace}space"
_MOST_LETTERS = 5_000


@dataclass(frozen=True)
class _Run:
    """Letters in one style, at a place of their own or after the ones before them."""

    text: str
    element: etree._Element
    place: Place
    x: float | None = None
    y: float | None = None
    dx: float = 0.0
    dy: float = 0.0
    path: etree._Element | None = None
    offset: float = 0.0


def text_items(walker: Walker, element: etree._Element, place: Place) -> tuple[Item, ...]:
    """The outlines of a <text>."""
    runs = _collapsed(list(_runs(walker, element, place)), element.get(_SPACE) == "preserve")
    if sum(len(run.text) for run in runs) > _MOST_LETTERS:
        walker.note("text-not-drawn", f"A text of more than {_MOST_LETTERS:,} letters is left out: {told(element)}.")
        return ()
    out: list[Item] = []
    pen = np.zeros(2)
    for chunk in _chunks(runs):
        pen = _lay(walker, chunk, pen, out)
    if out:
        walker.wrote(_written(walker, runs, place, out))
    return tuple(out)


def _written(walker: Walker, runs: list[_Run], place: Place, out: list[Item]) -> Written:
    """What a text says, and how low the lowest of its letters are."""
    first = next((run for run in runs if run.x is not None and run.y is not None), None)
    x, y = apply(place.matrix, np.array([[first.x, first.y] if first is not None else [0.0, 0.0]]))[0].tolist()
    face = shipped_face("regular")
    em = min(walker.em(run.place) for run in runs if run.text.strip())
    caps = em * face.caps / face.units * math.sqrt(abs(float(np.linalg.det(place.matrix[:, :2]))))
    fills = (item.fill.colour for item in out if isinstance(item, Drawn) and item.fill is not None)
    text = " ".join("".join(run.text for run in runs).split())
    return Written(text, x, y, caps, next((colour for colour in fills if isinstance(colour, str)), ""))


def _runs(walker: Walker, element: etree._Element, place: Place, path: etree._Element | None = None) -> Iterator[_Run]:
    em = walker.em(place)
    lists = {
        key: [
            length(word, 0.0, place.view[key in ("y", "dy")], em) for word in (element.get(key) or "").replace(",", " ").split()
        ]
        for key in ("x", "y", "dx", "dy")
    }
    offset = 0.0
    if local(element) == "textPath":
        path = walker.ids.get(href(element))
        offset = length(element.get("startOffset"), 0.0, 1.0 if "%" in (element.get("startOffset") or "") else 0.0, em)
        if "%" in (element.get("startOffset") or ""):
            offset = -1.0 - offset  # a share of the path's length, told apart by its sign
    place_in = 0
    for child_text, child in _content(element):
        if child is None:
            for piece in _split(child_text, lists, place_in):
                yield replace(piece, element=element, place=place, path=path, offset=offset)
                offset = 0.0 if path is None else offset
            place_in += len(child_text)
        elif local(child) in ("tspan", "textPath", "a"):
            style = walker.cascade.style(child, place.style)
            if style["display"] != "none":
                yield from _runs(walker, child, replace(place, style=style), path)


def _content(element: etree._Element) -> Iterator[tuple[str, etree._Element | None]]:
    if element.text:
        yield element.text, None
    for child in element:
        yield "", child
        if child.tail:
            yield child.tail, None


def _split(text: str, lists: dict[str, list[float]], begin: int) -> Iterator[_Run]:
    """A text cut where its letters have places of their own."""
    nobody: etree._Element = etree.Element("x")
    start = Place(np.eye(2, 3), {}, (0.0, 0.0))
    longest = max(len(values) for values in lists.values())
    singles = text[: max(0, longest - begin)] if longest > 1 or begin == 0 else ""
    if longest <= 1:
        singles = text[:1] if begin == 0 and longest else ""
    for place, letter in enumerate(singles, begin):
        at = {key: values[place] if place < len(values) else None for key, values in lists.items()}
        yield _Run(letter, nobody, start, at["x"], at["y"], at["dx"] or 0.0, at["dy"] or 0.0)
    if text[len(singles) :]:
        yield _Run(text[len(singles) :], nobody, start)


def _collapsed(runs: list[_Run], keep: bool) -> list[_Run]:
    """Blanks as SVG has them: one between words, none at the ends."""
    out: list[_Run] = []
    ended = True
    for run in runs:
        text = run.text.replace("\n", " ").replace("\t", " ").replace("\r", " ")
        if not keep:
            text = re.sub(" +", " ", text)
            if ended and text.startswith(" "):
                text = text[1:]
        if text:
            ended = text.endswith(" ")
        if text or run.x is not None or run.y is not None:
            out.append(replace(run, text=text))
    while not keep and out and out[-1].text.endswith(" "):
        out[-1] = replace(out[-1], text=out[-1].text.rstrip(" "))
    return out


def _chunks(runs: list[_Run]) -> Iterator[list[_Run]]:
    chunk: list[_Run] = []
    for run in runs:
        if chunk and (run.x is not None or run.y is not None or run.path is not chunk[-1].path):
            yield chunk
            chunk = []
        chunk.append(run)
    if chunk:
        yield chunk


def _set_in_faces(walker: Walker, run: _Run) -> Iterator[tuple[_Run, Face, float]]:
    """A run in its face with the size of that face's units; letters that it lacks in runs of their own, in another."""
    style = run.place.style
    families = [word.strip().strip("\"'") for word in style["font-family"].split(",") if word.strip()]
    word = style["font-weight"]
    weight = _WEIGHTS.get(word, int(float(word)) if word.isdigit() else 400)
    slanted = style["font-style"] in ("italic", "oblique")
    face, missing = find_face(families, weight, slanted)
    if missing:
        walker.note("font-not-here", f"The font “{missing}” is not installed; the shipped one is taken: {told(run.element)}.")
    others = {letter: stand_in(letter, families, weight, slanted) for letter in face.lacks(run.text)}
    lacking = "".join(letter for letter, other in others.items() if other is None)
    if lacking:
        words = f"No font here has “{lacking[:12]}”; boxes stand for it: {told(run.element)}."
        walker.note("letters-missing", words)
    begun = False
    for one, letters in groupby(run.text, lambda letter: others.get(letter) or face):
        piece = replace(run, text="".join(letters))
        yield replace(piece, dx=0.0, dy=0.0) if begun else piece, one, walker.em(run.place) / one.units
        begun = True
    if not run.text:
        yield run, face, walker.em(run.place) / face.units


def _spacing(style: Style, em: float) -> float:
    return 0.0 if style["letter-spacing"] == "normal" else length(style["letter-spacing"], 0.0, 0.0, em)


def _lay(walker: Walker, chunk: list[_Run], pen: Points, out: list[Item]) -> Points:
    """Set one chunk, begun at the pen or at its own place; gives where the pen ends."""
    first = chunk[0]
    pen = np.array([first.x if first.x is not None else pen[0], first.y if first.y is not None else pen[1]])
    set_ = [
        (piece, face, scale, face.shape(piece.text), _spacing(piece.place.style, walker.em(piece.place)))
        for run in chunk
        for piece, face, scale in _set_in_faces(walker, run)
    ]
    total = sum(run.dx + sum(g.advance * scale + extra for g in glyphs) for run, _, scale, glyphs, extra in set_)
    anchor = first.place.style["text-anchor"]
    shift = {"middle": -total / 2, "end": -total}.get(anchor, 0.0)
    guide = _guide(walker, first)
    at = pen + np.array([shift, 0.0])
    for run, face, scale, glyphs, extra in set_:
        at = at + np.array([run.dx, run.dy])
        subpaths: list[Subpath] = []
        for glyph in glyphs:
            step = glyph.advance * scale + extra
            matrix = (
                _stand(at, scale, glyph.y - _drop(run) * face.units)
                if guide is None
                else guide.stand(at[0] - pen[0], step, scale)
            )
            if matrix is not None:
                subpaths += [_set(one, matrix) for one in _glyph(face, glyph.number)]
            at = at + np.array([step, 0.0])
        if subpaths:
            out += walker.draw(run.element, tuple(subpaths), run.place)
    return np.asarray(at)


def _drop(run: _Run) -> float:
    """How far below the place the baseline is, in em."""
    return {"middle": 0.25, "central": 0.33, "hanging": 0.72, "text-before-edge": 0.9}.get(
        run.place.style["dominant-baseline"], 0.0
    )


def _stand(at: Points, scale: float, rise: float) -> Matrix:
    return np.array([[scale, 0, at[0]], [0, -scale, at[1] - rise * scale]])


def _glyph(face: Face, number: int) -> list[Subpath]:
    return [Subpath(start, curves, True) for start, curves in face.outline(number)]


def _set(subpath: Subpath, matrix: Matrix) -> Subpath:
    curves = apply(matrix, subpath.curves.reshape(-1, 2)).reshape(-1, 3, 2)
    return Subpath(apply(matrix, subpath.start[None])[0], curves, True)


class _Guide:
    """A path that letters stand on."""

    def __init__(self, points: Points, offset: float) -> None:
        self._points = points
        steps = np.hypot(*np.diff(points, axis=0).T)
        self._far = np.concatenate([[0.0], np.cumsum(steps)])
        self._offset = (-1.0 - offset) * self._far[-1] if offset < 0 else offset

    def stand(self, along_: float, advance: float, scale: float) -> Matrix | None:
        """The matrix of a glyph whose middle lies `along_` + half its advance from the start; None beyond the ends."""
        middle = self._offset + along_ + advance / 2
        if not 0 <= middle <= self._far[-1]:
            return None
        place = int(np.clip(np.searchsorted(self._far, middle, side="right") - 1, 0, len(self._far) - 2))
        one, other = self._points[place], self._points[place + 1]
        size = self._far[place + 1] - self._far[place]
        share = (middle - self._far[place]) / size if size > 0 else 0.0
        x, y = one + (other - one) * share
        angle = math.atan2(other[1] - one[1], other[0] - one[0])
        c, s = math.cos(angle), math.sin(angle)
        turn = np.array([[c, -s, x], [s, c, y]])
        return times(turn, np.array([[scale, 0, -advance / 2], [0, -scale, 0]]))


def _guide(walker: Walker, run: _Run) -> _Guide | None:
    if run.path is None or local(run.path) not in ("path", "circle", "ellipse", "rect", "polyline", "polygon", "line"):
        return None
    subpaths, _ = shape_subpaths(run.path, run.place.view, walker.em(run.place))
    matrix = transform(run.path.get("transform"))
    rows = [apply(matrix, along(one, 24)) for one in subpaths if len(one.curves)]
    if not rows:
        return None
    points = np.vstack(rows)
    keep = np.ones(len(points), bool)
    keep[1:] = np.any(np.diff(points, axis=0) != 0, axis=1)
    return _Guide(points[keep], run.offset) if keep.sum() > 1 else None
