"""One drawer per stage: a few cards, result beside cause. A drawer is loaded when it is first opened.

That of a stage is the class `TitleDrawer` of the module named after its key.
"""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING

from ...core.stages import Stage

if TYPE_CHECKING:
    from ..session import Session
    from .base import Drawer


def make_drawer(stage: Stage, session: Session) -> Drawer:
    """The drawer of a stage."""
    module = importlib.import_module(f".{stage.key}", __package__)
    drawer: Drawer = getattr(module, f"{stage.title}Drawer")(stage, session)
    return drawer


__all__ = ["make_drawer"]
