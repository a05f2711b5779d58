"""Text as outlines: letters shaped by the faces that ship or are installed, laid along their line or path."""

from __future__ import annotations

import math
import unicodedata
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby

import numpy as np
from lxml import etree

from ...lettering import Face, Features, find_face, shipped_face, stand_in
from ..drawing import Drawn, Item, Matrix, Points, Subpath, Written
from .document import local, not_read, where
from .letters import Letter, Path, Span, Stretch, letters_of
from .measure import apply, length, times, transform
from .shapes import rectangle, shape_subpaths
from .style import Style
from .walk import Place, Walker, along

_MOST_LETTERS = 5_000
#: Pieces of each curve that letters stand on: on a circle no letter leans by more than a quarter of a degree.
_A_CURVE = 192


@dataclass(eq=False)
class _Set:
    """A shaped glyph: its letters, the first one's span, its face and scale, its offset and advance in user units."""

    letters: Sequence[Letter]
    face: Face
    scale: float
    number: int
    offset: tuple[float, float]
    advance: float
    #: More distance after it; and how much wider than high it is drawn.
    extra: float = 0.0
    wide: float = 1.0

    @property
    def span(self) -> Span:
        return self.letters[0].span

    @property
    def step(self) -> float:
        return self.advance * self.wide + self.extra


def text_items(walker: Walker, element: etree._Element, place: Place) -> tuple[Item, ...]:
    """The outlines of a <text>."""
    letters = letters_of(walker, element, place)
    if len(letters) > _MOST_LETTERS:
        walker.note("text-not-drawn", f"A text of more than {_MOST_LETTERS:,} letters is left out: {where(element)}.")
        return ()
    _tell(walker, letters)
    shapes: list[tuple[Span | Place, etree._Element, tuple[Subpath, ...]]] = []
    pen = np.zeros(2)
    for chunk in _chunks(letters):
        pen = _lay(walker, chunk, pen, shapes)
    # A gradient or pattern spans the whole text, whichever part it paints.
    every = [along(subpath) for _, _, found in shapes for subpath in found]
    room = _box(np.vstack(every)) if every else None
    out: list[Item] = []
    for owner, of, found in shapes:
        out += walker.draw(of, found, owner.place if isinstance(owner, Span) else owner, room)
    if out:
        walker.wrote(_written(walker, letters, place, out))
    return tuple(out)


def _box(points: Points) -> tuple[float, float, float, float]:
    low, high = points.min(axis=0), points.max(axis=0)
    return float(low[0]), float(low[1]), float(high[0] - low[0]), float(high[1] - low[1])


def _tell(walker: Walker, letters: Sequence[Letter]) -> None:
    """What of a text's style is not done."""
    spans = dict.fromkeys(letter.span for letter in letters)
    for span in spans:
        style = span.place.style
        if style["writing-mode"].lower() not in ("horizontal-tb", "lr", "lr-tb", "rl", "rl-tb"):
            walker.note("text-not-vertical", f"Vertical text is set horizontally: {where(span.element)}.")
        for key, usual in (("font-variant", "normal"), ("font-stretch", "normal"), ("font-feature-settings", "normal")):
            if style[key].lower() not in (usual, "100%", "none", "auto"):
                walker.note("font-style-ignored", f"“{key}: {style[key]}” is not applied: {where(span.element)}.")
    strong = {unicodedata.bidirectional(letter.text) for letter in letters}
    if strong & {"R", "AL"} and "L" in strong:
        here = where(letters[0].span.element)
        walker.note("text-mixed-directions", f"Right-to-left letters beside others stand in the order of the file: {here}.")


def _written(walker: Walker, letters: Sequence[Letter], place: Place, out: list[Item]) -> Written:
    """What a text says, and how low the lowest of its letters are."""
    first = next((letter for letter in letters if letter.x is not None or letter.y is not None), None)
    spot = [first.x or 0.0, first.y or 0.0] if first is not None else [0.0, 0.0]
    x, y = apply(place.matrix, np.array([spot]))[0].tolist()
    face = shipped_face("regular")
    em = min(walker.em(letter.span.place) for letter in letters if letter.text.strip())
    caps = em * face.caps / face.units * math.sqrt(abs(float(np.linalg.det(place.matrix[:, :2]))))
    fills = (item.fill.colour for item in out if isinstance(item, Drawn) and item.fill is not None)
    text = " ".join("".join(letter.text for letter in letters).split())
    return Written(text, x, y, caps, next((colour for colour in fills if isinstance(colour, str)), ""))


