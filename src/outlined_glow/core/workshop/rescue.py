"""A project whose board cannot be made, changed as little as makes one: it can then be opened and put right."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from ..errors import Trouble
from ..project import Artwork, Design, Project, Shape, Stack
from .compile import Compiler


def makeable(project: Project) -> tuple[Project, str]:
    """The project with the first changes that let its boards be made, and what was changed. `Trouble` if none does."""
    said: dict[str, None] = {}
    for name in [design.name for design in project.designs]:
        project, words = _with_makeable(project, name)
        if words:
            said[words] = None
    return project, "; ".join(said)


def _with_makeable(project: Project, name: str) -> tuple[Project, str]:
    failed: Trouble | None = None
    for changed, words in _ways(project, project.board(name)):
        try:
            Compiler().compile(changed, board=name)
        except Trouble as trouble:
            failed = trouble
            continue
        return changed, words
    raise failed or Trouble("Nothing that could be changed lets this board be made.")


def _ways(project: Project, design: Design) -> Iterator[tuple[Project, str]]:
    """As it is, and then with one change after the other, each of which lets more boards be made."""
    shape, art = design.shape, design.artwork

    def with_board(**changes: object) -> Project:
        return project.with_board(design, msgspec.structs.replace(design, **changes))

    yield project, ""
    if art.pictures and shape.base != "silhouette":
        silhouette = msgspec.structs.replace(shape, base="silhouette")
        yield with_board(shape=silhouette), "The outline was set to the picture's silhouette"
    if shape.features or shape.islands:
        bare = msgspec.structs.replace(shape, features=(), islands=(), hole=None)
        yield with_board(shape=bare), "Holes, slots and pads were removed"
    if art.pictures:
        yield with_board(shape=Shape()), "The shape was set back to the picture's silhouette"
        plain = msgspec.structs.replace(art, chosen={}, mends=())
        yield with_board(shape=Shape(), artwork=plain), "Shape and choices of appearances were set back"
    plate = Shape(base="rectangle", width_mm=60.0, height_mm=40.0)
    yield with_board(shape=plate), "The outline was set to a rectangle"
    bare_plate = with_board(shape=plate, artwork=Artwork(words=art.words), lights=())
    yield bare_plate, "The pictures and LEDs were left out, and the outline set to a rectangle"
    usual = msgspec.structs.replace(project.brief, stack=Stack(), profile="standard")
    back = msgspec.structs.replace(project.with_board(design, msgspec.structs.replace(design, stack=None)), brief=usual)
    yield back, "Mask, finish, ink, thickness and fabricator were set back"
