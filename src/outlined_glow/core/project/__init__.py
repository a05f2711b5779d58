"""The project as a value: its sections, the registry of edits, history, storage; the type of a finding."""

from .arrays import Along, Arc, Array, Chain, Change, Contour, Curve, Digits, Fill, Grid, Line, Ring, Single, Slots, Spaced
from .edits import Brought, Edit, apply_edit, board_edit, edit, edits, file_edit
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
    Passport,
    Picture,
    Project,
    Shape,
    Stack,
    Tones,
    Words,
)
from .param import Param
from .unknown import plain

__all__ = [
    "Along", "Arc", "Array", "Artwork", "Brief", "Brought", "Chain", "Change", "Clean", "Contour", "Curve", "Design",
    "Digits", "Drive", "Edit", "Feature", "Fill", "Finding", "Grid", "History", "Hole", "Island", "Limits", "Line",
    "Mend", "Motion", "Param", "Passport", "Picture", "Project", "Remedy", "Ring", "Severity", "Shape", "Single",
    "Slots", "Spaced", "Stack", "Tones", "Width", "Words", "apply_edit", "board_edit", "edit", "edits", "file_edit",
    "plain",
]  # fmt: skip
