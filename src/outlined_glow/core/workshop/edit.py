"""Edits as the window and the command line give them: places in the board frame of the moment."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

import msgspec

from ..errors import Trouble
from ..lights.numbers import with_numbers
from ..project import Project, apply_edit
from ..project.edits import BOARD, find_edit
from ..project.frames import shifted_values
from ..project.storage import now
from .compile import Compiler
from .work import Work


def apply_values(project: Project, name: str, values: Mapping[str, Any], origin: tuple[float, float]) -> Project:
    """The project after the edit, dated. `origin` is where the board frame begins in the picture frame."""
    changed = apply_edit(project, name, shifted_values(name, values, origin))
    return changed if changed == project else msgspec.structs.replace(changed, edited=now())


def numbered(project: Project, works: Iterable[Work]) -> Project:
    """The project with the numbers that the LEDs of its boards were given when those were made."""
    for work in works:
        design = project.board(work.design.name)
        kept = with_numbers(design, dict(work.values["places"].numbers))
        project = project if kept is design else project.with_board(design, kept)
    return project


def apply_numbered(
    project: Project, works: Iterable[Work], name: str, values: Mapping[str, Any], origin: tuple[float, float]
) -> Project:
    """`apply_values` on a project whose boards lie there: their LEDs keep their numbers, whatever the edit does."""
    ready = numbered(project, works)
    changed = apply_values(ready, name, values, origin)
    return project if changed is ready or changed == ready else changed


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
    if not needs_place and one.stage != "lights":
        return apply_values(project, name, values, (0.0, 0.0))
    work = compiler.on_demand(project, values.get(BOARD))
    origin = work.outline.origin if needs_place else (0.0, 0.0)
    works: tuple[Work, ...] = (work,)
    try:
        _ = work.leds
    except Trouble:
        works = ()  # the edit may be what mends it
    return apply_numbered(project, works, name, values, origin)
