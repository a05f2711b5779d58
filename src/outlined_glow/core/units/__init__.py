"""Quantities as people write them and as they are shown."""

from .quantity import parse_number, parse_quantity, show, show_si, show_under

__all__ = ["parse_number", "parse_quantity", "show", "show_si", "show_under"]
