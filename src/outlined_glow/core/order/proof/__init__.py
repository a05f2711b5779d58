"""The package read back from disk by code that shares nothing with the writers, and compared with the board."""

from .compare import Difference, Proof, prove_boards

__all__ = ["Difference", "Proof", "prove_boards"]
