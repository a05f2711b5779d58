"""Words on the board: added, changed, taken away; and as regions."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import msgspec
from shapely.geometry.base import BaseGeometry

from ..colour import APPEARANCES
from ..errors import Trouble
from ..geometry.regions import EMPTY, minus, union
from ..lettering import bent_region, placed, text_region
from ..project import Param, Project, Words, edit
from .edits import SIDES, with_artwork

WEIGHTS = ("regular", "semibold", "bold")
BENDS = ("straight", "over", "under")
_MOST = 60
_KEYS = {
    "height_mm": Param("quantity", "mm", 0.3, 200),
    "x_mm": Param("quantity", "mm", -1000, 1000, axis="x"),
    "y_mm": Param("quantity", "mm", -1000, 1000, axis="y"),
    "angle_deg": Param("quantity", "deg", -360, 360),
    "side": Param("choice", choices=SIDES),
    "appearance": Param("choice", choices=APPEARANCES),
    "weight": Param("choice", choices=WEIGHTS),
    "bend": Param("choice", choices=BENDS),
    "radius_mm": Param("quantity", "mm", 1, 500),
}


@edit("add-words", "Words “{text}”", text=Param("text", optional=False), **_KEYS)
def add_words(project: Project, *, text: str, x_mm: float | None = None, y_mm: float | None = None, **given: Any) -> Project:
    """Words on the board, in ink unless told, at the picture frame's origin unless placed."""
    words = project.design.artwork.words
    if len(words) >= _MOST:
        raise Trouble(f"A board takes {_MOST} texts; draw more of them in the picture.")
    given = {key: value for key, value in given.items() if value is not None}
    return with_artwork(project, words=(*words, Words(text=text.strip(), x_mm=x_mm or 0.0, y_mm=y_mm or 0.0, **given)))


@edit("set-words", "Words {number}", number=Param("count", "", 1, _MOST, optional=False), text=Param("text"), **_KEYS)
def set_words(project: Project, *, number: int, **given: Any) -> Project:
    """Change words: what they say, where, how high, in what; what is not named stays."""
    words, place = _at(project, number)
    given = {key: value for key, value in given.items() if value is not None}
    one = msgspec.structs.replace(words[place], **given)
    return with_artwork(project, words=(*words[:place], one, *words[place + 1 :]))


@edit("remove-words", "Words {number} taken away", number=Param("count", "", 1, _MOST, optional=False))
def remove_words(project: Project, *, number: int) -> Project:
    """Take words off the board."""
    words, place = _at(project, number)
    return with_artwork(project, words=(*words[:place], *words[place + 1 :]))


def _at(project: Project, number: int) -> tuple[tuple[Words, ...], int]:
    words = project.design.artwork.words
    if number > len(words):
        there = f"there are {len(words)}" if words else "there are none"
        raise Trouble(f"There are no words {number}; {there}.")
    return words, number - 1


def words_region(words: Words) -> BaseGeometry:
    """The words as a region of the picture frame, mirrored on the back, where they are read from behind."""
    if words.bend == "straight":
        region = text_region(words.text, words.height_mm, weight=words.weight)
    else:
        region = bent_region(words.text, words.height_mm, words.radius_mm, words.bend == "under", words.weight)
    if region.is_empty:
        return EMPTY
    return placed(region, words.x_mm, words.y_mm, words.angle_deg, words.side == "back")


def with_words(regions: Mapping[str, BaseGeometry], words: Sequence[Words], side: str) -> Mapping[str, BaseGeometry]:
    """The art of a side with its words over it, later ones over earlier ones."""
    out = dict(regions)
    for one in words:
        if one.side != side:
            continue
        region = words_region(one)
        if region.is_empty:
            continue
        out = {kind: minus(area, region) for kind, area in out.items()}
        out[one.appearance] = union([out.get(one.appearance, EMPTY), region])
    return {kind: out[kind] for kind in APPEARANCES if kind in out and not out[kind].is_empty}
