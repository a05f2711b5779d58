"""A part as a file of its own (JSON): read, and refused with the line that is wrong."""

from __future__ import annotations

import json
import re
from typing import Any, TypeVar

import msgspec

from ..errors import Trouble
from ..text_safety import printable, short
from .part import Part, wrong_with

Value = TypeVar("Value")
_MOST_BYTES = 1_000_000
_LONGEST_NAME = 60
#: A token of JSON: a string, a sign, or anything else up to the next one.
_TOKEN = re.compile(r'"(?:[^"\\]|\\.)*"|[{}\[\]:,]|[^\s{}\[\]:,"]+|\n')


def checked(entry: dict[str, Any]) -> Part:
    """The part of an entry of the library. `Trouble` names what is wrong with it."""
    try:
        one = msgspec.convert(entry, Part)
    except msgspec.ValidationError as error:
        raise Trouble(f"The part “{short(str(entry.get('name', '')))}” is wrong: {error}.") from error
    wrong = wrong_with(one)
    if wrong is not None:
        raise Trouble(f"The part “{short(one.name)}” is wrong: {wrong}.")
    return one


def read_part(data: bytes) -> Part:
    """The part of a file. `Trouble` names the line that is wrong."""
    one = read_struct(data, Part, "part", "name, kind, pins and pads")
    if not one.name.strip() or len(one.name) > _LONGEST_NAME or one.name != printable(one.name):
        raise Trouble(f"A part's name has 1 to {_LONGEST_NAME} letters; this one is “{short(one.name)}”.")
    wrong = wrong_with(one)
    if wrong is not None:
        raise Trouble(f"The part file is wrong: {wrong}.")
    return one


def read_struct(data: bytes, kind: type[Value], noun: str, keys: str) -> Value:
    """A value of some kind from a file (JSON); what it is called and which keys it must have is told where it is wrong, with
    the line."""
    if len(data) > _MOST_BYTES:
        raise Trouble(
            f"The {noun} file is {len(data) / 1e6:.1f} MB large; a {noun} takes {_MOST_BYTES // 1_000_000} MB at most."
        )

    def no_number(word: str) -> Any:
        raise Trouble(f"The {noun} file has “{word}” in it, which is no number.")

    try:
        text = data.decode("utf-8-sig")
        entry = json.loads(text, parse_constant=no_number)
    except UnicodeDecodeError as error:
        raise Trouble(f"The {noun} file is not a text in UTF-8.") from error
    except json.JSONDecodeError as error:
        raise Trouble(f"The {noun} file cannot be read in line {error.lineno}: {error.msg}.") from error
    except RecursionError as error:
        raise Trouble(f"The {noun} file cannot be read: it is nested too deep.") from error
    if not isinstance(entry, dict):
        raise Trouble(f"The {noun} file holds no {noun}: it must begin with {{ and have {keys}.")
    try:
        return msgspec.convert(entry, kind)
    except msgspec.ValidationError as error:
        what, _, path = str(error).partition(" - at `")
        line = _line_of(text, path.rstrip("`"), what)
        raise Trouble(f"The {noun} file is wrong in line {line}: {what.replace('Object', f'the {noun}')}.") from error


def part_file(one: Part) -> bytes:
    """A part as the file that `read_part` reads."""
    told = msgspec.to_builtins(one)
    needed = {field.name for field in msgspec.structs.fields(Part) if field.required}
    plain = {key: value for key, value in told.items() if key in needed or value not in (None, "", [], {})}
    return (json.dumps(plain, indent=1, ensure_ascii=False) + "\n").encode()


def _line_of(text: str, path: str, what: str) -> int:
    """The line where a place such as `$.pads[1].x_mm` stands, or where the unknown key of `what` does."""
    unknown = re.search(r"unknown field `(.*)`", what)
    steps: list[str | int] = [int(number) if number else key for key, number in re.findall(r"\.([^.\[]+)|\[(\d+)\]", path)]
    if unknown:
        steps.append(unknown.group(1))
    return _Walker(text).line(steps)


class _Walker:
    """Goes through JSON that is known to be good, counting lines."""

    def __init__(self, text: str) -> None:
        self._tokens = _TOKEN.findall(text)
        self._at, self._line = 0, 1

    def line(self, steps: list[str | int]) -> int:
        """The line of the value at the end of some steps, of the last that is there."""
        self._peek()
        found = self._line
        for step in steps:
            if not self._enter(step):
                break
            found = self._line
        return found

    def _peek(self) -> str:
        while self._at < len(self._tokens) and self._tokens[self._at] == "\n":
            self._at += 1
            self._line += 1
        return self._tokens[self._at] if self._at < len(self._tokens) else ""

    def _next(self) -> str:
        token = self._peek()
        self._at += 1
        return token

    def _enter(self, step: str | int) -> bool:
        """Go to the value of a key, or to the one of a number, of the value that is next."""
        if self._next() != ("{" if isinstance(step, str) else "["):
            return False
        number = 0
        while self._peek() not in ("}", "]", ""):
            if isinstance(step, str):
                key = self._next()
                self._next()
                here = bool(json.loads(key) == step)
            else:
                here = number == step
            self._peek()
            if here:
                return True
            self._skip()
            number += 1
            if self._peek() == ",":
                self._next()
        return False

    def _skip(self) -> None:
        """Go past the value that is next."""
        depth = 0
        while True:
            token = self._next()
            depth += (token in "{[") - (token in "}]") if len(token) == 1 else 0
            if depth == 0:
                return
