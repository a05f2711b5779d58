"""The edits of the brief."""

from __future__ import annotations

import msgspec

from ..colour.materials import finishes, inks, masks
from ..parts import profiles
from ..project import Param, Project, edit


@edit("rename", "Named “{name}”", name=Param("text", optional=False))
def rename(project: Project, *, name: str) -> Project:
    """Give the project another name."""
    return msgspec.structs.replace(project, name=name.strip())


@edit(
    "set-stack",
    "Stack",
    mask=Param("choice", choices=masks),
    finish=Param("choice", choices=finishes),
    ink=Param("choice", choices=inks),
    thickness_mm=Param("quantity", "mm", 0.6, 2.0),
)
def set_stack(project: Project, **changes: object) -> Project:
    """Choose mask, finish, ink and thickness; what is not named stays."""
    return project.with_stack(**{key: value for key, value in changes.items() if value is not None})


@edit("set-profile", "Made by the {profile} desk", profile=Param("choice", choices=lambda: tuple(profiles()), optional=False))
def set_profile(project: Project, *, profile: str) -> Project:
    """Choose the fabricator profile whose rules hold."""
    return msgspec.structs.replace(project, brief=msgspec.structs.replace(project.brief, profile=profile))


@edit("set-pieces", "{pieces} pieces", pieces=Param("count", "", 1, 100_000, optional=False))
def set_pieces(project: Project, *, pieces: int) -> Project:
    """How many boards are wanted."""
    return msgspec.structs.replace(project, brief=msgspec.structs.replace(project.brief, pieces=pieces))
