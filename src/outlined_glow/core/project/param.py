"""What a key of an edit takes: its type, unit and range; from the text of a command line, and checked."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from glob import glob
from pathlib import Path
from typing import Any, Literal, NoReturn

from ..errors import Trouble
from ..text_safety import printable, short
from ..units import parse_quantity, show_si

Kind = Literal[
    "quantity", "count", "choice", "text", "flag", "colour", "path", "points", "numbers", "names", "picture", "pictures", "list"
]
_MOST_BYTES, _MOST_NUMBER = 200_000_000, 20_000


@dataclass(frozen=True)
class PictureFile:
    """The bytes of a picture and the name they came under."""

    name: str
    data: bytes = field(repr=False)

    def __str__(self) -> str:
        return self.name


def read_bytes(path: Path) -> bytes:
    """A file's bytes, or `Trouble` if there are none to be had, or more than a picture has."""
    try:
        if path.exists() and not path.is_file():
            raise Trouble(f"“{path}” is not a file; give a picture.")
        if path.stat().st_size > _MOST_BYTES:
            raise Trouble(f"“{path}” is larger than {_MOST_BYTES // 1_000_000} MB; simplify or shrink the picture.")
        return path.read_bytes()
    except OSError as error:
        raise Trouble(f"“{path}” cannot be read: {error.strerror}.") from error


def sorted_names(text: str) -> list[str]:
    """Files as they are written: names with commas between them, or with * and ? in them; those by their numbers."""
    out: list[str] = []
    for word in text.split(","):
        name = word.strip()
        found = sorted(glob(name), key=in_order) if any(sign in name for sign in "*?") else [name]
        if not found:
            raise Trouble(f"There is no file “{short(name)}”.")
        out += found
    return [name for name in out if name]


def in_order(name: str) -> list[tuple[int, str]]:
    """A key that sorts names with numbers in them as people do: frame 9 before frame 10."""
    return [(int(part), "") if part.isdecimal() else (-1, part) for part in re.split(r"(\d+)", name)]


@dataclass(frozen=True)
class Param:
    """One key of an edit: its type, unit and range.

    `axis` marks a place: its value is stored in the picture frame and told in the board frame. What the window calls it is
    its `title`, with the `titles` of the words of a choice where they are others; `shown` is the unit there where it is not
    that of the key, `step` what an arrow key adds in that unit, `digits` how many follow the point.
    """

    kind: Kind
    unit: str = ""
    low: float = -math.inf
    high: float = math.inf
    choices: Callable[[], tuple[str, ...]] | tuple[str, ...] = ()
    optional: bool = True
    axis: Literal["", "x", "y", "xy"] = ""
    title: str = ""
    titles: tuple[tuple[str, str], ...] = ()
    shown: str | None = None
    step: float = 1.0
    digits: int = 2
    #: Other words than its choices may be meant; the edit knows which.
    others: bool = False

    def options(self) -> tuple[str, ...]:
        """The words a choice may take."""
        return self.choices() if callable(self.choices) else self.choices

    def parse(self, key: str, text: str, written_unit: bool) -> Any:
        """A value from the command line; `written_unit` when the key came without its unit."""
        if self.kind == "quantity":
            bare = self.unit or None
            if written_unit and self.unit == "mm" and _is_bare(text):
                value = parse_quantity(text, "mm", bare="m")
            else:
                value = parse_quantity(text, self.unit, bare=bare)
            if not self.low <= value <= self.high:
                self._out_of_range(key, text, value, written_unit)
            return self.check(key, value)
        if self.kind == "count":
            try:
                return self.check(key, int(text))
            except ValueError:
                raise Trouble(f"{key} must be a whole number, not “{text}”.") from None
        if self.kind == "flag":
            words = {"yes": True, "on": True, "true": True, "1": True, "no": False, "off": False, "false": False, "0": False}
            if text.lower() not in words:
                raise Trouble(f"{key} must be yes or no, not “{text}”.")
            return words[text.lower()]
        if self.kind == "picture":
            return PictureFile(Path(text).name, read_bytes(Path(text)))
        if self.kind == "pictures":
            names = sorted_names(text)
            return self.check(key, tuple(PictureFile(Path(name).name, read_bytes(Path(name))) for name in names))
        if self.kind == "points":
            return self.check(
                key, tuple(tuple(parse_quantity(word, "mm", bare="mm") for word in pair.split(",")) for pair in text.split())
            )
        if self.kind == "numbers":
            return self.check(key, _numbers(key, text))
        if self.kind == "list":
            # That none are listed is something else than that nothing is said of them.
            return (
                () if text.strip().lower() == "none" and self.optional else self.check(key, _quantities(key, text, self.unit))
            )
        if self.kind == "names":
            return self.check(key, tuple(word.strip() for word in text.split(",") if word.strip()))
        return self.check(key, text)

    def check(self, key: str, value: Any) -> Any:
        """The value, if it is of the right type and in range; otherwise `Trouble`."""
        if value is None and self.optional:
            return None
        if self.kind in ("quantity", "count"):
            return self._number(key, value)
        if self.kind == "choice" and self.others and isinstance(value, str) and 0 < len(value.strip()) <= 80:
            return printable(value, " ")
        if self.kind == "choice" and value not in self.options():
            raise Trouble(f"{key} cannot be “{value}”; it is one of {', '.join(self.options())}.")
        if self.kind == "colour" or (self.kind == "path" and value not in PATHS):
            return _colour(key, value)
        if self.kind == "points":
            return _points(key, value)
        if self.kind == "numbers" and not (value and all(type(one) is int and 1 <= one <= _MOST_NUMBER for one in value)):
            raise Trouble(f"{key} must be whole numbers from 1 to {_MOST_NUMBER:,}.")
        if self.kind == "text":
            return _text(key, value)
        if self.kind == "names":
            return tuple(_text(key, one) for one in value)
        if self.kind == "list":
            return tuple(self._number(key, one) for one in value)
        if self.kind == "picture" and not isinstance(value, PictureFile):
            raise Trouble(f"{key} must be a picture file.")
        if self.kind == "pictures" and not (value and all(isinstance(one, PictureFile) for one in value)):
            raise Trouble(f"{key} must be picture files, with commas between them.")
        if self.kind == "flag" and not isinstance(value, bool):
            raise Trouble(f"{key} must be yes or no.")
        return value

    def _number(self, key: str, value: Any) -> Any:
        good = isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)
        if not good or not self.low <= value <= self.high:
            raise Trouble(f"{key} must be {self._range()}, not {short(str(value))}.")
        return int(value) if self.kind == "count" else float(value)

    def _range(self) -> str:
        """From lowest to highest, in the unit a person would write."""
        if math.isfinite(self.high):
            low = _as_written(self.low, self.unit) if self.unit in _PREFIXED else f"{self.low:g}"
            return f"between {low} and {_as_written(self.high, self.unit)}"
        return f"{_as_written(self.low, self.unit)} or more" if math.isfinite(self.low) else "a number"

    def _out_of_range(self, key: str, text: str, value: float, written_unit: bool) -> NoReturn:
        """A number without a unit is most often meant in a thousandth of the one it is taken in: say so."""
        typed = key.rpartition("_")[0] if written_unit else key
        hint = ""
        if _is_bare(text) and self.unit in _THOUSANDTH and self.low <= value / 1000 <= self.high:
            hint = f" Did you mean {typed}={text.strip()}{_THOUSANDTH[self.unit]}?"
        means = f"{typed}={short(text)} means {_as_written(value, self.unit)}. " if math.isfinite(value) else ""
        raise Trouble(f"{means}{typed} must be {self._range()}.{hint}")

    def describe(self) -> str:
        """The range in words, for `edit --list`."""
        if self.kind in ("choice",):
            return "|".join(self.options())
        if self.kind == "list":
            return f"[number,number,…] {self.unit}".rstrip() + "|none" * self.optional
        if self.kind in ("quantity", "count"):
            unit = f" {self.unit}" if self.unit else ""
            return f"{self.low:g}..{self.high:g}{unit}" if math.isfinite(self.high) else f"number{unit}"
        return {
            "flag": "yes|no", "colour": "RRGGBB", "path": "|".join((*PATHS, "RRGGBB")),
            "points": "x,y x,y …", "numbers": "1,2,5-8", "names": "name,name,…", "picture": "a file",
        }.get(self.kind, "text")  # fmt: skip