def _chunks(letters: Sequence[Letter]) -> Iterator[list[Letter]]:
    """Letters set one after the other: one with a place of its own begins anew."""
    chunk: list[Letter] = []
    for letter in letters:
        if chunk and (letter.x is not None or letter.y is not None or letter.span.path is not chunk[-1].span.path):
            yield chunk
            chunk = []
        chunk.append(letter)
    if chunk:
        yield chunk


def _runs(chunk: Sequence[Letter]) -> Iterator[list[Letter]]:
    """Letters shaped together: of one font. One that is stepped aside or turned keeps the kerning to those beside it."""
    run: list[Letter] = []
    for letter in chunk:
        if run and (
            _font(letter.span) != _font(run[-1].span)
            or letter.span.rise != run[-1].span.rise
            or letter.span.stretch is not run[-1].span.stretch
        ):
            yield run
            run = []
        run.append(letter)
    if run:
        yield run


def _font(span: Span) -> tuple[str, ...]:
    style = span.place.style
    keys = ("font-family", "font-weight", "font-style", "font-size", "font-kerning", "letter-spacing", "word-spacing")
    return tuple(style[key] for key in (*keys, "text-transform"))


def _shaped(walker: Walker, run: Sequence[Letter]) -> Iterator[_Set]:
    """The glyphs of a run, letters that its face lacks in another one."""
    place = run[0].span.place
    style, em = place.style, walker.em(place)
    families = [word.strip().strip("\"'") for word in style["font-family"].split(",") if word.strip()]
    word = style["font-weight"]
    weight = int(float(word)) if word.replace(".", "", 1).isdigit() else 400
    slanted = style["font-style"].split(" ")[0] in ("italic", "oblique")
    face, missing = find_face(families, weight, slanted)
    here = where(run[0].span.element)
    if missing:
        walker.note("font-not-here", f"The font “{missing}” is not installed; the shipped one is taken: {here}.")
    cased = _cased([letter.text for letter in run], style["text-transform"])
    others = {letter: stand_in(letter, families, weight, slanted) for letter in face.lacks("".join(cased))}
    lacking = "".join(letter for letter, other in others.items() if other is None)
    if lacking:
        walker.note("letters-missing", f"No font here has “{lacking[:12]}”; boxes stand for it: {here}.")
    between = _spacing(style["letter-spacing"], em)
    off = ("liga", "clig") * bool(between) + ("kern",) * (style["font-kerning"] == "none")
    features: Features = dict.fromkeys(off, False)
    rows = list(zip(run, cased, strict=True))
    for one, part in groupby(rows, lambda row: others.get(row[1][:1]) or face):
        yield from _glyphs(list(part), one, em / one.units, between, _spacing(style["word-spacing"], em), features)


def _glyphs(
    rows: list[tuple[Letter, str]], face: Face, scale: float, between: float, blank: float, features: Features
) -> Iterator[_Set]:
    owner = [letter for letter, text in rows for _ in text]
    text = "".join(text for _, text in rows)
    # A letter that is stepped aside or turned is none of a ligature.
    apart = [(at, at + 1, False) for at, letter in enumerate(owner) if letter.dx or letter.dy or letter.turn]
    if apart and "liga" not in features:
        features = {**features, "liga": apart, "clig": apart}
    glyphs = face.shape(text, features)
    starts = [*sorted({glyph.letter for glyph in glyphs}), len(text)]
    pen = 0.0
    for place, glyph in enumerate(glyphs):
        mine = owner[glyph.letter : next(end for end in starts if end > glyph.letter)]
        last = place + 1 == len(glyphs) or glyphs[place + 1].letter != glyph.letter
        one = _Set(mine, face, scale, glyph.number, ((glyph.x - pen) * scale, glyph.y * scale), glyph.advance * scale)
        if last:
            one.extra = between + blank * sum(letter in " \u00a0" for letter in text[glyph.letter : glyph.letter + 1])
        pen += glyph.advance
        yield one


def _cased(texts: list[str], how: str) -> list[str]:
    if how == "uppercase":
        return [text.upper() for text in texts]
    if how == "lowercase":
        return [text.lower() for text in texts]
    if how == "capitalize":
        return [text.upper() if at == 0 or not texts[at - 1].isalnum() else text for at, text in enumerate(texts)]
    return texts


def _spacing(text: str, em: float) -> float:
    return 0.0 if text == "normal" else length(text, 0.0, em, em)


