"""The cascade: presentation attributes, style sheets, style attributes, inheritance (CSS Cascade 4)."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable

import cssselect2
import tinycss2
from lxml import etree

from ...text_safety import short
from ..limits import refuse_brackets, refuse_rules
from .document import local, where
from .fonts import font_shorthand, font_size, font_weight
from .variables import asks, is_custom, told

Style = dict[str, str]

#: Inherited properties that this reader uses, with their initial values.
INHERITED: Style = {
    "fill": "black",
    "fill-rule": "nonzero",
    "clip-rule": "nonzero",
    "fill-opacity": "1",
    "stroke": "none",
    "stroke-width": "1",
    "stroke-linecap": "butt",
    "stroke-linejoin": "miter",
    "stroke-miterlimit": "4",
    "stroke-dasharray": "none",
    "stroke-dashoffset": "0",
    "stroke-opacity": "1",
    "color": "black",
    "visibility": "visible",
    "font-size": "16",
    "font-family": "",
    "font-weight": "400",
    "font-style": "normal",
    "font-variant": "normal",
    "font-stretch": "normal",
    "font-kerning": "auto",
    "font-feature-settings": "normal",
    "text-transform": "none",
    "letter-spacing": "normal",
    "word-spacing": "normal",
    "white-space": "normal",
    "writing-mode": "horizontal-tb",
    "direction": "ltr",
    "text-anchor": "start",
    "dominant-baseline": "auto",
    "paint-order": "normal",
    "marker-start": "none",
    "marker-mid": "none",
    "marker-end": "none",
    "color-interpolation": "srgb",
}

#: Own properties of each element.
OWN: Style = {
    "display": "inline",
    "opacity": "1",
    "clip-path": "none",
    "mask": "none",
    "filter": "none",
    "mix-blend-mode": "normal",
    "vector-effect": "none",
    "stop-color": "black",
    "stop-opacity": "1",
    "transform": "",
    "transform-origin": "",
    "transform-box": "view-box",
    "translate": "none",
    "rotate": "none",
    "scale": "none",
    "mask-type": "luminance",
    "baseline-shift": "baseline",
    "alignment-baseline": "auto",
    "text-decoration": "none",
    "overflow": "",
    "x": "",
    "y": "",
    "width": "",
    "height": "",
    "cx": "",
    "cy": "",
    "r": "",
    "rx": "",
    "ry": "",
    "d": "",
}
#: Shorthands, and what they stand for.
_SHORTHANDS = {
    "marker": ("marker-start", "marker-mid", "marker-end"),
    "font": (),
    "text-decoration-line": ("text-decoration",),
    "glyph-orientation-vertical": (),
}
#: What changes a picture and is not done, with the values that leave it as it is.
_UNDONE = {
    "shape-inside": ("auto", "none"),
    "inline-size": ("auto", "0", "0px"),
    "font-size-adjust": ("none",),
    "text-shadow": ("none",),
    "mask-image": ("none",),
    "mask-border": ("none",),
    "offset-path": ("none",),
    "zoom": ("normal", "1", "100%"),
    "font-variation-settings": ("normal",),
}
_KNOWN = INHERITED.keys() | OWN.keys() | _SHORTHANDS.keys() | _UNDONE.keys()
#: What no attribute says, but a style alone: `rotate` is another thing on text.
_ATTRIBUTES = _KNOWN - {"marker", "font", "translate", "rotate", "scale", "white-space"}
#: Functions and units whose values only a browser's window can tell.
_UNTOLD = re.compile(r"\b(calc|min|max|clamp|env|attr)\s*\(|\d(vw|vh|vmin|vmax|svh|dvh|lvh)\b", re.IGNORECASE)
_KEYWORDS = ("inherit", "initial", "unset", "revert", "revert-layer")
#: Properties that are one of a few words: another one is as if nothing had been said (CSS Syntax 3, 2.2).
_WORDS = {
    "visibility": {"visible", "hidden", "collapse"},
    "fill-rule": {"nonzero", "evenodd"},
    "clip-rule": {"nonzero", "evenodd"},
    "stroke-linecap": {"butt", "round", "square"},
    "stroke-linejoin": {"miter", "round", "bevel", "miter-clip", "arcs"},
    "text-anchor": {"start", "middle", "end"},
    "mask-type": {"luminance", "alpha"},
}
#: Lengths, and those that are said beside the size of a font.
_LENGTHS = {
    "stroke-width", "stroke-dasharray", "stroke-dashoffset", "letter-spacing", "word-spacing",
    "x", "y", "width", "height", "cx", "cy", "r", "rx", "ry",
}  # fmt: skip
_BESIDE_FONT = re.compile(r"([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)(em|ex|rem)\b", re.IGNORECASE)
_ORDERED = {"fill", "stroke", "markers"}
_SAID_LOW = {*_WORDS, "paint-order", "display", "overflow", "transform-box"}


def _fits(name: str, word: str) -> bool:
    """Whether a property can have a value, as far as that is one of a few words."""
    if name == "paint-order":
        words = word.split()
        return word == "normal" or (len(set(words)) == len(words) and set(words) <= _ORDERED)
    return name not in _WORDS or word in _WORDS[name]


def _bucket(selector: cssselect2.compiler.CompiledSelector) -> tuple[str, str]:
    """By what a rule finds its elements, as the matcher sorts them."""
    if selector.id is not None:
        return "id", selector.id
    if selector.class_name is not None:
        return "class", selector.class_name
    return ("name", selector.lower_local_name) if selector.local_name is not None else ("", "")


class Cascade:
    """Computes the style of each element of one document."""

    def __init__(self, root: etree._Element, name: str = "drawing") -> None:
        self._name = name
        self._matcher = cssselect2.Matcher()
        self._to_try: Counter[tuple[str, str]] = Counter()
        self._declared: dict[etree._Element, list[tuple[tuple[int, ...], str, str]]] = {}
        self._there: dict[etree._Element, Style] = {}
        self.problems: list[str] = []
        self._root_em = float(INHERITED["font-size"])
        #: What the style of an element begins from, under the parent that was asked for last.
        self._begun: tuple[Style, Style] = ({}, {**INHERITED, **OWN})
        if any(local(element) == "style" for element in root.iter()):
            self._collect(root)

    def _collect(self, root: etree._Element) -> None:
        for sheet in (element for element in root.iter() if local(element) == "style"):
            media = (sheet.get("media") or "all").lower()
            if "print" in media and "screen" not in media and "all" not in media:
                continue
            text = "".join(map(str, sheet.itertext()))
            refuse_brackets(text, self._name)
            self._rules(tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True))
        refuse_rules(sum(map(self._tries, root.iter())), self._name)
        for wrapper in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
            matches = self._matcher.match(wrapper)
            if matches:
                rows = self._declared.setdefault(wrapper.etree_element, [])
                for specificity, order, _, declarations in matches:
                    for name, value, important in declarations:
                        rows.append(((int(important), 0, *specificity, order), name, value))

    def _rules(self, rules: Iterable[tinycss2.ast.Node]) -> None:
        for rule in rules:
            if rule.type == "qualified-rule":
                try:
                    selectors = cssselect2.compile_selector_list(rule.prelude)
                except cssselect2.SelectorError as error:
                    self.problems.append(f"the style rule “{tinycss2.serialize(rule.prelude).strip()}” ({error})")
                    continue
                if any(one.type == "qualified-rule" for one in _block(rule.content)):
                    self.problems.append(f"rules within the style rule “{tinycss2.serialize(rule.prelude).strip()}”")
                payload = declarations(rule.content)
                for selector in selectors:
                    if selector.pseudo_element is None:
                        self._matcher.add_selector(selector, payload)
                        self._to_try[_bucket(selector)] += 1
            elif rule.type == "at-rule" and rule.lower_at_keyword == "media" and rule.content is not None:
                words = tinycss2.serialize(rule.prelude).lower()
                if "print" not in words or "screen" in words or "all" in words:
                    self._rules(tinycss2.parse_rule_list(rule.content, skip_comments=True, skip_whitespace=True))
            elif rule.type == "at-rule" and rule.lower_at_keyword not in ("media", "charset", "namespace"):
                self.problems.append(f"@{rule.lower_at_keyword} in a style sheet")

    def _tries(self, element: etree._Element) -> int:
        """How many rules the element is compared with: those for its id, its classes, its name, and those for any."""
        keys = [("", ""), ("name", local(element).lower()), ("id", str(element.get("id", "")))]
        keys += [("class", one) for one in str(element.get("class", "")).split()]
        return sum(self._to_try[key] for key in keys)

    def style(self, element: etree._Element, parent: Style) -> Style:
        """The computed style of an element under the computed style of its parent."""
        if parent is not self._begun[0]:  # most elements follow one of the same parent
            above = {name: parent.get(name, initial) for name, initial in INHERITED.items()}
            self._begun = parent, above | OWN | {name: value for name, value in parent.items() if is_custom(name)}
        style = self._begun[1].copy()
        rows: list[tuple[tuple[int, ...], str, str]] = []
        for name, value in element.attrib.items():
            if isinstance(name, str) and name in _ATTRIBUTES:
                rows.append(((0, -1), name, str(value).strip()))
        rows += self._declared.get(element, [])
        inline = element.get("style")
        if inline:
            refuse_brackets(inline, self._name)
            for place, (name, value, important) in enumerate(declarations(tinycss2.parse_component_value_list(inline))):
                rows.append(((int(important), 1, place), name, value))
        rows.sort(key=lambda row: row[0])
        for _, name, value in rows:
            if is_custom(name) and value.lower() in _KEYWORDS:
                style.pop(name, None)
                style |= {name: parent[name]} if name in parent and value.lower() != "initial" else {}
            elif is_custom(name):
                style[name] = value
        for _, name, value in rows:
            if not is_custom(name):
                self._set(style, parent, name, value, element)
        self._fonts(style, parent)
        em = float(style["font-size"])
        for name in _LENGTHS.intersection(row[1] for row in rows):
            style[name] = self._in_user_units(style[name], em)
        return style

    def _in_user_units(self, text: str, em: float) -> str:
        """Lengths beside a font's size in user units: who inherits them inherits those, whatever its own font is."""
        units = {"em": em, "ex": em / 2, "rem": self._root_em}
        return _BESIDE_FONT.sub(lambda found: repr(float(found[1]) * units[found[2].lower()]), text)

    def _fonts(self, style: Style, parent: Style) -> None:
        """Font sizes and weights that are said beside the parent's become sizes and weights of their own."""
        if style["font-size"] is not parent.get("font-size"):
            above = float(parent.get("font-size", INHERITED["font-size"]))
            size = font_size(style["font-size"], above, self._root_em)
            style["font-size"] = repr(above if size is None else size)
        if style["font-weight"] is not parent.get("font-weight"):
            style["font-weight"] = font_weight(style["font-weight"], parent.get("font-weight", "400"))
        if not parent:
            self._root_em = float(style["font-size"])

    def style_there(self, element: etree._Element) -> Style:
        """The computed style of an element that is referred to: it inherits from where it stands, not from who refers."""
        if element not in self._there:
            parent = element.getparent()
            self._there[element] = self.style(element, {} if parent is None else self.style_there(parent))
        return self._there[element]

    def _set(self, style: Style, parent: Style, name: str, value: str, element: etree._Element) -> None:
        if (name != "d" or "(" in value) and asks(value):
            refuse_brackets(value, self._name)
            found = told(value, style)
            if found is None:
                self.problem(f"“{name}: {value}”", element)
                value = "unset"
            else:
                value = found
        # A path's data mostly is numbers alone, and very many.
        if (name != "d" or "(" in value) and _UNTOLD.search(value):
            self.problem(f"“{name}: {value}”", element)
            return
        if name in _UNDONE:
            if value.lower() not in (*_UNDONE[name], *_KEYWORDS):
                self.problem(f"“{name}: {value}”", element)
            return
        if name == "font":
            longhands = font_shorthand(value)
            if longhands is None and value.lower() not in _KEYWORDS:
                self.problem(f"“font: {value}”", element)
            for one in ("font-size", "font-family", "font-style", "font-weight", "font-variant", "font-stretch"):
                self._one(style, parent, one, value if longhands is None else longhands[one])
            return
        if value and value.lower() not in _KEYWORDS and not _fits(name, value.lower()):
            self.problem(f"“{name}: {value}”", element)
            return
        for one in _SHORTHANDS.get(name, (name,)):
            self._one(style, parent, one, value)

    @staticmethod
    def _one(style: Style, parent: Style, name: str, value: str) -> None:
        if not value:
            return
        word = value.lower()
        if word == "inherit" or (word == "unset" and name in INHERITED):
            style[name] = parent.get(name, INHERITED.get(name, OWN.get(name, "")))
        elif word in _KEYWORDS:
            style[name] = INHERITED.get(name, OWN.get(name, ""))
        else:
            style[name] = word if name in _SAID_LOW else value

    def problem(self, words: str, element: etree._Element) -> None:
        """Something of a style is not understood."""
        said = f"{short(words)} ({where(element)})"
        if said not in self.problems:
            self.problems.append(said)


def declarations(content: Iterable[tinycss2.ast.Node]) -> list[tuple[str, str, bool]]:
    """Name, value and importance of each declaration in a block."""
    out = []
    for one in _block(content):
        if one.type == "declaration" and (one.lower_name in _KNOWN or is_custom(one.name)):
            out.append(
                (one.name if is_custom(one.name) else one.lower_name, tinycss2.serialize(one.value).strip(), one.important)
            )
    return out


def _block(content: Iterable[tinycss2.ast.Node]) -> list[tinycss2.ast.Node]:
    found: list[tinycss2.ast.Node] = tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True)
    return found
