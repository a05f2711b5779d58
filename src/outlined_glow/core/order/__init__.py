"""Findings gathered, the package of files, and the proof that it is what the board says."""

from .check import check
from .package import Package, make_package, write_package
from .proof import Difference, Proof, prove

__all__ = ["Difference", "Package", "Proof", "check", "make_package", "prove", "write_package"]
