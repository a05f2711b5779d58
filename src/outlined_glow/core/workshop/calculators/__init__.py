"""The sums on their own: `calc NAME key=value …`. To add one: a function and its keys in the table of its subject."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ...errors import Trouble
from ...text_safety import short
from .boards import BOARDS
from .calculator import Calculator
from .currents import CURRENTS
from .times import TIMES

__all__ = ["CALCULATORS", "Calculator", "calculate"]
CALCULATORS: dict[str, Calculator] = {**CURRENTS, **TIMES, **BOARDS}


def calculate(name: str, words: Iterable[str]) -> dict[str, Any]:
    """Run a calculator on `key=value` words; `Trouble` for what it does not know."""
    one = CALCULATORS.get(name)
    if one is None:
        raise Trouble(f"There is no calculator “{short(name)}”; there are {', '.join(CALCULATORS)}.")
    values = dict(one.defaults)
    given: set[str] = set()
    for word in words:
        key, equals, text = word.partition("=")
        full, written_unit = _key(name, one, key)
        if not equals or full in given:
            raise Trouble(f"“{word}” is not key=value, or is given twice.")
        given.add(full)
        values[full] = one.params[full].parse(full, text, written_unit)
    missing = [key for key, param in one.params.items() if not param.optional and key not in given]
    if missing:
        raise Trouble(f"{name} needs {', '.join(missing)}.")
    return one.run(**values)


def _key(name: str, one: Calculator, word: str) -> tuple[str, bool]:
    if word in one.params:
        return word, False
    for key, param in one.params.items():
        if param.unit and key == f"{word}_{param.unit.lower()}":
            return key, True
    raise Trouble(f"{name} has no key “{short(word)}”; its keys are {', '.join(one.params)}.")
