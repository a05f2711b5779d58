"""`edit`: any change that the window can make."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from ...core.errors import Trouble
from ...core.project import Edit, edits
from ...core.project.storage import load
from ...core.stages import stages
from ...core.workshop import Compiler, apply_text
from ...core.workshop.clean_report import clean_report
from ..exits import DONE
from . import Arguments
from .opening import holding, of_board, store


def edit_(given: Arguments) -> int:
    """Run `edit`."""
    if given.list_edits:
        for title, name, one in _by_stage():
            if title:
                print(f"{title}")
            summary = (one.run.__doc__ or "").split("\n")[0]
            print(f"{name}: {summary}")
            for key, param in one.params.items():
                needed = "" if param.optional else "  (needed)"
                print(f"    {key}  {param.describe()}{needed}")
        return DONE
    if not given.project or not given.operation:
        raise Trouble("name a project and an operation; edit --list names the operations.")
    compiler = Compiler()
    target = given.output or given.project
    # From reading to writing: two edits at once would each begin from the same, and one of them be lost.
    with holding(target):
        project = load(Path(given.project))
        changed = apply_text(project, given.operation, given.values, compiler)
        works = compiler.compile_all(changed)
        same = Path(target).exists() and Path(target).samefile(given.project)
        store(changed, works, target, given.force or same)
    for work in works:
        size = " x ".join(f"{side:.1f}" for side in work.board.size)
        print(f"{target}: {of_board(work)}{size} mm, {len(work.leds)} LEDs")
    if given.operation == "clean":
        for work in works:
            if work.design.artwork.clean is not None:
                print("\n".join(clean_report(work, compiler.findings(work)).words()))
    return DONE


def _by_stage() -> Iterator[tuple[str, str, Edit]]:
    """Every operation in the order of the stages, the first one of each with the stage's title."""
    for stage in stages():
        title = f"{stage.number} {stage.title}"
        for name, one in edits().items():
            if one.stage == stage.key:
                yield title, name, one
                title = ""
