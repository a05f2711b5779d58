"""Patterns as pure functions of time and the table of LEDs. To add one, add a JSON file to `data/patterns`."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

import msgspec
import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from ..errors import Trouble
from ..project import Motion
from ..shipped import entries
from .formula import FUNCTIONS, Formula, read_formula
from .lamps import Lamps

Levels = NDArray[np.float64]

#: What a formula may read: the share of the period that has passed; the place of an LED in the chain, from 0; how many LEDs
#: there are; where it is on the board, mm from the lower left corner; its group, from 0, and how many groups there are.
_NAMES = ("phase", "place", "count", "x_mm", "y_mm", "group", "groups")
#: How often, and on how many LEDs, a new pattern is tried.
_TRIED_PHASES, _TRIED_COUNTS = 97, (1, 2, 7)


class _Entry(Struct, frozen=True, forbid_unknown_fields=True):
    """A pattern as its file has it: values worked out first, each of those before it, and the level."""

    level: str
    where: dict[str, str] = {}
    about: str = ""


@dataclass(frozen=True)
class Pattern:
    """How bright each LED is at each moment of a period."""

    name: str
    about: str
    _where: tuple[tuple[str, Formula], ...]
    _level: Formula

    def levels(self, lamps: Lamps, phases: Levels) -> Levels:
        """Levels (t, n), 0..1, at phases (t,), 0..1; dark where the formula has no value."""
        values: dict[str, Any] = {
            "phase": phases[:, None],
            "place": lamps.chain[None, :].astype(float),
            "count": np.float64(lamps.count),
            "x_mm": lamps.places[None, :, 0],
            "y_mm": lamps.places[None, :, 1],
            "group": lamps.group_numbers[None, :],
            "groups": np.float64(len(set(lamps.groups))),
        }
        for name, formula in self._where:
            values[name] = formula(values)
        level = np.asarray(self._level(values))
        if level.dtype.kind not in "fb":
            raise Trouble(f"The formula “{self._level.text}” has no level in it that is a plain number.")
        made = np.clip(np.nan_to_num(level.astype(float)), 0, 1)
        return np.broadcast_to(made, (len(phases), lamps.count)).copy()


@cache
def patterns() -> dict[str, Pattern]:
    """Every pattern by name. `Trouble` for one that cannot be."""
    return {name: _pattern(name, entry) for name, entry in entries("patterns", "patterns").items()}


def pattern_names() -> tuple[str, ...]:
    """The names of all patterns, as their files have them."""
    return tuple(entries("patterns", "patterns"))


def _pattern(name: str, entry: Any) -> Pattern:
    try:
        read, known, where = msgspec.convert(entry, _Entry), set(_NAMES), []
        for key, text in read.where.items():
            if not key.isidentifier() or key in known or key in FUNCTIONS:
                raise Trouble(f"“{key}” cannot be the name of a value.")
            where.append((key, read_formula(text, frozenset(known))))
            known.add(key)
        made = Pattern(name, read.about, tuple(where), read_formula(read.level, frozenset(known)))
        for count in _TRIED_COUNTS:
            made.levels(_row(count), np.linspace(0, 1, _TRIED_PHASES, endpoint=False))
    except (msgspec.ValidationError, Trouble) as error:
        raise Trouble(f"The pattern “{name}” is wrong: {str(error).rstrip('.')}.") from error
    return made


def _row(count: int) -> Lamps:
    """LEDs side by side, to try a pattern on."""
    at = np.arange(count)
    return Lamps(np.column_stack((at, at)).astype(float), ("",) * count, np.ones((count, 3)), np.ones(count), at)


def pattern(name: str) -> Pattern:
    """The pattern of that name, or `Trouble`."""
    found = patterns().get(name)
    if found is None:
        raise Trouble(f"There is no pattern “{name}”; there are {', '.join(patterns())}.")
    return found


def levels(motion: Motion, lamps: Lamps, times_s: Sequence[float] | Levels) -> Levels:
    """Levels (times, LEDs, channels), 0..1; they repeat every `period_s`. LEDs of one colour have one channel."""
    phases = (np.asarray(times_s, float) / motion.period_s) % 1.0
    if not lamps.count:
        return np.zeros((len(phases), 0, 1))
    return (pattern(motion.pattern).levels(lamps, phases) * motion.brightness)[..., None]


def still(motion: Motion, lamps: Lamps) -> Levels:
    """The level (n,) of each LED while no pattern plays: all on."""
    return np.full(lamps.count, motion.brightness)


def level_at(motion: Motion, lamps: Lamps, time_s: float) -> Levels:
    """The level (n,) of each LED at one moment."""
    return levels(motion, lamps, [time_s])[0, :, 0]


def one_period(motion: Motion, samples: int, ends: bool = False) -> Levels:
    """Moments (samples,) of one period, s: the middles of equal steps, or from end to end."""
    shares = np.linspace(0, 1, samples) if ends else (np.arange(samples) + 0.5) / samples
    return np.asarray(shares * motion.period_s, float)


def current_shares(motion: Motion, lamps: Lamps, times_s: Sequence[float] | Levels) -> Levels:
    """The share (times,) of the current of all LEDs fully on that flows at each moment; 0 without any."""
    whole = float(lamps.currents.sum())
    if whole <= 0:
        return np.zeros(len(times_s))
    return np.asarray(levels(motion, lamps, times_s)[..., 0] @ lamps.currents / whole, float)


def average_share(motion: Motion, lamps: Lamps, samples: int = 240) -> float:
    """The mean share of the full current over one period."""
    return float(current_shares(motion, lamps, one_period(motion, samples)).mean())


def peak_share(motion: Motion, lamps: Lamps, samples: int = 240) -> float:
    """The largest share of the full current at any moment."""
    return float(current_shares(motion, lamps, one_period(motion, samples)).max())
