"""Edits as the window and the command line give them: places in the board frame of the moment."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

import msgspec

from ..errors import Trouble
from ..project import Project, apply_edit
from ..project.edits import BOARD, find_edit
from ..project.frames import shifted_values
from ..project.storage import now
from .compile import Compiler


def apply_values(project: Project, name: str, values: Mapping[str, Any], origin: tuple[float, float]) -> Project:
    """The project after the edit, dated. `origin` is where the board frame begins in the picture frame."""
    changed = apply_edit(project, name, shifted_values(name, values, origin))
    return changed if changed == project else msgspec.structs.replace(changed, edited=now())


def apply_text(project: Project, name: str, words: Iterable[str], compiler: Compiler) -> Project:
    """The same from `key=value` words of the command line."""
    one = find_edit(name)
    values: dict[str, Any] = {}
    for word in words:
        stem, equals, text = word.partition("=")
        if not equals:
            raise Trouble(f"“{word}” is not key=value.")
        key, written_unit = one.key(stem)
        if key in values:
            raise Trouble(f"{key} is given twice.")
        values[key] = one.params[key].parse(key, text, written_unit)
    needs_place = any(one.params[key].axis for key in values)
    origin = compiler.compile(project, board=values.get(BOARD)).board.origin if needs_place else (0.0, 0.0)
    return apply_values(project, name, values, origin)
