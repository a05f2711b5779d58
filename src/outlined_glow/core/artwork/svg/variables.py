"""Custom properties of a style sheet, and what stands for `var()` where they are asked for (CSS Custom Properties 1)."""

from __future__ import annotations

from collections.abc import Mapping

import tinycss2
from tinycss2.ast import FunctionBlock, Node

#: A value no longer than that comes of variables that stand for one another, as browsers have it.
_MOST_LETTERS = 20_000
#: So deep may variables that ask for one another, and brackets, lie within one another.
_DEEPEST = 60


def is_custom(name: str) -> bool:
    """Whether a property is one of the sheet's own."""
    return name.startswith("--")


def asks(value: str) -> bool:
    """Whether a value stands for another one."""
    return "var(" in value.lower()


def told(value: str, known: Mapping[str, str]) -> str | None:
    """A value with what its variables stand for; None where one has no value, or asks for itself."""
    return _told(tinycss2.parse_component_value_list(value), known, {}, 0)


def _told(nodes: list[Node], known: Mapping[str, str], found: dict[str, str | None], deep: int) -> str | None:
    """`found` are the variables that are known already; None for one that is being looked for, or has no value."""
    parts = []
    if deep > _DEEPEST:
        return None
    for node in nodes:
        part: str | None
        if isinstance(node, FunctionBlock) and node.lower_name == "var":
            part = _of(node.arguments, known, found, deep + 1)
        elif isinstance(node, FunctionBlock):
            inner = _told(node.arguments, known, found, deep + 1)
            part = None if inner is None else f"{node.name}({inner})"
        else:
            part = tinycss2.serialize([node])
        if part is None:
            return None
        parts.append(part)
    out = "".join(parts).strip()
    return out if len(out) <= _MOST_LETTERS else None


def _of(arguments: list[Node], known: Mapping[str, str], found: dict[str, str | None], deep: int) -> str | None:
    """What one variable stands for: its value, or what is said to take in its place."""
    first = next((node for node in arguments if node.type not in ("whitespace", "comment")), None)
    if first is None or first.type != "ident" or not is_custom(first.value):
        return None
    name = first.value
    if name in known and name not in found:
        found[name] = None
        found[name] = _told(tinycss2.parse_component_value_list(known[name]), known, found, deep)
    value = found.get(name)
    if value is not None:
        return value
    comma = next((at for at, node in enumerate(arguments) if node.type == "literal" and node.value == ","), None)
    return None if comma is None else _told(arguments[comma + 1 :], known, found, deep)
