"""The one place that puts the stages together: the door for the window and the command line.

Its parts are loaded when they are asked for: a sum, or a list of operations, needs no geometry that draws.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ..lazy import lazily

if TYPE_CHECKING:
    from .compile import Compiler
    from .edit import apply_numbered, apply_text, apply_values
    from .kept import with_kept
    from .start import new_project
    from .work import Work

__all__ = ["Compiler", "Work", "apply_numbered", "apply_text", "apply_values", "new_project", "with_kept"]
_found = lazily(
    __name__,
    {
        "compile": "Compiler",
        "edit": "apply_numbered apply_text apply_values",
        "kept": "with_kept",
        "start": "new_project",
        "work": "Work",
    },
)


def __getattr__(name: str) -> Any:
    """A name of this package, from the module it lives in; every operation is registered by then."""
    if name in __all__:
        from . import operations  # noqa: F401
    return _found(name)
