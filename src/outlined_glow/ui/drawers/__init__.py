"""One drawer per stage: a few cards, result beside cause. A drawer is loaded when it is first opened."""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ..session import Session
    from .base import Drawer

#: Stage -> module and class of its drawer.
DRAWERS = {
    "brief": ("brief", "BriefDrawer"),
    "artwork": ("artwork", "ArtworkDrawer"),
    "shape": ("shape", "ShapeDrawer"),
    "lights": ("lights", "LightsDrawer"),
    "drive": ("drive", "DriveDrawer"),
    "motion": ("motion", "MotionDrawer"),
    "order": ("order", "OrderDrawer"),
}


def make_drawer(stage: str, session: Session) -> Drawer:
    """The drawer of a stage."""
    module, name = DRAWERS[stage]
    drawer: Drawer = getattr(importlib.import_module(f".{module}", __package__), name)(session)
    return drawer


__all__ = ["DRAWERS", "make_drawer"]
