"""The edits of the artwork."""

from __future__ import annotations

from ..colour import APPEARANCES
from ..project import Param, Project, edit
from ..project.model import Artwork


@edit("set-width", "Picture {width_mm} wide", width_mm=Param("quantity", "mm", 1, 1000, optional=False))
def set_width(project: Project, *, width_mm: float) -> Project:
    """The painted width of the picture; everything placed on it moves along."""
    art = project.design.artwork
    return project.with_design(artwork=Artwork(art.picture, width_mm, art.chosen))


@edit(
    "set-appearance",
    "Colour {colour} becomes {appearance}",
    colour=Param("colour", optional=False),
    appearance=Param("choice", choices=APPEARANCES, optional=False),
)
def set_appearance(project: Project, *, colour: str, appearance: str) -> Project:
    """Choose by hand what a colour becomes."""
    art = project.design.artwork
    chosen = {**art.chosen, colour: appearance}
    return project.with_design(artwork=Artwork(art.picture, art.width_mm, dict(sorted(chosen.items()))))  # type: ignore[arg-type]


@edit("propose-appearance", "Colour {colour} as proposed", colour=Param("colour", optional=False))
def propose_appearance(project: Project, *, colour: str) -> Project:
    """Leave a colour to the proposal again."""
    art = project.design.artwork
    chosen = {key: value for key, value in art.chosen.items() if key != colour}
    return project.with_design(artwork=Artwork(art.picture, art.width_mm, chosen))
