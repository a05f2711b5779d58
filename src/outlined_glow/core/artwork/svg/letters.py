"""The letters of a <text>: blanks collapsed, each with the place, turn and style that its elements give it (SVG 2, 11)."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace

from lxml import etree

from .document import href, local, where
from .measure import length
from .style import Style
from .walk import Place, Walker

_SPACE = "{http://www.w3.org/XML/1998/namespace}space"
#: How far letters are raised, in em.
_SHIFTS = {"sub": -0.15, "super": 0.35}
_PRESERVED = ("pre", "pre-wrap", "pre-line", "break-spaces")


@dataclass(frozen=True, eq=False)
class Path:
    """What a <textPath> lays its letters on: the element of a path, and how far along it they begin, in user units or, if
    `share`, in parts of its length."""

    element: etree._Element
    offset: float
    share: bool


@dataclass(frozen=True, eq=False)
class Stretch:
    """A `textLength`: how long the letters of an element are made, by their distances alone or with their forms."""

    element: etree._Element
    length: float
    forms: bool


@dataclass(frozen=True, eq=False)
class Span:
    """What the letters of one element share: its style and place, how far they are raised (user units), path, stretch, and
    the lines drawn along them with the place whose paint they have."""

    element: etree._Element
    place: Place
    rise: float = 0.0
    path: Path | None = None
    stretch: Stretch | None = None
    lines: tuple[tuple[str, Place], ...] = ()
    preserved: bool = False


@dataclass(eq=False)
class Letter:
    """One letter: its own place if it has one, a step before it, and how far it is turned, degrees."""

    text: str
    span: Span
    x: float | None = None
    y: float | None = None
    dx: float = 0.0
    dy: float = 0.0
    turn: float = 0.0


@dataclass
class _Lists:
    """The places an element gives to the letters between two positions."""

    start: int
    end: int
    values: dict[str, list[float]] = field(default_factory=dict)


def letters_of(walker: Walker, element: etree._Element, place: Place) -> list[Letter]:
    """Every letter of a <text> that is set, in order."""
    raw: list[Letter] = []
    lists: list[_Lists] = []
    first = Span(element, place, preserved=_preserved(element, place.style, False))
    _gather(walker, element, _with_own(walker, element, first), raw, lists)
    kept = _collapsed(raw)
    for one in lists:
        mine = [raw[at] for at in range(one.start, one.end) if kept[at]]
        for key, values in one.values.items():
            for letter, value in zip(mine, values, strict=False):
                setattr(letter, key, value)
            if key == "turn" and values:
                for letter in mine[len(values) :]:
                    letter.turn = values[-1]
    return [letter for at, letter in enumerate(raw) if kept[at]]


def _gather(walker: Walker, element: etree._Element, span: Span, raw: list[Letter], lists: list[_Lists]) -> None:
    """The letters as they stand in the file; an element's lists come before those of the elements inside it."""
    here = _Lists(len(raw), len(raw), _places(walker, element, span.place))
    lists.append(here)
    for text, child in _content(element):
        if child is None:
            raw += [Letter(letter, span) for letter in text]
        elif local(child) in ("tspan", "textPath", "a"):
            style = walker.cascade.style(child, span.place.style)
            if style["display"] != "none":
                inner = replace(span, element=child, place=replace(span.place, style=style))
                inner = replace(inner, preserved=_preserved(child, style, span.preserved))
                _gather(walker, child, _with_own(walker, child, inner), raw, lists)
        elif local(child) not in ("title", "desc", "metadata", "animate", "set", "animateTransform", ""):
            walker.note("element-not-drawn", f"A part of a text of an unknown kind is not drawn: {where(child)}.")
    here.end = len(raw)


def _with_own(walker: Walker, element: etree._Element, span: Span) -> Span:
    """The span with what its element adds: a rise, a path, a length, lines."""
    style, em = span.place.style, walker.em(span.place)
    shift = style["baseline-shift"].strip().lower()
    # A shift is beside the line of what it stands in: a text itself stands in none (SVG 1.1, 10.9.2).
    if shift not in ("baseline", "0") and local(element) != "text":
        share = _SHIFTS.get(shift)
        span = replace(span, rise=span.rise + (length(shift, 0.0, em, em) if share is None else share * em))
    if local(element) == "textPath":
        span = replace(span, path=_path(walker, element, em))
    wanted = length(element.get("textLength"), -1.0, span.place.view[0], em)
    if wanted > 0 and span.stretch is not None:
        walker.note("text-length-ignored", f"A text length within another one is not applied: {where(element)}.")
    elif wanted > 0:
        span = replace(span, stretch=Stretch(element, wanted, element.get("lengthAdjust") == "spacingAndGlyphs"))
    drawn = re.findall(r"underline|overline|line-through", style["text-decoration"].lower())
    return replace(span, lines=(*span.lines, *((word, span.place) for word in drawn))) if drawn else span


def _path(walker: Walker, element: etree._Element, em: float) -> Path | None:
    target = walker.ids.get(href(element))
    if target is None and element.get("path"):
        target = etree.Element("path", d=str(element.get("path")))
    if target is None:
        walker.note("text-path-missing", f"The path of a text cannot be found; the text is set straight: {where(element)}.")
        return None
    if element.get("side") == "right" or element.get("method") == "stretch":
        walker.note("text-path-plain", f"Letters stand on the left of their path, unstretched: {where(element)}.")
    offset = element.get("startOffset") or ""
    return Path(target, length(offset, 0.0, 1.0, em), offset.strip().endswith("%"))


def _places(walker: Walker, element: etree._Element, place: Place) -> dict[str, list[float]]:
    em = walker.em(place)
    out = {}
    for key, name in (("x", "x"), ("y", "y"), ("dx", "dx"), ("dy", "dy"), ("turn", "rotate")):
        words = (element.get(name) or "").replace(",", " ").split()
        whole = place.view[1] if key in ("y", "dy") else place.view[0]
        values = [length(word, 0.0, whole, em) for word in words]
        if values and not (local(element) == "textPath" and key in ("x", "y")):
            out[key] = values
    return out


def _content(element: etree._Element) -> Iterator[tuple[str, etree._Element | None]]:
    if element.text:
        yield element.text, None
    for child in element:
        yield "", child
        if child.tail:
            yield child.tail, None


def _preserved(element: etree._Element, style: Style, outer: bool) -> bool:
    """Whether blanks are kept as they are written."""
    if style["white-space"] in _PRESERVED:
        return True
    said = element.get(_SPACE)
    return outer if said is None else said == "preserve"


def _collapsed(raw: Sequence[Letter]) -> list[bool]:
    """Which letters are set: of blanks one between words, none at the ends. Line ends and tabs become blanks, in place."""
    kept = [True] * len(raw)
    after_blank = True
    for at, letter in enumerate(raw):
        blank = letter.text in " \t\n\r\f"
        if blank:
            letter.text = " "
            kept[at] = letter.span.preserved or not after_blank
        after_blank = blank and not letter.span.preserved if kept[at] else after_blank
    last = next((at for at in range(len(raw) - 1, -1, -1) if kept[at]), None)
    if last is not None and raw[last].text == " " and not raw[last].span.preserved:
        kept[last] = False
    return kept
