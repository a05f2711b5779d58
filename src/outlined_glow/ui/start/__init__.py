"""What lies on the bench while no board does."""

from .begin import BeginDrawer
from .page import StartPage

__all__ = ["BeginDrawer", "StartPage"]
