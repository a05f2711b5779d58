"""An SVG document to a `Drawing`. What is not taken as drawn becomes a note that names the element."""

from __future__ import annotations

import re
import sys
from collections.abc import Callable, Iterable
from dataclasses import replace

import numpy as np
from lxml import etree

from ...appearances import title_of
from ...errors import Trouble
from ...text_safety import short
from ..drawing import Drawing, Drawn, Item, Layer, Matrix, Note, Paint, Subpath, Written
from ..limits import refuse_segments, refuse_shapes
from ..named import layer_word
from .document import href, is_meant, local, not_read, parse, where
from .effects import clip_of, framed, mask_of
from .measure import FAR, IDENTITY, apply, length, origin_in, times, transform, unread_transforms, view_box, viewport_matrix
from .paint import opacity
from .painted import fill_rule, in_paints
from .pasted import carried, frame_of, pasted
from .shapes import shape_subpaths
from .style import Cascade, Style
from .text import text_items
from .walk import Box, Place, box_of, moved

_SHAPES = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
_SILENT = {
    "defs", "title", "desc", "metadata", "style", "script", "symbol", "linearGradient", "radialGradient", "pattern",
    "clipPath", "mask", "filter", "marker", "stop", "animate", "animateTransform", "animateMotion", "set", "view",
    "solidColor", "",
}  # fmt: skip
_LABEL = "{http://www.inkscape.org/namespaces/inkscape}label"
#: Pictures within pictures within pictures.
_DEEPEST = 3
#: Levels of elements within one another, those that are referred to included; and calls within one another that they take.
_LEVELS, _CALLS = 300, 8000
#: To know the boxes of what is clipped or masked, shapes are gone through so many times as often as a drawing may hold.
_TIMES_MEASURED = 8
#: What would change the drawing once it is shown.
_STILL = {
    **dict.fromkeys(("animate", "animateTransform", "animateMotion", "set"), "An animation is not played; its start is taken"),
    "script": "A script is not run",
}
#: A length in units that are real, other than pixels.
_REAL = re.compile(r"\d\s*(mm|cm|in|pt|pc|q)\s*$", re.IGNORECASE)


def read_svg(data: bytes, name: str, depth: int = 0) -> Drawing:
    """The drawing in an SVG file; `Trouble` names what makes it unreadable."""
    # The walk calls itself some eight times for each level. The limit is one of the process: it holds for painting too.
    sys.setrecursionlimit(max(sys.getrecursionlimit(), _CALLS))
    reader = _Reader(parse(data, name), name, depth)
    if b"<?xml-stylesheet" in data[:4000]:
        reader.note("style-not-read", f"“{name}” refers to a style sheet outside itself, which is not read.")
    return reader.drawing()


