"""Patterns as pure functions of the phase and of where an LED is. To add one, add an entry to a file of `data/patterns`."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

import msgspec
import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from ..errors import Trouble
from ..project import OwnPattern, Strip
from ..shipped import entries
from ..text_safety import short
from .formula import FUNCTIONS, Formula, read_formula
from .lamps import Lamps, plain_lamps
from .shades import palettes
from .way import Way, way_of
from .written import WRITTEN

Levels = NDArray[np.float64]

#: What a formula may read: the share of the period that has passed, and how many have passed before; the place of an LED on its
#: way, from 0, and how many places there are; the share of the way, 0 to 1; a number from 0 to 1 left to chance, of its own;
#: where it is on the board, mm from the lower left corner; its group, from 0, and how many groups there are.
_NAMES = ("phase", "round", "place", "count", "share", "chance", "x_mm", "y_mm", "group", "groups")
#: How often, and on how many LEDs, a new pattern is tried.
_TRIED_PHASES, _TRIED_COUNTS = 97, (1, 2, 7)


class Key(Struct, frozen=True, forbid_unknown_fields=True):
    """A number that a pattern takes: its usual value and its limits, its title where that is not its name, its unit."""

    value: float
    low: float
    high: float
    title: str = ""
    unit: str = ""


class _Entry(Struct, frozen=True, forbid_unknown_fields=True):
    """A pattern as its file has it: the numbers it takes, values worked out first, each of those before it, the level; where in
    a palette its colour is, and which palette that is unless another is chosen. What is `written` by code has no level."""

    level: str = ""
    written: str = ""
    about: str = ""
    keys: dict[str, Key] = {}
    where: dict[str, str] = {}
    colour: str = ""
    palette: str = ""


@dataclass(frozen=True)
class Pattern:
    """How bright each LED is at each moment of a period, and where in a palette its colour is."""

    name: str
    about: str
    written: str
    keys: Mapping[str, Key]
    palette: str
    _where: tuple[tuple[str, Formula], ...]
    _level: Formula | None
    _colour: Formula | None

    def levels(
        self, lamps: Lamps, way: Way, phases: Levels, rounds: Levels | None = None, keys: Mapping[str, Any] | None = None
    ) -> tuple[Levels, Levels | None]:
        """Levels (t, m), 0..1, at phases (t,), 0..1, of the LEDs on a way, dark where the formula has no value; and their
        places (t, m) in a palette, None where it has no colours."""
        values: dict[str, Any] = {
            "phase": phases[:, None],
            "round": np.zeros((1, 1)) if rounds is None else rounds[:, None],
            "place": way.place[None, :],
            "count": np.float64(way.count),
            "share": way.share[None, :],
            "chance": way.chance[None, :],
            "x_mm": lamps.places[None, way.rows, 0],
            "y_mm": lamps.places[None, way.rows, 1],
            "group": lamps.group_numbers[None, way.rows],
            "groups": np.float64(len(set(lamps.groups))),
        }
        values |= {name: np.asarray((keys or {}).get(name, key.value), float) for name, key in self.keys.items()}
        for name, formula in self._where:
            values[name] = formula(values)
        size = (len(phases), len(way.rows))
        if self._level is None:
            return np.zeros(size), None
        level = _numbers(self._level, values, size)
        np.clip(level, 0, 1, out=level)
        return level, None if self._colour is None else _numbers(self._colour, values, size)

    def checked(self, keys: Mapping[str, float]) -> None:
        """`Trouble` for a number that the pattern does not take, or beyond its limits."""
        for name, value in keys.items():
            if name not in self.keys:
                known = ", ".join(self.keys) or "none"
                raise Trouble(f"“{self.name}” takes no “{short(name)}”; the numbers it takes: {known}.")
            key = self.keys[name]
            if not key.low <= value <= key.high:
                raise Trouble(f"{name} of “{self.name}” must be between {key.low:g} and {key.high:g}, not {value:g}.")


def _numbers(formula: Formula, values: Mapping[str, Any], size: tuple[int, int]) -> Levels:
    found = np.asarray(formula(values))
    if found.dtype.kind not in "fb":
        raise Trouble(f"The formula “{formula.text}” has no value in it that is a plain number.")
    if (
        found.shape == size
        and found.dtype == np.float64
        and found.base is None
        and not any(found is one for one in values.values())
    ):
        out: Levels = found  # made for this alone
    else:
        out = np.empty(size)
        out[...] = found
    # A sum is infinite, or none, where any of its numbers is: it takes no memory to look.
    if not np.isfinite(out.sum()):
        np.nan_to_num(out, copy=False)
    return out


@cache
def patterns() -> dict[str, Pattern]:
    """Every pattern by name. `Trouble` for one that cannot be."""
    return {name: _pattern(name, entry) for name, entry in entries("patterns", "patterns").items()}


def pattern_names() -> tuple[str, ...]:
    """The names of all patterns, as their files have them."""
    return tuple(entries("patterns", "patterns"))


def _pattern(name: str, entry: Any) -> Pattern:
    try:
        read = msgspec.convert(entry, _Entry)
        known, where = set(_NAMES), []
        for key in (*read.keys, *read.where):
            if not key.isidentifier() or key in known or key in FUNCTIONS:
                raise Trouble(f"“{key}” cannot be the name of a value.")
            if key in read.where:
                where.append((key, read_formula(read.where[key], frozenset(known))))
            known.add(key)
        if read.palette and read.palette not in palettes():
            raise Trouble(f"There is no palette “{read.palette}”.")
        level, colour = (read_formula(one, frozenset(known)) if one else None for one in (read.level, read.colour))
        if (level is None) != (read.written in WRITTEN):
            raise Trouble("It has no level, or is written by no code there is.")
        made = Pattern(name, read.about, read.written, read.keys, read.palette, tuple(where), level, colour)
        for count in _TRIED_COUNTS:
            at = np.arange(count)
            lamps = plain_lamps(np.column_stack((at, at)).astype(float), ("",) * count)
            made.levels(lamps, way_of(Strip(number=1), lamps), np.linspace(0, 1, _TRIED_PHASES, endpoint=False))
    except (msgspec.ValidationError, Trouble) as error:
        raise Trouble(f"The pattern “{name}” is wrong: {str(error).rstrip('.')}.") from error
    return made


def pattern(name: str, own: Sequence[OwnPattern] = ()) -> Pattern:
    """The pattern of that name, of those that ship or of a project's `own`, or `Trouble`."""
    found = patterns().get(name)
    if found is None:
        mine = next((one for one in own if one.name == name), None)
        if mine is None:
            names = [*patterns(), *(one.name for one in own)]
            raise Trouble(f"There is no pattern “{short(name)}”; there are {', '.join(names)}.")
        found = own_pattern(mine)
    return found


def own_pattern(one: OwnPattern) -> Pattern:
    """A pattern of a project's own. `Trouble` for one that cannot be."""
    text = msgspec.json.encode(one)
    if text not in _OWN:
        entry = {
            "level": one.level, "about": one.about, "where": dict(one.where), "colour": one.colour, "palette": one.palette,
            "keys": {key: {"value": value, "low": low, "high": high} for key, value, low, high in one.keys},
        }  # fmt: skip
        if one.name in pattern_names():
            raise Trouble(f"A pattern “{one.name}” ships already; give yours another name.")
        if len(_OWN) > 200:
            _OWN.clear()
        _OWN[text] = _pattern(one.name, entry)
    return _OWN[text]


#: Patterns of projects, by their text.
_OWN: dict[bytes, Pattern] = {}
