"""How many things of a kind a project may hold: more than anybody means, less than what no machine could make."""

from __future__ import annotations

from collections.abc import Iterator

from ..errors import Trouble
from .arrays import Array
from .model import Design, Project

#: Of one board.
MOST_PICTURES, MOST_TEXTS, MOST_MENDS, MOST_FEATURES, MOST_ISLANDS = 24, 60, 200, 99, 99
#: Every array has an LED at least, so that theirs is the limit of the arrays too.
MOST_COLOURS, MOST_LEDS = 4096, 10_000
#: Of a project, and of the names in any list.
MOST_BOARDS, MOST_NAMES = 16, 200


def led_count(array: Array) -> int:
    """How many LEDs an array asks for."""
    return array.asked * array.copies * (2 if array.mirrored else 1)


def refuse_beyond(project: Project) -> None:
    """`Trouble` names the first thing that a project holds too many of."""
    for words, count, most in _counts(project):
        if count > most:
            raise Trouble(f"A project may have {most:,} {words}; this would be {count:,}.")


def _counts(project: Project) -> Iterator[tuple[str, int, int]]:
    yield "boards", len(project.designs), MOST_BOARDS
    yield "tools", len(project.brief.tools), MOST_NAMES
    for design in project.designs:
        yield from _of_board(design)


def _of_board(design: Design) -> Iterator[tuple[str, int, int]]:
    artwork, shape, lights = design.artwork, design.shape, design.lights
    yield "pictures on a board", len(artwork.pictures), MOST_PICTURES
    yield "texts on a board", len(artwork.words), MOST_TEXTS
    yield "mends of a board", len(artwork.mends), MOST_MENDS
    yield "colours chosen by hand", len(artwork.chosen), MOST_COLOURS
    yield "holes, slots and pads on a board", len(shape.features), MOST_FEATURES
    yield "loose pieces with a remedy", len(shape.islands), MOST_ISLANDS
    yield "LEDs on a board", sum(map(led_count, lights)), MOST_LEDS
    yield "groups in an array", max((len(array.groups) for array in lights), default=0), MOST_NAMES
