"""Declared passes from project to board and to findings: what each reads, what it makes of that, and the memory that runs
only those that read something new.

To add one: write a pure function where it belongs, declare a `Pass` with the names of what it reads beside it, and put it in
the table it is run from (`workshop/board_passes.py` for the board, `order/check.py` for findings).
"""

from __future__ import annotations

import dataclasses
from collections import deque
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import cache
from typing import Any

import msgspec

from .watch import ALONE, Watch

#: Values that are the same when they are equal; anything else only when it is the same object, or of the same parts.
_VALUES = (str, int, float, bool, bytes, date, type(None), msgspec.Struct)


@dataclass(frozen=True)
class Pass:
    """One pass: its name, which is that of its result; the names of what it reads, in the order of its arguments.

    With `each`, it runs once for every item of those values, which are tuples of one length, and makes a tuple. What is read
    `aside` comes last and is not compared: something else that is read stands for it. A `watched` one takes a `Watch` as
    its last argument. `weight` is its share of the whole work as progress is told, `words` what is done meanwhile. `kept`
    is how many of its results are remembered, where they are too large to keep as many as of others.
    """

    name: str
    reads: tuple[str, ...]
    run: Callable[..., Any]
    each: tuple[str, ...] = ()
    aside: tuple[str, ...] = ()
    watched: bool = False
    weight: float = 1.0
    words: str = ""
    kept: int | None = None

    @property
    def needs(self) -> tuple[str, ...]:
        """Everything it is given."""
        return (*self.each, *self.reads, *self.aside)


def same(one: Any, other: Any) -> bool:
    """Whether a pass would make the same of both: equal values, and tuples, mappings and dataclasses of the same parts.

    Geometry, arrays and functions are the same only when they are the same object: to compare them costs as much as to make
    them anew.
    """
    if one is other:
        return True
    kind = type(one)
    if kind is not type(other):
        return False
    if isinstance(one, _VALUES):
        return bool(one == other)
    if isinstance(one, tuple):
        return len(one) == len(other) and all(map(same, one, other))
    if isinstance(one, dict):
        return one.keys() == other.keys() and all(same(value, other[key]) for key, value in one.items())
    names = _fields_of(kind)  # type: ignore[arg-type]
    return names is not None and all(same(getattr(one, name), getattr(other, name)) for name in names)


@cache
def _fields_of(kind: type) -> tuple[str, ...] | None:
    """The names of the fields of a dataclass; None of any other class."""
    return tuple(field.name for field in dataclasses.fields(kind)) if dataclasses.is_dataclass(kind) else None


class Memory:
    """The latest results of every pass, each with what it was made from."""

    def __init__(self, kept: int = 8) -> None:
        self.kept = kept
        self._known: dict[str, deque[tuple[tuple[Any, ...], Any]]] = {}
        #: How often each pass ran, by name: what an edit cost.
        self.runs: dict[str, int] = {}

    def run(self, passes: Sequence[Pass], given: Mapping[str, Any], watch: Watch = ALONE) -> dict[str, Any]:
        """What is given and the result of every pass, by name. `Cancelled` between two passes, once nobody waits any more."""
        values = dict(given)
        whole, done = sum(one.weight for one in passes), 0.0
        for one in passes:
            part = watch.part(done / whole, (done + one.weight) / whole, one.words)
            part.at(0.0)
            values[one.name] = self._each(one, values, part) if one.each else self._one(one, (), values, part, 1)
            done += one.weight
        return values

    def knows(self, name: str, read: tuple[Any, ...]) -> bool:
        """Whether a pass ran on that lately."""
        return any(same(before, read) for before, _ in tuple(self._known.get(name, ())))

    def forget(self, name: str) -> None:
        """Have a pass run again, whatever it reads."""
        self._known.pop(name, None)

    def _each(self, one: Pass, values: Mapping[str, Any], watch: Watch) -> tuple[Any, ...]:
        rows = list(zip(*(values[name] for name in one.each), strict=True))
        many = len(rows)
        return tuple(self._one(one, row, values, watch.part(at / many, (at + 1) / many), many) for at, row in enumerate(rows))

    def _one(self, one: Pass, row: tuple[Any, ...], values: Mapping[str, Any], watch: Watch, many: int) -> Any:
        read = (*row, *(values[name] for name in one.reads))
        known = self._known.setdefault(one.name, deque())
        for at, (before, result) in enumerate(known):
            if same(before, read):
                if at:
                    del known[at]
                    known.appendleft((read, result))
                return result
        aside = tuple(values[name] for name in one.aside)
        result = one.run(*read, *aside, watch) if one.watched else one.run(*read, *aside)
        self.runs[one.name] = self.runs.get(one.name, 0) + 1
        # What comes out as before stays the same object, so that what reads it need not run.
        result = next((before for _, before in known if same(before, result)), result)
        known.appendleft((read, result))
        while len(known) > (one.kept or self.kept) * many:
            known.pop()
        return result


def leading_to(passes: Sequence[Pass], names: Sequence[str]) -> tuple[Pass, ...]:
    """Those of a table that some results need, in their order."""
    wanted, out = set(names), []
    for one in reversed(passes):
        if one.name in wanted:
            wanted.update(one.needs)
            out.append(one)
    return tuple(reversed(out))


def unmet(passes: Sequence[Pass], given: Sequence[str]) -> list[str]:
    """What is wrong with a table: passes that read what nobody made before them, and names made twice."""
    there, wrong = set(given), []
    for one in passes:
        wrong += [f"{one.name} reads {name}" for name in one.needs if name not in there]
        wrong += [f"{one.name} is made twice"] if one.name in there else []
        there.add(one.name)
    return wrong
