"""The sums on their own: `calc NAME key=value …`. To add one: a function and its keys in the table of its subject."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from ...errors import Trouble
from ...project import Param
from ...text_safety import short
from ...units import show_si
from .boards import BOARDS
from .calculator import Calculator
from .currents import CURRENTS
from .times import TIMES

__all__ = ["CALCULATORS", "Calculator", "StillNeeded", "answer_words", "calculate", "words_of"]
CALCULATORS: dict[str, Calculator] = {**CURRENTS, **TIMES, **BOARDS}


class StillNeeded(Trouble):
    """Keys of a calculator that have to be given and are not yet."""

    def __init__(self, sentence: str, keys: list[str]) -> None:
        super().__init__(sentence)
        self.keys = keys


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
        raise StillNeeded(f"{name} needs {', '.join(missing)}.", missing)
    return one.run(**values)


def _key(name: str, one: Calculator, word: str) -> tuple[str, bool]:
    if word in one.params:
        return word, False
    for key, param in one.params.items():
        if param.unit and key == f"{word}_{param.unit.lower()}":
            return key, True
    raise Trouble(f"{name} has no key “{short(word)}”; its keys are {', '.join(one.params)}.")


def words_of(key: str, param: Param) -> str:
    """What a key is called: its words, and its unit.

    >>> params = CALCULATORS["series-resistor"].params
    >>> words_of("supply_v", params["supply_v"]), words_of("current_a", params["current_a"])
    ('supply voltage, V', 'current, A')
    """
    stem, _, end = key.rpartition("_")
    unit = param.unit or ({"k": "K", "um": "µm", "ah": "Ah"}.get(end, "") if stem else "")
    known = stem if unit and stem and end.lower() == unit.lower().replace("µ", "u") else key
    kind = {"V": "voltage", "A": "current"}.get(unit, "")
    more = f" {kind}" if kind and kind not in known else ""
    return f"{known.replace('_', ' ')}{more}{', ' + _shown(unit) if unit else ''}"


def answer_words(answer: Mapping[str, Any]) -> list[tuple[str, str]]:
    """An answer as rows to read: what each figure is called, and the figure with its unit.

    >>> answer_words({"ideal_ohm": 375.0, "ended_by": "light", "pins": 7})
    [('ideal', '375 Ω'), ('ended by', 'light'), ('pins', '7')]
    """
    rows = []
    for key, value in answer.items():
        stem, _, end = key.rpartition("_")
        unit = _UNITS.get(end, "") if stem else ""
        if key == "others":
            # Timers that are nearly as good: R1, R2 and C of each.
            rows += [("or", f"{show_si(r1, 'Ω')}, {show_si(r2, 'Ω')}, {show_si(c, 'F')}") for r1, r2, c in value]
            continue
        if isinstance(value, list):
            if value and all(isinstance(one, int) for one in value):
                more = " …" if len(value) > _SHOWN_OF_LIST else ""
                rows.append((key, ", ".join(map(str, value[:_SHOWN_OF_LIST])) + more))
            continue
        if not isinstance(value, float):
            rows.append((key.replace("_", " "), str(value)))
        elif unit in ("Ω", "A", "V", "W", "F", "s", "Hz"):
            rows.append((stem.replace("_", " "), show_si(value, unit)))
        else:
            rows.append((stem.replace("_", " ") if unit else key.replace("_", " "), f"{value:.5g} {unit}".rstrip()))
    return rows


#: So many numbers of a list are shown.
_SHOWN_OF_LIST = 16
#: The unit that the end of a key stands for.
_UNITS = {
    "ohm": "Ω", "a": "A", "v": "V", "w": "W", "f": "F", "s": "s", "hz": "Hz", "mm": "mm", "deg": "°", "h": "h", "fps": "1/s",
    "cm": "1/cm",
}  # fmt: skip


def _shown(unit: str) -> str:
    return {"ohm": "Ω", "deg": "°"}.get(unit, unit)