def _text(key: str, value: Any) -> str:
    told = printable(value, " ") if isinstance(value, str) else ""
    if not 0 < len(told.strip()) <= 200:
        raise Trouble(f"{key} must be a text of 1 to 200 characters.")
    return told


#: What LEDs may run along, beside the colours.
PATHS = ("silhouette", "board")
#: What a number without its unit was most likely meant in.
_THOUSANDTH = {"A": "mA", "mm": "mm", "F": "mF", "s": "ms", "V": "mV"}


#: Units that are written with a prefix.
_PREFIXED = ("A", "V", "F", "s", "W", "Hz")


def _as_written(value: float, unit: str) -> str:
    """A limit as people write it: prefixes for electrical units and times, long times in hours."""
    if unit == "s" and value >= 3600:
        return f"{value / 3600:g} h"
    if unit in _PREFIXED and value:
        return show_si(value, unit)
    return f"{value:g}{' ' if unit else ''}{unit}"


def _is_bare(text: str) -> bool:
    try:
        float(text.replace(",", "."))
    except ValueError:
        return False
    return True


def _colour(key: str, value: Any) -> str:
    text = str(value).lstrip("#").upper()
    if len(text) != 6 or any(letter not in "0123456789ABCDEF" for letter in text):
        raise Trouble(f"{key} must be a colour as six hexadecimal digits, not “{value}”.")
    return text


def _points(key: str, value: Any) -> tuple[tuple[float, float], ...]:
    points = tuple(tuple(float(one) for one in point) for point in value)
    good = 2 <= len(points) <= 200 and all(len(one) == 2 and all(abs(at) <= 1e4 for at in one) for one in points)
    if not good:
        raise Trouble(f"{key} must be 2 to 200 places such as 10,20 30,25, in mm.")
    return points  # type: ignore[return-value]


def _quantities(key: str, text: str, unit: str) -> tuple[float, ...]:
    """Quantities in brackets or without, with commas between them: [1e-6,3.3e-6] or 1u,3.3u."""
    words = [word for word in text.strip().removeprefix("[").removesuffix("]").split(",") if word.strip()]
    if not 0 < len(words) <= 1000:
        raise Trouble(f"{key} must be 1 to 1,000 numbers such as [1e-6,3.3e-6].")
    return tuple(parse_quantity(word.strip(), unit, bare=unit or None) for word in words)


def _numbers(key: str, text: str) -> tuple[int, ...]:
    """Whole numbers and stretches of them: 1,2,5-8."""
    out: list[int] = []
    for word in text.split(","):
        first, _, last = word.strip().partition("-")
        if not (first.isdecimal() and (last or first).isdecimal() and 1 <= int(first) <= int(last or first) <= _MOST_NUMBER):
            raise Trouble(f"{key} must be numbers such as 1,2,5-8, not “{short(text)}”.")
        out += range(int(first), int(last or first) + 1)
    return tuple(dict.fromkeys(out))
