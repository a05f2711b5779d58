"""What a calculator is: its keys, what they are unless told, where its formula comes from, and the sum."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from ...drive.timing import Spread
from ...project import Param

#: Above nothing.
POSITIVE = 1e-12


@dataclass(frozen=True)
class Takes:
    """What of an answer can be taken into a design: by which edit and key, which figure, and what that is called."""

    edit: str
    key: str
    of: str
    words: str


@dataclass(frozen=True)
class Calculator:
    """Keys with their types, defaults (None: needed, or optional as `about` says), the source of the formula, and what of the
    answer a design takes."""

    about: str
    source: str
    params: Mapping[str, Param]
    defaults: Mapping[str, Any]
    run: Callable[..., dict[str, Any]]
    takes: Takes | None = None
    #: How what the answer is about spreads over many that are built, where that can be shown.
    spread: Callable[[Mapping[str, Any]], Spread] | None = None


def needed(unit: str, most: float, least: float = POSITIVE) -> Param:
    """A quantity that has to be told."""
    return Param("quantity", unit, least, most, optional=False)


def told(unit: str, most: float, least: float = POSITIVE) -> Param:
    """A quantity that may be told."""
    return Param("quantity", unit, least, most)


def count(most: int = 100_000, optional: bool = False) -> Param:
    """How many."""
    return Param("count", "", 1, most, optional=optional)
