"""The project as a value: its sections, the registry of edits, history, storage; the type of a finding."""

from .edits import Edit, Param, apply_edit, edit, edits
from .finding import Finding, Remedy, Width
from .history import History
from .model import (
    Along,
    Array,
    Artwork,
    Brief,
    Clean,
    Design,
    Drive,
    Feature,
    Grid,
    Hole,
    Island,
    Limits,
    Mend,
    Motion,
    Picture,
    Project,
    Ring,
    Shape,
    Single,
    Stack,
    Tones,
    Words,
)
from .unknown import plain

__all__ = [
    "Along", "Array", "Artwork", "Brief", "Clean", "Design", "Drive", "Edit", "Feature", "Finding", "Grid", "History", "Hole",
    "Island",
    "Limits", "Mend", "Motion", "Param", "Picture", "Project", "Remedy", "Ring", "Shape", "Single", "Stack", "Tones", "Width",
    "Words", "apply_edit", "edit", "edits", "plain",
]  # fmt: skip
