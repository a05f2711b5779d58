"""The edits of the shape."""

from __future__ import annotations

import msgspec

from ..project import Hole, Param, Project, edit


@edit("set-border", "Border {border_mm}", border_mm=Param("quantity", "mm", 0, 50, optional=False))
def set_border(project: Project, *, border_mm: float) -> Project:
    """How far the board reaches beyond the picture."""
    return project.with_design(shape=msgspec.structs.replace(project.design.shape, border_mm=border_mm))


@edit("keep-holes", "Holes of the picture kept: {keep}", keep=Param("flag", optional=False))
def keep_holes(project: Project, *, keep: bool) -> Project:
    """Whether holes of the silhouette become holes of the board."""
    return project.with_design(shape=msgspec.structs.replace(project.design.shape, keep_holes=keep))


@edit(
    "set-hole",
    "Hanging hole",
    diameter_mm=Param("quantity", "mm", 0.8, 10),
    x_mm=Param("quantity", "mm", -1000, 1000, axis="x"),
    y_mm=Param("quantity", "mm", -1000, 1000, axis="y"),
    automatic=Param("flag"),
)
def set_hole(
    project: Project,
    *,
    diameter_mm: float | None = None,
    x_mm: float | None = None,
    y_mm: float | None = None,
    automatic: bool | None = None,
) -> Project:
    """Give the board a hanging hole, or change it; `automatic` lets it find its own place again."""
    shape = project.design.shape
    hole = shape.hole or Hole()
    x, y = (None, None) if automatic else (hole.x_mm, hole.y_mm)
    changed = Hole(
        diameter_mm if diameter_mm is not None else hole.diameter_mm,
        x_mm if x_mm is not None else x,
        y_mm if y_mm is not None else y,
    )
    return project.with_design(shape=msgspec.structs.replace(shape, hole=changed))


@edit("remove-hole", "Hanging hole removed")
def remove_hole(project: Project) -> Project:
    """Take the hanging hole away."""
    return project.with_design(shape=msgspec.structs.replace(project.design.shape, hole=None))
