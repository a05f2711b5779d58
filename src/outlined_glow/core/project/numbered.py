"""Things of a project that are known by their number: pictures, words, features. Numbers count from 1."""

from __future__ import annotations

from typing import TypeVar

from ..errors import Trouble

Thing = TypeVar("Thing")


def numbered(things: tuple[Thing, ...], number: int, name: str) -> Thing:
    """The thing of that number; `Trouble` names it and says how many there are."""
    if 1 <= number <= len(things):
        return things[number - 1]
    there = {0: "there is none", 1: "there is 1"}.get(len(things), f"there are {len(things)}")
    raise Trouble(f"There is no {name} {number}; {there}.")


def exchanged(things: tuple[Thing, ...], number: int, *instead: Thing) -> tuple[Thing, ...]:
    """All of them with others in the place of one; without others that one is left out."""
    return (*things[: number - 1], *instead, *things[number:])
