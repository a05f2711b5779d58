"""`edit`: any change that the window can make, and the list of them."""

from __future__ import annotations

from collections.abc import Iterator

from ...core.project import Edit, edits
from ...core.stages import stages
from ...core.workshop import operations  # noqa: F401  (it registers them)
from ..exits import DONE
from . import Arguments


def edit_(given: Arguments) -> int:
    """Run `edit`."""
    if not given.list_edits:
        from .changing import change  # a list of operations needs nothing that draws

        return change(given)
    for title, name, one in _by_stage():
        if title:
            print(f"{title}")
        summary = (one.run.__doc__ or "").split("\n")[0]
        print(f"{name}: {summary}")
        for key, param in one.params.items():
            needed = "" if param.optional else "  (needed)"
            print(f"    {key}  {param.describe()}{needed}")
    return DONE


def _by_stage() -> Iterator[tuple[str, str, Edit]]:
    """Every operation in the order of the stages, the first one of each with the stage's title."""
    for stage in stages():
        title = f"{stage.number} {stage.title}"
        for name, one in edits().items():
            if one.stage == stage.key:
                yield title, name, one
                title = ""
