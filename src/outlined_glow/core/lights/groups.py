"""The groups that LEDs of a board are in."""

from __future__ import annotations

from ..project import Design


def groups_of(design: Design) -> list[str]:
    """The groups of a board: those of its arrays, those of single LEDs, and those over them."""
    names = [name for array in design.lights for name in (array.groups or (array.name,))]
    names += [name for array in design.lights for change in array.changes for name in change.groups]
    over = [name.rsplit("/", levels)[0] for name in names for levels in range(1, name.count("/") + 1)]
    return list(dict.fromkeys((*names, *over)))
