"""Quantities as people write them and as they are shown."""

from .quantity import on_one_line, parse_number, parse_quantity, show, show_si, show_under

__all__ = ["on_one_line", "parse_number", "parse_quantity", "show", "show_si", "show_under"]
