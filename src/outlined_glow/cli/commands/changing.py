"""A project changed by an operation, and stored."""

from __future__ import annotations

from pathlib import Path

from ...core.errors import Trouble
from ...core.project.storage import load
from ...core.workshop import Compiler, apply_text
from ...core.workshop.clean_report import clean_report
from ..exits import DONE
from . import Arguments
from .opening import holding, of_board, store


def change(given: Arguments) -> int:
    """Run an operation on a project."""
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
