"""The one place that puts the stages together: the door for the window and the command line."""

from . import borrow  # noqa: F401  (its edit is registered by loading it)
from .compile import Compiler, Work, with_cleaned
from .edit import apply_text, apply_values
from .start import new_project

__all__ = ["Compiler", "Work", "apply_text", "apply_values", "new_project", "with_cleaned"]
