"""`new` and `demo`: a project from a picture, and those that ship."""

from __future__ import annotations

from pathlib import Path

from ...core.appearances import APPEARANCES
from ...core.colour.materials import finishes, inks, masks
from ...core.errors import Trouble
from ...core.project import Param, Stack, Tones, apply_edit
from ...core.project.param import read_bytes
from ...core.units import parse_quantity
from ...core.workshop import Compiler, new_project
from ...core.workshop.demos import demo_project
from ..exits import DONE
from . import Arguments
from .opening import holding, store


def new_(given: Arguments) -> int:
    """Run `new`."""
    if Path(given.output).exists() and not given.force:
        raise Trouble(f"“{given.output}” exists already; add --force to replace it.")
    stack = _stack(given)
    chosen = dict(_mapping(word) for word in given.map)
    width = parse_quantity(given.width, "mm") if given.width else None
    if width is not None:
        Param("quantity", "mm", 1, 1000).check("--width", width)
    path = Path(given.art)
    tones = Tones(
        how=given.tones or "flat",
        colours=Param("count", "", 2, 8).parse("--colours", given.colours, False) if given.colours else Tones().colours,
        ground=given.ground or "keep",
    )
    project = new_project(read_bytes(path), path.name, width_mm=width, stack=stack, chosen=chosen, tones=tones)
    if given.border:
        project = apply_edit(project, "set-border", {"border_mm": parse_quantity(given.border, "mm")})
    if given.keep_holes:
        project = apply_edit(project, "keep-holes", {"keep": True})
    work = Compiler().compile(project)
    with holding(given.output):
        store(project, (work,), given.output, given.force)
    size = " x ".join(f"{side:.1f}" for side in work.board.size)
    print(f"{given.output}: {size} mm, {len(work.art.chosen)} colours")
    return DONE


def _stack(given: Arguments) -> Stack:
    stack = Stack()
    offered = {"mask": masks(), "finish": finishes(), "ink": inks()}
    words = {name: getattr(given, name) or getattr(stack, name) for name in offered}
    for name, word in words.items():
        Param("choice", choices=offered[name]).check(f"--{name}", word)
    thickness = parse_quantity(given.thickness, "mm") if given.thickness else stack.thickness_mm
    Param("quantity", "mm", 0.6, 2.0).check("--thickness", thickness)
    return Stack(thickness, **words)


def _mapping(word: str) -> tuple[str, str]:
    colour, _, appearance = word.partition("=")
    key = Param("colour").check("--map", colour)
    return key, Param("choice", choices=APPEARANCES).check(f"--map {colour}", appearance)


def demo_(given: Arguments) -> int:
    """Run `demo`."""
    if given.output is None:
        raise Trouble("--force replaces the file that is named with -o; name one.")
    project = demo_project(given.name)
    works = Compiler().compile_all(project)
    with holding(given.output):
        store(project, works, given.output, given.force)
    print(given.output)
    return DONE
