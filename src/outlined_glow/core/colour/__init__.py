"""Colours as people see them (CIELAB, CIEDE2000) and what a board's materials look like."""

from .difference import ciede2000, hex_difference, hex_to_lab, hex_to_rgb, rgb_to_hex, rgb_to_lab
from .materials import Materials, materials_of

__all__ = ["Materials", "ciede2000", "hex_difference", "hex_to_lab", "hex_to_rgb", "materials_of", "rgb_to_hex", "rgb_to_lab"]
