"""The one place that puts the stages together: the door for the window and the command line.

Its parts are loaded when they are asked for: a sum, or a list of operations, needs no geometry that draws.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from .compile import Compiler, Work, with_cleaned
    from .edit import apply_text, apply_values
    from .start import new_project

__all__ = ["Compiler", "Work", "apply_text", "apply_values", "new_project", "with_cleaned"]
_HOMES = {"Compiler": "compile", "Work": "compile", "with_cleaned": "compile", "apply_text": "edit", "apply_values": "edit",
          "new_project": "start"}  # fmt: skip


def __getattr__(name: str) -> Any:
    """A name of this package, from the module it lives in."""
    if name not in _HOMES:
        raise AttributeError(f"module {__name__} has no attribute {name}")
    import_module(".borrow", __name__)  # the last operation is registered with it
    return getattr(import_module(f".{_HOMES[name]}", __name__), name)
