"""A project whose board cannot be made, changed as little as makes one: it can then be opened and put right."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from ..errors import Trouble
from ..project import Project, Shape, Stack
from .compile import Compiler


def makeable(project: Project) -> tuple[Project, str]:
    """The project with the first change that lets its board be made, and what was changed. `Trouble` if none does."""
    failed: Trouble | None = None
    for changed, words in _ways(project):
        try:
            Compiler().compile(changed)
        except Trouble as trouble:
            failed = trouble
            continue
        return changed, words
    raise failed or Trouble("Nothing that could be changed lets this board be made.")


def _ways(project: Project) -> Iterator[tuple[Project, str]]:
    design = project.design
    shape, art = design.shape, design.artwork
    if art.pictures and shape.base != "silhouette":
        yield (
            project.with_design(shape=msgspec.structs.replace(shape, base="silhouette")),
            "The outline was set to the picture's silhouette",
        )
    if shape.features or shape.islands:
        yield (
            project.with_design(shape=msgspec.structs.replace(shape, features=(), islands=(), hole=None)),
            "Holes, slots and pads were removed",
        )
    if art.pictures:
        yield project.with_design(shape=Shape()), "The shape was set back to the picture's silhouette"
        plain = msgspec.structs.replace(art, chosen={}, mends=())
        yield project.with_design(shape=Shape(), artwork=plain), "Shape and choices of appearances were set back"
    plate = Shape(base="rectangle", width_mm=60.0, height_mm=40.0)
    yield project.with_design(shape=plate), "The outline was set to a rectangle"
    yield (
        project.with_design(shape=plate, artwork=type(art)(words=art.words), lights=()),
        "The pictures and LEDs were left out, and the outline set to a rectangle",
    )
    yield (
        msgspec.structs.replace(project, brief=msgspec.structs.replace(project.brief, stack=Stack(), profile="standard")),
        "Mask, finish, ink, thickness and fabricator were set back",
    )
