"""Findings gathered, the package of files, and the proof that it is what the board says."""

from .check import check
from .layer_files import layer_files, layer_names
from .package import Package, make_package, package_of, write_package
from .proof import Difference, Proof, prove_boards

__all__ = [
    "Difference", "Package", "Proof", "check", "layer_files", "layer_names", "make_package", "package_of",
    "prove_boards", "write_package",
]  # fmt: skip
