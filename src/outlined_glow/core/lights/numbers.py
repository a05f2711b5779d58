"""The numbers of LEDs: given once, kept through every edit, never given to another.

An array keeps the numbers of its places as runs (first number, how many). Places it has none for get the next free ones
when the board is made; the edit that follows keeps those.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

import msgspec

from ..project import Array, Design

Runs = tuple[tuple[int, int], ...]


def numbers_in(runs: Runs) -> tuple[int, ...]:
    """The numbers of runs, one by one.

    >>> numbers_in(((1, 3), (9, 1)))
    (1, 2, 3, 9)
    """
    return tuple(number for first, count in runs for number in range(first, first + count))


def runs_of(numbers: Iterable[int]) -> Runs:
    """Numbers as runs.

    >>> runs_of((1, 2, 3, 9))
    ((1, 3), (9, 1))
    """
    out: list[tuple[int, int]] = []
    for number in numbers:
        if out and number == sum(out[-1]):
            out[-1] = (out[-1][0], out[-1][1] + 1)
        else:
            out.append((number, 1))
    return tuple(out)


class Numbers:
    """Gives the places of one array after the other their numbers."""

    def __init__(self, arrays: Sequence[Array], given: int) -> None:
        """`given` is the highest number that any LED of the board ever had."""
        self._next = 1 + max([given, *(number for array in arrays for number in numbers_in(array.numbers))])
        self.of_array: dict[str, tuple[int, ...]] = {}

    def of(self, array: Array, places: int) -> tuple[int, ...]:
        """The numbers of an array's places: those it has, then the next that are free."""
        known = numbers_in(array.numbers)[:places]
        missing = places - len(known)
        made = (*known, *range(self._next, self._next + missing))
        self._next += missing
        self.of_array[array.name] = made
        return made


def with_numbers(design: Design, of_array: Mapping[str, tuple[int, ...]]) -> Design:
    """The design with the numbers that its LEDs have; the same where nothing is new."""
    arrays = tuple(_kept(array, of_array.get(array.name, ())) for array in design.lights)
    highest = max([design.numbered, *(number for numbers in of_array.values() for number in numbers)])
    if highest == design.numbered and all(one is other for one, other in zip(arrays, design.lights, strict=True)):
        return design
    return msgspec.structs.replace(design, lights=arrays, numbered=highest)


def _kept(array: Array, numbers: tuple[int, ...]) -> Array:
    """An array that shrank keeps the numbers of the places it lost: they are theirs if they come again."""
    known = numbers_in(array.numbers)
    return array if len(numbers) <= len(known) else msgspec.structs.replace(array, numbers=runs_of(numbers))
