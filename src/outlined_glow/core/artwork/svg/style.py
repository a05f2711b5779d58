"""The cascade: presentation attributes, style sheets, style attributes, inheritance (CSS Cascade 4)."""

from __future__ import annotations

from collections.abc import Iterable

import cssselect2
import tinycss2
from lxml import etree

from .document import local

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
    "letter-spacing": "normal",
    "text-anchor": "start",
    "dominant-baseline": "auto",
    "paint-order": "normal",
    "marker-start": "none",
    "marker-mid": "none",
    "marker-end": "none",
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
    "overflow": "",
}
_KNOWN = INHERITED.keys() | OWN.keys() | {"marker"}
_ATTRIBUTES = _KNOWN - {"transform", "marker"}


class Cascade:
    """Computes the style of each element of one document."""

    def __init__(self, root: etree._Element) -> None:
        self._matcher = cssselect2.Matcher()
        self._declared: dict[etree._Element, list[tuple[tuple[int, ...], str, str]]] = {}
        self._there: dict[etree._Element, Style] = {}
        self.problems: list[str] = []
        if any(local(element) == "style" for element in root.iter()):
            self._collect(root)

    def _collect(self, root: etree._Element) -> None:
        for sheet in (element for element in root.iter() if local(element) == "style"):
            self._rules(
                tinycss2.parse_stylesheet("".join(map(str, sheet.itertext())), skip_comments=True, skip_whitespace=True)
            )
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
                payload = declarations(rule.content)
                for selector in selectors:
                    if selector.pseudo_element is None:
                        self._matcher.add_selector(selector, payload)
            elif rule.type == "at-rule" and rule.lower_at_keyword == "media" and rule.content is not None:
                words = tinycss2.serialize(rule.prelude).lower()
                if "print" not in words or "screen" in words or "all" in words:
                    self._rules(tinycss2.parse_rule_list(rule.content, skip_comments=True, skip_whitespace=True))
            elif rule.type == "at-rule" and rule.lower_at_keyword in ("import", "font-face"):
                self.problems.append(f"@{rule.lower_at_keyword} in a style sheet")

    def style(self, element: etree._Element, parent: Style) -> Style:
        """The computed style of an element under the computed style of its parent."""
        style = {name: parent.get(name, initial) for name, initial in INHERITED.items()}
        style.update(OWN)
        rows: list[tuple[tuple[int, ...], str, str]] = []
        for name, value in element.attrib.items():
            if isinstance(name, str) and name in _ATTRIBUTES:
                rows.append(((0, -1), name, str(value).strip()))
        rows += self._declared.get(element, [])
        inline = element.get("style")
        if inline:
            for place, (name, value, important) in enumerate(declarations(tinycss2.parse_component_value_list(inline))):
                rows.append(((int(important), 1, place), name, value))
        rows.sort(key=lambda row: row[0])
        for _, name, value in rows:
            self._set(style, parent, name, value)
        return style

    def style_there(self, element: etree._Element) -> Style:
        """The computed style of an element that is referred to: it inherits from where it stands, not from who refers."""
        if element not in self._there:
            parent = element.getparent()
            self._there[element] = self.style(element, {} if parent is None else self.style_there(parent))
        return self._there[element]

    @staticmethod
    def _set(style: Style, parent: Style, name: str, value: str) -> None:
        names = ("marker-start", "marker-mid", "marker-end") if name == "marker" else (name,)
        for one in names:
            if one not in _KNOWN or not value:
                continue
            word = value.lower()
            if word == "inherit" or (word == "unset" and one in INHERITED):
                style[one] = parent.get(one, INHERITED.get(one, OWN.get(one, "")))
            elif word in ("initial", "unset"):
                style[one] = INHERITED.get(one, OWN.get(one, ""))
            else:
                style[one] = value


def declarations(content: Iterable[tinycss2.ast.Node]) -> list[tuple[str, str, bool]]:
    """Name, value and importance of each declaration in a block."""
    out = []
    for one in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if one.type == "declaration" and one.lower_name in _KNOWN:
            out.append((one.lower_name, tinycss2.serialize(one.value).strip(), one.important))
    return out
