"""The boards of a project: added, copied, named, set apart by a stack of their own, and taken away."""

from __future__ import annotations

import msgspec

from ..errors import Trouble
from ..project import Design, Param, Project, Shape, board_edit, edit
from ..text_safety import printable

#: What a board is that nobody gave a shape yet, mm.
_SIDE_MM = 50.0
_NAME = Param("text", optional=False)


def _free(project: Project, name: str) -> str:
    """A name that no other board has; `Trouble` where one has it."""
    name = printable(name).strip()
    if len(name) > 40:
        raise Trouble(f"A board's name has at most 40 characters; “{name}” has {len(name)}.")
    if any(design.name == name for design in project.designs):
        raise Trouble(f"There is a board “{name}” already; take another name.")
    return name


@edit("add-board", "Board “{name}” added", name=_NAME, like=Param("text"))
def add_board(project: Project, *, name: str, like: str | None = None) -> Project:
    """One more board: a plate of 50 x 50 mm, or a copy of the board named by `like`."""
    plate = Design(shape=Shape(base="rectangle", width_mm=_SIDE_MM, height_mm=_SIDE_MM, border_mm=0.0))
    one = project.board(like) if like is not None else plate
    return project.with_boards((*project.designs, msgspec.structs.replace(one, name=_free(project, name))))


@edit("rename-board", "Board “{board}” named “{name}”", board=_NAME, name=_NAME)
def rename_board(project: Project, *, board: str, name: str) -> Project:
    """Give a board another name; the strips of the score that are its own, and plugs that go onto it, go with it."""
    design = project.board(board)
    if name.strip() == design.name:
        return project
    called = _free(project, name)
    score = tuple(
        msgspec.structs.replace(one, board=called) if one.board == design.name else one for one in project.motion.score
    )
    motion = msgspec.structs.replace(project.motion, score=score)
    renamed = project.with_board(design, msgspec.structs.replace(design, name=called))
    followed = tuple(_plugged_onto(one, design.name, called) for one in renamed.designs)
    return msgspec.structs.replace(renamed.with_boards(followed), motion=motion)


def _plugged_onto(design: Design, board: str, called: str) -> Design:
    """A board whose plugs go onto those of another one, which is called otherwise now."""
    plugs = tuple(
        msgspec.structs.replace(one, onto_board=called) if one.onto_board == board else one for one in design.drive.plugs
    )
    if plugs == design.drive.plugs:
        return design
    return msgspec.structs.replace(design, drive=msgspec.structs.replace(design.drive, plugs=plugs))


@edit("remove-board", "Board “{board}” taken away", board=_NAME)
def remove_board(project: Project, *, board: str) -> Project:
    """Take a board away; the last one stays."""
    gone = project.board(board)
    if len(project.designs) == 1:
        raise Trouble(f"“{board}” is the only board of this project.")
    return project.with_boards(tuple(one for one in project.designs if one is not gone))


@board_edit("share-stack", "Stack of the other boards")
def share_stack(design: Design) -> Design:
    """Give up the board's own mask, finish, ink and thickness: it has those of the brief again."""
    return msgspec.structs.replace(design, stack=None)
