"""The bench: where the board lies at every stage."""

from .area import BenchArea

__all__ = ["BenchArea"]
