"""The project as a value: its sections, the registry of edits, history, storage; the type of a finding."""

from .arrays import Along, Array, Grid, Ring, Single
from .edits import Brought, Edit, Param, apply_edit, board_edit, edit, edits, file_edit
from .finding import Finding, Remedy, Severity, Width
from .history import History
from .model import (
    Artwork,
    Brief,
    Clean,
    Design,
    Drive,
    Feature,
    Hole,
    Island,
    Limits,
    Mend,
    Motion,
    Picture,
    Project,
    Shape,
    Stack,
    Tones,
    Words,
)
from .unknown import plain

__all__ = [
    "Along", "Array", "Artwork", "Brief", "Brought", "Clean", "Design", "Drive", "Edit", "Feature", "Finding", "Grid",
    "History", "Hole", "Island", "Limits", "Mend", "Motion", "Param", "Picture", "Project", "Remedy", "Ring", "Severity",
    "Shape", "Single", "Stack", "Tones", "Width", "Words", "apply_edit", "board_edit", "edit", "edits", "file_edit", "plain",
]  # fmt: skip
