"""A board on the bench, as the window shows it."""

from __future__ import annotations

from dataclasses import replace

from outlined_glow.core.project import Project
from outlined_glow.core.workshop import Compiler, Work
from outlined_glow.ui.bench.camera import Camera
from outlined_glow.ui.bench.renderer import Renderer, Request


def show(renderer: Renderer, work: Work) -> None:
    """The board on a bench of 868 x 744, all lit, at noon, by the window's own renderer."""
    (ox, oy), (w, h) = work.board.origin, work.board.size
    camera = replace(Camera(), width=868, height=744).fitted(ox, oy, w, h, (46, 92, 46, 128))
    renderer.board(Request(work, camera, 1.0, 1.0, None, frozenset(), None, "17141B"), lambda: False)


def show_edited(renderer: Renderer, compiler: Compiler, project: Project) -> None:
    """The board after an edit: the one that is seen first, where the whole takes longer."""
    show(renderer, compiler.seen_first(project) or compiler.compile(project))
