"""Values that come in while a score plays, line by line (CSV, JSON lines). What is wrong is told; the last good value stays."""

from __future__ import annotations

import json
import math
from collections.abc import Iterable
from dataclasses import dataclass, field

import msgspec

from ..errors import Trouble
from ..project import Motion
from ..text_safety import short
from .feeds import MOST_POINTS, NEVER_S, cells_of

#: So many faults are told one by one.
_TOLD = 5


@dataclass
class Heard:
    """Moments (s) and values of each feed by its name, as they came; how many lines could not be used, and why."""

    values: dict[str, list[tuple[float, float]]]
    faults: list[str] = field(default_factory=list)
    wrong: int = 0
    last_s: float = -math.inf

    def fault(self, number: int, why: str) -> None:
        """A line that cannot be used."""
        self.wrong += 1
        if self.wrong <= _TOLD:
            self.faults.append(f"Line {number} {why}; the last good value stays.")

    @property
    def count(self) -> int:
        """How many values came."""
        return sum(len(rows) for rows in self.values.values())


def hear(lines: Iterable[str], names: tuple[str, ...], until_s: float) -> Heard:
    """Read lines until they end, or tell of a moment after `until_s`. CSV: a moment and a value, or a head that names feeds;
    JSON: an object with t and a value under the name of a feed, or under `value` where there is one feed."""
    if not names:
        raise Trouble("The score has no feed that values could be for; make one first (set-feed).")
    heard = Heard({name: [] for name in names})
    columns: tuple[str, ...] = names[:1] if len(names) == 1 else ()
    for number, line in enumerate(lines, 1):
        text = line.strip("\ufeff \t\r\n")
        if not text:
            continue
        row: tuple[float, dict[str, float]] | None = None
        if text[0] in "{[":
            row = _of_object(heard, number, text, names)
        else:
            cells = cells_of(text)
            if not heard.count and any(cell in names for cell in cells):
                columns = tuple(cells[1:])
                continue
            row = _of_cells(heard, number, cells, columns, names)
        if row is None:
            continue
        moment, values = row
        if moment > until_s:
            break
        if moment < heard.last_s:
            heard.fault(number, f"is of {moment:g} s, and {heard.last_s:g} s has passed")
            continue
        heard.last_s = moment
        for name, value in values.items():
            heard.values[name].append((moment, value))
        if heard.count >= MOST_POINTS:
            heard.faults.append(f"More than {MOST_POINTS:,} values came; those after {moment:g} s are not used.")
            break
    if not heard.count:
        why = f" {heard.faults[0]}" if heard.faults else ""
        raise Trouble(f"No value came that could be used.{why}")
    if heard.wrong > _TOLD:
        heard.faults.append(f"{heard.wrong - _TOLD} more lines could not be used.")
    if heard.last_s < until_s:
        heard.faults += [
            f"“{name}” stopped at {rows[-1][0]:g} s; its last value plays on."
            for name, rows in heard.values.items()
            if rows and rows[-1][0] < min(until_s, heard.last_s) + 1e-9
        ]
    return heard


def with_heard(motion: Motion, heard: Heard) -> Motion:
    """A motion whose feeds are as they were heard; what did not come is as it was."""
    feeds = tuple(
        msgspec.structs.replace(one, kind="recorded", points=tuple(heard.values[one.name]), timeout_s=one.timeout_s or NEVER_S)
        if heard.values.get(one.name)
        else one
        for one in motion.feeds
    )
    return msgspec.structs.replace(motion, feeds=feeds)


def _of_object(heard: Heard, number: int, text: str, names: tuple[str, ...]) -> tuple[float, dict[str, float]] | None:
    try:
        one = json.loads(text)
    except (ValueError, RecursionError):
        heard.fault(number, "is half a line, or no JSON")
        return None
    if not isinstance(one, dict) or "t" not in one:
        heard.fault(number, "has no t, the moment in s")
        return None
    given = {name: one[name] for name in names if name in one}
    if "value" in one:
        name = one.get("feed", names[0] if len(names) == 1 else "")
        if name in names:
            given[name] = one["value"]
    return _checked(heard, number, one["t"], given)


def _of_cells(
    heard: Heard, number: int, cells: list[str], columns: tuple[str, ...], names: tuple[str, ...]
) -> tuple[float, dict[str, float]] | None:
    if not columns:
        raise Trouble(f"There are several feeds: begin with a line that names them, such as t,{','.join(names)}.")
    if len(cells) < 1 + len(columns):
        heard.fault(number, "is half a line: a moment and a value are wanted, such as 12.5,3.1")
        return None
    given: dict[str, object] = {name: cell for name, cell in zip(columns, cells[1:], strict=False) if name in names and cell}
    return _checked(heard, number, cells[0], given)


def _checked(heard: Heard, number: int, moment: object, given: dict[str, object]) -> tuple[float, dict[str, float]] | None:
    """The moment and the values as numbers, None where one is no finite number."""
    out = {}
    for name, value in (("t", moment), *given.items()):
        try:
            if isinstance(value, bool):
                raise ValueError
            out[name] = float(value)  # type: ignore[arg-type]
            good = math.isfinite(out[name])
        except (TypeError, ValueError, OverflowError):
            good = False
        if not good:
            heard.fault(number, f"has “{short(str(value), 20)}”, which is no finite number")
            return None
    if not given:
        heard.fault(number, "has no value for a feed of the score")
        return None
    return out.pop("t"), out
