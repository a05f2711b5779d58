"""The registry of edits: every change to a project is one of these, from the window and the command line.

To add one: write `design, **values -> design` in the stage it belongs to and decorate it with `@board_edit(name, sentence,
key=Param(...))`, or `project, **values -> project` and `@edit(...)` for what all boards share. The window, `edit --list`,
history and the tests find it here.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, NoReturn, TypeVar

from ..errors import Trouble
from ..stages import stage_of
from ..units import show, show_si
from .bounds import refuse_beyond
from .model import Design, Project
from .param import Param
from .readable import refuse_unreadable


@dataclass(frozen=True)
class Brought:
    """A board after an edit that brought files, each under its name in the project's file."""

    design: Design
    files: Mapping[str, bytes]


@dataclass(frozen=True)
class Edit:
    """A named change: the function, its keys and the sentence that history shows.

    `of_board`: it changes one board, which the key `board` names (the first one, unless told); `beyond` it, what the project
    has of that board too.
    """

    name: str
    sentence: str
    run: Callable[..., Any]
    params: Mapping[str, Param] = field(default_factory=dict)
    of_board: bool = False
    reads_files: bool = False
    beyond: bool = False
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
        if self.beyond:
            followed: Project = self.run(project, before, **{key: value for key, value in values.items() if key != BOARD})
            return followed
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


def following_edit(name: str, sentence: str, /, **params: Param) -> Callable[[_Run], _Run]:
    """Register `project, design, **values -> project`: an edit of one board that what names a part of it follows."""
    return _registered(Edit(name, sentence, _unmade, {**params, BOARD: Param("text")}, of_board=True, beyond=True))


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
    refuse_unreadable(project, changed)
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
    if param.kind == "points":
        return f"{len(value)} places"
    return ", ".join(map(str, value)) if isinstance(value, tuple) else str(value)
