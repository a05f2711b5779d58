"""How much of a picture is taken on: what goes beyond is refused early, in a sentence, before it costs time or memory."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..errors import Trouble
from ..geometry.flatten import Points
from ..geometry.overlap import count_overlaps, estimate_crossings

#: Painted shapes, and line and curve segments of them all.
MOST_SHAPES = 20_000
MOST_SEGMENTS = 400_000
#: Crossings of one path with itself, and pairs of shapes that lie over one another.
MOST_CROSSINGS = 400_000
MOST_OVERLAPS = 3_000_000
#: How often an element is compared with a style rule.
MOST_RULES = 2_000_000
#: Brackets of a style within one another: reading them calls itself for each.
MOST_BRACKETS = 50
_NO_BRACKETS = re.compile(r"[^(\[{}\])]+")


def refuse_shapes(count: int, name: str) -> None:
    """`Trouble` if a picture paints too many shapes."""
    if count > MOST_SHAPES:
        raise Trouble(f"“{name}” paints more than {MOST_SHAPES:,} shapes; join shapes of one colour or simplify the drawing.")


def refuse_segments(count: int, name: str) -> None:
    """`Trouble` if the paths of a picture have too many segments."""
    if count > MOST_SEGMENTS:
        raise Trouble(f"“{name}” has paths of more than {MOST_SEGMENTS:,} segments; simplify its paths.")


def refuse_tangle(outlines: Sequence[Points], name: str) -> None:
    """`Trouble` if the lines of one shape cross one another too often to be made an area."""
    if estimate_crossings(outlines) > MOST_CROSSINGS:
        raise Trouble(f"A path in “{name}” crosses itself more than {MOST_CROSSINGS:,} times; simplify or split it.")


def refuse_rules(count: int, name: str) -> None:
    """`Trouble` if elements and style rules are too many to be compared."""
    if count > MOST_RULES:
        raise Trouble(
            f"The style rules of “{name}” would be compared with its elements {count:,} times ({MOST_RULES:,} at most);"
            " name classes in the rules, or save it with presentation attributes."
        )


def refuse_brackets(style: str, name: str) -> None:
    """`Trouble` if brackets of a style lie within one another too deep to be read."""
    if sum(map(style.count, "([{")) <= MOST_BRACKETS:
        return
    deep = deepest = 0
    for letter in _NO_BRACKETS.sub("", style):
        deep += (letter in "([{") - (letter in ")]}" and deep > 0)
        deepest = max(deepest, deep)
    if deepest > MOST_BRACKETS:
        raise Trouble(
            f"A style in “{name}” has {deepest} brackets within one another ({MOST_BRACKETS} at most);"
            " save it with simpler styles."
        )


def refuse_heap(shapes: NDArray[np.object_], name: str) -> None:
    """`Trouble` if too many shapes lie over one another."""
    if count_overlaps(shapes, MOST_OVERLAPS) > MOST_OVERLAPS:
        raise Trouble(f"The shapes of “{name}” overlap one another more than {MOST_OVERLAPS:,} times; flatten the drawing.")
