"""`export`, `layers` and `proof`: the files of an order, layers for other programs, and whether a package is the board."""

from __future__ import annotations

from pathlib import Path

from ...core.errors import Trouble
from ...core.order import layer_files, package_of, prove_boards, write_package
from ...core.project.atomic import atomic_folder
from ...core.project.storage import dated
from ...core.workshop import Compiler
from ..exits import DONE, STOPPED
from . import Arguments
from .opening import all_opened, opened, scale_of


def export_(given: Arguments) -> int:
    """Run `export`."""
    compiler = Compiler()
    project, works = all_opened(given, compiler)
    package = package_of({work.design.name: work.board for work in works}, project.brief.pieces, dated(project.edited))
    write_package(package, Path(given.output), given.force)
    print(f"{given.output}: {len(package.files)} files")
    stops = [one for one in compiler.all_findings(works) if one.severity == "stop"]
    for one in stops:
        print(f"stop     {one.sentence}")
    return STOPPED if stops else DONE


def layers_(given: Arguments) -> int:
    """Run `layers`."""
    _, work = opened(given, Compiler())
    target = Path(given.output)
    files = layer_files(work.board, given.kind, scale_of(given.px_per_mm, 400))
    if target.exists() and not target.is_dir():
        raise Trouble(f"“{target}” is a file; name a folder.")
    there = [name for name in files if (target / name).exists()]
    if there and not given.force:
        raise Trouble(f"“{target / there[0]}” exists already; add --force to replace it.")
    atomic_folder(target, files)
    print(f"{given.output}: {len(files)} files, {' x '.join(f'{side:.1f}' for side in work.board.size)} mm")
    return DONE


def proof_(given: Arguments) -> int:
    """Run `proof`."""
    boards = None
    if given.project:
        boards = {work.design.name: work.board for work in all_opened(given, Compiler())[1]}
    answers = prove_boards(Path(given.package), boards)
    for name, answer in answers.items():
        of_board = f"{name}: " if name else ""
        for one in answer.differences:
            print(f"{'note' if one.note else 'differs':<8} {of_board}{one.text}")
        if answer.good:
            print(f"{of_board}the package is what the board says: {len(answer.layers)} layers, {len(answer.holes)} holes")
    return DONE if all(answer.good for answer in answers.values()) else STOPPED
