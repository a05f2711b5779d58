"""The package read back from disk by code that shares nothing with the writers, and compared with the board."""

from .compare import Difference, Proof, prove

__all__ = ["Difference", "Proof", "prove"]