def _lay(
    walker: Walker, chunk: list[Letter], pen: Points, shapes: list[tuple[Span | Place, etree._Element, tuple[Subpath, ...]]]
) -> Points:
    """Set one chunk, begun at the pen or at its own place; gives where the pen ends."""
    first = chunk[0]
    pen = np.array([first.x if first.x is not None else pen[0], first.y if first.y is not None else pen[1]])
    glyphs = [glyph for run in _runs(chunk) for glyph in _shaped(walker, run)]
    _stretch(walker, chunk, glyphs)
    guide = _guide(walker, first.span.path, first.span.place)
    rows, end = _set_out(glyphs, pen, first.span.place.style["text-anchor"])
    found: dict[Span, list[Subpath]] = {}
    for glyph, x, y in rows:
        if guide is None:
            matrix: Matrix | None = _stand(x + glyph.offset[0] * glyph.wide, y - glyph.offset[1], glyph)
        else:
            matrix = guide.stand(x - float(pen[0]), y - float(pen[1]), glyph)
        if matrix is not None:
            found.setdefault(glyph.span, []).extend(
                _moved(Subpath(start, curves, True), matrix) for start, curves in glyph.face.outline(glyph.number)
            )
    under, over = _lines(walker, rows, guide is not None)
    shapes += under
    shapes += [(span, span.element, tuple(subpaths)) for span, subpaths in found.items() if subpaths]
    shapes += over
    return end


def _set_out(glyphs: Sequence[_Set], pen: Points, anchor: str) -> tuple[list[_Row], Points]:
    """The place of each glyph of a chunk from the pen on, and where the pen ends."""
    rows: list[_Row] = []
    at = pen + np.array([_shift(glyphs, anchor), 0.0])
    for glyph, aside in _stepped_aside(glyphs):
        at = at + aside
        rows.append((glyph, float(at[0]), float(at[1] + _drop(glyph) - glyph.span.rise)))
        at = at + np.array([glyph.step, 0.0])
    return rows, np.asarray(at)


def _stepped_aside(glyphs: Sequence[_Set]) -> Iterator[tuple[_Set, Points]]:
    """Each glyph, and how far its letters step aside before it, (2,)."""
    stepped: set[int] = set()
    for glyph in glyphs:
        letters = [letter for letter in glyph.letters if id(letter) not in stepped]
        stepped.update(map(id, letters))
        yield glyph, np.array([sum(letter.dx for letter in letters), sum(letter.dy for letter in letters)])


def _shift(glyphs: Sequence[_Set], anchor: str) -> float:
    """How far a chunk is moved to be anchored: by what lies between the outermost sides of its glyphs, from where the first one
    stands after its step aside (SVG 2, 11.5)."""
    sides, x = [0.0], 0.0
    for number, (glyph, aside) in enumerate(_stepped_aside(glyphs)):
        x += float(aside[0]) if number else 0.0
        sides += [x, x + glyph.step]
        x += glyph.step
    low, high = min(sides), max(sides)
    return {"middle": -(low + high) / 2, "end": -high}.get(anchor, 0.0)


def _stretch(walker: Walker, chunk: Sequence[Letter], glyphs: Sequence[_Set]) -> None:
    """Make the glyphs of each `textLength` as long as it says, in place."""
    for stretch in dict.fromkeys(letter.span.stretch for letter in chunk):
        if stretch is None:
            continue
        mine = [glyph for glyph in glyphs if glyph.span.stretch is stretch]
        if not mine or not _whole(walker, stretch, chunk):
            continue
        inside = [letter for letter in chunk if letter.span.stretch is stretch]
        natural = sum(glyph.step for glyph in mine) + sum(letter.dx for letter in inside[1:])
        if stretch.forms:
            for glyph in mine:
                glyph.wide, glyph.extra = stretch.length / max(natural, 1e-9), glyph.extra * stretch.length / max(natural, 1e-9)
        else:
            ends = [a for a, b in zip(mine, [*mine[1:], None], strict=True) if b is None or b.letters[0] is not a.letters[0]]
            for glyph in ends[:-1]:
                glyph.extra += (stretch.length - natural) / (len(ends) - 1)


def _whole(walker: Walker, stretch: Stretch, chunk: Sequence[Letter]) -> bool:
    """Whether the letters of a `textLength` are set in one go."""
    seen = "".join("".join(map(str, stretch.element.itertext())).split())
    here = "".join("".join(letter.text for letter in chunk if letter.span.stretch is stretch).split())
    if len(here) < len(seen):
        walker.note("text-length-ignored", f"A text length over several lines is not applied: {where(stretch.element)}.")
    return len(here) >= len(seen)


