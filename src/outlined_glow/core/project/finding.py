"""A finding: what is wrong with a board, where, how much, and what to do."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

Severity = Literal["stop", "warning", "note"]
_RANK = {"stop": 0, "warning": 1, "note": 2}


@dataclass(frozen=True)
class Remedy:
    """Something to do about a finding; with an `edit` it can be done at once."""

    text: str
    edit: str | None = None
    values: tuple[tuple[str, Any], ...] = ()


@dataclass(frozen=True)
class Width:
    """How wide something is at a place, mm, and which way that is measured, degrees."""

    mm: float
    across_deg: float


@dataclass(frozen=True, kw_only=True)
class Finding:
    """Code, severity, sentence and, where there is one, place (board frame, mm), measure and rule.

    `stage` says whose bulb it breaks; `count` how many places of the kind stand behind it; `widths`, where they are
    about something too narrow, has one for each of the `places`; `board` is the name of its board, where there are several.
    Unless told, it is at the first of its places.
    """

    code: str
    severity: Severity
    stage: str
    text: str
    x_mm: float | None = None
    y_mm: float | None = None
    measured: float | None = None
    allowed: float | None = None
    layer: str | None = None
    remedies: tuple[Remedy, ...] = ()
    count: int = 1
    places: tuple[tuple[float, float], ...] = ()
    widths: tuple[Width, ...] = ()
    board: str = ""

    def __post_init__(self) -> None:
        if self.places and self.x_mm is None:
            object.__setattr__(self, "x_mm", self.places[0][0])
            object.__setattr__(self, "y_mm", self.places[0][1])

    @property
    def sentence(self) -> str:
        """The sentence, with the name of the board in front where there are several."""
        return f"{self.board}: {self.text}" if self.board else self.text


def some_of(names: Sequence[str], most: int = 4) -> str:
    """The first of some names for a sentence, and how many more there are.

    >>> some_of(["D1", "D2"]), some_of(["D1", "D2", "D3"], 2)
    ('D1, D2', 'D1, D2 and 1 more')
    """
    return ", ".join(names[:most]) + (f" and {len(names) - most} more" if len(names) > most else "")


def in_order(findings: list[Finding]) -> tuple[Finding, ...]:
    """Stops first, then warnings, then notes; the order within a severity is kept."""
    return tuple(sorted(findings, key=lambda finding: _RANK[finding.severity]))
