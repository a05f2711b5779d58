"""The registry of edits: every change to a project is one of these, from the window and the command line.

To add one: write `design, **values -> design` in the stage it belongs to and decorate it with `@board_edit(name, sentence,
key=Param(...))`, or `project, **values -> project` and `@edit(...)` for what all boards share. The window, `edit --list`,
history and the tests find it here.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any, Literal, NoReturn, TypeVar

from ..errors import Trouble
from ..stages import stage_of
from ..text_safety import printable, short
from ..units import parse_quantity, show, show_si
from .bounds import refuse_beyond
from .model import Design, Project

Kind = Literal["quantity", "count", "choice", "text", "flag", "colour", "names", "picture"]
_MOST_BYTES = 200_000_000


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
    axis: Literal["", "x", "y"] = ""
    title: str = ""
    titles: tuple[tuple[str, str], ...] = ()
    shown: str | None = None
    step: float = 1.0
    digits: int = 2

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
        if self.kind == "names":
            return self.check(key, tuple(word.strip() for word in text.split(",") if word.strip()))
        return self.check(key, text)

    def check(self, key: str, value: Any) -> Any:
        """The value, if it is of the right type and in range; otherwise `Trouble`."""
        if value is None and self.optional:
            return None
        if self.kind in ("quantity", "count"):
            return self._number(key, value)
        if self.kind == "choice" and value not in self.options():
            raise Trouble(f"{key} cannot be “{value}”; it is one of {', '.join(self.options())}.")
        if self.kind == "colour":
            return _colour(key, value)
        if self.kind == "text" and not (isinstance(value, str) and 0 < len(value.strip()) <= 200):
            raise Trouble(f"{key} must be a text of 1 to 200 characters.")
        if self.kind == "text":
            return printable(value, " ")
        if self.kind == "picture" and not isinstance(value, PictureFile):
            raise Trouble(f"{key} must be a picture file.")
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
        if self.kind in ("quantity", "count"):
            unit = f" {self.unit}" if self.unit else ""
            return f"{self.low:g}..{self.high:g}{unit}" if math.isfinite(self.high) else f"number{unit}"
        return {"flag": "yes|no", "colour": "RRGGBB", "names": "name,name,…", "picture": "a file"}.get(self.kind, "text")


#: What a number without its unit was most likely meant in.
_THOUSANDTH = {"A": "mA", "mm": "mm", "F": "mF", "s": "ms", "V": "mV"}


#: Units that are written with a prefix.
_PREFIXED = ("A", "V", "F", "s", "W", "Hz")


def _as_written(value: float, unit: str) -> str:
    """A limit as people write it: prefixes for electrical units and times."""
    if unit in _PREFIXED and value:
        return show_si(value, unit)
    return f"{value:g}{' ' if unit else ''}{unit}"


@dataclass(frozen=True)
class Brought:
    """A board after an edit that brought files, each under its name in the project's file."""

    design: Design
    files: Mapping[str, bytes]


@dataclass(frozen=True)
class Edit:
    """A named change: the function, its keys and the sentence that history shows.

    `of_board`: it changes one board, which the key `board` names (the first one, unless told).
    """

    name: str
    sentence: str
    run: Callable[..., Any]
    params: Mapping[str, Param] = field(default_factory=dict)
    of_board: bool = False
    reads_files: bool = False
    home: str = ""

    @property
    def stage(self) -> str:
        """The stage it belongs to: that in whose folder it stands, unless it was told another one."""
        return self.home or stage_of(self.run.__module__)

    def key(self, word: str) -> tuple[str, bool]:
        """The full key a word stands for, and whether its unit was left for the value to carry."""
        if word in self.params:
            return word, False
        for name, param in self.params.items():
            suffix = {"%": "percent"}.get(param.unit, param.unit).lower()
            if param.unit and name == f"{word}_{suffix}":
                return name, True
        known = ", ".join(self.params) or "none"
        raise Trouble(f"{self.name} has no key “{word}”; its keys are {known}.")

    def apply(self, project: Project, values: Mapping[str, Any]) -> Project:
        """The project after the edit, by values that were checked."""
        if not self.of_board:
            changed: Project = self.run(project, **values)
            return changed
        before = project.board(values.get(BOARD))
        files = {"files": project.members} if self.reads_files else {}
        made = self.run(before, **{key: value for key, value in values.items() if key != BOARD}, **files)
        brought = made if isinstance(made, Brought) else Brought(made, {})
        return project.with_board(before, brought.design, brought.files)