def _drop(glyph: _Set) -> float:
    """How far below its place the baseline of a glyph is, user units."""
    style, face = glyph.span.place.style, glyph.face
    word = style["alignment-baseline"]
    word = style["dominant-baseline"] if word in ("auto", "baseline") else word
    share = {
        "middle": face.x_height / 2,
        "central": (face.ascent + face.descent) / 2,
        "hanging": 0.8 * face.ascent,
        "mathematical": 0.5 * face.ascent,
        "text-before-edge": face.ascent,
        "before-edge": face.ascent,
        "text-top": face.ascent,
        "text-after-edge": face.descent,
        "after-edge": face.descent,
        "text-bottom": face.descent,
        "ideographic": face.descent,
    }.get(word, 0.0)
    return share * glyph.scale


def _stand(x: float, y: float, glyph: _Set) -> Matrix:
    turn = math.radians(glyph.letters[0].turn)
    c, s = math.cos(turn), math.sin(turn)
    wide = glyph.scale * glyph.wide
    return np.array([[c * wide, s * glyph.scale, x], [s * wide, -c * glyph.scale, y]])


def _moved(subpath: Subpath, matrix: Matrix) -> Subpath:
    curves = apply(matrix, subpath.curves.reshape(-1, 2)).reshape(-1, 3, 2)
    return Subpath(apply(matrix, subpath.start[None])[0], curves, True)


_Shapes = list[tuple[Span | Place, etree._Element, tuple[Subpath, ...]]]
#: A glyph, and its place in user units.
_Row = tuple[_Set, float, float]


def _lines(walker: Walker, rows: Sequence[_Row], curved: bool) -> tuple[_Shapes, _Shapes]:
    """The lines along the letters that lie under them, and those that lie over them; each goes as its letters stand."""
    under: _Shapes = []
    over: _Shapes = []
    for (span, *_), group in groupby(rows, _standing):
        if not span.lines:
            continue
        if curved:
            walker.note("text-line-ignored", f"A line along a text on a path is not drawn: {where(span.element)}.")
            continue
        part = list(group)
        first, left, high = part[0]
        right = part[-1][1] + part[-1][0].step
        for word, place in span.lines:
            middle, thick = first.face.strike if word == "line-through" else first.face.underline
            middle = first.face.ascent - thick / 2 if word == "overline" else middle
            scale = walker.em(place) / first.face.units
            line = rectangle(left, high + span.rise - (middle + thick / 2) * scale, right - left, thick * scale)
            turned = transform(f"rotate({first.letters[0].turn} {left} {high})")
            found = (place, span.element, tuple(_moved(side, turned) for side in line))
            (over if word == "line-through" else under).append(found)
    return under, over


def _standing(row: _Row) -> tuple[Span, float, int]:
    """What letters under one line have in common: their span and their height, and none of them is turned."""
    glyph, _, y = row
    return glyph.span, round(y - _drop(glyph), 9), id(glyph) if glyph.letters[0].turn else 0


class _Guide:
    """A path that letters stand on."""

    def __init__(self, points: Points, path: Path) -> None:
        self._points = points
        steps = np.hypot(*np.diff(points, axis=0).T)
        self._far = np.concatenate([[0.0], np.cumsum(steps)])
        self._offset = path.offset * float(self._far[-1]) if path.share else path.offset

    def stand(self, far: float, down: float, glyph: _Set) -> Matrix | None:
        """The matrix of a glyph whose middle lies `far` and half its advance from the start; None beyond the ends."""
        middle = self._offset + far + glyph.advance * glyph.wide / 2
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
        inner = _stand(glyph.offset[0] * glyph.wide - glyph.advance * glyph.wide / 2, down - glyph.offset[1], glyph)
        return times(turn, inner)


def _guide(walker: Walker, path: Path | None, place: Place) -> _Guide | None:
    if path is None or local(path.element) not in ("path", "circle", "ellipse", "rect", "polyline", "polygon", "line"):
        return None
    style: Style = walker.cascade.style_there(path.element)
    subpaths, unread = shape_subpaths(path.element, style, place.view, walker.em(place))
    if unread:
        walker.note("path-damaged", not_read(unread, path.element))
    matrix = transform(style["transform"])
    rows = [apply(matrix, along(one, _A_CURVE)) for one in subpaths if len(one.curves)]
    if not rows:
        return None
    points = np.vstack(rows)
    keep = np.ones(len(points), bool)
    keep[1:] = np.any(np.diff(points, axis=0) != 0, axis=1)
    return _Guide(points[keep], path) if keep.sum() > 1 else None
