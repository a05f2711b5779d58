"""Projects opened for a command, held while it writes, and stored."""

from __future__ import annotations

import os
from collections.abc import Iterator, Sequence
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from ...core.errors import Trouble
from ...core.project import Param, Project
from ...core.project.lock import held
from ...core.project.storage import load, save
from ...core.units import parse_number
from . import Arguments

if TYPE_CHECKING:
    from ...core.workshop import Compiler, Work


def opened(given: Arguments, compiler: Compiler) -> tuple[Project, Work]:
    """A project and the board that is meant: the first one, unless `--board` names another."""
    project = load(Path(given.project))
    return project, compiler.on_demand(project, given.board)


def all_opened(given: Arguments, compiler: Compiler) -> tuple[Project, tuple[Work, ...]]:
    """A project and all of its boards, or the one that `--board` names."""
    project = load(Path(given.project))
    return project, (compiler.compile(project, board=given.board),) if given.board else compiler.compile_all(project)


def plugged(project: Project, compiler: Compiler) -> tuple[Work, ...]:
    """Every board of a project in which one has plugs; none of any other."""
    plugs = any(design.drive.plugs for design in project.designs)
    return tuple(compiler.on_demand(project, design.name) for design in project.designs) if plugs else ()


@contextmanager
def holding(*paths: str) -> Iterator[None]:
    """Nobody else writes these projects meanwhile: other commands take turns, a window that has one open is not overruled."""
    with ExitStack() as stack:
        for path in dict.fromkeys(Path(os.path.realpath(one)) for one in paths):
            owner = stack.enter_context(held(path))
            if owner is not None:
                raise Trouble(f"“{path}” is open: {owner.words()}; close it there, or write another file with -o.")
        yield


def store(project: Project, works: Sequence[Work], output: str, force: bool) -> None:
    """Write a project whose file is held, with a picture of its first board."""
    target = Path(output)
    if target.exists() and not force:
        raise Trouble(f"“{target}” exists already; add --force to replace it.")
    from ...core.board.draw import thumbnail  # drawing is loaded by who has a board
    from ...core.workshop import with_kept

    save(with_kept(project, works), target, thumbnail(works[0].board))


def ending_in(name: str, *kinds: str) -> Path:
    """The file that is to be written, which must be of one of these kinds (“.pdf”)."""
    target = Path(name)
    if target.suffix.lower() not in kinds:
        raise Trouble(f"“{target}” must end in {' or '.join(kinds)}.")
    return target


def of_board(work: Work) -> str:
    """“lid: ” in front of what is said of one board among several."""
    return f"{work.design.name}: " if len(work.project.designs) > 1 else ""


def scale_of(given: str | None, most: float) -> float | None:
    """The px/mm that was asked for, if any was."""
    return None if given is None else float(Param("quantity", "", 0.5, most).check("--px-per-mm", parse_number(given)))