#: The key that names a board.
BOARD = "board"
_EDITS: dict[str, Edit] = {}
_Run = TypeVar("_Run", bound=Callable[..., Any])


def edit(name: str, sentence: str, /, **params: Param) -> Callable[[_Run], _Run]:
    """Register `project, **values -> project` as the edit `name`. `sentence` may use the keys in braces."""
    return _registered(Edit(name, sentence, _unmade, params))


def board_edit(name: str, sentence: str, /, **params: Param) -> Callable[[_Run], _Run]:
    """Register `design, **values -> design` as the edit `name` of one board."""
    return _registered(Edit(name, sentence, _unmade, {**params, BOARD: Param("text")}, of_board=True))


def file_edit(name: str, sentence: str, stage: str = "", /, **params: Param) -> Callable[[_Run], _Run]:
    """The same for an edit that brings a file: it is given those of the project as `files`, and gives `Brought`.

    `stage` is told where the function stands in the folder of none.
    """
    params[BOARD] = Param("text")
    return _registered(Edit(name, sentence, _unmade, params, of_board=True, reads_files=True, home=stage))


def _unmade(*_: object, **__: object) -> NoReturn:
    raise AssertionError("an edit without its function")


def _registered(one: Edit) -> Callable[[_Run], _Run]:
    def register(run: _Run) -> _Run:
        if one.name in _EDITS:
            raise ValueError(f"edit {one.name} is registered twice")
        _EDITS[one.name] = replace(one, run=run)
        return run

    return register


def edits() -> dict[str, Edit]:
    """Every registered edit by name, in the order of registration."""
    return dict(_EDITS)


def find_edit(name: str) -> Edit:
    """The edit of that name, or `Trouble`."""
    if name not in _EDITS:
        raise Trouble(f"There is no operation “{name}”; `edit --list` names them all.")
    return _EDITS[name]


def apply_edit(project: Project, name: str, values: Mapping[str, Any]) -> Project:
    """The project after the edit; values are checked first, an invalid one changes nothing."""
    one = find_edit(name)
    checked = {}
    for key, value in values.items():
        full, _ = one.key(key)
        checked[full] = one.params[full].check(full, value)
    missing = [key for key, param in one.params.items() if not param.optional and checked.get(key) is None]
    if missing:
        raise Trouble(f"{name} needs {', '.join(missing)}.")
    changed = one.apply(project, checked)
    refuse_beyond(changed)
    return changed


def sentence(name: str, values: Mapping[str, Any]) -> str:
    """What the edit did, in words, for history: its sentence, then the keys that the sentence does not tell."""
    one = find_edit(name)
    shown = {key: _shown(value, one.params[key]) for key, value in values.items() if value is not None and key in one.params}
    told = one.sentence.format_map({**dict.fromkeys(one.params, "new"), **shown})
    rest = [f"{_stem(key, one.params[key])} {text}" for key, text in shown.items() if f"{{{key}}}" not in one.sentence]
    return f"{told}: {', '.join(rest)}" if rest else told


def _stem(key: str, param: Param) -> str:
    return key.removesuffix(f"_{param.unit.lower()}").replace("_", " ")


def _shown(value: Any, param: Param) -> str:
    if param.kind == "quantity" and param.unit in ("mm", "deg", ""):
        return f"{show(value)} {param.unit}".strip()
    if param.kind == "quantity":
        return show_si(value, param.unit)
    if param.kind == "flag":
        return "yes" if value else "no"
    return ", ".join(map(str, value)) if isinstance(value, tuple) else str(value)


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