class _Reader:
    def __init__(self, root: etree._Element, name: str, depth: int) -> None:
        self._root = root
        self.name = name
        self._nested = depth
        self.cascade = Cascade(root, name)
        self.ids: dict[str, etree._Element] = {}
        shapes = 0
        moving: dict[str, etree._Element] = {}
        for element in root.iter():
            key = element.get("id")
            if key:
                self.ids.setdefault(key, element)
            tag = local(element)
            shapes += tag in _SHAPES
            if tag in _STILL:
                moving.setdefault(_STILL[tag], element)
        refuse_shapes(shapes, name)
        self._followed = 0
        self._drawn = self._measured_shapes = 0
        self._segments = 0
        self._notes: dict[tuple[str, str], Note] = {}
        self._words: list[Written] = []
        for words, first in moving.items():
            self.note("moving-part-still", f"{words}: {where(first)}.")

    def drawing(self) -> Drawing:
        box = view_box(self._root.get("viewBox"))
        fallback = (box[2], box[3]) if len(box) == 4 else (300.0, 150.0)
        style = self.cascade.style(self._root, {})
        em = float(style["font-size"])
        sides = [style[side] if style[side] != "auto" else "" for side in ("width", "height")]
        width, height = (length(side, own, own, em) for side, own in zip(sides, fallback, strict=True))
        if len(box) == 4 and min(box[2:]) > 0 and (not sides[0]) != (not sides[1]):
            # The side that is not said follows from the other by the box.
            width, height = (height * box[2] / box[3], height) if not sides[0] else (width, width * box[3] / box[2])
        matrix = viewport_matrix(box, 0, 0, width, height, self._root.get("preserveAspectRatio"))
        if matrix is None:
            raise Trouble(f"“{self.name}” has an empty view box; give it a width and a height.")
        view = (box[2], box[3]) if len(box) == 4 else (width, height)
        place = Place(matrix, style, view)
        alpha = opacity(style["opacity"])
        items: tuple[Item, ...] = ()
        if style["display"] != "none" and alpha > 0:
            self._lost_effects(self._root, style)

            def walk(within: Place) -> tuple[Item, ...]:
                return self._turned(self._root, within, lambda inner: self.items(self._root, inner))

            items = self._layered(self._root, walk, place, alpha)
        for problem in self.cascade.problems:
            self.note("style-not-read", f"Not understood and left out: {problem}.")
        sized = any(_REAL.search(side) for side in sides)
        return Drawing(items, (width, height), 25.4 / 96, tuple(self._notes.values()), tuple(self._words), sized)

    def wrote(self, words: Written) -> None:
        self._words.append(words)

    def note(self, code: str, text: str) -> None:
        """Something was not taken as drawn."""
        self._notes.setdefault((code, text), Note(code, text))

    def items(self, elements: Iterable[etree._Element], place: Place) -> tuple[Item, ...]:
        """What the elements paint, in order."""
        return tuple(item for element in elements for item in self._element(element, place))

    def em(self, place: Place) -> float:
        """The font size."""
        return float(place.style["font-size"])

    def _element(self, element: etree._Element, outer: Place) -> tuple[Item, ...]:
        tag = local(element)
        if tag in _SILENT:
            return ()
        if outer.depth > _LEVELS // (1 + self._nested):
            raise Trouble(f"“{self.name}” nests its references too deeply at {where(element)}.")
        if not is_meant(element):
            what = "An element for another language, or for a program with an extension,"
            self.note("element-not-drawn", f"{what} is not drawn: {where(element)}.")
            return ()
        style = self.cascade.style(element, outer.style)
        alpha = 1.0 if outer.clipping or outer.measuring else opacity(style["opacity"])
        if style["display"] == "none" or alpha == 0:
            return ()
        place = replace(outer, style=style, depth=outer.depth + 1)
        self._lost_effects(element, style)

        def walk(inner: Place) -> tuple[Item, ...]:
            return self._layered(element, lambda within: self._inside(element, tag, within), inner, alpha)

        return self._turned(element, place, walk)

    def _turned(self, element: etree._Element, place: Place, walk: Callable[[Place], tuple[Item, ...]]) -> tuple[Item, ...]:
        """What `walk` gives under the element's own transform, about its origin."""
        style = place.style
        for text in unread_transforms(style["transform"]):
            self.note("transform-ignored", f"“{short(text, 40)}” is not applied: {where(element)}.")
        own = transform(style["transform"])
        if own is IDENTITY:
            return walk(place)
        origin = style["transform-origin"].split()
        if not origin:
            return walk(replace(place, matrix=times(place.matrix, own)))
        box: Box = (0.0, 0.0, *place.view)
        if style["transform-box"] != "view-box":
            found = self._measured(walk, place)
            if found is None:
                return ()
            box = found
        x, y = origin_in(origin, box, self.em(place))
        there, back = np.array([[1.0, 0, x], [0, 1.0, y]]), np.array([[1.0, 0, -x], [0, 1.0, -y]])
        return walk(replace(place, matrix=times(times(times(place.matrix, there), own), back)))

    def _measured(self, walk: Callable[[Place], tuple[Item, ...]], place: Place) -> Box | None:
        """The box of what `walk` goes through, painted or not, in the user units of its place: that is walked once more."""
        words, notes = len(self._words), dict(self._notes)
        found = box_of(walk(replace(place, measuring=True)), place.matrix)
        del self._words[words:]
        self._notes = notes
        return found

    def _inside(self, element: etree._Element, tag: str, place: Place) -> tuple[Item, ...]:
        if tag in _SHAPES:
            return self._shape(element, place)
        if tag in ("g", "a"):
            return self.items(element, place)
        if tag == "svg":
            return self._viewport(element, place, None)
        if tag == "switch":
            return self._switch(element, place)
        if tag == "use":
            return self._use(element, place)
        if tag == "text":
            return text_items(self, element, place)
        if tag == "image":
            return self._image(element, place)
        what = "Foreign content" if tag == "foreignObject" else "An element of an unknown kind"
        self.note("element-not-drawn", f"{what} is not drawn: {where(element)}.")
        return ()

    def _layered(
        self, element: etree._Element, walk: Callable[[Place], tuple[Item, ...]], place: Place, alpha: float
    ) -> tuple[Item, ...]:
        """What `walk` gives, seen through the element's clip and mask, as solid as it is, and under the name of its layer."""
        items, style = walk(place), place.style
        if place.measuring:
            return items
        word = layer_word(element.get(_LABEL) or element.get("id") or "") if local(element) == "g" else ""
        if not items or (style["clip-path"] == "none" and style["mask"] == "none" and alpha == 1.0 and not word):
            return items
        if word:
            name = element.get(_LABEL) or element.get("id")
            words = (
                f"Layer “{name}” on line {element.sourceline}: everything on it becomes {title_of(word)}, because of its name."
            )
            self.note("layer-at-its-word", words)

        def box() -> Box | None:
            return self._measured(walk, place)

        clips = clip_of(self, style["clip-path"], element, box, place) if style["clip-path"] != "none" else []
        mask = mask_of(self, style["mask"], element, box, place) if style["mask"] != "none" else None
        return (Layer(items, tuple(clips), (mask,) if mask is not None else (), alpha, word),)

    def _lost_effects(self, element: etree._Element, style: Style) -> None:
        if style["filter"] != "none":
            self.note("filter-ignored", f"A filter is not applied: {where(element)}.")
        if style["mix-blend-mode"] != "normal":
            self.note("blend-ignored", f"A blend mode is not applied: {where(element)}.")
        for name in ("translate", "rotate", "scale"):
            if style[name] != "none":
                self.note("transform-ignored", f"“{name}: {short(style[name], 30)}” is not applied: {where(element)}.")
        if style["vector-effect"] not in ("none", "non-scaling-stroke"):
            self.note("effect-ignored", f"“vector-effect: {style['vector-effect']}” is not applied: {where(element)}.")
        if style["color-interpolation"].lower() == "linearrgb":
            self.note("effect-ignored", f"Colours are mixed in sRGB, not linear: {where(element)}.")

    def _switch(self, element: etree._Element, place: Place) -> tuple[Item, ...]:
        for child in element:
            if local(child) not in _SILENT and is_meant(child) and local(child) != "foreignObject":
                return self._element(child, place)
        return ()

    def _viewport(self, element: etree._Element, place: Place, size: tuple[str | None, str | None] | None) -> tuple[Item, ...]:
        """A nested svg or a symbol: `size` is what the `use` says."""
        wide, high = size or (None, None)
        em = self.em(place)
        style = place.style
        width = length(wide or _said(style["width"]) or "100%", place.view[0], place.view[0], em)
        height = length(high or _said(style["height"]) or "100%", place.view[1], place.view[1], em)
        x, y = length(style["x"], 0, place.view[0], em), length(style["y"], 0, place.view[1], em)
        box = view_box(element.get("viewBox"))
        inner = viewport_matrix(box, x, y, width, height, element.get("preserveAspectRatio"))
        if inner is None or width <= 0 or height <= 0:
            return ()
        view = (box[2], box[3]) if len(box) == 4 else (width, height)
        items = self.items(element, replace(place, matrix=times(place.matrix, inner), view=view))
        if place.style["overflow"] in ("visible", "auto"):
            return items
        return self._cut_to(items, (x, y, width, height), place.matrix)

    def _cut_to(self, items: tuple[Item, ...], frame: tuple[float, float, float, float], matrix: Matrix) -> tuple[Item, ...]:
        """What does not reach out of its viewport needs no clip."""
        box = box_of(items, matrix)
        slack = 1e-3 * max(frame[2], frame[3])
        x, y, wide, high = frame
        stroked = any(isinstance(item, Drawn) and item.stroke is not None for item in items)
        if box is None or (
            not stroked and not any(isinstance(item, Layer) for item in items)
            and box[0] >= x - slack and box[1] >= y - slack
            and box[0] + box[2] <= x + wide + slack and box[1] + box[3] <= y + high + slack
        ):  # fmt: skip
            return items
        return (Layer(items, clips=(framed(frame, matrix),)),)

    def _use(self, element: etree._Element, place: Place) -> tuple[Item, ...]:
        style = place.style
        target = self.ids.get(href(element))
        if target is None:
            self.note("use-missing", f"A reference leads nowhere inside the file: {where(element)}.")
            return ()
        if target in place.uses or any(target is above for above in element.iterancestors()):
            raise Trouble(f"“{self.name}” refers to itself without end: {where(element)}.")
        self._followed += 1
        refuse_shapes(self._followed, self.name)
        em = self.em(place)
        dx, dy = length(style["x"], 0, place.view[0], em), length(style["y"], 0, place.view[1], em)
        there = times(place.matrix, np.array([[1.0, 0, dx], [0, 1.0, dy]])) if dx or dy else place.matrix
        inner = replace(place, matrix=there, uses=(*place.uses, target))
        if local(target) not in ("symbol", "svg"):
            return self._element(target, inner)
        own = self.cascade.style(target, inner.style)
        if own["display"] == "none":
            return ()
        self._lost_effects(target, own)
        if local(target) == "symbol" and (target.get("refX") or target.get("refY")):
            self.note("effect-ignored", f"The reference point of a symbol is not applied: {where(target)}.")
        size = (_said(style["width"]) or None, _said(style["height"]) or None)

        def walk(within: Place) -> tuple[Item, ...]:
            return self._layered(target, lambda inside: self._viewport(target, inside, size), within, opacity(own["opacity"]))

        return self._turned(target, replace(inner, style=own), walk)

    def _image(self, element: etree._Element, place: Place) -> tuple[Item, ...]:
        if place.style["visibility"] != "visible" and not place.measuring:
            return ()
        found = carried(element)
        if found is None or "svg" not in found[1] or self._nested >= _DEEPEST:
            return pasted(self, element, place)
        try:
            inner = read_svg(found[0], self.name, self._nested + 1)
        except Trouble:
            self.note("image-not-drawn", f"A picture inside the file cannot be read: {where(element)}.")
            return ()
        for note in inner.notes:
            self.note(note.code, f"In the picture {where(element)}: {note.text}")
        frame = frame_of(self, place, inner.page)
        fitted = viewport_matrix([0, 0, *inner.page], *frame, element.get("preserveAspectRatio"))
        if fitted is None:
            return ()
        by = times(place.matrix, fitted)
        for one in inner.words:
            x, y = (by @ (one.x, one.y, 1.0)).tolist()
            self.wrote(replace(one, x=x, y=y, caps=one.caps * float(np.hypot(*by[:, 1]))))
        items = tuple(moved(item, by) for item in inner.paths)
        return (Layer(items, clips=(framed(frame, place.matrix),)),)

    def _shape(self, element: etree._Element, place: Place) -> tuple[Item, ...]:
        if place.style["visibility"] != "visible" and not place.measuring:
            return ()
        found, unread = shape_subpaths(element, place.style, place.view, self.em(place))
        if unread:
            self.note("path-damaged", not_read(unread, element))
        return self.draw(element, found, place)

    def draw(
        self, element: etree._Element, found: tuple[Subpath, ...], place: Place, room: Box | None = None
    ) -> tuple[Item, ...]:
        """Outlines in the paints of their style, gradients and patterns over `room`; in a clip, only as an area."""
        style = place.style
        subpaths = tuple(one for one in found if _near(one, place.matrix))
        if len(subpaths) < len(found):
            self.note("path-damaged", f"Part of a path could not be read: {where(element)}.")
        if not subpaths or (style["visibility"] != "visible" and not place.measuring):
            return ()
        if place.measuring:
            self._measured_shapes += 1
            refuse_shapes(self._measured_shapes // _TIMES_MEASURED, self.name)
        else:
            self._segments += sum(len(one.curves) for one in subpaths)
            self._drawn += 1
            refuse_segments(self._segments, self.name)
            refuse_shapes(self._drawn, self.name)
        if place.clipping or place.measuring:
            return (Drawn(subpaths, place.matrix, Paint("000000"), fill_rule(style["clip-rule"])),)
        return in_paints(self, element, subpaths, place, room)


def _said(text: str) -> str:
    return "" if text == "auto" else text


def _near(subpath: Subpath, matrix: Matrix) -> bool:
    """Whether all of it lies within reason."""
    return bool(np.abs(apply(matrix, subpath.controls)).max() < FAR)  # what is no number is not
