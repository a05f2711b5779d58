"""One drawer per stage: a few cards, result beside cause."""

from .artwork import ArtworkDrawer
from .base import Drawer
from .brief import BriefDrawer
from .drive import DriveDrawer
from .lights import LightsDrawer
from .motion import MotionDrawer
from .order import OrderDrawer
from .shape import ShapeDrawer

DRAWERS: dict[str, type[Drawer]] = {
    "brief": BriefDrawer,
    "artwork": ArtworkDrawer,
    "shape": ShapeDrawer,
    "lights": LightsDrawer,
    "drive": DriveDrawer,
    "motion": MotionDrawer,
    "order": OrderDrawer,
}

__all__ = ["DRAWERS", "Drawer"]
